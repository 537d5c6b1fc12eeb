import { inArray } from 'drizzle-orm';
import { setImmediate } from 'node:timers/promises';
import type { WhatIfChangeView } from '../../../../contract/api/pace/whatIf.ts';
import type { SpoolView } from '../../../../contract/api/floor.ts';
import { learnedTime } from '../../../../core/estimate/learnedPrinter.ts';
import { learnedSpread } from '../../../../core/estimate/learnedRatio.ts';
import type { Rule } from '../../../../core/routing/rules.ts';
import type { ElsewhereRun, WhatIfRun } from '../../../../core/pace/whatIf.ts';
import { jobs } from '../../../db/tables/schema.ts';
import { Refused, type Shop } from '../../../shop.ts';
import { ruledPrinter } from '../../arrival/routeJobs.ts';
import { readFloor } from '../../plan/fit.ts';
import { fitsOf } from '../../plan/fits.ts';
import type { FitWork } from '../../plan/fitWork.ts';
import { type Floor, PlannedFloor } from '../../plan/plannedFloor.ts';
import { fitAskOfRun } from '../../run/rerouteRun.ts';
import { runRow } from '../../run/runRows.ts';
import { MOST_RELAID, runIdOf } from './whatIfRuns.ts';

/** The line of a printer that is not there: one more that is like another. */
export const ONE_MORE = 'one more';
/** As much media as any run needs (mm). */
const PLENTY_MM = 1e7;

/** Runs that would be printed on other printers: what is asked of the fit lists. */
export interface MoveOrder {
  readonly floor: Floor;
  readonly asks: readonly {
    readonly runId: string;
    readonly printerId: string;
    readonly work: FitWork;
    /** Printers that it may go to. */
    readonly toIds: readonly string[];
    /** It stays where it was if none of them can take it. */
    readonly stays: boolean;
  }[];
}

/** Runs that a change gives to other printers, as the fit lists are asked about them; null: it is not about that. */
export async function movesOf(
  shop: Shop,
  runs: readonly WhatIfRun[],
  { withoutPrinterId, toPrinterId, rules }: WhatIfChangeView,
): Promise<MoveOrder | null> {
  if (withoutPrinterId === undefined && toPrinterId === undefined && rules === undefined) return null;
  const floor = calmFloor(readFloor(shop));
  const others = floor.printers.map(({ id }) => id).filter((id) => id !== withoutPrinterId);
  const byRun = new Map<string, Omit<MoveOrder['asks'][number], 'runId'> | null>();
  const asks: MoveOrder['asks'][number][] = [];
  for (const { id: key, printerId, timed } of runs) {
    if (!timed) continue;
    const runId = runIdOf(key);
    let ask = byRun.get(runId);
    if (ask === undefined) {
      if (byRun.size >= MOST_RELAID) throw tooMany();
      await setImmediate();
      const { work } = fitAskOfRun(shop, runRow(shop.db, runId));
      const toId = toPrinterId ?? (rules && ruledTo(shop, floor, rules, work));
      const toIds = withoutPrinterId !== undefined ? others : toId === undefined ? [] : [toId];
      const isMoved =
        work.pieces.length > 0 && (withoutPrinterId !== undefined || toIds.some((id) => id !== printerId));
      ask = isMoved ? { printerId, work, toIds, stays: withoutPrinterId === undefined } : null;
      byRun.set(runId, ask);
    }
    if (ask) asks.push({ runId: key, ...ask });
  }
  return { floor, asks };
}

export function tooMany(): Refused {
  const text = `More than ${String(MOST_RELAID)} runs would have to be laid out anew.`;
  return new Refused(422, 'too-many-runs', text, undefined, 'Choose a shorter period, or one printer or stock.');
}

