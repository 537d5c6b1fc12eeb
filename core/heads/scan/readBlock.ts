import { itemAt } from '../../elementAt.ts';
import type { CheckPlot, PlotBlock } from '../checkPlot.ts';
import { DARK_GROUND, GREY_PARTS, LIGHT_GROUND, rgbOf } from '../grounds.ts';
import { normalShare } from '../../distributions.ts';
import { STEPS, columnSignal, darkness, lineIndex, type Peak, peaksOf } from './columnSignal.ts';
import type { Homography } from './homography.ts';
import { matchLines } from './matchLines.ts';
import { median, placeTrend } from './placeTrend.ts';
import type { Picture } from './picture.ts';

/** What a picture says of a nozzle. */
export type NozzleReading = 'good' | 'missing' | 'weak' | 'crooked' | 'unjudged';

export interface ReadNozzle {
  readonly n: number;
  readonly is: NozzleReading;
  /** Darkness by that of a good line; of an unjudged one 0. */
  readonly ratio: number;
  /** How far its line lies off its place (mm); 0 where nothing is claimed. */
  readonly offMm: number;
  /** How sure this is, 0.5 … 1; null: not judged. */
  readonly confidence: number | null;
}

/** Below these shares of a good line's darkness a nozzle is missing, or weak. */
const MISSING_BELOW = 0.25;
const WEAK_BELOW = 0.6;
/** A line that lies farther off its place is crooked (line distances). */
const CROOKED_BEYOND = 0.35;
/** Fewer pixels of the picture between two lines say nothing: 8, less what measuring them may be off. */
const LEAST_PIXELS = 7.9;
/** Lines that are paler than this share of what the ink is known to show are none. */
const LEAST_CONTRAST = 0.25;
const LEAST_SIGMA = 0.02;
/** The darkness that counts as that of a good line: the dark end of the block without its darkest. */
const FULL_SHARE = 0.9;

/** In which planes of a picture an ink is looked at. */
export interface InkLook {
  /** 0 … 2; null: its grey alone. */
  readonly plane: number | null;
  /** −1: it is lighter than its media. */
  readonly sign: 1 | -1;
  /** Its difference from bare media, as a share of the brightest. */
  readonly contrast: number;
}

/** An ink that its grey shows by this much of what its best plane does is looked at in grey alone. */
const GREY_ENOUGH = 0.5;

/**
 * How an ink is looked at: in grey, which cameras and JPEG keep sharp; one that hardly shows there, as yellow, in the mean of grey
 * and the plane in which it is darkest.
 */
export function inkLook({ colour, pale }: Pick<PlotBlock, 'colour' | 'pale'>): InkLook {
  const ink = rgbOf(colour);
  const differences = rgbOf(pale ? DARK_GROUND : LIGHT_GROUND).map((value, plane) => value - (ink[plane] ?? 0));
  const grey = differences.reduce((sum, value, plane) => sum + value * (GREY_PARTS[plane] ?? 0), 0);
  const best = Math.max(...differences.map(Math.abs));
  const plane = differences.findIndex((value) => Math.abs(value) === best);
  const difference = Math.abs(grey) >= GREY_ENOUGH * best ? grey : (grey + (differences[plane] ?? 0)) / 2;
  return {
    plane: difference === grey ? null : plane,
    sign: difference < 0 ? -1 : 1,
    contrast: Math.abs(difference) / 255,
  };
}

interface ReadColumn {
  readonly nozzles: readonly number[];
  readonly pixels: readonly number[];
  readonly outside: ReadonlySet<number>;
  readonly dark: Float64Array;
  readonly peaks: readonly Peak[];
  /** Sum of its darkness around each line's place, in line distances. */
  readonly sums: readonly number[];
}

/**
 * What a picture says of every nozzle of one block.
 * @param view where the block is seen in the picture
 * @param white how bright bare light media is in it, 0 … 255: what contrast is measured by
 */
