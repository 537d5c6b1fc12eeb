import { type PurgedPlan, planWithPurges } from '../../../core/care/plannedPurges.ts';
import { findPrinter } from '../../db/findRows.ts';
import type { Shop } from '../../shop.ts';
import { type Floor, snapshotFor } from '../plan/plannedFloor.ts';
import { onlyNeeded } from './careItems.ts';
import { outlookChannels } from './exercise.ts';
import { noteSkipped } from './skippedCare.ts';

/** The plan of the floor with the purges that work makes needless. */
export function plannedWithPurges(shop: Shop, floor: Floor): PurgedPlan {
  const about = Object.fromEntries(
    floor.printers.flatMap(({ id, care }) => {
      const row = findPrinter(shop.db, id);
      if (!row || !care.some(({ skippable }) => skippable)) return [];
      const own = care.map((each) => [
        each.id,
        { skippable: each.skippable, onlyNeeded: each.skippable && onlyNeeded(shop.db, each.what) },
      ]);
      return [[id, { channels: outlookChannels(shop, row), care: Object.fromEntries(own) as PurgedCare }]];
    }),
  );
  const even = new Map(floor.runs.map((run) => [run.id, run.evenMl]));
  const purged = planWithPurges(snapshotFor(floor), about, (runId) => even.get(runId) ?? null);
  noteSkipped(shop, purged.skipped);
  return purged;
}

type PurgedCare = Record<string, { skippable: boolean; onlyNeeded: boolean }>;
