import { sql } from 'drizzle-orm';
import { channelFirings, inkLedger, pieceOutcomes } from '../../db/tables/records.ts';
import { pieces } from '../../db/tables/schema.ts';
import { findPrinter } from '../../db/findRows.ts';
import type { Work } from '../../shop.ts';
import { keepExercise } from '../care/exercise.ts';
import type { RunRow } from '../run/transitionRun.ts';

/**
 * Writes down what became of every piece of an attempt. To be called when the pieces that came out are marked as printed and
 * before the others are given back.
 */
export function recordOutcomes({ tx }: Work, run: RunRow, endedMs: number, cause: string | null): void {
  // In one statement: a run may hold thousands of pieces.
  tx.run(sql`
    INSERT INTO ${pieceOutcomes} (piece_id, job_id, run_id, attempt, outcome, at_ms, cause)
    SELECT id, job_id, run_id, ${run.attempt}, CASE state WHEN 'printed' THEN 'printed' ELSE 'not printed' END, ${endedMs},
      CASE state WHEN 'printed' THEN NULL ELSE ${cause} END
    FROM ${pieces} WHERE run_id = ${run.id} AND state IN ('printed', 'placed')`);
}

/**
 * Books the ink that an attempt fired (ml by channel, as the printer says) and when it fired it. Both are keyed by attempt:
 * a report that comes twice is booked once. Of a run that ended before its end nobody knows what each column of a page-wide array got.
 */
export function recordFirings(
  work: Work,
  run: RunRow,
  inkMl: Readonly<Record<string, number>>,
  { fromMs, endedMs, isWhole }: { readonly fromMs: number; readonly endedMs: number; readonly isWhole: boolean },
): void {
  const { tx } = work;
  const { id: runId, attempt, printerId } = run;
  const printer = findPrinter(tx, printerId);
  for (const [channelId, ml] of Object.entries(inkMl)) {
    if (ml <= 0) continue;
    const key = { printerId, channelId, runId, attempt, purpose: 'run' as const };
    tx.insert(inkLedger)
      .values({ ...key, ml: -ml, atMs: endedMs })
      .onConflictDoNothing()
      .run();
    tx.insert(channelFirings)
      .values({ ...key, ml, fromMs, toMs: endedMs, evenMl: evenOf(run, channelId, isWhole ? ml : 0) })
      .onConflictDoNothing()
      .run();
    if (printer) keepExercise(work, printer, channelId, fromMs);
  }
}

/** What every column across the media got of so much ink; null: all of it. */
function evenOf({ evenMl, inkMl }: RunRow, channelId: string, ml: number): number | null {
  const estimate = inkMl[channelId] ?? 0;
  return evenMl && (estimate > 0 ? (ml * (evenMl[channelId] ?? 0)) / estimate : 0);
}