export function readBlock(
  picture: Picture,
  view: Homography,
  plot: CheckPlot,
  block: PlotBlock,
  white: number,
): ReadNozzle[] {
  const { plane, sign, contrast } = inkLook(block);
  const planes = plane === null ? [picture.grey] : [picture.grey, itemAt(picture.planes, plane)];
  const signals = Array.from({ length: block.columns }, (_, column) => column)
    .filter((column) => column < block.count)
    .map((column) => columnSignal(picture, planes, view, plot, block, column));
  const columns = signals.map((signal): ReadColumn => {
    const dark = darkness(signal, sign);
    const sums = signal.nozzles.map((_, i) => sumAround(dark, lineIndex(i)));
    return { nozzles: signal.nozzles, pixels: signal.pixels, outside: signal.outside, dark, sums, peaks: [] };
  });
  const heights = columns.flatMap(({ dark, nozzles }) => nozzles.map((_, i) => highest(dark, lineIndex(i))));
  const full = quantile(heights, FULL_SHARE);
  const sum = quantile(
    columns.flatMap(({ sums }) => sums),
    FULL_SHARE,
  );
  // Blur spreads a line, but leaves its sum: thickness × contrast.
  const known = (plot.thicknessMm / block.distanceMm) * contrast * white;
  if (sum < LEAST_CONTRAST * known) return columns.flatMap((column) => allMissing(column));
  const peaked = columns.map((column) => ({ ...column, peaks: peaksOf(column.dark, 0.12 * full) }));
  return judge(peaked, full, block);
}

function judge(columns: readonly ReadColumn[], full: number, block: PlotBlock): ReadNozzle[] {
  const plain = columns.map(({ nozzles, peaks }) =>
    matchLines(
      nozzles.map((_, i) => i),
      peaks,
      full,
    ),
  );
  // Lens and paper pull lines off their places together: only what differs from its neighbours is crooked.
  const trend = placeTrend(
    plain.flatMap((lines, column) =>
      lines.flatMap((line, i) => (line && line.dark > WEAK_BELOW * full ? [{ column, row: i, off: line.at - i }] : [])),
    ),
    columns.length,
  );
  const found = columns.flatMap(({ nozzles, peaks, dark, pixels, outside }, column) => {
    const places = nozzles.map((_, i) => i + trend(column, i));
    const lines = matchLines(places, peaks, full);
    return nozzles.map((n, i) => {
      const line = lines[i];
      const place = itemAt(places, i);
      const ratio = line ? line.dark / full : Math.max(0, darkAt(dark, place)) / full;
      const off = line ? line.at - place : 0;
      return { n, ratio, off, judged: itemAt(pixels, i) >= LEAST_PIXELS && !outside.has(n), line: line !== undefined };
    });
  });
  const good = found.filter(({ ratio }) => ratio >= WEAK_BELOW).map(({ ratio }) => ratio);
  const middle = median(good);
  const sigma = Math.max(LEAST_SIGMA, 1.4826 * median(good.map((ratio) => Math.abs(ratio - middle))));
  return found.map(({ n, ratio, off, judged, line }) => {
    if (!judged) return { n, is: 'unjudged', ratio: 0, offMm: 0, confidence: null };
    const crooked = Math.abs(off) > CROOKED_BEYOND;
    const is = !line || ratio < MISSING_BELOW ? 'missing' : ratio < WEAK_BELOW ? 'weak' : crooked ? 'crooked' : 'good';
    const distance = Math.min(Math.abs(ratio - MISSING_BELOW), Math.abs(ratio - WEAK_BELOW));
    return {
      n,
      is,
      ratio,
      offMm: crooked && line ? off * block.distanceMm : 0,
      confidence: normalShare(distance / sigma),
    };
  });
}

function allMissing({ nozzles, pixels, outside }: ReadColumn): ReadNozzle[] {
  return nozzles.map((n, i) =>
    itemAt(pixels, i) < LEAST_PIXELS || outside.has(n)
      ? { n, is: 'unjudged', ratio: 0, offMm: 0, confidence: null }
      : { n, is: 'missing', ratio: 0, offMm: 0, confidence: 1 },
  );
}

function sumAround(dark: Float64Array, at: number): number {
  let sum = 0;
  for (let i = Math.round(at - 0.45 * STEPS); i <= Math.round(at + 0.45 * STEPS); i += 1) sum += dark[i] ?? 0;
  return sum / STEPS;
}

function highest(dark: Float64Array, at: number): number {
  let best = 0;
  for (let i = Math.round(at - 0.3 * STEPS); i <= Math.round(at + 0.3 * STEPS); i += 1)
    best = Math.max(best, dark[i] ?? 0);
  return best;
}

function darkAt(dark: Float64Array, place: number): number {
  return dark[Math.round(lineIndex(place))] ?? 0;
}

function quantile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;
}
