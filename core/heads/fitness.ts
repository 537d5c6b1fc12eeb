import { type ChannelFaults, worthByNozzle } from './nozzleFaults.ts';

/** The nozzles of one channel. */
export interface ChannelHeads {
  readonly head: 'carriage' | 'page-wide';
  readonly heads: number;
  /** Of one head; of a page-wide array all across it. */
  readonly nozzles: number;
  readonly nozzlesPerInch: number;
  /** Of a page-wide array: how many bars it consists of, side by side. */
  readonly bars: number;
}

/** What a mode asks of the nozzles. */
export interface ModeAsks {
  readonly dpiX: number;
  readonly dpiY: number;
  readonly passes: number;
  /** Each class of lines must keep this share of its nozzles (μ). */
  readonly classShare: number;
  /** The whole channel must keep this share (φ). */
  readonly channelShare: number;
  /** Of a page-wide array: so many columns side by side may be missing (R) … */
  readonly mostColumns: number;
  /** … and this share of the columns in any 10 mm. */
  readonly mostShare: number;
}

/** Whether a channel can print in a mode, with the figure that decides. */
export type Fitness =
  | { readonly fit: true; readonly firedShare: number; readonly banding: boolean }
  | { readonly fit: false; readonly firedShare: number; readonly why: Unfit };

export type Unfit =
  | { readonly code: 'class'; readonly kept: number; readonly of: number; readonly needs: number }
  | { readonly code: 'channel'; readonly share: number; readonly needs: number }
  | {
      readonly code: 'streak';
      readonly columns: number;
      readonly most: number;
      readonly fromMm: number;
      readonly bar: number;
    }
  | { readonly code: 'share'; readonly share: number; readonly most: number; readonly fromMm: number };

/**
 * Whether the nozzles of a channel can print in a mode. A carriage passes over each line several times, so that single nozzles are
 * hidden by others of their class; a page-wide array has one place for each nozzle, so that neighbours that are missing show.
 * Formula: fitness, second sheet of calculations.
 */
export function modeFitness(heads: ChannelHeads, mode: ModeAsks, faults: ChannelFaults): Fitness {
  return heads.head === 'carriage' ? carriageFitness(heads, mode, faults) : arrayFitness(heads, mode, faults);
}

/**
 * The line class of a nozzle of a carriage head: all nozzles of a class print the same lines. S = N ÷ p nozzles pass over a line in
 * one pass; j has i = floor(j ÷ S), phase r = floor(j − i · S), and its class is (r, i mod k), k the interlaces.
 * @param j of its head, from 0
 */
export function lineClass(
  j: number,
  { nozzles, nozzlesPerInch }: Pick<ChannelHeads, 'nozzles' | 'nozzlesPerInch'>,
  { passes, dpiY }: Pick<ModeAsks, 'passes' | 'dpiY'>,
): number {
  // In whole numbers: S need not be one.
  const pass = Math.floor((j * passes) / nozzles);
  const phase = Math.floor((j * passes - pass * nozzles) / passes);
  const interlaces = Math.ceil(dpiY / nozzlesPerInch - 1e-9);
  return phase * interlaces + (pass % interlaces);
}

function carriageFitness(heads: ChannelHeads, mode: ModeAsks, faults: ChannelFaults): Fitness {
  const { nozzles } = heads;
  const worth = worthByNozzle(faults);
  const lost = new Map<number, number>();
  let allLost = 0;
  for (const [n, value] of worth) {
    const of = lineClass(n % nozzles, heads, mode);
    lost.set(of, (lost.get(of) ?? 0) + 1 - value);
    allLost += 1 - value;
  }
  const firedShare = 1 - allLost / (nozzles * heads.heads);
  const sizes = new Map<number, number>();
  for (let j = 0; j < nozzles && lost.size > 0; j += 1) {
    const of = lineClass(j, heads, mode);
    if (lost.has(of)) sizes.set(of, (sizes.get(of) ?? 0) + heads.heads);
  }
  let worst: Extract<Unfit, { code: 'class' }> | undefined;
  for (const [of, missing] of lost) {
    const size = sizes.get(of) ?? 0;
    const kept = size - missing;
    const needs = mode.classShare * size;
    if (kept < needs - 1e-9 && (!worst || kept / size < worst.kept / worst.of)) {
      worst = { code: 'class', kept, of: size, needs };
    }
  }
  if (worst) return { fit: false, firedShare, why: worst };
  if (firedShare < mode.channelShare - 1e-9) {
    return { fit: false, firedShare, why: { code: 'channel', share: firedShare, needs: mode.channelShare } };
  }
  return { fit: true, firedShare, banding: false };
}

