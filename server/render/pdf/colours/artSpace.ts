import { createHash } from 'node:crypto';
import {
  PDFArray,
  type PDFContext,
  PDFDict,
  PDFHexString,
  PDFName,
  PDFNumber,
  type PDFObject,
  PDFRawStream,
  PDFString,
} from '@cantoo/pdf-lib';
import type { ArtworkColours, ToWide } from '../../colour/artworkColours.ts';
import { Unreadable } from '../../facts.ts';
import { streamBytes } from '../pdfContents.ts';
import { processKind, type ProcessKind } from './pageColours.ts';
import { numbersOf, pdfFunction } from './pdfFunction.ts';

/** A colour space of artwork, and what its colours are in the wide RGB. */
export interface ArtSpace {
  readonly components: number;
  /** Least and most of each component, one pair behind the other. */
  readonly domain: readonly number[];
  /** @param samples interleaved, within the domain @returns three numbers of 16 bits for each colour */
  readonly colours: (samples: Float64Array) => Uint16Array;
  /** The same of 8 bits, each component of the full range; null: it has no such way. */
  readonly fast: ((samples: Uint8Array) => Uint8Array) | null;
  /** Of a palette: how many colours it has; its one component counts them. */
  readonly entries?: number;
}

const FULL = 65_535;
const DEEPEST = 4;
const UNIT = [0, 1] as const;

/** What stands for the three process spaces where something is drawn: those of the ticket, or defaults of the page. */
export type ProcessSpaces = Readonly<Record<ProcessKind, ArtSpace>>;

/** Of the ticket. */
export function processSpaces(colours: ArtworkColours): ProcessSpaces {
  return { grey: greyOf(colours.rgb), RGB: spaceOf(colours.rgb), CMYK: spaceOf(colours.cmyk) };
}

/** One space for each way, however often it is named: tables are made of spaces. */
const known = new WeakMap<ToWide, ArtSpace>();

function spaceOf(way: ToWide): ArtSpace {
  const space = known.get(way) ?? made(way);
  known.set(way, space);
  return space;
}

function made(way: ToWide): ArtSpace {
  return {
    components: way.channels,
    domain: Array.from({ length: way.channels }, () => UNIT).flat(),
    colours: (samples) => way.exact(Uint16Array.from(samples, (value) => Math.round(value * FULL))),
    fast: way.fast,
  };
}

/** Grey as RGB of which all three are the same. */
function greyOf(rgb: ToWide): ArtSpace {
  return {
    components: 1,
    domain: UNIT,
    colours: (samples) => {
      const equal = new Uint16Array(samples.length * 3);
      samples.forEach((value, i) => equal.fill(Math.round(value * FULL), i * 3, i * 3 + 3));
      return rgb.exact(equal);
    },
    fast: null,
  };
}

/**
 * Reads a colour space.
 * @returns null where it names no colour of its own: patterns, and inks that are never printed
 * @throws Unreadable where a profile or a function of it can't be used, with the reason
 */
export function artSpace(
  value: PDFObject | undefined,
  context: PDFContext,
  process: ProcessSpaces,
  colours: ArtworkColours,
  depth = 0,
): ArtSpace | null {
  const space = context.lookup(value);
  const inner = (each: PDFObject | undefined): ArtSpace | null => artSpace(each, context, process, colours, depth + 1);
  if (space instanceof PDFName) {
    const kind = processKind(space.decodeText());
    return kind ? process[kind] : null;
  }
  if (!(space instanceof PDFArray) || depth > DEEPEST) return null;
  const kind = space.lookup(0);
  switch (kind instanceof PDFName ? kind.decodeText() : '') {
    case 'CalGray':
      return process.grey;
    case 'CalRGB':
      return process.RGB;
    case 'Lab':
      return labSpace(space, colours);
    case 'ICCBased':
      return iccSpace(space, context, process, colours);
    case 'Separation':
    case 'DeviceN':
      return tintSpace(space, context, inner(space.get(2)));
    case 'Indexed':
    case 'I':
      return palette(space, inner(space.get(1)));
    default:
      return space.size() === 1 ? inner(kind) : null;
  }
}

