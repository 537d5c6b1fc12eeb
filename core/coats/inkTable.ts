import { int16At, uint8At } from '../elementAt.ts';

/*
 * Colour tables: RGB to the inks of a printer, baked once for each profile, intent and limit, and looked up for each pixel by
 * tetrahedral interpolation. The sums are those of the kernel that runs on many channels at once, bit for bit: this is its reference.
 */

/** Lanes of a node: channels that a printer lacks stay 0. */
export const LANES = 8;
/** Full ink in a table: 255 · 128, so that sums of 15 bits can't run over. */
export const FULL_INK = 32_640;
const FRACTION_BITS = 15;
const MOST_FRACTION = 32_767;

export interface InkTable {
  /** Nodes along each side. */
  readonly nodes: number;
  /** Inks in the order of the channels; at most {@link LANES}. */
  readonly channels: number;
  /**
   * Ink of each node, 0 … {@link FULL_INK}: `values[((r · nodes + g) · nodes + b) · LANES + channel]`. Behind its end lies one plane
   * more of zeros: the last node of a side reads beyond itself, and multiplies that by 0.
   */
  readonly values: Int16Array;
}

/** Length of `values` in a table of so many nodes along each side. */
export function tableLength(nodes: number): number {
  return (nodes ** 3 + nodes ** 2 + nodes + 1) * LANES;
}

/**
 * Bakes a table.
 * @param inksAt shares of full ink, 0 … 1, of a colour, r, g and b 0 … 1; `node` counts the nodes, that of blue fastest
 */
export function bakeTable(
  nodes: number,
  channels: number,
  inksAt: (r: number, g: number, b: number, node: number) => readonly number[],
): InkTable {
  if (channels < 1 || channels > LANES) throw new RangeError(`${String(channels)} channels do not fit a table`);
  const values = new Int16Array(tableLength(nodes));
  const side = nodes - 1;
  let at = 0;
  for (let r = 0; r < nodes; r += 1) {
    for (let g = 0; g < nodes; g += 1) {
      for (let b = 0; b < nodes; b += 1) {
        inksAt(r / side, g / side, b / side, at / LANES).forEach((ink, channel) => {
          values[at + channel] = Math.round(Math.min(1, Math.max(0, ink)) * FULL_INK);
        });
        at += LANES;
      }
    }
  }
  return { nodes, channels, values };
}

/**
 * Where a value of 8 bits lies between the nodes of one side: the lower node, and the share of the way to the next, 0 … 32,767.
 */
export function stepOf(value: number, nodes: number): { readonly node: number; readonly fraction: number } {
  const place = (value * (nodes - 1)) / 255;
  const node = Math.floor(place + 1e-9);
  const fraction = Math.min(MOST_FRACTION, Math.round((place - node) * (1 << FRACTION_BITS)));
  return { node, fraction: Math.max(0, fraction) };
}

/** Product of two numbers of 15 bits behind the point, rounded, as lanes of a processor give it. */
function scaled(value: number, fraction: number): number {
  return (value * fraction + (1 << (FRACTION_BITS - 1))) >> FRACTION_BITS;
}

/**
 * Ink of pixels, 0 … 255 in {@link LANES} lanes each: the table's ink at their colour, times their alpha. Where alpha is 0 there is none.
 * @param pixels interleaved RGBA, 8 bits each, alpha not multiplied in
 */
export function inksOf(table: InkTable, pixels: Uint8Array): Uint8Array {
  const { nodes, values } = table;
  const count = Math.floor(pixels.length / 4);
  const inks = new Uint8Array(count * LANES);
  const edges = [nodes * nodes * LANES, nodes * LANES, LANES] as const;
  for (let i = 0; i < count; i += 1) {
    const alpha = uint8At(pixels, i * 4 + 3);
    if (alpha === 0) continue;
    const steps = edges.map((edge, c) => ({ edge, ...stepOf(uint8At(pixels, i * 4 + c), nodes) }));
    const corner = steps.reduce((sum, { node, edge }) => sum + node * edge, 0);
    // The largest fraction is walked first; of equal ones the earlier axis, as the kernel does.
    const [first, second, third] = steps
      .map((_, c) => c)
      .sort((a, b) => (steps[b]?.fraction ?? 0) - (steps[a]?.fraction ?? 0));
    const one = steps[first ?? 0];
    const two = steps[second ?? 1];
    const three = steps[third ?? 2];
    if (!one || !two || !three) throw new Error('a colour without its three parts');
    for (let lane = 0; lane < LANES; lane += 1) {
      const v0 = int16At(values, corner + lane);
      const v1 = int16At(values, corner + one.edge + lane);
      const v2 = int16At(values, corner + one.edge + two.edge + lane);
      const v3 = int16At(values, corner + one.edge + two.edge + three.edge + lane);
      const sum = v0 + scaled(v1 - v0, one.fraction) + scaled(v2 - v1, two.fraction) + scaled(v3 - v2, three.fraction);
      const ink = Math.min(255, Math.max(0, (sum + 64) >> 7));
      inks[i * LANES + lane] = timesAlpha(ink, alpha);
    }
  }
  return inks;
}

/**
 * As {@link inksOf}, over inks that lie there already: where alpha is 0 they stay, where it is full they go.
 * @param under of the same pixels, in {@link LANES} lanes each
 */
export function inksOver(table: InkTable, pixels: Uint8Array, under: Uint8Array): Uint8Array {
  const inks = inksOf(table, pixels);
  return inks.map((ink, at) => ink + timesAlpha(uint8At(under, at), 255 - uint8At(pixels, ((at / LANES) | 0) * 4 + 3)));
}

/** ink · alpha ÷ 255, rounded, without a division. */
function timesAlpha(ink: number, alpha: number): number {
  const product = ink * alpha + 128;
  return (product + (product >> 8)) >> 8;
}
