import { type ClogPace, spellClogs } from '../care/clogs.ts';
import { DOSE_WINDOW } from '../care/exercise.ts';
import { type OutlookChannel, type PlannedFiring, purgeOutlook } from '../care/outlook.ts';

const HOUR = 3_600_000;

/** A channel that a purge keeps healthy. */
export interface RhythmChannel extends OutlookChannel {
  /** Over all of its heads. */
  readonly nozzles: number;
  /** As its checks have told; left out: nothing is known yet. */
  readonly pace?: ClogPace;
}

/** Work that was printed: what each channel fired by its end (ml). */
export interface PrintedWork {
  readonly atMs: number;
  readonly inkMl: Readonly<Record<string, number>>;
}

/** A purge that comes due. */
export interface RhythmPurge extends PrintedWork {
  /** What it is counted by: its design. */
  readonly key: string;
  readonly onlyNeeded: boolean;
}

/** What a rhythm of purges would have come to. */
export interface PurgeRhythm {
  /** Printed, by key: those that work made needless are skipped. */
  readonly printed: ReadonlyMap<string, number>;
  /** Nozzles to be expected to clog in the idle spells that work and purges left. */
  readonly clogs: number;
}

/**
 * Purges of a printer by a rhythm, beside the work that was printed: each is skipped where work exercises its channels, by the same
 * rule as when it comes due. (Pace, “What-if”; Care, “When a purge is skipped”.)
 * @param work and purges from some days before the period on, so that each channel's last exercise is among them
 * @param period what is counted (ms): purges that come due in it, and clogs of idle time in it
 */
export function purgeRhythm(
  channels: readonly RhythmChannel[],
  work: readonly PrintedWork[],
  purges: readonly RhythmPurge[],
  { fromMs, toMs }: { readonly fromMs: number; readonly toMs: number },
): PurgeRhythm {
  const firings: PlannedFiring[] = [
    ...work.map(({ atMs, inkMl }, i) => ({ id: `work ${String(i)}`, atMs, inkMl, purge: null })),
    ...purges.map(({ atMs, inkMl, onlyNeeded }, i) => ({
      id: `purge ${String(i)}`,
      ...{ atMs, inkMl, purge: { dueMs: atMs, onlyNeeded } },
    })),
  ].sort((a, b) => a.atMs - b.atMs);
  const outlook = purgeOutlook(channels, firings);
  const printed = new Map<string, number>();
  for (const [i, { key, atMs }] of purges.entries()) {
    const isPrinted = (outlook.get(`purge ${String(i)}`)?.fires.length ?? 0) > 0;
    if (isPrinted && atMs >= fromMs && atMs < toMs) printed.set(key, (printed.get(key) ?? 0) + 1);
  }
  const fired = firings.map(({ id, atMs, inkMl, purge }) => {
    const fires = purge ? (outlook.get(id)?.fires ?? []) : Object.keys(inkMl);
    return { atMs, inkMl, fires: new Set(fires) };
  });
  return { printed, clogs: channels.reduce((sum, channel) => sum + clogsOf(channel, fired, fromMs, toMs), 0) };
}

/**
 * Work by what it exercises: where what a channel fired within a tenth of its idle limit adds up to its dose, the last of it counts as
 * all of the dose. (Care, “Exercised: which firing counts”; each firing is taken to lie at its end.)
 */
export function exercisingWork(channels: readonly RhythmChannel[], work: readonly PrintedWork[]): PrintedWork[] {
  const sorted = [...work].sort((a, b) => a.atMs - b.atMs);
  const doses = sorted.map((): Record<string, number> => ({}));
  for (const { id, limitMs, doseMl } of channels) {
    let from = 0;
    let sum = 0;
    for (const [i, { atMs, inkMl }] of sorted.entries()) {
      sum += inkMl[id] ?? 0;
      for (; (sorted[from]?.atMs ?? Infinity) <= atMs - limitMs * DOSE_WINDOW; from += 1)
        sum -= sorted[from]?.inkMl[id] ?? 0;
      const dose = doses[i];
      if (dose && (inkMl[id] ?? 0) > 0 && sum >= doseMl - 1e-9) dose[id] = doseMl;
    }
  }
  return sorted.flatMap(({ atMs }, i) => {
    const inkMl = doses[i] ?? {};
    return Object.keys(inkMl).length > 0 ? [{ atMs, inkMl }] : [];
  });
}

/** Clogs of a channel in the idle spells of a period; what a spell had come to before it does not count. */
function clogsOf(
  { id, doseMl, exercisedMs, limitMs, nozzles, pace }: RhythmChannel,
  fired: readonly (PrintedWork & { readonly fires: ReadonlySet<string> })[],
  fromMs: number,
  toMs: number,
): number {
  const clogsBy = (idleMs: number): number => spellClogs(Math.max(0, idleMs) / HOUR, limitMs / HOUR, nozzles, pace);
  let since = exercisedMs;
  let clogs = 0;
  for (const { atMs, inkMl, fires } of [...fired, END]) {
    const isDose = atMs === END.atMs || (fires.has(id) && (inkMl[id] ?? 0) >= doseMl - 1e-12);
    if (!isDose) continue;
    const until = Math.min(atMs, toMs);
    if (until > fromMs) clogs += clogsBy(until - since) - clogsBy(fromMs - since);
    since = atMs;
    if (atMs >= toMs) break;
  }
  return clogs;
}

/** The end of what is looked at. */
const END: PrintedWork & { readonly fires: ReadonlySet<string> } = { atMs: Infinity, inkMl: {}, fires: new Set() };
