import { type LearnedPrinter, inkAsItGoes, timeAsItGoes } from '../estimate/learnedPrinter.ts';
import { goesOnByItself } from '../flow/stopped.ts';
import { togetherOf } from './lineUnits.ts';
import type { TakeUp } from '../stock/takeUp.ts';
import type { FloorSnapshot, PlanCare, PlanPrinter, PlanRule, PlanRun, RackSpool } from './plan.ts';
import type { Attendance } from './shopHours.ts';

interface RunLike extends Omit<
  PlanRun,
  'msLeft' | 'saidAtMs' | 'fedMm' | 'leastWidthMm' | 'outMm' | 'turn' | 'together' | 'goesOnByItself'
> {
  readonly printerId: string;
  readonly lengthMm: number;
  readonly mediaWidthMm: number;
  readonly inkCounted: boolean;
  /** Why it stands, as its printer says. */
  readonly reason?: string | null;
  readonly progress: { readonly msLeft: number; readonly atMs: number; readonly fedMm: number } | null;
  readonly pair: { readonly id: string; readonly side: 'front' | 'back'; readonly confirmed: boolean } | null;
  readonly series: { readonly id: string } | null;
  /** The lot on which its order was begun and is to be ended; left out, or null in it: any will do. */
  readonly oneLot?: { readonly lot: string | null } | null;
}

interface PrinterLike {
  readonly id: string;
  readonly state: string;
  readonly config: {
    readonly unattended: boolean;
    readonly changeOver: PlanPrinter['changeOver'];
    readonly sources: readonly { readonly id: string }[];
    readonly takeUp: boolean;
    readonly freeHangMm: number | null;
    readonly collectsMm: number | null;
    readonly care: { readonly light: { readonly minutes: number } };
  };
  readonly unfit: Readonly<Record<string, Readonly<Record<string, string>>>>;
  readonly spools: readonly (SpoolLike & { readonly sourceId: string | null })[];
  readonly measured: readonly { readonly sourceId: string; readonly tag: string; readonly widthMm: number }[];
  readonly inkLeftMl: Readonly<Record<string, number>>;
  readonly lastModeId: string | null;
  readonly collectedMm: number | null;
  readonly care: readonly PlanCare[];
  readonly careRules: readonly PlanRule[];
  readonly learned: LearnedPrinter;
}

interface SpoolLike {
  readonly id: string;
  readonly lot?: string;
  readonly stockId: string;
  readonly widthMm: number;
  readonly leftMm: number;
  /** Fed when it is loaded; left out: nothing. */
  readonly leaderMm?: number;
  readonly sheetMm: number | null;
  readonly takeUp: TakeUp | null;
}

/** A run as plans take it: its time and ink corrected by what such runs of its printer really took. */
export function planRun(run: RunLike, learned: LearnedPrinter): PlanRun {
  const { progress, pair, byHand, mediaWidthMm, lengthMm, inkCounted: _inkCounted, reason = null, ...rest } = run;
  return {
    ...rest,
    together: togetherOf(run),
    byHand,
    ...(goesOnByItself(reason) ? { goesOnByItself: true } : {}),
    // Garments are as wide as their bed, whatever the shirt.
    leastWidthMm: byHand ? 0 : mediaWidthMm,
    outMm: byHand ? 0 : lengthMm,
    turn: pair?.side === 'back' && !pair.confirmed,
    estimateMs: timeAsItGoes(run.estimateMs, learned, run.modeId, run.stockId),
    inkMl: inkAsItGoes(run, learned),
    msLeft: progress?.msLeft ?? null,
    saidAtMs: progress?.atMs ?? null,
    fedMm: progress?.fedMm ?? 0,
  };
}