const MM_PER_IN = 25.4;
/** Shares of missing columns are taken over this length across the media (mm). */
const WINDOW_MM = 10;
/** A column below this mean of its nozzles is missing. */
const COLUMN_LEAST = 0.25;

function arrayFitness(heads: ChannelHeads, mode: ModeAsks, faults: ChannelFaults): Fitness {
  const { nozzles, nozzlesPerInch, bars } = heads;
  const worth = worthByNozzle(faults);
  let allLost = 0;
  for (const value of worth.values()) allLost += 1 - value;
  const firedShare = 1 - allLost / (nozzles * heads.heads);
  const perColumn = nozzlesPerInch / mode.dpiX;
  const columns = Math.ceil(nozzles / perColumn - 1e-9);
  const columnMm = MM_PER_IN / mode.dpiX;
  const bad = badColumns(heads, perColumn, worth);
  const streak = longestRun(bad);
  const barOf = (column: number): number => Math.min(bars - 1, Math.floor((column / columns) * bars));
  if (streak && streak.length > mode.mostColumns) {
    const fromMm = streak.from * columnMm;
    const bar = barOf(streak.from);
    return {
      fit: false,
      firedShare,
      why: { code: 'streak', columns: streak.length, most: mode.mostColumns, fromMm, bar },
    };
  }
  const window = Math.floor(WINDOW_MM / columnMm + 1e-9);
  const most = densest(bad, window);
  if (most && most.count / window > mode.mostShare + 1e-12) {
    const share = most.count / window;
    return {
      fit: false,
      firedShare,
      why: { code: 'share', share, most: mode.mostShare, fromMm: Math.max(0, most.from) * columnMm },
    };
  }
  return { fit: true, firedShare, banding: worth.size > 0 };
}

/** Columns at the mode's resolution whose nozzles fire less than a quarter on the average, in order. */
function badColumns(
  { nozzles, heads }: Pick<ChannelHeads, 'nozzles' | 'heads'>,
  perColumn: number,
  worth: ReadonlyMap<number, number>,
): number[] {
  const at = (n: number): number => worth.get(n) ?? 1;
  const asked = new Set<number>();
  // Several columns may share a nozzle where the mode is finer than the bar.
  for (const n of worth.keys()) {
    const place = n % nozzles;
    for (let column = Math.floor(place / perColumn); column * perColumn < place + 1; column += 1) asked.add(column);
  }
  const bad: number[] = [];
  for (const column of asked) {
    const from = Math.floor(column * perColumn + 1e-9);
    const to = Math.min(nozzles, Math.max(from + 1, Math.floor((column + 1) * perColumn + 1e-9)));
    let sum = 0;
    for (let head = 0; head < heads; head += 1) for (let j = from; j < to; j += 1) sum += at(head * nozzles + j);
    if (to > from && sum / ((to - from) * heads) < COLUMN_LEAST) bad.push(column);
  }
  return bad.sort((a, b) => a - b);
}

/** The longest run of numbers that follow one another. */
function longestRun(sorted: readonly number[]): { readonly from: number; readonly length: number } | undefined {
  let best: { from: number; length: number } | undefined;
  let present: { from: number; length: number } | undefined;
  for (const column of sorted) {
    present =
      present && column === present.from + present.length
        ? { from: present.from, length: present.length + 1 }
        : { from: column, length: 1 };
    if (!best || present.length > best.length) best = present;
  }
  return best;
}

/** The window that holds the most numbers. */
function densest(
  sorted: readonly number[],
  window: number,
): { readonly from: number; readonly count: number } | undefined {
  let best: { from: number; count: number } | undefined;
  let first = 0;
  for (const [i, column] of sorted.entries()) {
    while ((sorted[first] ?? column) <= column - window) first += 1;
    const count = i - first + 1;
    if (!best || count > best.count) best = { from: sorted[first] ?? column, count };
  }
  return best;
}
