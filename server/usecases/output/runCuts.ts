import { counted } from '../../../core/counted.ts';
import { findRun } from '../../db/findRows.ts';
import { printerOf } from '../run/runRows.ts';
import { laidOutline } from '../../../core/geometry/laidOutline.ts';
import type { Outline } from '../../../core/geometry/polygon.ts';
import { isMirrored } from '../../../core/layout/arrange/twoSides.ts';
import { trimRing } from '../../../core/layout/trim.ts';
import { type SheetSpan, liesOn, sheetSpans } from '../../../core/layout/sheets/sheetSpans.ts';
import { usableWidth } from '../../../core/layout/usableWidth.ts';
import { runName } from '../../../core/flow/runName.ts';
import type { RunCuts } from '../../render/out/cutFiles.ts';
import { Refused, type Shop } from '../../shop.ts';
import { type LaidRow, laidPieces } from '../layout/measureRun.ts';

/**
 * Everything that is cut of a run as it lies: contours, the trim of every other piece, and the end.
 * @param sheetNo 1 … n: of that sheet alone, in its own frame
 */
export function cutsOfRun(shop: Shop, runId: string, sheetNo?: number): RunCuts {
  const run = cutRun(shop, runId);
  if (sheetNo === undefined) return cutsOf(run, undefined);
  const span = run.sheets[sheetNo - 1];
  if (span) return cutsOf(run, span);
  const { length } = run.sheets;
  throw new Refused(
    404,
    'no-such-sheet',
    length === 0 ? `${run.name} is on a roll.` : `${run.name} has ${counted(length, 'sheet')}.`,
    { sheets: length },
  );
}

/** What is cut of each sheet, in their order; of a roll, of all of it. */
export function cutsOfSheets(
  shop: Shop,
  runId: string,
): { readonly sheetNo: number | undefined; readonly cuts: RunCuts }[] {
  const run = cutRun(shop, runId);
  if (run.sheets.length === 0) return [{ sheetNo: undefined, cuts: cutsOf(run, undefined) }];
  return run.sheets.map((span) => ({ sheetNo: span.no, cuts: cutsOf(run, span) }));
}

/** A run with what is needed of it to cut it, read once. */
interface CutRun {
  readonly name: string;
  readonly widthMm: number;
  readonly lengthMm: number;
  readonly sheets: readonly SheetSpan[];
  readonly cutOff: boolean;
  readonly mirrored: boolean;
  readonly usableFromMm: number;
  readonly pieces: readonly LaidRow[];
}

function cutRun(shop: Shop, runId: string): CutRun {
  const run = findRun(shop.db, runId);
  if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
  const { leftMm, rightMm, sheetMm = null } = run.settings;
  const pieces = laidPieces(shop.db, runId).filter(({ placed }) => placed);
  if (pieces.length === 0) {
    throw new Refused(
      409,
      'not-laid-out',
      `${runName(run.number)} has no layout yet.`,
      undefined,
      'Nest it on the Bench first.',
    );
  }
  return {
    name: runName(run.number),
    widthMm: run.mediaWidthMm,
    lengthMm: run.lengthMm,
    sheets: sheetSpans(run.lengthMm, sheetMm),
    cutOff: run.ticket.cutOff === 'full',
    mirrored: run.side?.side === 'back' && isMirrored(run.side),
    usableFromMm: usableWidth(printerOf(shop.db, run).config, run.mediaWidthMm, leftMm, rightMm).usableFromMm,
    pieces,
  };
}

function cutsOf(run: CutRun, span: SheetSpan | undefined): RunCuts {
  const { name, widthMm, sheets, mirrored, usableFromMm } = run;
  const contours: Outline[] = [];
  const trims: Outline[] = [];
  for (const { pageRow, bleed, upright, xMm, yMm, angleDeg } of run.pieces) {
    if (span && !liesOn({ ...upright, yMm, angleDeg }, span)) continue;
    const place = { xMm: xMm + usableFromMm, yMm: yMm - (span?.startMm ?? 0), angleDeg };
    // What is printed over an edge of the media is cut by that edge.
    const laid = (ring: Outline): Outline =>
      laidOutline(ring, upright, place, mirrored).map(({ x, y }) => ({ x: Math.min(widthMm, Math.max(0, x)), y }));
    const contour = pageRow.finished?.contour;
    if (contour) contours.push(...contour.cut.map(laid));
    else trims.push(laid(trimRing(upright, bleed)));
  }
  const lengthMm = span ? span.endMm - span.startMm : run.lengthMm;
  const across = sheets.length === 0 && run.cutOff ? [lengthMm] : [];
  const title = span ? `${name}, sheet ${String(span.no)} of ${String(sheets.length)}` : name;
  return { title, widthMm, lengthMm, contours, trims, across };
}
