import type { LayoutChange } from '../../contract/api/run.ts';
import { layoutSpace } from '../../core/layout/markSettings.ts';
import { parseNestRequest } from '../../core/layout/nestInput.ts';
import { behindEdge, placeAcross } from '../../core/layout/placeAcross.ts';
import { runDetail } from '../db/runViews.ts';
import { Refused, type Shop } from '../shop.ts';

/** Nests a draft with its own settings, on the server; the Bench does the same in the page, with a person watching. */
export async function nestDraft(shop: Shop, runId: string, timeLimitMs: number): Promise<LayoutChange> {
  const run = runDetail(shop.db, runId);
  if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
  const { settings } = run;
  const { gapMm, ...marginMm } = layoutSpace(settings);
  const parsed = parseNestRequest({
    widthMm: run.usableWidthMm,
    gapMm,
    marginMm,
    pieces: run.pieces.map(({ pieceId, widthMm, heightMm, quarterTurn, place }) => {
      const held = placeAcross(place, run.registeredEdge, run.usableWidthMm, widthMm);
      const turns = quarterTurn && settings.quarterTurns;
      return {
        id: pieceId,
        widthMm,
        heightMm,
        copies: 1,
        quarterTurn: turns,
        ...(held ? { held: behindEdge(held, marginMm.leftMm) } : {}),
      };
    }),
  });
  if (!parsed.ok) throw new Refused(422, parsed.reason.code, `${run.name} can't be nested.`, { ...parsed.reason });
  const layout = await shop.pool.nest({
    input: parsed.value,
    seed: 1,
    stepBudget: Number.MAX_SAFE_INTEGER,
    timeLimitMs,
  });
  return {
    settings,
    placements: layout.placements.map(({ id, xMm, yMm, angleDeg }) => ({ pieceId: id, xMm, yMm, angleDeg })),
  };
}
