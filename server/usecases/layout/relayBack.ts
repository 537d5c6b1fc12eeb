import { findPrinter } from '../../db/findRows.ts';
import { and, eq, sql } from 'drizzle-orm';
import type { SideSettings } from '../../../contract/api/run.ts';
import { turnedSize } from '../../../core/geometry/turn.ts';
import { backAngle, backRect, backSettings } from '../../../core/layout/arrange/twoSides.ts';
import { usableWidth } from '../../../core/layout/usableWidth.ts';
import { otherSide, runPieceRows } from '../../db/runViews.ts';
import { runPieces, runs } from '../../db/tables/schema.ts';
import type { Work } from '../../shop.ts';
import type { RunRow } from '../run/transitionRun.ts';

/** Whether a run is the back of another one. */
export function isBack({ side }: Pick<RunRow, 'side'>): boolean {
  return side?.side === 'back';
}

/**
 * Lays the back of a run so that each piece lies behind its front, after the front has changed.
 * @returns the back as it is now; undefined where the run has none on the Bench
 */
export function relayBack({ tx }: Work, front: RunRow): RunRow | undefined {
  if (front.pairId === null || front.side?.side !== 'front') return undefined;
  const back = otherSide(tx, front.pairId, front.id);
  if (back?.state !== 'draft' || !back.side) return undefined;
  const settings = backSettings(front.settings, back.side.turn);
  const moved = tx
    .update(runs)
    .set({ settings, lengthMm: front.lengthMm, spoolId: front.spoolId, mediaWidthMm: front.mediaWidthMm })
    .where(eq(runs.id, back.id))
    .returning()
    .get();
  placeBacks(tx, front, moved, back.side);
  return moved;
}

/** Puts each back behind its front, as the media will lie after it was turned. */
function placeBacks(tx: Work['tx'], front: RunRow, back: RunRow, sides: SideSettings): void {
  const config = findPrinter(tx, front.printerId)?.config;
  if (!config) throw new Error(`run ${front.id} has no printer`);
  const fromOf = ({ mediaWidthMm, settings }: RunRow): number =>
    usableWidth(config, mediaWidthMm, settings.leftMm, settings.rightMm).usableFromMm;
  const [frontFrom, backFrom] = [fromOf(front), fromOf(back)];
  // Prepared once: a back of thousands of pieces must not hold the server up.
  const keep = tx
    .update(runPieces)
    .set({
      xMm: sql`${sql.placeholder('xMm')}`,
      yMm: sql`${sql.placeholder('yMm')}`,
      angleDeg: sql`${sql.placeholder('angleDeg')}`,
      placed: sql`${sql.placeholder('placed')}`,
    })
    .where(and(eq(runPieces.runId, back.id), eq(runPieces.pieceId, sql.placeholder('pieceId'))))
    .prepare();
  const extent = { ...front, sheetMm: front.settings.sheetMm ?? null };
  const fronts = new Map(runPieceRows(tx, front.id).map((row) => [row.pieceId, row]));
  for (const row of runPieceRows(tx, back.id)) {
    const before = row.frontPieceId === null ? undefined : fronts.get(row.frontPieceId);
    if (!before) continue;
    const { widthMm, heightMm } = before;
    const laid = { xMm: before.xMm + frontFrom, yMm: before.yMm, ...turnedSize(widthMm, heightMm, before.angleDeg) };
    const at = backRect(laid, extent, sides);
    keep.run({
      pieceId: row.pieceId,
      xMm: at.xMm - backFrom,
      yMm: at.yMm,
      angleDeg: backAngle(before.angleDeg, sides),
      placed: before.placed ? 1 : 0,
    });
  }
}
