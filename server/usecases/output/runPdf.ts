import { isSrgb } from '../../../core/coats/artworkProfiles.ts';
import { findRun } from '../../db/findRows.ts';
import { type RunHow, TaskStopped } from '../../ports/work.ts';
import { printerOf } from '../run/runRows.ts';
import { createHash } from 'node:crypto';
import { eq, inArray } from 'drizzle-orm';
import { laidOutline } from '../../../core/geometry/laidOutline.ts';
import { isMirrored } from '../../../core/layout/arrange/twoSides.ts';
import { oversprayOf, usableWidth } from '../../../core/layout/usableWidth.ts';
import { jobs, runs } from '../../db/tables/schema.ts';
import { pageAppearance } from '../../db/jobLook.ts';
import { runName } from '../../../core/flow/runName.ts';
import { exists, fileFacts } from '../../files/atomic.ts';
import { wasUsed } from '../../files/renderedData.ts';
import type { LaidPdf, LayPdfInput } from '../../render/out/layPdf.ts';
import { Refused, type Shop } from '../../shop.ts';
import { laidPieces } from '../layout/measureRun.ts';
import { marksOfRun } from '../layout/runMarks.ts';
import type { RunRow } from '../run/transitionRun.ts';

interface LaidOut {
  readonly file: string;
  /** Of its pages: the media, and what is printed over its edges. */
  readonly pageWidthMm: number;
  /** Where it was made just now; one that was there is not read for it. */
  readonly made: LaidPdf | undefined;
}

export interface RunPdf extends LaidPdf, Omit<LaidOut, 'made'> {}

/** A run as PDF, with what tells a device that it has got the right one. @throws Refused as {@link ensureLaidOut} */
export async function ensurePdf(shop: Shop, runId: string, how: RunHow = {}): Promise<RunPdf> {
  const { made, ...laidOut } = await ensureLaidOut(shop, runId, how);
  const facts = made ?? (await fileFacts(laidOut.file));
  if (!facts) throw new Error(`the PDF of ${runId} has gone`);
  return { ...facts, ...laidOut };
}

/**
 * Lays a run out as PDF, once for each layout: the file is named by what goes into it. Refused where it can't be made, so
 * that what can't be printed is never queued.
 */
export async function ensureLaidOut(shop: Shop, runId: string, how: RunHow = {}): Promise<LaidOut> {
  const run = findRun(shop.db, runId);
  if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
  const input = layInput(shop, run);
  const file = shop.paths.laidOut(input.key);
  const pageWidthMm = input.widthMm + (input.over?.leftMm ?? 0) + (input.over?.rightMm ?? 0);
  if (run.pdfKey !== input.key) shop.db.update(runs).set({ pdfKey: input.key }).where(eq(runs.id, runId)).run();
  if (await exists(file)) {
    await wasUsed(file);
    return { file, pageWidthMm, made: undefined };
  }
  try {
    const laid = await shop.work.run('run pdf', input, how);
    if ('refused' in laid) {
      throw new Refused(422, 'no-pdf', `${runName(run.number)} can't be laid out as PDF: ${laid.refused}.`);
    }
    return { file, pageWidthMm, made: laid };
  } catch (error) {
    // A full disk is no fault of the sources: it is said as what it is, and tried again.
    if (error instanceof Refused || shop.storage.noticed(error)) throw error;
    if (error instanceof TaskStopped && error.why !== 'time') throw error;
    shop.log.error({ err: error, run: runId }, 'a run could not be laid out as PDF');
    const slow = error instanceof TaskStopped && error.why === 'time';
    const why = slow ? `it takes longer than ${shop.limits.taskMs / 1000} s` : 'a source file cannot be used';
    throw new Refused(
      422,
      'no-pdf',
      `${runName(run.number)} can't be laid out as PDF: ${why}.`,
      undefined,
      slow ? 'Make its pictures smaller, or its runs shorter.' : 'Export the sources again; the log names them.',
    );
  }
}

