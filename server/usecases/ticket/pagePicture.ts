import { and, eq } from 'drizzle-orm';
import { pageAppearance } from '../../db/jobLook.ts';
import { jobPages, jobs } from '../../db/schema.ts';
import { exists } from '../../files/atomic.ts';
import type { PictureSize } from '../../render/picture/pictureSizes.ts';
import { Refused, type Shop } from '../../shop.ts';

/** The file with the picture of a page, made when it is not there. */
export async function pictureFile(
  shop: Shop,
  id: string,
  page: number,
  size: PictureSize,
  asPrinted: boolean,
): Promise<string> {
  const row = shop.db
    .select({ job: jobs, page: jobPages })
    .from(jobPages)
    .innerJoin(jobs, eq(jobs.id, jobPages.jobId))
    .where(and(eq(jobPages.jobId, id), eq(jobPages.page, page)))
    .get();
  if (row?.job.sha256 == null || row.job.format === null)
    throw new Refused(404, 'no-such-page', `There is no page ${id}/${String(page)}.`);
  const look = asPrinted ? pageAppearance(row.page) : undefined;
  const { sourcePage } = row.page;
  const file = shop.paths.picture(row.job.sha256, sourcePage, size, look?.key);
  // Pictures can always be made again.
  if (!(await exists(file))) await shop.pool.draw(row.job.sha256, sourcePage, size, row.job.format, look);
  return file;
}
