import { readFile, stat } from 'node:fs/promises';
import sharp from 'sharp';
import { type ChannelCurve, channelBends } from '../../../core/coats/curves.ts';
import { HOT, WARM, mixRgb } from '../../../core/coats/heat.ts';
import { limitInks } from '../../../core/coats/inkLimits.ts';
import { FULL_INK, type InkTable, LANES, tableLength } from '../../../core/coats/inkTable.ts';
import type { Intent } from '../../../core/coats/intent.ts';
import type { PreviewView } from '../../../core/coats/previewView.ts';
import type { Tone } from '../../../core/coats/tone.ts';
import { float64At, uint16At, uint8At } from '../../../core/elementAt.ts';
import type { DataPaths } from '../../files/paths.ts';
import { bakeInks, gridOf, protectedOf } from './bakeInks.ts';
import { wideProfile } from './wideSpace.ts';
import { ColourLibrary, type Transform } from './colourLibrary.ts';
import { TableReader } from '../channels/tableReader.ts';

/** Nodes along each side of the tables of a preview: made in a few ms, and less than a step of 8 bits off. */
const NODES = 25;
/** Lanes behind the three of how it looks: what a view needs beside them. */
const ASKED = 3;
const DISTANCE = 4;
/** Colours that come out further from what was asked than this (ΔE) are shown as such: profiles themselves are up to 2 off. */
const OUT_OF_GAMUT = 6;
/** ΔE that fills its lane. */
const MOST_DISTANCE = 51;
/** Half a step of 8 bits in the lane of what is asked for, whose full is {@link LANES} layers. */
const HALF_STEP = LANES / 255 / 2;
/** Less than this is not printed (of 255). */
const SEEN = 128;
const FULL = 65_535;
/** So many values of 8 bits add up within 16. */
const SAFE = 256;
/** Bases that were used last: before and after may go by two profiles. */
const MOST_BASES = 4;

export interface PreviewOrder {
  /** The finished page as a picture. */
  readonly picture: string;
  /** In the wide RGB; else in sRGB. */
  readonly isWide: boolean;
  /** What of it, in shares of its sides. */
  readonly crop: { readonly x: number; readonly y: number; readonly width: number; readonly height: number };
  /** Of the longer side. */
  readonly mostPx: number;
  readonly profile: { readonly name: string; readonly sha256: string };
  readonly channels: readonly string[];
  readonly intent: Intent;
  readonly inkLimit: number;
  readonly tone: Tone;
  readonly curves: readonly ChannelCurve[];
  readonly view: PreviewView;
  /** As the profile's own media looks; else as white. */
  readonly paperWhite: boolean;
}

export interface PreviewAnswer {
  readonly png: Uint8Array;
  readonly widthPx: number;
  readonly heightPx: number;
  /** Mean ink of each channel, 0 … 1. */
  readonly inks: readonly number[];
  /** Shares of what is printed at all. */
  readonly outOfGamut: number;
  readonly overLimit: number;
  /** Most ink asked for at one place, before the limit, as a sum of full layers. */
  readonly mostInk: number;
}

interface Picture {
  readonly rgba: Uint8Array;
  readonly width: number;
  readonly height: number;
}

/** What does not depend on tone, curves and limit: the inks of colours as they are, and how far each comes out from what was asked. */
interface Base {
  readonly table: InkTable;
  /** In its first lane. */
  readonly distances: InkTable;
  /** How inks look, on white or on the profile's own media. To open a profile takes longer than all the rest. */
  readonly onWhite: Transform;
  readonly onPaper: Transform;
  readonly library: ColourLibrary;
}

const bases = new Map<string, Base>();
let lastPicture: { readonly key: string; readonly picture: Picture } | undefined;

/**
 * A page as it will look in print, with what it will take: by the tables of the rendering, at the resolution of a screen, ink before screening.
 * @throws Unreadable where the profile can't be used
 */