/** A run as PNG at `dpi`; refused with the largest density where it would be too large to hold. */
export async function runPng(shop: Shop, runId: string, dpi: number, how: RunHow = {}): Promise<Uint8Array> {
  const { file, pageWidthMm } = await ensurePdf(shop, runId, how);
  const run = findRun(shop.db, runId);
  if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
  const px = (mm: number, at: number): number => Math.max(1, Math.round((mm / 25.4) * at));
  const [widthPx, heightPx] = [px(pageWidthMm, dpi), px(run.lengthMm, dpi)];
  const limit = shop.limits.runPicturePixels;
  if (widthPx * heightPx > limit) {
    const most = Math.floor(dpi * Math.sqrt(limit / (widthPx * heightPx)));
    throw new Refused(
      422,
      'too-many-pixels',
      `At ${String(dpi)} dpi ${runName(run.number)} has ${String(Math.round((widthPx * heightPx) / 1e6))} million pixels; ${String(limit / 1e6)} million is the limit.`,
      { widthPx, heightPx, limit, mostDpi: most },
      `Take it at ${String(most)} dpi, or take the PDF.`,
    );
  }
  return shop.work.run('run picture', { laidOut: file, widthPx, heightPx, dpi }, how);
}

/** Everything that the PDF of a run is made of. The key is a hash of it: the same layout is never made twice. */
function layInput(shop: Shop, run: RunRow): LayPdfInput {
  const laid = laidPieces(shop.db, run.id).filter((piece) => piece.placed);
  if (laid.length === 0) {
    throw new Refused(
      409,
      'not-laid-out',
      `${runName(run.number)} has no layout yet.`,
      undefined,
      'Nest it on the Bench first.',
    );
  }
  const jobIds = [...new Set(laid.map((piece) => piece.jobId))];
  const sources = new Map(
    shop.db
      .select({ id: jobs.id, sha256: jobs.sha256, format: jobs.format, nature: jobs.nature })
      .from(jobs)
      .where(inArray(jobs.id, jobIds))
      .all()
      .map((job) => [job.id, job]),
  );
  const printer = printerOf(shop.db, run);
  const mirrored = run.side?.side === 'back' && isMirrored(run.side);
  const { leftMm, rightMm } = run.settings;
  const usable = usableWidth(printer.config, run.mediaWidthMm, leftMm, rightMm);
  const { usableFromMm } = usable;
  const content = {
    title: `${[...new Set(laid.map((piece) => piece.sourceName))].slice(0, 3).join(', ')} on ${printer.name}`,
    widthMm: run.mediaWidthMm,
    lengthMm: run.lengthMm,
    over: oversprayOf(usable, run.mediaWidthMm),
    sheetMm: run.settings.sheetMm ?? null,
    marks: { list: marksOfRun(shop.db, run, laid).marks, fromMm: usableFromMm },
    art: laid.map(({ jobId, pageRow, part, panel, upright, xMm, yMm, angleDeg }) => {
      const source = sources.get(jobId);
      if (source?.sha256 == null || source.format === null) throw new Error(`job ${jobId} has no file`);
      const { sha256, format } = source;
      const appearance = pageAppearance(pageRow) ?? null;
      const contour = pageRow.finished?.contour ?? null;
      const place = { xMm: xMm + usableFromMm, yMm, angleDeg };
      const page = pageRow.sourcePage;
      return {
        sha256,
        format,
        page,
        appearance,
        part,
        within: contour && laidOutline(contour.outline, upright, place, mirrored),
        cut: contour && contour.cut.map((ring) => laidOutline(ring, upright, place, mirrored)),
        ...(appearance?.without ? { without: appearance.without } : {}),
        ...place,
        ...upright,
        panel,
        mirrored,
      };
    }),
  };
  // The same layout of the same work is the same file, whatever the run is called: a re-run finds it.
  const { title: _title, ...printed } = content;
  const isTagged = [...sources.values()].some(({ nature }) => nature?.profile != null && !isSrgb(nature.profile));
  const made = JSON.stringify(isTagged ? { ...printed, profiles: 'with their pictures' } : printed);
  return { ...content, key: createHash('sha256').update(made).digest('hex') };
}
