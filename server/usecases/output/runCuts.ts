import { findRun } from '../../db/findRows.ts';
import { printerOf } from '../run/runRows.ts';
import { laidOutline } from '../../../core/geometry/laidOutline.ts';
import type { Outline } from '../../../core/geometry/polygon.ts';
import { turnedSize } from '../../../core/geometry/turn.ts';
import { isMirrored } from '../../../core/layout/arrange/twoSides.ts';
import { trimRing } from '../../../core/layout/trim.ts';
import { isWithin, sheetSpans } from '../../../core/layout/sheets/sheetSpans.ts';
import { usableWidth } from '../../../core/layout/usableWidth.ts';
import { runName } from '../../../core/flow/runName.ts';
import type { RunCuts } from '../../render/out/cutFiles.ts';
import { Refused, type Shop } from '../../shop.ts';
import { laidPieces } from '../layout/measureRun.ts';

/**
 * Everything that is cut of a run as it lies: contours, the trim of every other piece, and the end.
 * @param sheetNo 1 … n: of that sheet alone, in its own frame
 */
export function cutsOfRun(shop: Shop, runId: string, sheetNo?: number): RunCuts {
  const run = findRun(shop.db, runId);
  if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
  const { config } = printerOf(shop.db, run);
  const { leftMm, rightMm } = run.settings;
  const { usableFromMm } = usableWidth(config, run.mediaWidthMm, leftMm, rightMm);
  const mirrored = run.side?.side === 'back' && isMirrored(run.side);
  const sheets = sheetSpans(run.lengthMm, run.settings.sheetMm ?? null);
  const sheet = sheetNo === undefined ? undefined : sheets[sheetNo - 1];
  if (sheetNo !== undefined && !sheet) {
    throw new Refused(
      404,
      'no-such-sheet',
      sheets.length === 0
        ? `${runName(run.seq)} is on a roll.`
        : `${runName(run.seq)} has ${String(sheets.length)} sheets.`,
      { sheets: sheets.length },
    );
  }
  const startMm = sheet?.startMm ?? 0;
  const contours: Outline[] = [];
  const trims: Outline[] = [];
  for (const { placed, pageRow, bleed, upright, xMm, yMm, angleDeg } of laidPieces(shop.db, runId)) {
    const middleMm = yMm + turnedSize(upright.widthMm, upright.heightMm, angleDeg).heightMm / 2;
    if (!placed || (sheet && !isWithin(middleMm, sheet.startMm, sheet.endMm))) continue;
    const place = { xMm: xMm + usableFromMm, yMm: yMm - startMm, angleDeg };
    // What is printed over an edge of the media is cut by that edge.
    const laid = (ring: Outline): Outline =>
      laidOutline(ring, upright, place, mirrored).map(({ x, y }) => ({
        x: Math.min(run.mediaWidthMm, Math.max(0, x)),
        y,
      }));
    const contour = pageRow.finished?.contour;
    if (contour) contours.push(...contour.cut.map(laid));
    else trims.push(laid(trimRing(upright, bleed)));
  }
  if (contours.length + trims.length === 0) {
    throw new Refused(
      409,
      'not-laid-out',
      `${runName(run.seq)} has no layout yet.`,
      undefined,
      'Nest it on the Bench first.',
    );
  }
  const { mediaWidthMm: widthMm } = run;
  const lengthMm = sheet ? sheet.endMm - sheet.startMm : run.lengthMm;
  const across = sheets.length === 0 && run.ticket.cutOff === 'full' ? [lengthMm] : [];
  const title = sheet ? `${runName(run.seq)}, sheet ${String(sheet.no)} of ${String(sheets.length)}` : runName(run.seq);
  return { title, widthMm, lengthMm, contours, trims, across };
}
