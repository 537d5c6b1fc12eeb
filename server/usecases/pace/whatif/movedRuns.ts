import { inArray } from 'drizzle-orm';
import { setImmediate } from 'node:timers/promises';
import type { WhatIfChangeView } from '../../../../contract/api/pace/whatIf.ts';
import type { SpoolView } from '../../../../contract/api/floor.ts';
import type { Rule } from '../../../../core/routing/rules.ts';
import type { WhatIfRun } from '../../../../core/pace/whatIf.ts';
import { jobs } from '../../../db/tables/schema.ts';
import { Refused, type Shop } from '../../../shop.ts';
import { ruledPrinter } from '../../arrival/routeJobs.ts';
import { readFloor } from '../../plan/fit.ts';
import type { FitWork } from '../../plan/fitWork.ts';
import type { Floor } from '../../plan/plannedFloor.ts';
import { fitAskOfRun } from '../../run/rerouteRun.ts';
import { runRow } from '../../run/runRows.ts';
import type { MoveOrder } from './movedWork.ts';
import { MOST_RELAID, runIdOf } from './whatIfRuns.ts';

/** The line of a printer that is not there: one more that is like another. */
export const ONE_MORE = 'one more';
/** As much media as any run needs (mm). */
const PLENTY_MM = 1e7;

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
  // Only those that go elsewhere are laid out anew.
  let moved = 0;
  for (const { id: key, printerId, timed } of runs) {
    if (!timed) continue;
    const runId = runIdOf(key);
    let ask = byRun.get(runId);
    if (ask === undefined) {
      await setImmediate();
      const { work } = fitAskOfRun(shop, runRow(shop.db, runId));
      const toId = toPrinterId ?? (rules && ruledTo(shop, floor, rules, work));
      const toIds = withoutPrinterId !== undefined ? others : toId === undefined ? [] : [toId];
      const isMoved =
        work.pieces.length > 0 && (withoutPrinterId !== undefined || toIds.some((id) => id !== printerId));
      ask = isMoved ? { printerId, work, toIds, stays: withoutPrinterId === undefined } : null;
      byRun.set(runId, ask);
      if (isMoved) moved += 1;
      if (moved > MOST_RELAID) throw tooMany();
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
