import { findRun } from '../../db/findRows.ts';
import { printerOf } from '../run/runRows.ts';
import { laidOutline } from '../../../core/geometry/laidOutline.ts';
import type { Outline } from '../../../core/geometry/polygon.ts';
import { isMirrored } from '../../../core/layout/arrange/twoSides.ts';
import { trimRing } from '../../../core/layout/trim.ts';
import { usableWidth } from '../../../core/layout/usableWidth.ts';
import { runName } from '../../../core/flow/runName.ts';
import type { RunCuts } from '../../render/out/cutFiles.ts';
import { Refused, type Shop } from '../../shop.ts';
import { laidPieces } from '../layout/measureRun.ts';

/** Everything that is cut of a run as it lies: contours, the trim of every other piece, and the end. */
export function cutsOfRun(shop: Shop, runId: string): RunCuts {
  const run = findRun(shop.db, runId);
  if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
  const { config } = printerOf(shop.db, run);
  const { leftMm, rightMm } = run.settings;
  const { usableFromMm } = usableWidth(config, run.mediaWidthMm, leftMm, rightMm);
  const mirrored = run.side?.side === 'back' && isMirrored(run.side);
  const contours: Outline[] = [];
  const trims: Outline[] = [];
  for (const { placed, pageRow, bleed, upright, xMm, yMm, angleDeg } of laidPieces(shop.db, runId)) {
    if (!placed) continue;
    const place = { xMm: xMm + usableFromMm, yMm, angleDeg };
    const laid = (ring: Outline): Outline => laidOutline(ring, upright, place, mirrored);
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
  const { lengthMm, mediaWidthMm: widthMm } = run;
  const across = run.ticket.cutOff === 'full' ? [lengthMm] : [];
  return { title: runName(run.seq), widthMm, lengthMm, contours, trims, across };
}
