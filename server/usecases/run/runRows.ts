import { findPrinter, findRun } from '../../db/findRows.ts';
import { max } from 'drizzle-orm';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import { runName } from '../../../core/flow/runName.ts';
import type { Reader } from '../../db/open.ts';
import type { printers } from '../../db/tables/floorTables.ts';
import { runs } from '../../db/tables/schema.ts';
import { Refused, type Work } from '../../shop.ts';
import type { RunRow } from './transitionRun.ts';
import { otherSide } from '../../db/runViews.ts';
import { isBack } from '../layout/relayBack.ts';

/** A run by its id. @throws Refused where there is none */
export function runRow(db: Reader, runId: string): RunRow {
  const run = findRun(db, runId);
  if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
  return run;
}

/**
 * A run that is still on the Bench.
 * @param what what is to be done with it, as it ends the sentence "only a draft can be …"
 * @throws Refused where it is on its way or over
 */
export function draftRow(db: Reader, runId: string, what: string): RunRow {
  const run = runRow(db, runId);
  if (run.state !== 'draft') {
    throw new Refused(409, 'wrong-state', `${runName(run.number)} is ${run.state}; only a draft can be ${what}.`, {
      state: run.state,
    });
  }
  return run;
}

/** The printer of a run. One that has had a run stays in the database, so a missing one is a fault of the program. */
export function printerOf(db: Reader, run: RunRow): typeof printers.$inferSelect {
  const printer = findPrinter(db, run.printerId);
  if (!printer) throw new Error(`run ${run.id} has no printer`);
  return printer;
}

/** A print mode of a printer; one that it no longer has counts as its first. */
export function modeOf(config: PrinterConfig, modeId: string): PrinterConfig['modes'][number] {
  const mode = config.modes.find((m) => m.id === modeId) ?? config.modes[0];
  if (!mode) throw new Error('a printer without a print mode');
  return mode;
}

/** The place behind everything that is or was in a line. */
export function nextPosition(db: Reader): number {
  const last = db
    .select({ position: max(runs.position) })
    .from(runs)
    .get();
  return (last?.position ?? 0) + 1;
}

/** A run and what is on the other side of its media, the front first; one alone where it has one side. */
export function sidesOf({ tx }: Work, runId: string): string[] {
  const run = findRun(tx, runId);
  const other = run?.pairId == null ? undefined : otherSide(tx, run.pairId, runId);
  if (!run || !other || other.state !== run.state) return [runId];
  return isBack(run) ? [other.id, runId] : [runId, other.id];
}
