import { dirname } from 'node:path';
import { and, eq, inArray, isNotNull } from 'drizzle-orm';
import { LIVE_RUN_STATES } from '../../core/flow/run.ts';
import { boundRendered } from '../files/renderedData.ts';
import { jobs, pieces, runs } from '../db/schema.ts';
import type { Shop } from '../shop.ts';

/** Rendered data within its bound; what live runs need, and what a keep rule keeps, stays. */
export async function boundRenderedData(shop: Shop): Promise<void> {
  const live = shop.db
    .select({ key: runs.pdfKey })
    .from(runs)
    .where(and(inArray(runs.state, [...LIVE_RUN_STATES]), isNotNull(runs.pdfKey)))
    .all();
  const kept = shop.db
    .selectDistinct({ key: runs.pdfKey, ticket: jobs.ticket })
    .from(pieces)
    .innerJoin(runs, eq(runs.id, pieces.runId))
    .innerJoin(jobs, eq(jobs.id, pieces.jobId))
    .where(and(inArray(jobs.state, ['printed', 'shelved']), isNotNull(runs.pdfKey)))
    .all()
    .filter(({ ticket }) => ticket.values.keep.kind === 'job and data');
  const keep = new Set([...live, ...kept].flatMap(({ key }) => (key === null ? [] : [key])));
  const gone = await boundRendered(dirname(shop.paths.laidOut('x')), shop.limits.renderedBytes, keep);
  if (gone > 0) shop.log.info({ gone }, 'rendered data that was longest unused was removed');
}