/** A printer as plans take it: what is loaded in each source, what ink is left, and what it was set to last. */
export function planPrinter(printer: PrinterLike): PlanPrinter {
  const { id, state, config, spools, measured, inkLeftMl, lastModeId, collectedMm } = printer;
  const { unattended, changeOver, takeUp, freeHangMm, collectsMm } = config;
  return {
    id,
    unattended,
    changeOver,
    sources: config.sources.map((source) => {
      const spool = spools.find(({ sourceId }) => sourceId === source.id);
      const told = measured.find(({ sourceId, tag }) => sourceId === source.id && tag === spool?.id);
      return {
        id: source.id,
        stockId: spool?.stockId ?? null,
        spoolId: spool?.id ?? null,
        widthMm: told?.widthMm ?? spool?.widthMm ?? 0,
        leftMm: spool?.leftMm ?? 0,
        sheetMm: spool?.sheetMm ?? null,
        takeUp: spool?.takeUp ?? null,
      };
    }),
    inkLeftMl,
    lastModeId,
    stopped: state === 'off' ? 'off' : state === 'faulted' ? 'fault' : null,
    takeUp,
    freeHangMm,
    collectsMm,
    collectedMm: collectedMm ?? 0,
    unfit: Object.fromEntries(Object.entries(printer.unfit).map(([mode, by]) => [mode, Object.keys(by)])),
    cleanMs: config.care.light.minutes * 60_000,
    care: printer.care,
    careRules: printer.careRules,
  };
}

/** What stands on the rack, with what of it prints once it is loaded. */
export function rackOf(spools: readonly (SpoolLike & { readonly printerId: string | null })[]): RackSpool[] {
  return spools
    .map((spool) => ({ ...spool, leftMm: spool.leftMm - (spool.leaderMm ?? 0) }))
    .filter(({ printerId, leftMm }) => printerId === null && leftMm > 0)
    .map(({ id, stockId, widthMm, leftMm, sheetMm, takeUp }) => ({ id, stockId, widthMm, leftMm, sheetMm, takeUp }));
}

/**
 * The spool that a run waits for because of its lot: what its printer holds before what stands on the rack, of those the shortest.
 * @returns null: any will do, or there is none, which is said when it is to begin
 */
function spoolOfLot(
  { oneLot, stockId, needMm, printerId, state }: RunLike,
  spools: readonly (SpoolLike & { readonly printerId: string | null })[],
): string | null {
  const lot = oneLot?.lot ?? null;
  if (lot === null || state !== 'queued') return null;
  const enough = spools.filter(
    (spool) =>
      spool.lot === lot &&
      spool.stockId === stockId &&
      (spool.printerId === printerId || spool.printerId === null) &&
      spool.leftMm - (spool.printerId === null ? (spool.leaderMm ?? 0) : 0) >= needMm - 1e-6,
  );
  const [best] = enough.sort(
    (a, b) => Number(a.printerId === null) - Number(b.printerId === null) || a.leftMm - b.leftMm,
  );
  return best?.id ?? null;
}

/**
 * The floor as it is now, for its plan. Pages and server make it from the same views, so that they plan the same.
 * @param runs of all printers, drafts left out or not, each line in its order
 */
export function snapshotOf(
  printers: readonly PrinterLike[],
  runs: readonly RunLike[],
  spools: readonly (SpoolLike & { readonly printerId: string | null })[],
  attendance: Attendance,
  nowMs: number,
): FloorSnapshot {
  const byPrinter = new Map<string, RunLike[]>();
  for (const run of runs) {
    const own = byPrinter.get(run.printerId);
    if (own) own.push(run);
    else byPrinter.set(run.printerId, [run]);
  }
  return {
    printers: printers.map((printer) => ({
      printer: planPrinter(printer),
      runs: (byPrinter.get(printer.id) ?? []).map((run) => {
        const meantSpoolId = run.meantSpoolId ?? spoolOfLot(run, spools);
        return planRun({ ...run, meantSpoolId }, printer.learned);
      }),
    })),
    rack: rackOf(spools),
    attendance,
    nowMs,
  };
}

/** Work that is in no line yet, as a run that would be put behind one. Lengths mm. */
export function plannedWork(
  work: Pick<PlanRun, 'id' | 'stockId' | 'modeId' | 'estimateMs' | 'needMm' | 'outMm' | 'byHand' | 'unattended'> &
    Partial<Pick<PlanRun, 'leastWidthMm' | 'inkMl' | 'dues'>>,
): PlanRun {
  return {
    state: 'queued',
    startedMs: null,
    endedMs: null,
    msLeft: null,
    saidAtMs: null,
    leastWidthMm: 0,
    spoolId: null,
    fedMm: 0,
    inkMl: {},
    turn: false,
    fixedStartMs: null,
    dues: [],
    together: null,
    important: false,
    ...work,
  };
}
