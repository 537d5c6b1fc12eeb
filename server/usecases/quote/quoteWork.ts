import { bestPlace } from '../../../core/schedule/bestPlace.ts';
import { finishRanges } from '../../../core/schedule/finishRanges.ts';
import { plannedWork } from '../../../core/schedule/planInput.ts';
import type { Fit } from '../../../core/routing/fitList.ts';
import { fitsOf } from '../plan/fits.ts';
import type { FitWork } from '../plan/fitWork.ts';
import { type Floor, PlannedFloor, snapshotFor } from '../plan/plannedFloor.ts';

/** Work that is in no line and is nobody's job yet, in some numbers of copies. */
export interface QuoteOrder {
  readonly floor: Floor;
  readonly asks: readonly { readonly copies: number; readonly work: FitWork }[];
}

/** Where it would stand in a line, and by when it would be done. */
export interface QuotedPlace {
  readonly behind: number;
  readonly startMs: number;
  readonly endMs: number;
  /** Nine of ten times it is done by then; null: nobody can tell. */
  readonly byMs: number | null;
}

export interface QuotedFit {
  readonly fit: Fit;
  /** Null: it can't be printed there, or not within the time that plans reach. */
  readonly place: QuotedPlace | null;
}

const QUOTED = 'quoted';
const SEED = 1;
/** What is sold by it is laid out with more care than what only compares printers. */
const NEST_STEPS = 64;
/** Enough for an end that is told to the quarter of an hour. */
const DRAWS = 400;

/** Of each number of copies: what it comes to on each printer, and by when, by the plan of the floor with it at its best place. */
export function quotesOf({ floor, asks }: QuoteOrder, told: (share: number) => void): QuotedFit[][] {
  const planned = new PlannedFloor(floor);
  const snapshot = snapshotFor(floor);
  const learned = new Map(floor.printers.map((printer) => [printer.id, printer.learned]));
  return asks.map(({ work }, i) => {
    const quoted = fitsOf(planned, work, undefined, NEST_STEPS).map((fit): QuotedFit => {
      if (!fit.can) return { fit, place: null };
      const values = work.jobs[0]?.ticket.values;
      const byHand = floor.printers
        .find(({ id }) => id === fit.printerId)
        ?.config.sources.every(({ kind }) => kind === 'bed');
      const run = plannedWork({
        ...{ id: QUOTED, stockId: values?.stockId ?? '', modeId: fit.modeId, estimateMs: fit.timeMs },
        ...{ needMm: fit.fedMm, outMm: byHand ? 0 : fit.lengthMm, inkMl: fit.inkMl, byHand: byHand ?? false },
        unattended: values?.unattended ?? true,
      });
      const best = bestPlace(snapshot, fit.printerId, run);
      if (!best) return { fit, place: null };
      const range = finishRanges(best.snapshot, learned, { draws: DRAWS, seed: SEED }).get(QUOTED);
      const { behind, startMs, endMs } = best;
      return { fit, place: { behind, startMs, endMs, byMs: range ? Math.round(range.highMs) : null } };
    });
    told((i + 1) / asks.length);
    return quoted;
  });
}
