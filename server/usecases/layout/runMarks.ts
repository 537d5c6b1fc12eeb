import { findPrinter } from '../../db/findRows.ts';
import { modeOf } from '../run/runRows.ts';
import { usableWidth } from '../../../core/layout/usableWidth.ts';
import { fullMarks } from '../../../core/layout/marks/markSettings.ts';
import type { LaidMarks } from '../../../core/layout/marks/mark.ts';
import { marksOf, pieceWords, registrationOf } from '../../../core/layout/marks/marks.ts';
import { extentOf } from '../../../core/layout/checkLayout.ts';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import { laidTrim } from '../../../core/layout/trim.ts';
import { backMarks, isMirrored } from '../../../core/layout/arrange/twoSides.ts';
import { otherSide } from '../../db/runViews.ts';
import type { Reader } from '../../db/open.ts';
import { jobWordsOf, runWordsOf } from '../../db/runWords.ts';
import { encodeCode } from '../../render/out/encodeCode.ts';
import { isBack } from './relayBack.ts';
import { laidPieces, type LaidRow } from './measureRun.ts';
import type { RunRow } from '../run/transitionRun.ts';

/** The marks of a run as it lies; x counts from the left end of the usable width. A back has its front's registration, too. */
export function marksOfRun(db: Reader, run: RunRow, laid: readonly LaidRow[]): LaidMarks {
  const own = marksOfSide(db, run, laid);
  const front = run.pairId === null || !isBack(run) ? undefined : otherSide(db, run.pairId, run.id);
  if (!front || !run.side) return own;
  const { settings } = front;
  const { usableWidthMm, usableFromMm } = usableOf(configOf(db, front), front);
  const pieces = laidPieces(db, front.id)
    .filter((piece) => piece.placed)
    .map(extentOf);
  const sheetMm = settings.sheetMm ?? null;
  const through = registrationOf(fullMarks(settings.marks), { usableWidthMm, sheetMm, pieces });
  return { ...own, marks: [...own.marks, ...backMarks(through, { ...front, sheetMm }, run.side, usableFromMm)] };
}

function configOf(db: Reader, run: RunRow): PrinterConfig {
  const config = findPrinter(db, run.printerId)?.config;
  if (!config) throw new Error(`run ${run.id} has no printer`);
  return config;
}

function usableOf(config: PrinterConfig, { mediaWidthMm, settings: { leftMm, rightMm } }: RunRow) {
  return usableWidth(config, mediaWidthMm, leftMm, rightMm);
}

/** Marks of one side alone, in the words of its own jobs. */
function marksOfSide(db: Reader, run: RunRow, laid: readonly LaidRow[]): LaidMarks {
  const { settings } = run;
  const marks = fullMarks(settings.marks);
  const config = configOf(db, run);
  const mirrored = run.side?.side === 'back' && isMirrored(run.side);
  const { dpiX: x, dpiY: y } = modeOf(config, run.ticket.modeId);
  const jobWords = jobWordsOf(db, [...new Set(laid.map((piece) => piece.jobId))]);
  const counts = new Map<string, number>();
  for (const piece of laid) counts.set(piece.jobId, Math.max(counts.get(piece.jobId) ?? 0, piece.copy + 1));
  return marksOf(marks, {
    usableWidthMm: usableOf(config, run).usableWidthMm,
    leadMm: settings.leadMm,
    sheetMm: settings.sheetMm ?? null,
    pieces: laid.map((piece) => ({
      ...extentOf(piece),
      trim: laidTrim({ ...piece.upright, bleed: piece.bleed, cut: piece.cut }, piece, mirrored),
      jobId: piece.jobId,
      words: pieceWords(jobWords[piece.jobId], piece, counts.get(piece.jobId) ?? 1),
    })),
    words: runWordsOf(db, run),
    dpi: { x, y },
    channels: config.channels.map((channel) => channel.colour),
    encode: encodeCode,
  });
}
