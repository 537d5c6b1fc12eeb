import type { RunHow } from '../../ports/work.ts';
import { and, eq } from 'drizzle-orm';
import { pageAppearance } from '../../db/jobLook.ts';
import { jobPages, jobs } from '../../db/tables/schema.ts';
import { exists } from '../../files/atomic.ts';
import type { PictureSize } from '../../render/picture/pictureSizes.ts';
import { Refused, type Shop } from '../../shop.ts';

interface PageOf {
  readonly id: string;
  readonly page: number;
  readonly size: PictureSize;
  /** As its ticket makes it; else as the file has it. */
  readonly asPrinted: boolean;
}

/** The file with the picture of a page, made when it is not there. */
export async function pictureFile(
  shop: Shop,
  { id, page, size, asPrinted }: PageOf,
  how: RunHow = {},
): Promise<string> {
  const row = shop.db
    .select({ job: jobs, page: jobPages })
    .from(jobPages)
    .innerJoin(jobs, eq(jobs.id, jobPages.jobId))
    .where(and(eq(jobPages.jobId, id), eq(jobPages.page, page)))
    .get();
  if (row?.job.sha256 == null || row.job.format === null)
    throw new Refused(404, 'no-such-page', `There is no page ${id}/${String(page)}.`);
  const appearance = asPrinted ? pageAppearance(row.page) : undefined;
  const { sourcePage } = row.page;
  const file = shop.paths.picture(row.job.sha256, sourcePage, size, appearance?.key);
  // Pictures can always be made again.
  if (!(await exists(file))) {
    const { sha256, format } = row.job;
    await shop.work.run('picture', { sha256, page: sourcePage, size, format, appearance }, how);
  }
  return file;
}
