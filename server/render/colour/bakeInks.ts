import { type ChannelCurve, INPUT_CHANNELS, channelBends, curveOf } from '../../../core/coats/curves.ts';
import { limitInks } from '../../../core/coats/inkLimits.ts';
import { type BlackPoints, compensated } from '../../../core/coats/blackPoint.ts';
import { type InkTable, bakeTable } from '../../../core/coats/inkTable.ts';
import type { Intent } from '../../../core/coats/intent.ts';
import { PLAIN_TONE, type Tone, saturated, shadeOf } from '../../../core/coats/tone.ts';
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
const NONE = new Float64Array();
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
  const grid = gridOf(nodes, order);
  let colours = toLab(grid);
  if (intent === 'relative with black point') {
    const points = blackPointsOf(toLab, toInk, library.transform(output, lab, 'relative'));
    colours = compensated(colours, points);
  }
  const inks = toInk(colours);
  const n = channels.length;
  const bends = channelBends(channels, order.curves ?? []);
  const kept = protectedOf(channels);
  return bakeTable(nodes, n, (_r, _g, _b, node) => {
    const isWhite = [0, 1, 2].every((band) => grid[node * 3 + band] === FULL);
    // The library itself does so for four inks only; what it leaves elsewhere are single dots on bare media.
    if (intent !== 'absolute' && isWhite) return new Array<number>(n).fill(0);
    const shares = Array.from(inks.subarray(node * n, node * n + n), (ink, i) => bends(i, ink / FULL));
    return limitInks(shares, inkLimit, kept);
  });
}

/** How light red, green and blue of the same value look beside each other; of greys it says the same as each of them. */
const LIGHTNESS = [0.299, 0.587, 0.114] as const;

/**
 * Bakes the table of separations: inks of the artwork that are printed each alone, as grey on their pages, which becomes black ink and no
 * other. What is white takes none, and what is black a full layer.
 */
export function bakeBlack(order: Pick<BakeOrder, 'channels' | 'inkLimit' | 'tone' | 'curves' | 'nodes'>): InkTable {
  const { channels, inkLimit, curves = [], nodes = TABLE_NODES } = order;
  const black = channels.indexOf('black');
  if (black < 0) throw new Unreadable('The printer has no black, in which inks are printed alone.');
  const grid = gridOf(nodes, order);
  const bends = channelBends(channels, curves);
  return bakeTable(nodes, channels.length, (_r, _g, _b, node) => {
    const light = LIGHTNESS.reduce((sum, weight, band) => sum + (weight * (grid[node * 3 + band] ?? 0)) / FULL, 0);
    const shares = new Array<number>(channels.length).fill(0);
    shares[black] = bends(black, 1 - light);
    return limitInks(shares, inkLimit, [black]);
  });
}

/** Places of the channels that a limit takes from last, the first served first. */
export function protectedOf(channels: readonly string[]): number[] {
  return PROTECTED.map((id) => channels.indexOf(id)).filter((place) => place >= 0);
}

/** Every node, the last of the three axes fastest, as tone and curves of the artwork make it. */
export function gridOf(
  nodes: number,
  { tone = PLAIN_TONE, curves = [] }: Pick<BakeOrder, 'tone' | 'curves'> = {},
): Uint16Array {
  // Along each axis first: only saturation needs all three.
  const axes = INPUT_CHANNELS.map((name) => {
    const curve = curves.find(({ channel }) => channel === name);
    const bend = curve ? curveOf(curve.points) : (value: number): number => value;
    return Float64Array.from({ length: nodes }, (_, node) => shadeOf(bend(node / (nodes - 1)), tone));
  });
  const [reds = NONE, greens = NONE, blues = NONE] = axes;
  const grid = new Uint16Array(nodes ** 3 * 3);
  let at = 0;
  for (const r of reds) {
    for (const g of greens) {
      for (const b of blues) {
        const colour = saturated([r, g, b], tone);
        grid[at] = Math.round(colour[0] * FULL);
        grid[at + 1] = Math.round(colour[1] * FULL);
        grid[at + 2] = Math.round(colour[2] * FULL);
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
