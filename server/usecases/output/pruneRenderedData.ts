import { and, eq, inArray } from 'drizzle-orm';
import { LIVE_RUN_STATES, RUN_STATES_ON_PRINTER } from '../../../core/flow/run.ts';
import { pruneRendered } from '../../files/renderedData.ts';
import { jobs, pieces, runs } from '../../db/tables/schema.ts';
import type { Reader } from '../../db/open.ts';
import type { Shop } from '../../shop.ts';

/** Rendered data within its bound; what live runs need, and what a keep rule keeps, stays. */
export async function pruneRenderedData(shop: Shop): Promise<void> {
  const gone = await pruneRendered(shop.paths.rendered, shop.limits.renderedBytes, (kind, key) =>
    kind === 'pdf' ? isNeeded(shop.db, key) : isPrinted(shop.db, key),
  );
  if (gone > 0) shop.log.info({ gone }, 'rendered data that was longest unused was removed');
}

/** A printer that fires its dots may ask for any part of it still. */
function isPrinted(db: Reader, rendering: string): boolean {
  return db
    .select({ rendering: runs.sentRendering })
    .from(runs)
    .where(inArray(runs.state, [...RUN_STATES_ON_PRINTER]))
    .all()
    .some((run) => run.rendering === rendering);
}

/** Asked of one file at a time, and only of those that would have to go. */
function isNeeded(db: Reader, pdfKey: string): boolean {
  const own = db.select({ id: runs.id, state: runs.state }).from(runs).where(eq(runs.pdfKey, pdfKey)).all();
  if (own.some(({ state }) => LIVE_RUN_STATES.includes(state))) return true;
  return own.some(({ id }) =>
    db
      .selectDistinct({ id: jobs.id, ticket: jobs.ticket })
      .from(pieces)
      .innerJoin(jobs, eq(jobs.id, pieces.jobId))
      .where(and(eq(pieces.runId, id), inArray(jobs.state, ['printed', 'shelved'])))
      .all()
      .some(({ ticket }) => ticket.values.keep.kind === 'job and data'),
  );
}
