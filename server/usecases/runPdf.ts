import { usableWidth } from '../../core/layout/usableWidth.ts';
import { eq, inArray } from 'drizzle-orm';
import { jobs, runs } from '../db/schema.ts';
import { runName } from '../db/runViews.ts';
import type { LaidPdf } from '../render/layPdf.ts';
import { Refused, type Shop } from '../shop.ts';
import { printerOf } from './layOutRun.ts';
import { laidPieces } from './measureRun.ts';

/** Lays the run out as PDF; the same run gives the same file. */
export async function ensurePdf(shop: Shop, runId: string): Promise<LaidPdf> {
  const run = shop.db.select().from(runs).where(eq(runs.id, runId)).get();
  if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
  const laid = laidPieces(shop.db, runId).filter((piece) => piece.placed);
  if (laid.length === 0)
    throw new Refused(
      409,
      'not-laid-out',
      `${runName(run.seq)} has no layout yet.`,
      undefined,
      'Nest it on the Bench first.',
    );
  const sources = new Map(
    shop.db
      .select({ id: jobs.id, sha256: jobs.sha256, format: jobs.format })
      .from(jobs)
      .where(inArray(jobs.id, [...new Set(laid.map((piece) => piece.jobId))]))
      .all()
      .map((job) => [job.id, job]),
  );
  const printer = printerOf(shop.db, run);
  const { leftMm, rightMm } = run.settings;
  const { usableFromMm: left } = usableWidth(printer.config, run.mediaWidthMm, leftMm, rightMm);
  return shop.pool.lay({
    runId,
    title: `${runName(run.seq)}, ${printer.name}`,
    widthMm: run.mediaWidthMm,
    lengthMm: run.lengthMm,
    art: laid.map(({ jobId, page, xMm, yMm, widthMm, heightMm, turned }) => {
      const source = sources.get(jobId);
      if (source?.sha256 == null || source.format === null) throw new Error(`job ${jobId} has no file`);
      return { sha256: source.sha256, format: source.format, page, xMm: xMm + left, yMm, widthMm, heightMm, turned };
    }),
  });
}
