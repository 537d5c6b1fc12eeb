import type { RunHow } from '../../ports/work.ts';
import type { LayoutChange } from '../../../contract/api/run.ts';
import { runNest } from '../../../core/layout/runNest.ts';
import { runDetail } from '../../db/runViews.ts';
import { Refused, type Shop } from '../../shop.ts';

/** Nests a draft with its own settings, on the server; the Bench does the same in the page, with a person watching. */
export async function nestDraft(
  shop: Shop,
  runId: string,
  timeLimitMs: number,
  how: RunHow = {},
): Promise<LayoutChange> {
  const run = runDetail(shop.db, runId);
  if (!run) throw new Refused(404, 'no-such-run', `There is no run ${runId}.`);
  const { settings } = run;
  const pieces = run.pieces.map((piece) => ({
    ...piece,
    outline: piece.contour === null ? undefined : run.contours[piece.contour]?.outline,
  }));
  const parsed = runNest(pieces, settings, run.usableWidthMm, run.registeredEdge);
  if (!parsed.ok) throw new Refused(422, parsed.reason.code, `${run.name} can't be nested.`, { ...parsed.reason });
  const layout = await shop.work.run(
    'nest',
    {
      input: parsed.value.input,
      seed: 1,
      stepBudget: Number.MAX_SAFE_INTEGER,
      timeLimitMs,
    },
    how,
  );
  return {
    settings,
    placements: layout.placements.map(parsed.value.place),
  };
}
