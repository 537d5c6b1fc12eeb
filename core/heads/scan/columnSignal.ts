import { itemAt } from '../../elementAt.ts';
import { type CheckPlot, type PlotBlock, linePlace } from '../checkPlot.ts';
import { type Homography, seenAt } from './homography.ts';
import { type Picture, brightness } from './picture.ts';

/** Samples for each distance of two lines. */
export const STEPS = 24;
/** Places along a line over which it is averaged, and the share of its length that they lie in. */
const PLACES = 14;
const MIDDLE = 0.72;
/** A column is looked at so far beyond its first and last line (line distances). */
export const BEYOND = 0.8;

/** Brightness across the lines of one column of a block, from before its first line to behind its last. */
export interface ColumnSignal {
  /** Numbers of the nozzles whose lines it crosses, in order. */
  readonly nozzles: readonly number[];
  readonly values: Float64Array;
  /** Pixels between two lines, at each of them. */
  readonly pixels: readonly number[];
  /** Lines that lie outside of the picture. */
  readonly outside: ReadonlySet<number>;
}

/** Reads a column across its lines, averaged along them. @param planes of the picture in which the ink shows, averaged */
export function columnSignal(
  picture: Picture,
  planes: readonly Uint8Array[],
  view: Homography,
  plot: CheckPlot,
  block: PlotBlock,
  column: number,
): ColumnSignal {
  const nozzles: number[] = [];
  for (let n = block.firstN + column; n < block.firstN + block.count; n += block.columns) nozzles.push(n);
  const first = linePlace(block, itemAt(nozzles, 0));
  const half = plot.thicknessMm / 2;
  const step = block.distanceMm / STEPS;
  const values = new Float64Array(Math.round((nozzles.length - 1 + 2 * BEYOND) * STEPS) + 1);
  /** Where a place across (from the first line on) and along its lines is seen. */
  const seen = (across: number, along: number): { x: number; y: number } =>
    block.along
      ? seenAt(view, first.xMm + half + across, first.yMm + along)
      : seenAt(view, first.xMm + along, first.yMm + half + across);
  const from = (plot.lineMm * (1 - MIDDLE)) / 2;
  const { width, height } = picture;
  for (let i = 0; i < values.length; i += 1) {
    const across = i * step - BEYOND * block.distanceMm;
    const a = seen(across, from);
    const b = seen(across, plot.lineMm - from);
    let sum = 0;
    for (let place = 0; place < PLACES; place += 1) {
      const t = place / (PLACES - 1);
      const x = a.x + (b.x - a.x) * t;
      const y = a.y + (b.y - a.y) * t;
      for (const plane of planes) sum += brightness(plane, width, height, x, y);
    }
    values[i] = sum / (PLACES * planes.length);
  }
  const outside = new Set<number>();
  const pixels = nozzles.map((n, i) => {
    const here = seen(i * block.distanceMm, plot.lineMm / 2);
    const next = seen((i + 1) * block.distanceMm, plot.lineMm / 2);
    for (const along of [0, plot.lineMm]) {
      const { x, y } = seen(i * block.distanceMm, along);
      if (x < 0 || y < 0 || x > width || y > height) outside.add(n);
    }
    return Math.hypot(next.x - here.x, next.y - here.y);
  });
  return { nozzles, values, pixels, outside };
}

/** Where the line of a column lies in its signal. */
export function lineIndex(i: number): number {
  return (i + BEYOND) * STEPS;
}

/** A line in the signal: where it is darkest, in line distances from the first nozzle's place, and how dark. */
export interface Peak {
  readonly at: number;
  readonly dark: number;
}

/** Half of the width over which a signal is smoothed (samples). */
const SMOOTH = 2;

/** How much darker a column is than bare media, smoothed. @param sign −1 where ink is lighter than its media */
export function darkness(signal: ColumnSignal, sign: 1 | -1): Float64Array {
  const { values, nozzles } = signal;
  const smooth = values.map((_, i) => {
    let sum = 0;
    let of = 0;
    for (let k = Math.max(0, i - SMOOTH); k <= Math.min(values.length - 1, i + SMOOTH); k += 1) {
      sum += values[k] ?? 0;
      of += 1;
    }
    return sum / of;
  });
  const bare = bareOf(smooth, nozzles.length, sign);
  return smooth.map((value, i) => {
    const at = Math.min(Math.max(i / STEPS - BEYOND, 0), nozzles.length - 1);
    const low = Math.floor(at);
    const a = itemAt(bare, low);
    const b = bare[low + 1] ?? a;
    return sign * (a + (b - a) * (at - low) - value);
  });
}

/** Neighbours over which bare media is taken. */
const NEIGHBOURS = 2;

/** Bare media beside each line: the lighter of both sides, the middle one of five neighbours. */
function bareOf(smooth: Float64Array, count: number, sign: 1 | -1): number[] {
  const mean = (from: number, to: number): number => {
    let sum = 0;
    let of = 0;
    for (let i = Math.round(from); i <= Math.round(to); i += 1) {
      const value = smooth[i];
      if (value === undefined) continue;
      sum += value;
      of += 1;
    }
    return of === 0 ? sign * -Infinity : sum / of;
  };
  const own = Array.from({ length: count }, (_, i) => {
    const at = lineIndex(i);
    const before = mean(at - 0.58 * STEPS, at - 0.42 * STEPS);
    const behind = mean(at + 0.42 * STEPS, at + 0.58 * STEPS);
    return sign * Math.max(sign * before, sign * behind);
  });
  return own.map((_, i) => {
    const near = own.slice(Math.max(0, i - NEIGHBOURS), i + NEIGHBOURS + 1).sort((a, b) => a - b);
    return itemAt(near, Math.floor(near.length / 2));
  });
}

/** Places that are darker than their surroundings and at least this dark. */
export function peaksOf(dark: Float64Array, least: number): Peak[] {
  const peaks: Peak[] = [];
  for (let i = 1; i < dark.length - 1; i += 1) {
    const [before, here, behind] = [dark[i - 1] ?? 0, dark[i] ?? 0, dark[i + 1] ?? 0];
    if (here < least || here < before || here <= behind) continue;
    const bend = before - 2 * here + behind;
    const shift = bend < 0 ? (before - behind) / (2 * bend) : 0;
    peaks.push({ at: (i + Math.max(-0.5, Math.min(0.5, shift))) / STEPS - BEYOND, dark: here });
  }
  return peaks;
}
