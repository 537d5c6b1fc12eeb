import { and, desc, eq, inArray, isNotNull, ne, sql } from 'drizzle-orm';
import { batches } from './batches.ts';
import { LIVE_JOB_STATES } from '../../core/flow/job.ts';
import type { Reader } from './open.ts';
import { spools } from './tables/floorTables.ts';
import { jobs, pieces, runs } from './tables/schema.ts';

/** An order all of whose pieces are printed from one lot. */
export interface OneLot {
  readonly order: string;
  /** The lot that it was begun on; null: none of it is printed yet, or nobody has written its lot down. */
  readonly lot: string | null;
}

/** These stand in an index of their own: they are said in the same words there. */
const ASKS_ONE_LOT = sql`json_extract(${jobs.ticket}, '$.values.oneLot')`;
const ORDER_NO = sql<string | null>`json_extract(${jobs.ticket}, '$.values.orderNo')`;
const CUSTOMER = sql<string | null>`json_extract(${jobs.ticket}, '$.values.customer')`;

/**
 * Of runs with a job that asks for one lot: its order, and the lot on which that was begun. Jobs are one order by customer and number;
 * one without a number is an order of its own. Of several orders in a run the first counts: the run is on one spool anyway.
 */
export function oneLots(db: Reader, runIds: readonly string[]): Map<string, OneLot> {
  // Few jobs ask: from them it is found fastest which of these runs are theirs.
  const asking = db
    .select({ jobId: jobs.id, orderNo: ORDER_NO, customer: CUSTOMER })
    .from(jobs)
    .where(and(ASKS_ONE_LOT, inArray(jobs.state, [...LIVE_JOB_STATES])))
    .orderBy(jobs.seq)
    .all();
  if (asking.length === 0) return new Map();
  const wanted = new Set(runIds);
  const held = batches(asking.map(({ jobId }) => jobId)).flatMap((some) =>
    db
      .selectDistinct({ jobId: pieces.jobId, runId: runs.id, stockId: STOCK })
      .from(pieces)
      .innerJoin(runs, eq(runs.id, pieces.runId))
      .where(inArray(pieces.jobId, some))
      .all(),
  );
  const lots = new Map<string, string | null>();
  const found = new Map<string, OneLot>();
  for (const { jobId, orderNo, customer } of asking) {
    for (const { runId, stockId } of held.filter((each) => each.jobId === jobId && wanted.has(each.runId))) {
      if (found.has(runId)) continue;
      // Another stock has lots of its own.
      const order = JSON.stringify(orderNo === null ? [jobId, stockId] : [customer ?? '', orderNo, stockId]);
      let lot = lots.get(order);
      if (lot === undefined) {
        lot = begunOn(db, orderNo === null ? eq(jobs.id, jobId) : sameOrder(orderNo, customer), stockId);
        lots.set(order, lot);
      }
      found.set(runId, { order, lot });
    }
  }
  return found;
}

const STOCK = sql<string>`json_extract(${runs.ticket}, '$.stockId')`;

function sameOrder(orderNo: string, customer: string | null) {
  return and(ASKS_ONE_LOT, eq(ORDER_NO, orderNo), sql`${CUSTOMER} is ${customer}`);
}

/** The lot of the last spool that pieces of an order were printed on, or are being printed on. */
function begunOn(db: Reader, isOrder: ReturnType<typeof and>, stockId: string): string | null {
  const row = db
    .select({ lot: spools.lot })
    .from(jobs)
    .innerJoin(pieces, eq(pieces.jobId, jobs.id))
    .innerJoin(runs, eq(runs.id, pieces.runId))
    .innerJoin(spools, eq(spools.id, runs.spoolId))
    .where(
      and(
        isOrder,
        isNotNull(runs.startedMs),
        inArray(pieces.state, ['placed', 'printed']),
        eq(spools.stockId, stockId),
        ne(spools.lot, ''),
      ),
    )
    .orderBy(desc(runs.seq))
    .limit(1)
    .get();
  return row?.lot ?? null;
}
