import { findRun } from '../../db/findRows.ts';
import { and, eq, inArray } from 'drizzle-orm';
import { type RunAction, nextRunState, runStatesBefore } from '../../../core/flow/run.ts';
import { runs } from '../../db/tables/schema.ts';
import { runName } from '../../../core/flow/runName.ts';
import { recordAttempt } from './attempts.ts';
import { Refused, type Work } from '../../shop.ts';

/** Each action as what is done with the run. */
const DONE: Readonly<Record<RunAction, string>> = {
  queue: 'queued',
  send: 'sent',
  start: 'started',
  pause: 'paused',
  resume: 'resumed',
  finish: 'finished',
  fail: 'ended',
  cancel: 'cancelled',
  dissolve: 'dissolved',
};

export type RunRow = typeof runs.$inferSelect;

/**
 * The one way in which a run changes state: the pure transition says what comes after, the guarded statement makes sure
 * that nobody was faster. Refused with the state it is in.
 */
export function transitionRun(work: Work, runId: string, action: RunAction, changes: Partial<RunRow> = {}): RunRow {
  const { tx } = work;
  const row = findRun(tx, runId);
  if (!row) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
  const next = nextRunState(row.state, action);
  if (!next.ok) {
    throw new Refused(409, 'wrong-state', `${runName(row.number)} is ${row.state}; it can't be ${DONE[action]} now.`, {
      state: row.state,
    });
  }
  const moved = tx
    .update(runs)
    .set({ ...changes, state: next.value })
    .where(and(eq(runs.id, runId), inArray(runs.state, [...runStatesBefore(action)])))
    .returning()
    .get();
  recordAttempt(work, row, moved);
  work.touch({ type: 'run', id: runId }, { type: 'printer', id: row.printerId });
  if (row.spoolId !== null) work.touch({ type: 'spool', id: row.spoolId });
  return moved;
}
