import { setImmediate } from 'node:timers/promises';
import type { WhatIfChangeView } from '../../../../contract/api/pace/whatIf.ts';
import { RUN_WIDE } from '../../../../core/ticket/settings.ts';
import { printers } from '../../../db/tables/floorTables.ts';
import { runDetail } from '../../../db/runViews.ts';
import type { Shop } from '../../../shop.ts';
import { runRow } from '../../run/runRows.ts';
import { tooMany } from './movedRuns.ts';
import type { Relayed } from './relaidRuns.ts';
import { MOST_RELAID, runIdOf } from './whatIfRuns.ts';

/**
 * What runs would be laid out by: a run that was printed twice is there twice. Layouts are read piece by piece, so that nobody waits
 * for it.
 */
export async function relaysOf(
  shop: Shop,
  keys: readonly string[],
  change: Pick<WhatIfChangeView, 'gapMm' | 'order'>,
): Promise<Relayed[]> {
  const runIds = [...new Set(keys.map(runIdOf))];
  if (runIds.length > MOST_RELAID) throw tooMany();
  const printerRows = shop.db.select().from(printers).all();
  const byRun = new Map<string, Relayed>();
  for (const runId of runIds) {
    await setImmediate();
    const run = runDetail(shop.db, runId);
    // A back lies behind its front; sheets that are filled place by place have no gap of their own.
    if (!run || run.pair?.side === 'back' || run.settings.places != null) continue;
    const { printerId, queueId, ticket, mediaWidthMm } = runRow(shop.db, runId);
    const { gapMm = run.settings.gapMm, order = run.settings.order } = change;
    const { gapAlongMm: _along, ...settings } = run.settings;
    const runWide = RUN_WIDE.map((name) => ticket[name]);
    byRun.set(runId, {
      relay: {
        runId,
        pieces: run.pieces.map((piece) => ({
          ...piece,
          outline: piece.contour === null ? undefined : run.contours[piece.contour]?.outline,
        })),
        before: run.settings,
        after: { ...(change.gapMm === undefined ? run.settings : settings), gapMm, order },
        usableWidthMm: run.usableWidthMm,
        registeredEdge: run.registeredEdge,
      },
      // Two sides belong together, and a series was parted by a person.
      togetherKey:
        run.pair === null && run.series === null
          ? JSON.stringify([printerId, queueId, mediaWidthMm, runWide, run.settings])
          : null,
      longestMm: printerRows.find(({ id }) => id === printerId)?.config.longestMm ?? Infinity,
    });
  }
  return keys.flatMap((key) => {
    const relayed = byRun.get(runIdOf(key));
    return relayed ? [{ ...relayed, relay: { ...relayed.relay, runId: key } }] : [];
  });
}
