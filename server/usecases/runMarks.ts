import { eq } from 'drizzle-orm';
import { usableWidth } from '../../core/layout/usableWidth.ts';
import { type MarkSettings, NO_MARKS, onlyMarks } from '../../core/layout/markSettings.ts';
import { type LaidMarks, marksOf, pieceWords } from '../../core/layout/marks.ts';
import type { PrinterConfig } from '../../contract/api/floor.ts';
import { backMarks } from '../../core/layout/twoSides.ts';
import { otherSide } from '../db/runViews.ts';
import type { Reader } from '../db/open.ts';
import { jobWordsOf, runWordsOf } from '../db/runWords.ts';
import { printers } from '../db/schema.ts';
import { encodeCode } from '../render/encodeCode.ts';
import { modeOf, laidPieces, type LaidRow } from './measureRun.ts';
import type { RunRow } from './moveRun.ts';

/** The marks of a run as it lies; x counts from the left end of the usable width. A back has its front's registration, too. */
export function marksOfRun(db: Reader, run: RunRow, laid: readonly LaidRow[]): LaidMarks {
  const own = marksOfSide(db, run, laid);
  const front = run.pairId === null || run.side?.side !== 'back' ? undefined : otherSide(db, run.pairId, run.id);
  if (!front || !run.side) return own;
  const { marks } = marksOfSide(db, front, laidPieces(db, front.id), ONLY_REGISTRATION);
  const config = configOf(db, front);
  const { usableFromMm } = usableWidth(config, front.mediaWidthMm, front.settings.leftMm, front.settings.rightMm);
  return { ...own, marks: [...own.marks, ...backMarks(marks, front, run.side, usableFromMm)] };
}

const ONLY_REGISTRATION = ['registration'] as const;

function configOf(db: Reader, run: RunRow): PrinterConfig {
  const config = db.select().from(printers).where(eq(printers.id, run.printerId)).get()?.config;
  if (!config) throw new Error(`run ${run.id} has no printer`);
  return config;
}

function marksOfSide(
  db: Reader,
  run: RunRow,
  laid: readonly LaidRow[],
  kinds?: readonly (keyof MarkSettings)[],
): LaidMarks {
  const { settings } = run;
  const marks = onlyMarks(settings.marks ?? NO_MARKS, kinds);
  const config = configOf(db, run);
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