export async function previewColour(order: PreviewOrder, paths: DataPaths): Promise<PreviewAnswer> {
  const picture = await pictureOf(order);
  const { inks, proof, paper } = tablesOf(order, await baseOf(order, paths));
  const pixels = picture.width * picture.height;
  const lanes = readerFor('inks', pixels).read(inks, picture.rgba);
  const colours = readerFor('proof', pixels).read(proof, picture.rgba);
  const seen = look(picture, lanes, colours, order);
  const rgb = printed(picture, colours, paper);
  if (order.view === 'out of gamut') markGamut(rgb, picture, colours);
  if (order.view === 'over the limit') markLimit(rgb, picture, colours, order.inkLimit);
  const { width, height } = picture;
  const png = await sharp(rgb, { raw: { width, height, channels: 3 } })
    .png({ compressionLevel: 1, adaptiveFiltering: false })
    .toBuffer();
  return { png, widthPx: width, heightPx: height, ...seen };
}

async function pictureOf({ picture: file, crop, mostPx }: PreviewOrder): Promise<Picture> {
  const { mtimeMs } = await stat(file);
  const key = JSON.stringify([file, mtimeMs, crop, mostPx]);
  if (lastPicture?.key === key) return lastPicture.picture;
  const whole = await sharp(file).toColourspace('srgb').ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  const { width, height } = whole.info;
  const left = Math.min(width - 1, Math.floor(crop.x * width));
  const top = Math.min(height - 1, Math.floor(crop.y * height));
  const { data, info } = await sharp(whole.data, { raw: { width, height, channels: 4 } })
    .extract({
      ...{ left, top },
      width: Math.max(1, Math.min(width - left, Math.round(crop.width * width))),
      height: Math.max(1, Math.min(height - top, Math.round(crop.height * height))),
    })
    .resize({ width: mostPx, height: mostPx, fit: 'inside', withoutEnlargement: true })
    .raw()
    .toBuffer({ resolveWithObject: true });
  // No Buffer: loops over arrays of one kind alone are fast.
  const rgba = new Uint8Array(data.buffer, data.byteOffset, data.length);
  const picture = { rgba, width: info.width, height: info.height };
  lastPicture = { key, picture };
  return picture;
}

async function baseOf({ profile, intent, channels, isWide }: PreviewOrder, paths: DataPaths): Promise<Base> {
  const key = JSON.stringify([profile.sha256, intent, channels, isWide]);
  const known = bases.get(key);
  if (known) return known;
  const output = await readFile(paths.profile(profile.sha256));
  const { nodes, values } = await bakeInks({
    ...{ input: isWide ? wideProfile() : null, output, channels, intent, inkLimit: null, nodes: NODES },
  });
  const far = emptyTable(1);
  (await distances(output, isWide)).forEach((distance, node) => {
    far.values[node * LANES] = Math.round(Math.min(1, distance / MOST_DISTANCE) * FULL_INK);
  });
  const library = await ColourLibrary.open();
  const [inks, screen] = [library.profile(output), library.sRgb()];
  const base = {
    table: { nodes, channels: channels.length, values },
    distances: far,
    onWhite: library.transform(inks, screen, 'relative'),
    onPaper: library.transform(inks, screen, 'absolute'),
    library,
  };
  bases.set(key, base);
  const [oldest] = bases;
  if (bases.size > MOST_BASES && oldest) {
    bases.delete(oldest[0]);
    oldest[1].library.close();
  }
  return base;
}

/** Of each node, how far (ΔE) its colour comes out from what it is, at best. */
async function distances(profile: Uint8Array, isWide: boolean): Promise<Float64Array> {
  const library = await ColourLibrary.open();
  try {
    const [output, lab] = [library.profile(profile), library.lab()];
    const pixels = isWide ? library.profile(wideProfile()) : library.sRgb();
    const wanted = library.transform(pixels, lab, 'relative')(gridOf(NODES));
    const made = library.transform(output, lab, 'relative')(library.transform(lab, output, 'relative')(wanted));
    return Float64Array.from({ length: NODES ** 3 }, (_, node) => {
      const off = (axis: number, unit: number): number =>
        ((wanted[node * 3 + axis] ?? 0) - (made[node * 3 + axis] ?? 0)) / unit;
      return Math.hypot(off(0, 655.35), off(1, 257), off(2, 257));
    });
  } finally {
    library.close();
  }
}

