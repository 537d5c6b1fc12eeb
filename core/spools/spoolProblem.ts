/**
 * Which spool each queued run is printed on, so that stubs vanish. Lengths in whole mm, money in minor units.
 * Source: the loss of an assignment = Σ over spools used (worth before − worth after − value of what the runs took) + loads ×
 * what a load costs.
 */

/** A spool or an offcut that runs can be printed on. */
export interface ChoosableSpool {
  readonly id: string;
  readonly stockId: string;
  readonly lot: string;
  readonly widthMm: number;
  /** By its ledger, less what is being printed on it now. */
  readonly leftMm: number;
  /** Never used: it is worth its whole price. */
  readonly isUnopened: boolean;
  /** The printer that it is loaded in; null: it stands on the rack. */
  readonly printerId: string | null;
  /** What one mm of it was bought for. */
  readonly minorPerMm: number;
}

/** A run that waits for media. */
export interface SpoolRun {
  readonly id: string;
  readonly printerId: string;
  readonly stockId: string;
  /** The media is at least as wide. */
  readonly leastWidthMm: number;
  /** What it takes, its trailer included. */
  readonly needMm: number;
  /** Runs with the same are printed from one lot; null: any lot will do. */
  readonly oneLotFor: string | null;
  /** Spools it can't be printed on, whatever their length. */
  readonly notOn?: ReadonlySet<string>;
}

/** What counts besides lengths; figures of the stock and of the shop. */
export interface SpoolTerms {
  /** A shorter remainder is a stub and worth nothing. */
  readonly usableMm: number;
  /** The share of its worth that an opened spool loses for the trouble that it is. */
  readonly partDiscount: number;
  /** Fed until a spool that has just been loaded prints. */
  readonly leaderMm: number;
  /** One load: a person's minutes × the rate of the printer. */
  readonly loadMinor: (printerId: string) => number;
  /** Runs of two printers don't share a spool: one would wait until the other has given it up. Left out: they may. */
  readonly onePrinter?: boolean;
}

/** Runs of one stock and the spools that there are of it. */
export interface SpoolProblem {
  readonly runs: readonly SpoolRun[];
  readonly spools: readonly ChoosableSpool[];
  readonly terms: SpoolTerms;
}

/** By run, the place of its spool in the problem's list; −1: none. */
export type SpoolAssignment = readonly number[];

/** What an assignment comes to, in the order in which it is judged: fewest runs without a spool, least loss, fewest spools, longest remainder. */
export interface SpoolScore {
  readonly without: number;
  readonly lossMinor: number;
  readonly spools: number;
  readonly longestLeftMm: number;
}

/** What a spool with this much left is worth (minor units). */
export function spoolWorth(spool: ChoosableSpool, leftMm: number, isUnopened: boolean, terms: SpoolTerms): number {
  if (isUnopened) return leftMm * spool.minorPerMm;
  if (leftMm < terms.usableMm) return 0;
  return (1 - terms.partDiscount) * leftMm * spool.minorPerMm;
}

/** Whether a run may be printed on a spool, lengths aside. */
export function mayTake(run: SpoolRun, spool: ChoosableSpool): boolean {
  return (
    run.stockId === spool.stockId && spool.widthMm + 1e-6 >= run.leastWidthMm && !(run.notOn?.has(spool.id) ?? false)
  );
}

/** What one spool takes and what it costs, once some runs are on it. */
export interface SpoolUse {
  readonly takenMm: number;
  readonly loads: number;
  readonly leftMm: number;
  readonly lossMinor: number;
}

/**
 * A spool with runs on it: each printer that it is not in loads it once and feeds a leader.
 * @param needMm of all runs on it
 * @param printerIds of those runs, each once
 * @returns undefined: it is not long enough, or not to be shared
 */
export function useOf(
  spool: ChoosableSpool,
  needMm: number,
  printerIds: Iterable<string>,
  terms: SpoolTerms,
): SpoolUse | undefined {
  let printers = 0;
  let loads = 0;
  let loadMinor = 0;
  for (const id of printerIds) {
    printers += 1;
    if (terms.onePrinter === true && printers > 1) return undefined;
    if (id === spool.printerId) continue;
    loads += 1;
    loadMinor += terms.loadMinor(id);
  }
  const takenMm = needMm + loads * terms.leaderMm;
  const leftMm = spool.leftMm - takenMm;
  if (leftMm < 0) return undefined;
  const before = spoolWorth(spool, spool.leftMm, spool.isUnopened, terms);
  const after = spoolWorth(spool, leftMm, false, terms);
  return { takenMm, loads, leftMm, lossMinor: before - after - needMm * spool.minorPerMm + loadMinor };
}

/** Money that can't be told apart. */
const SAME_MINOR = 1e-6;

/** Negative: the first is the better one. */
export function compareScores(a: SpoolScore, b: SpoolScore): number {
  if (a.without !== b.without) return a.without - b.without;
  if (Math.abs(a.lossMinor - b.lossMinor) > SAME_MINOR) return a.lossMinor - b.lossMinor;
  if (a.spools !== b.spools) return a.spools - b.spools;
  return b.longestLeftMm - a.longestLeftMm;
}

/**
 * The score of an assignment.
 * @returns undefined: it can't be done (a spool too short, too narrow, another stock, two lots for one order)
 */
export function scoreOf({ runs, spools, terms }: SpoolProblem, assignment: SpoolAssignment): SpoolScore | undefined {
  const needMm = new Map<number, number>();
  const printers = new Map<number, Set<string>>();
  const lots = new Map<string, string>();
  let without = 0;
  for (const [i, run] of runs.entries()) {
    const at = assignment[i] ?? -1;
    const spool = spools[at];
    if (!spool) {
      without += 1;
      continue;
    }
    if (!mayTake(run, spool)) return undefined;
    if (run.oneLotFor !== null && (lots.get(run.oneLotFor) ?? spool.lot) !== spool.lot) return undefined;
    if (run.oneLotFor !== null) lots.set(run.oneLotFor, spool.lot);
    needMm.set(at, (needMm.get(at) ?? 0) + run.needMm);
    printers.set(at, (printers.get(at) ?? new Set()).add(run.printerId));
  }
  let lossMinor = 0;
  let longestLeftMm = 0;
  for (const [at, mm] of needMm) {
    const spool = spools[at];
    const use = spool && useOf(spool, mm, printers.get(at) ?? [], terms);
    if (!use) return undefined;
    lossMinor += use.lossMinor;
    longestLeftMm = Math.max(longestLeftMm, use.leftMm);
  }
  return { without, lossMinor, spools: needMm.size, longestLeftMm };
}
