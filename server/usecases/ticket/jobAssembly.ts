import type { RunHow } from '../../ports/work.ts';
import { and, asc, eq } from 'drizzle-orm';
import { outsideOf } from '../../../core/ticket/finish.ts';
import { runName } from '../../../core/flow/runName.ts';
import { jobPages, jobs, pieces, runs } from '../../db/tables/schema.ts';
import { Refused, type Shop } from '../../shop.ts';
import { pictureFile } from './pagePicture.ts';

/** The assembly map of a page that is printed in panels, as PDF. */
export async function jobAssembly(
  shop: Shop,
  jobId: string,
  page: number,
  how: RunHow = {},
): Promise<{ readonly name: string; readonly bytes: Uint8Array }> {
  const row = shop.db
    .select({ job: jobs, page: jobPages })
    .from(jobPages)
    .innerJoin(jobs, eq(jobs.id, jobPages.jobId))
    .where(and(eq(jobPages.jobId, jobId), eq(jobPages.page, page)))
    .get();
  if (!row) throw new Refused(404, 'no-such-page', `There is no page ${jobId}/${String(page)}.`);
  const { finished } = row.page;
  const { values } = row.job.ticket;
  if (!finished?.panels || !values.tiles) {
    throw new Refused(409, 'no-panels', `${row.job.sourceName} is printed in one; there is nothing to put together.`);
  }
  const stem = row.job.sourceName.replace(/\.[^.]+$/, '');
  const order = [values.orderNo, values.customer].filter(Boolean).join(', ');
  const bytes = await shop.work.run(
    'assembly map',
    {
      picture: await pictureFile(shop, { id: jobId, page, size: 'view', asPrinted: true }, how),
      title: `${stem}${row.job.pages === 1 ? '' : `, page ${String(page + 1)}`}${order === '' ? '' : `, ${order}`}`,
      ...outsideOf(finished),
      panels: finished.panels,
      notes: placesOf(shop, jobId, page, finished.panels.length),
      turned: finished.panels.map((_, i) => values.tiles?.turnEverySecond === true && i % 2 === 1),
      joinMm: values.tiles.joinMm,
    },
    how,
  );
  return { name: `${stem}-assembly.pdf`, bytes };
}

/** In which runs the copies of each panel are. */
function placesOf(shop: Shop, jobId: string, page: number, count: number): string[] {
  const rows = shop.db
    .select({ tile: pieces.tile, state: pieces.state, number: runs.number })
    .from(pieces)
    .leftJoin(runs, eq(runs.id, pieces.runId))
    .where(and(eq(pieces.jobId, jobId), eq(pieces.page, page)))
    .orderBy(asc(pieces.copy))
    .all();
  return Array.from({ length: count }, (_, tile) => {
    const own = rows.filter((row) => row.tile === tile);
    const texts = own.map(({ state, number }) => (number === null ? state : `${state}, ${runName(number)}`));
    return [...new Set(texts)].join('; ');
  });
}