/** Tables of this order: inks within the limit, and how they look with what a view needs beside that. */
function tablesOf(order: PreviewOrder, { table: base, distances: far, onWhite, onPaper }: Base) {
  const { channels, inkLimit, curves, paperWhite } = order;
  const count = NODES ** 3;
  const grid = gridOf(NODES, order);
  const colours = new Uint8Array(count * 4).fill(255);
  for (let node = 0; node < count; node += 1) {
    for (let band = 0; band < 3; band += 1)
      colours[node * 4 + band] = Math.round(uint16At(grid, node * 3 + band) / 257);
  }
  const plain = readerFor('nodes', count).read(base, colours);
  const distance = readerFor('distances', count).read(far, colours);
  const bends = bendTables(channels, curves);
  const kept = protectedOf(channels);
  const n = channels.length;
  // Bare media is the last: what it looks like is read beside the nodes.
  const laid = new Uint16Array((count + 1) * n);
  const inks = emptyTable(n);
  const proof = emptyTable(DISTANCE + 1);
  const shares = new Array<number>(n).fill(0);
  for (let node = 0; node < count; node += 1) {
    const at = node * LANES;
    let asked = 0;
    for (let c = 0; c < n; c += 1) {
      const share = float64At(bends, c * 256 + uint8At(plain, at + c));
      shares[c] = share;
      asked += share;
    }
    const held = asked > inkLimit ? limitInks(shares, inkLimit, kept) : shares;
    for (let c = 0; c < n; c += 1) {
      const share = held[c] ?? 0;
      laid[node * n + c] = share * FULL + 0.5;
      inks.values[at + c] = share * FULL_INK + 0.5;
    }
    proof.values[at + ASKED] = (asked / LANES) * FULL_INK + 0.5;
    proof.values[at + DISTANCE] = uint8At(distance, at) * (FULL_INK / 255);
  }
  const looks = (paperWhite ? onPaper : onWhite)(laid);
  for (let node = 0; node < count; node += 1) {
    for (let band = 0; band < 3; band += 1) {
      proof.values[node * LANES + band] = (uint16At(looks, node * 3 + band) / FULL) * FULL_INK + 0.5;
    }
  }
  return { inks, proof, paper: [0, 1, 2].map((band) => uint16At(looks, count * 3 + band) / FULL) };
}

function emptyTable(channels: number): InkTable {
  return { nodes: NODES, channels, values: new Int16Array(tableLength(NODES)) };
}

/** Of each channel, what its curve makes of each of 256 amounts of ink: shares, 0 … 1. */
function bendTables(channels: readonly string[], curves: readonly ChannelCurve[]): Float64Array {
  const bend = channelBends(channels, curves);
  return Float64Array.from({ length: channels.length * 256 }, (_, at) => bend(at >> 8, (at & 255) / 255));
}

const readers = new Map<string, TableReader>();

/** A reader that is at hand: each takes some MB. */
function readerFor(use: 'nodes' | 'distances' | 'inks' | 'proof', pixels: number): TableReader {
  const known = readers.get(use);
  if (known && known.mostPixels >= pixels) return known;
  const reader = new TableReader(NODES, pixels);
  readers.set(use, reader);
  return reader;
}

/** What a picture takes and asks for. */
function look(
  { rgba, width, height }: Picture,
  inks: Uint8Array,
  lanes: Uint8Array,
  { channels, inkLimit }: PreviewOrder,
): Pick<PreviewAnswer, 'inks' | 'outOfGamut' | 'overLimit' | 'mostInk'> {
  const count = width * height;
  const sums = laneSums(inks);
  let [seen, far, over, most] = [0, 0, 0, 0];
  for (let i = 0; i < count; i += 1) {
    if (uint8At(rgba, i * 4 + 3) < SEEN) continue;
    const asked = askedAt(lanes, i);
    seen += 1;
    if (distanceAt(rgba, lanes, i) > OUT_OF_GAMUT) far += 1;
    if (asked > inkLimit + HALF_STEP) over += 1;
    if (asked > most) most = asked;
  }
  return {
    inks: channels.map((_, c) => float64At(sums, c) / (count * 255)),
    outOfGamut: seen === 0 ? 0 : far / seen,
    overLimit: seen === 0 ? 0 : over / seen,
    mostInk: most,
  };
}