/** The floor without what is in the way today: no line, no fault, no weak head, and media of every stock. */
function calmFloor(floor: Floor): Floor {
  const spools = Object.values(floor.stocks).map(({ id, name, widthMm, thicknessMm, sheetMm }): SpoolView => ({
    ...{ id: `plenty of ${id}`, label: name, lot: '', stockId: id, stockName: name, colour: '', widthMm, thicknessMm },
    ...{
      coreMm: 0,
      leaderMm: 0,
      receivedMm: PLENTY_MM,
      leftMm: PLENTY_MM,
      takenMm: 0,
      kind: 'roll',
      sheetMm,
      place: '',
    },
    ...{ takeUp: null, printerId: null, sourceId: null },
  }));
  const printers = floor.printers.map((printer) => ({
    ...printer,
    ...{ state: 'idle' as const, reason: null, unfit: {}, spools: [], care: [], careRules: [] },
  }));
  return { ...floor, printers, spools, runs: [], away: null };
}

/** The printer to which rules send most pieces of a run, each job looked at as on the day on which it came. */
function ruledTo(shop: Shop, floor: Floor, rules: readonly Rule[], { jobs: own, pieces }: FitWork): string | undefined {
  const rows = shop.db
    .select()
    .from(jobs)
    .where(
      inArray(
        jobs.id,
        own.map(({ id }) => id),
      ),
    )
    .all();
  const counts = new Map<string, number>();
  for (const job of rows) {
    const owed = pieces.filter(({ jobId }) => jobId === job.id).length;
    const to = ruledPrinter({ ...floor, nowMs: job.arrivedMs }, rules, job, owed)?.printerId;
    if (to !== undefined) counts.set(to, (counts.get(to) ?? 0) + owed);
  }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
}

/** Where runs could stand, by the fit list of each, on its own printer and on the others: the same estimate for both. */
export function elsewhereOf(
  { floor, asks }: MoveOrder,
  runs: readonly WhatIfRun[],
  told: (share: number) => void,
): Map<string, readonly ElsewhereRun[]> {
  const found = new Map<string, readonly ElsewhereRun[]>();
  const learned = new Map(floor.printers.map((printer) => [printer.id, printer.learned]));
  for (const [i, { runId, printerId, work, toIds, stays }] of asks.entries()) {
    told(i / asks.length);
    const run = runs.find(({ id }) => id === runId);
    if (!run) continue;
    const asked = new Set([...toIds, printerId]);
    const planned = new PlannedFloor({ ...floor, printers: floor.printers.filter(({ id }) => asked.has(id)) });
    const fits = fitsOf(planned, work);
    const here = fits.find((fit) => fit.printerId === printerId);
    // What its own printer can't be asked about any more is as it was.
    const own = here?.can === true ? { ...here, allMl: totalMl(here.inkMl) } : asItWas(run);
    // A run that failed on the way took a part of what it would have.
    const share = own.fedMm > 0 ? Math.min(1, run.fedMm / own.fedMm) : 1;
    const there = fits.flatMap((fit): ElsewhereRun[] => {
      if (!fit.can || !toIds.includes(fit.printerId)) return [];
      const known = learned.get(fit.printerId);
      return [
        {
          lineId: fit.printerId,
          timeRatio: own.timeMs > 0 ? fit.timeMs / own.timeMs : 1,
          moreInkMl: (totalMl(fit.inkMl) - own.allMl) * share,
          moreFedMm: (fit.fedMm - own.fedMm) * share,
          moreMicro: (fit.costMicro - own.costMicro) * share,
          variance: known ? learnedSpread(learnedTime(known, fit.modeId, run.stockId)) : 0,
        },
      ];
    });
    if (there.length > 0 || !stays) found.set(runId, there);
  }
  return found;
}

function totalMl(inkMl: Readonly<Record<string, number>>): number {
  return Object.values(inkMl).reduce((sum, ml) => sum + ml, 0);
}

function asItWas({ startedMs, endedMs, stoodMs, fedMm, costMicro, inkMl: allMl }: WhatIfRun) {
  return { timeMs: endedMs - startedMs - stoodMs, fedMm, costMicro, allMl };
}
