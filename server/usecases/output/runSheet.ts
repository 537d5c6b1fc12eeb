import type { RunHow } from '../../ports/work.ts';
import { tz } from '@date-fns/tz';
import { format } from 'date-fns';
import { inArray } from 'drizzle-orm';
import { fullMarks } from '../../../core/layout/marks/markSettings.ts';
import { jobs } from '../../db/tables/schema.ts';
import { spoolViews } from '../../db/printerViews.ts';
import { runDetail } from '../../db/runViews.ts';
import { turnText } from '../../../core/layout/arrange/twoSides.ts';
import { liesOn, sheetSpans } from '../../../core/layout/sheets/sheetSpans.ts';
import type { JobSheetInput, JobSheetRow } from '../../render/out/jobSheet.ts';
import { Refused, type Shop } from '../../shop.ts';
import { ensurePdf } from './runPdf.ts';

const MARK_NAMES = {
  crop: 'crop marks',
  cut: 'straight-cut marks',
  label: 'labels',
  pieceCode: 'codes on pieces',
  code: 'trace code',
  slug: 'slug line',
  registration: 'registration marks',
  strip: 'exercise strip',
} as const;

/** The job sheet of a run, as PDF. */
export async function runSheet(shop: Shop, runId: string, how: RunHow = {}): Promise<Uint8Array> {
  const { file, pageWidthMm } = await ensurePdf(shop, runId, how);
  const run = runDetail(shop.db, runId);
  if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
  const zone = tz(shop.clock.zone);
  const spool = run.spoolId === null ? undefined : spoolViews(shop.db, { id: run.spoolId })[0];
  const kept = fullMarks(run.settings.marks);
  const marks = Object.entries(MARK_NAMES)
    .filter(([key]) => kept[key as keyof typeof MARK_NAMES].on)
    .map(([, name]) => name);
  const sheetMm = run.settings.sheetMm ?? null;
  const rows = jobRows(shop, run);
  const rowsOf = (pieces: RunPieces): JobSheetRow[] =>
    rows(pieces).map((row) => ({
      ...row,
      due: row.dueMs === null ? '' : format(row.dueMs, 'EEE d MMM HH:mm', { in: zone }),
    }));
  const input: JobSheetInput = {
    laidOut: file,
    runId,
    title: `${run.name}${sideText(run)}${run.series ? `, segment ${String(run.series.no)} of ${String(run.series.of)}` : ''}`,
    mediaWidthMm: run.mediaWidthMm,
    overMm: pageWidthMm - run.mediaWidthMm,
    lengthMm: run.lengthMm,
    facts: [
      ['Printer', run.words.printer ?? ''],
      ['Mode', run.words.mode ?? ''],
      ['Media', run.words.stock ?? ''],
      ...(spool ? [['Spool', spool.label] as const] : []),
      ['Time', `${String(Math.round(run.estimateMs / 60_000))} min`],
      ['Marks', marks.length === 0 ? 'none' : marks.join(', ')],
    ],
    jobs: rowsOf(run.pieces),
    sheets: sheetSpans(run.lengthMm, sheetMm).map((span) => ({
      lengthMm: span.endMm - span.startMm,
      jobs: rowsOf(run.pieces.filter((piece) => piece.placed && liesOn(piece, span))),
    })),
  };
  return shop.work.run('job sheet', input, how);
}

/** Which side it is, and how the media is turned for it: what the person at the printer must know. */
function sideText({ pair, settings }: NonNullable<ReturnType<typeof runDetail>>): string {
  if (!pair) return '';
  return pair.side === 'front' ? ', front' : `, back: ${turnText(pair.turn, settings.sheetMm ?? null)}`;
}

type RunPieces = NonNullable<ReturnType<typeof runDetail>>['pieces'];

/** What the sheet says of the jobs of some pieces: how many, how large, for whom, and what is done afterwards. */
function jobRows(shop: Shop, run: NonNullable<ReturnType<typeof runDetail>>) {
  const ids = [...new Set(run.pieces.map((piece) => piece.jobId))];
  const rows = shop.db.select().from(jobs).where(inArray(jobs.id, ids)).all();
  return (pieces: RunPieces) =>
    rows.flatMap(({ id, sourceName, ticket: { values } }) => {
      const own = pieces.filter((piece) => piece.jobId === id);
      if (own.length === 0) return [];
      const sizes = new Set(own.map((piece) => `${tidy(piece.widthMm)} × ${tidy(piece.heightMm)}`));
      return [
        {
          name: sourceName,
          order: values.orderNo ?? '',
          customer: values.customer ?? '',
          size: sizes.size === 1 ? ([...sizes][0] ?? '') : `${String(sizes.size)} sizes`,
          pieces: String(own.length),
          dueMs: values.dueMs,
        },
      ];
    });
}

function tidy(mm: number): string {
  return String(Math.round(mm * 10) / 10);
}
