import { type RunMaking, runs } from '../../db/tables/schema.ts';
import { type Work, newId } from '../../shop.ts';
import { nextPosition } from './runRows.ts';
import type { RunRow } from './transitionRun.ts';

/** What a run begins with. Nothing that happened on a printer is ever among it: a new run has not been anywhere yet. */
export interface RunSpec {
  readonly madeBy: RunMaking;
  /** The run that it was made from; null: from jobs. */
  readonly from: RunRow | null;
  readonly printerId: string;
  readonly queueId: string;
  readonly spoolId: string | null;
  readonly ticket: RunRow['ticket'];
  readonly settings: RunRow['settings'];
  readonly mediaWidthMm: number;
  /** The number of the run that it goes on as; left out: a new one. */
  readonly number?: number;
  /** Its place in the line; left out: behind all that there is. */
  readonly position?: number;
  /** Of a layout that it takes over; left out: it is not laid out yet. */
  readonly measured?: Pick<RunRow, 'lengthMm' | 'estimateMs' | 'inkMl' | 'evenMl'>;
  readonly fixedStartMs?: number | null;
  readonly series?: Pick<RunRow, 'seriesId' | 'seriesNo' | 'seriesOf'>;
  readonly pair?: Pick<RunRow, 'pairId' | 'side'>;
}

const NOT_LAID_OUT = { lengthMm: 0, estimateMs: 0, inkMl: {}, evenMl: null };
const NO_SERIES = { seriesId: null, seriesNo: null, seriesOf: null };
const ONE_SIDE = { pairId: null, side: null };

/**
 * The one way in which a run comes to be: a draft, with every column named here. A column that is added to runs has to be
 * decided on in this place, so that none is carried over from another run by accident.
 */
export function newRun({ tx, nowMs }: Work, spec: RunSpec): RunRow {
  return tx
    .insert(runs)
    .values({
      id: newId('run'),
      state: 'draft',
      keptNumber: spec.number ?? null,
      madeBy: spec.madeBy,
      fromRunId: spec.from?.id ?? null,
      printerId: spec.printerId,
      queueId: spec.queueId,
      spoolId: spec.spoolId,
      ticket: spec.ticket,
      settings: spec.settings,
      mediaWidthMm: spec.mediaWidthMm,
      position: spec.position ?? nextPosition(tx),
      ...(spec.measured ?? NOT_LAID_OUT),
      fixedStartMs: spec.fixedStartMs ?? null,
      important: spec.from?.important ?? false,
      ...(spec.series ?? NO_SERIES),
      ...(spec.pair ?? ONE_SIDE),
      attempt: 0,
      version: 0,
      goAtMs: null,
      createdMs: nowMs,
    })
    .returning()
    .get();
}

/** What a run that is made from another one takes over whatever the reason is. */
export function likeRun(
  run: RunRow,
): Pick<RunSpec, 'from' | 'printerId' | 'queueId' | 'spoolId' | 'ticket' | 'settings' | 'mediaWidthMm'> {
  const { printerId, queueId, spoolId, ticket, settings, mediaWidthMm } = run;
  return { from: run, printerId, queueId, spoolId, ticket, settings, mediaWidthMm };
}

/** The figures of its layout, for a run that takes over the layout, too. */
export function measuredLike({ lengthMm, estimateMs, inkMl, evenMl }: RunRow): NonNullable<RunSpec['measured']> {
  return { lengthMm, estimateMs, inkMl, evenMl };
}