function labSpace(space: PDFArray, colours: ArtworkColours): ArtSpace {
  const dict = space.lookup(1);
  const range = dict instanceof PDFDict ? numbersOf(dict, 'Range', [-100, 100, -100, 100]) : [-100, 100, -100, 100];
  const way = colours.lab;
  return {
    components: 3,
    domain: [0, 100, ...range],
    colours: (samples) =>
      way.exact(
        Uint16Array.from(samples, (value, i) =>
          Math.min(FULL, Math.max(0, Math.round(i % 3 === 0 ? (value / 100) * FULL : (value + 128) * 257))),
        ),
      ),
    fast: null,
  };
}

const BY_COMPONENTS: Readonly<Record<number, ProcessKind>> = { 1: 'grey', 3: 'RGB', 4: 'CMYK' };

function iccSpace(space: PDFArray, context: PDFContext, process: ProcessSpaces, colours: ArtworkColours): ArtSpace {
  const stream = context.lookup(space.get(1));
  if (!(stream instanceof PDFRawStream)) throw new Unreadable('A profile in the artwork is missing.');
  const n = stream.dict.lookup(PDFName.of('N'));
  const channels = n instanceof PDFNumber ? n.asNumber() : 3;
  if (!colours.usesEmbedded) {
    const kind = BY_COMPONENTS[channels];
    if (kind) return process[kind];
  }
  // Each page of a file may have a copy of the same profile.
  const key = createHash('sha1').update(stream.contents).digest('hex');
  return spaceOf(colours.embedded(key, () => streamBytes(stream), channels));
}

/** Spot colours: what stands in for them, by a function of their tints. */
function tintSpace(space: PDFArray, context: PDFContext, instead: ArtSpace | null): ArtSpace | null {
  const names = space.lookup(1);
  const components = names instanceof PDFArray ? names.size() : 1;
  const isNever = (names instanceof PDFArray ? names.asArray() : [names]).every((each) => each === PDFName.of('None'));
  if (!instead || isNever) return null;
  const tint = pdfFunction(space.get(3), context);
  return {
    components,
    domain: Array.from({ length: components }, () => UNIT).flat(),
    colours: (samples) => {
      const count = samples.length / components;
      const made = new Float64Array(count * instead.components);
      for (let i = 0; i < count; i += 1) {
        const values = tint(Array.from(samples.subarray(i * components, (i + 1) * components)));
        for (let c = 0; c < instead.components; c += 1) {
          const [least = 0, most = 1] = [instead.domain[c * 2], instead.domain[c * 2 + 1]];
          made[i * instead.components + c] = Math.min(most, Math.max(least, values[c] ?? 0));
        }
      }
      return instead.colours(made);
    },
    fast: null,
  };
}

function palette(space: PDFArray, base: ArtSpace | null): ArtSpace | null {
  const last = space.lookup(2);
  const table = space.lookup(3);
  if (!base || !(last instanceof PDFNumber)) return null;
  const bytes =
    table instanceof PDFRawStream
      ? streamBytes(table)
      : table instanceof PDFString || table instanceof PDFHexString
        ? table.asBytes()
        : new Uint8Array();
  const entries = Math.min(256, Math.max(1, last.asNumber() + 1));
  const samples = Float64Array.from({ length: entries * base.components }, (_, i) => {
    const c = i % base.components;
    const [least = 0, most = 1] = [base.domain[c * 2], base.domain[c * 2 + 1]];
    return least + ((bytes[i] ?? 0) / 255) * (most - least);
  });
  const all = base.colours(samples);
  return {
    components: 1,
    domain: [0, entries - 1],
    entries,
    colours: (indices) => {
      const made = new Uint16Array(indices.length * 3);
      indices.forEach((index, i) => {
        const at = Math.min(entries - 1, Math.max(0, Math.round(index))) * 3;
        made.set(all.subarray(at, at + 3), i * 3);
      });
      return made;
    },
    fast: null,
  };
}