/** Ink that a pixel asks for before the limit, as a sum of full layers. */
function askedAt(lanes: Uint8Array, i: number): number {
  return (uint8At(lanes, i * LANES + ASKED) * LANES) / 255;
}

/** How far a pixel's colour comes out from what it is (ΔE). Lanes have alpha in them. */
function distanceAt(rgba: Uint8Array, lanes: Uint8Array, i: number): number {
  return (uint8At(lanes, i * LANES + DISTANCE) * MOST_DISTANCE) / Math.max(1, uint8At(rgba, i * 4 + 3));
}

/** Sums of each lane over all pixels. Four lanes are added in one word, as long as they can't run over into each other. */
function laneSums(lanes: Uint8Array): Float64Array {
  const words = new Uint32Array(lanes.buffer, lanes.byteOffset, lanes.length / 4);
  const sums = new Float64Array(LANES);
  for (let from = 0; from < words.length; from += 2 * SAFE) {
    let [a, b, c, d] = [0, 0, 0, 0];
    const end = Math.min(words.length, from + 2 * SAFE);
    for (let at = from; at < end; at += 2) {
      const low = words[at] ?? 0;
      const high = words[at + 1] ?? 0;
      a += low & 0xff00ff;
      b += (low >>> 8) & 0xff00ff;
      c += high & 0xff00ff;
      d += (high >>> 8) & 0xff00ff;
    }
    [a, b, a >>> 16, b >>> 16, c, d, c >>> 16, d >>> 16].forEach((sum, lane) => {
      sums[lane] = float64At(sums, lane) + (sum & 0xffff);
    });
  }
  return sums;
}

/** How it looks on its media. */
function printed({ rgba, width, height }: Picture, colours: Uint8Array, paper: readonly number[]): Uint8Array {
  const rgb = new Uint8Array(width * height * 3);
  const [paperR = 1, paperG = 1, paperB = 1] = paper;
  for (let i = 0; i < width * height; i += 1) {
    const at = i * LANES;
    const bare = 255 - uint8At(rgba, i * 4 + 3);
    rgb[i * 3] = Math.min(255, uint8At(colours, at) + bare * paperR + 0.5);
    rgb[i * 3 + 1] = Math.min(255, uint8At(colours, at + 1) + bare * paperG + 0.5);
    rgb[i * 3 + 2] = Math.min(255, uint8At(colours, at + 2) + bare * paperB + 0.5);
  }
  return rgb;
}

const HATCH = [0x0e, 0x6a, 0x6b] as const;

/** Hatches what can't be printed as it is asked for: what it will look like stays to be seen between the lines. */
function markGamut(rgb: Uint8Array, { rgba, width, height }: Picture, lanes: Uint8Array): void {
  for (let i = 0; i < width * height; i += 1) {
    if (uint8At(rgba, i * 4 + 3) < SEEN || distanceAt(rgba, lanes, i) <= OUT_OF_GAMUT) continue;
    const x = i % width;
    if ((x + (i - x) / width) % 8 < 4) rgb.set(HATCH, i * 3);
  }
}

/** Fades everything but the places that ask for more than the limit: the more, the hotter. */
function markLimit(rgb: Uint8Array, { width, height }: Picture, lanes: Uint8Array, inkLimit: number): void {
  for (let i = 0; i < width * height; i += 1) {
    const beyond = (askedAt(lanes, i) - inkLimit - HALF_STEP) / (inkLimit / 2);
    if (beyond > 0) rgb.set(mixRgb(WARM, HOT, Math.min(1, beyond)), i * 3);
    else for (let at = i * 3; at < i * 3 + 3; at += 1) rgb[at] = 255 - (255 - uint8At(rgb, at)) * 0.3;
  }
}
