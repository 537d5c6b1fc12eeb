import { learnedTime } from '../../../../core/estimate/learnedPrinter.ts';
import { learnedSpread } from '../../../../core/estimate/learnedRatio.ts';
import type { ElsewhereRun, WhatIfRun } from '../../../../core/pace/whatIf.ts';
import { fitsOf } from '../../plan/fits.ts';
import type { FitWork } from '../../plan/fitWork.ts';
import { type Floor, PlannedFloor } from '../../plan/plannedFloor.ts';

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
