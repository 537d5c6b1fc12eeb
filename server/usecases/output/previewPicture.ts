import { and, eq } from 'drizzle-orm';
import sharp from 'sharp';
import type { TicketValues } from '../../../core/ticket/ticket.ts';
import { pageAppearance } from '../../db/jobLook.ts';
import { jobPages, type jobs } from '../../db/tables/schema.ts';
import { exists } from '../../files/atomic.ts';
import type { RunHow } from '../../ports/work.ts';
import { Refused, type Shop } from '../../shop.ts';
import { pictureFile } from '../ticket/pagePicture.ts';
import { artworkOrder, coloursOfJobs, readArtwork } from './artworkOrder.ts';
import { inTime } from './inTime.ts';

/** A page as a picture that tables take to inks. */
interface PreviewPicture {
  readonly picture: string;
  /** In the wide RGB; else in sRGB. */
  readonly isWide: boolean;
}

/** Of the laid page; only its shape counts. */
const LONGEST_MM = 1000;

/**
 * The finished page of a job, its colours read as its rendering reads them.
 * @throws Refused where there is no such page, or its colours can't be read
 */
export async function previewPicture(
  shop: Shop,
  job: typeof jobs.$inferSelect,
  page: number,
  ticket: TicketValues,
  how: RunHow,
): Promise<PreviewPicture> {
  const plain = await pictureFile(shop, { id: job.id, page, size: 'view', asPrinted: true }, how);
  const { sha256, format } = job;
  const row = shop.db
    .select()
    .from(jobPages)
    .where(and(eq(jobPages.jobId, job.id), eq(jobPages.page, page)))
    .get();
  if (sha256 === null || format === null || !row) throw new Refused(404, 'no-such-page', 'There is no such page.');
  const appearance = pageAppearance(row) ?? null;
  const pdfKey = `page-${sha256}-${String(row.sourcePage)}-${appearance?.key ?? 'as-it-came'}`;
  const order = await artworkOrder(shop, { ticket }, pdfKey, coloursOfJobs(shop, [job.id]));
  if (order === null) return { picture: plain, isWide: false };
  const picture = shop.paths.picture(sha256, row.sourcePage, 'view', `wide-${order.key}`);
  if (!(await exists(picture))) {
    const { width, height } = await sharp(plain).metadata();
    const mm = (px: number): number => (px / Math.max(width, height)) * LONGEST_MM;
    if (!(await exists(shop.paths.laidOut(pdfKey)))) {
      const task = shop.work.run(
        'run pdf',
        {
          ...{ key: pdfKey, title: job.sourceName, widthMm: mm(width), lengthMm: mm(height) },
          art: [
            {
              ...{ sha256, format, page: row.sourcePage, appearance, part: null },
              ...{ xMm: 0, yMm: 0, widthMm: mm(width), heightMm: mm(height), angleDeg: 0 },
              ...(appearance?.without ? { without: appearance.without } : {}),
            },
          ],
        },
        how,
      );
      const laid = await inTime(shop, 'To read its file', task);
      if ('refused' in laid) throw new Refused(422, 'no-preview', `${job.sourceName} can’t be drawn: ${laid.refused}.`);
    }
    await readArtwork(shop, order, how);
    const from = shop.paths.wide(order.key);
    const task = shop.work.run('wide picture', { from, widthPx: width, heightPx: height, to: picture }, how);
    await inTime(shop, 'To draw it', task);
  }
  return { picture, isWide: true };
}
