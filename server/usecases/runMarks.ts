import { eq } from 'drizzle-orm';
import { usableWidth } from '../../core/layout/usableWidth.ts';
import { NO_MARKS } from '../../core/layout/markSettings.ts';
import { type LaidMarks, marksOf, pieceWords } from '../../core/layout/marks.ts';
import type { Reader } from '../db/open.ts';
import { jobWordsOf, runWordsOf } from '../db/runWords.ts';
import { printers } from '../db/schema.ts';
import { encodeCode } from '../render/encodeCode.ts';
import { modeOf, type LaidRow } from './measureRun.ts';
import type { RunRow } from './moveRun.ts';

/** The marks of a run as it lies; x counts from the left end of the usable width. */
export function marksOfRun(db: Reader, run: RunRow, laid: readonly LaidRow[]): LaidMarks {
  const { settings } = run;
  const marks = settings.marks ?? NO_MARKS;
  const config = db.select().from(printers).where(eq(printers.id, run.printerId)).get()?.config;
  if (!config) throw new Error(`run ${run.id} has no printer`);
  const { dpiX: x, dpiY: y } = modeOf(config, run.ticket.modeId);
  const jobWords = jobWordsOf(db, [...new Set(laid.map((piece) => piece.jobId))]);
  const counts = new Map<string, number>();
  for (const piece of laid) counts.set(piece.jobId, Math.max(counts.get(piece.jobId) ?? 0, piece.copy + 1));
  return marksOf(marks, {
    usableWidthMm: usableWidth(config, run.mediaWidthMm, settings.leftMm, settings.rightMm).usableWidthMm,
    leadMm: settings.leadMm,
    sheetMm: settings.sheetMm ?? null,
    pieces: laid.map((piece) => ({
      ...piece,
      words: pieceWords(jobWords[piece.jobId], piece, counts.get(piece.jobId) ?? 1),
    })),
    words: runWordsOf(db, run),
    dpi: { x, y },
    channels: config.channels.map((channel) => channel.colour),
    encode: encodeCode,
  });
}
