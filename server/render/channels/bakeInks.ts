import { type ChannelCurve, INPUT_CHANNELS, curveOf, isInputCurve } from '../../../core/coats/curves.ts';
import { limitInks } from '../../../core/coats/inkLimits.ts';
import { type BlackPoints, compensated } from '../../../core/coats/blackPoint.ts';
import { type InkTable, bakeTable } from '../../../core/coats/inkTable.ts';
import type { Intent } from '../../../core/coats/intent.ts';
import type { SRgb } from '../../../core/coats/okLab.ts';
import { type Tone, isPlainTone, toned } from '../../../core/coats/tone.ts';
import { Unreadable } from '../facts.ts';
import { ColourLibrary, type OpenProfile, type Transform } from './colourLibrary.ts';

/** Nodes along each side of a table: of 65 light inks keep their kinks. */
export const TABLE_NODES = 65;

export interface BakeOrder {
  /** Profile of the pixels; null: sRGB. */
  readonly input: Uint8Array | null;
  readonly output: Uint8Array;
  /** Colours of the printer in the order of its profile. */
  readonly channels: readonly string[];
  readonly intent: Intent;
  /** Most ink at one place, as a sum of full layers; null: none. */
  readonly inkLimit: number | null;
  /** Before colours become inks; left out: as they came. */
  readonly tone?: Tone;
  /** Of the artwork's channels before, and of the printer's after; those of channels that it lacks do nothing. */
  readonly curves?: readonly ChannelCurve[];
  readonly nodes?: number;
}

const FULL = 65_535;
/** Channels that a limit takes from last. */
const PROTECTED: readonly string[] = ['black'];
/** Of a and b in Lab of 16 bits. */
const NEUTRAL = 0x8080;

/**
 * Bakes tone, profiles, intent, curves and limit into one table, from RGB to the inks of a printer. Since a table is read by interpolation, a limit that
 * holds at its nodes holds everywhere. The white of the pixels is the bare media: no ink.
 * @throws Unreadable where a profile can't be used, with the reason
 */
export async function bakeInks(order: BakeOrder): Promise<InkTable> {
  const library = await ColourLibrary.open();
  try {
    const input = order.input === null ? library.sRgb() : library.profile(order.input);
    const output = library.profile(order.output);
    checkProfiles(input, output, order.channels);
    return bake(library, input, output, order);
  } finally {
    library.close();
  }
}

function checkProfiles(input: OpenProfile, output: OpenProfile, channels: readonly string[]): void {
  if (input.space !== 'RGB') throw new Unreadable(`${input.name} describes ${input.space}, and pixels are RGB here.`);
  if (output.deviceClass !== 'prtr') throw new Unreadable(`${output.name} is no profile of a printer.`);
  if (output.channels !== channels.length) {
    throw new Unreadable(
      `${output.name} is for ${String(output.channels)} inks, and the printer has ${String(channels.length)} colours: ${channels.join(', ')}.`,
    );
  }
}

function bake(library: ColourLibrary, input: OpenProfile, output: OpenProfile, order: BakeOrder): InkTable {
  const { intent, inkLimit, channels, nodes = TABLE_NODES } = order;
  const lab = library.lab();
  const own = intent === 'relative with black point' ? 'relative' : intent;
  const toLab = library.transform(input, lab, own);
  const toInk = library.transform(lab, output, own);
  const grid = bentGrid(gridOf(nodes), order);
  let colours = toLab(grid);
  if (intent === 'relative with black point') {
    const points = blackPointsOf(toLab, toInk, library.transform(output, lab, 'relative'));
    colours = compensated(colours, points);
  }
  const inks = toInk(colours);
  const n = channels.length;
  const bends = channels.map((id) => {
    const curve = order.curves?.find((each) => !isInputCurve(each) && each.channel === id);
    return curve && curveOf(curve.points);
  });
  const kept = channels.flatMap((id, i) => (PROTECTED.includes(id) ? [i] : []));
  return bakeTable(nodes, n, (_r, _g, _b, node) => {
    const isWhite = [0, 1, 2].every((band) => grid[node * 3 + band] === FULL);
    // The library itself does so for four inks only; what it leaves elsewhere are single dots on bare media.
    if (intent !== 'absolute' && isWhite) return new Array<number>(n).fill(0);
    const shares = Array.from(inks.subarray(node * n, node * n + n), (ink, i) => {
      const bend = bends[i];
      return bend ? bend(ink / FULL) : ink / FULL;
    });
    return limitInks(shares, inkLimit, kept);
  });
}

/** Every node as tone and curves of the artwork make it. */
function bentGrid(grid: Uint16Array, { tone, curves = [] }: BakeOrder): Uint16Array {
  const bends = INPUT_CHANNELS.map((name) => {
    const curve = curves.find(({ channel }) => channel === name);
    return curve && curveOf(curve.points);
  });
  const isToned = tone !== undefined && !isPlainTone(tone);
  if (!isToned && bends.every((bend) => bend === undefined)) return grid;
  const bent = new Uint16Array(grid.length);
  for (let at = 0; at < grid.length; at += 3) {
    const bend = (band: 0 | 1 | 2): number => {
      const value = (grid[at + band] ?? 0) / FULL;
      return bends[band]?.(value) ?? value;
    };
    const colour: SRgb = [bend(0), bend(1), bend(2)];
    const made = isToned ? toned(colour, tone) : colour;
    made.forEach((value, band) => {
      bent[at + band] = Math.round(Math.min(1, Math.max(0, value)) * FULL);
    });
  }
  return bent;
}

/** Every node, the last of the three axes fastest. */
function gridOf(nodes: number): Uint16Array {
  const grid = new Uint16Array(nodes ** 3 * 3);
  const valueOf = (node: number): number => Math.round((node / (nodes - 1)) * FULL);
  let at = 0;
  for (let r = 0; r < nodes; r += 1) {
    for (let g = 0; g < nodes; g += 1) {
      for (let b = 0; b < nodes; b += 1) {
        grid.set([valueOf(r), valueOf(g), valueOf(b)], at);
        at += 3;
      }
    }
  }
  return grid;
}

/** L of the darkest of the pixels, and of the darkest that the printer makes of a black that it is asked for. */
function blackPointsOf(toLab: Transform, toInk: Transform, back: Transform): BlackPoints {
  const lightness = (lab: Uint16Array): number => (lab[0] ?? 0) / (FULL / 100);
  return {
    input: lightness(toLab(Uint16Array.of(0, 0, 0))),
    output: lightness(back(toInk(Uint16Array.of(0, NEUTRAL, NEUTRAL)))),
  };
}
