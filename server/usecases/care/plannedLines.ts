import { type EvenMl, type PurgedPlan, type PurgedPrinter, planWithPurges } from '../../../core/care/plannedPurges.ts';
import { findPrinter } from '../../db/findRows.ts';
import type { printers } from '../../db/tables/floorTables.ts';
import type { Shop } from '../../shop.ts';
import { type Floor, snapshotFor } from '../plan/plannedFloor.ts';
import { onlyNeeded } from './careItems.ts';
import { outlookChannels } from './exercise.ts';
import { noteSkipped } from './skippedCare.ts';

/** The plan of the floor with the purges that work makes needless. */
export function plannedWithPurges(shop: Shop, floor: Floor): PurgedPlan {
  const about = Object.fromEntries(
    floor.printers.flatMap(({ id, care }): [string, PurgedPrinter][] => {
      const row = findPrinter(shop.db, id);
      return row && care.some(({ skippable }) => skippable) ? [[id, purgedPrinter(shop, row, care)]] : [];
    }),
  );
  const purged = planWithPurges(snapshotFor(floor), about, evenOf(floor));
  noteSkipped(shop, purged.skipped);
  return purged;
}

/** What decides which purges of a printer work makes needless. */
export function purgedPrinter(
  shop: Shop,
  printer: typeof printers.$inferSelect,
  care: Floor['printers'][number]['care'],
): PurgedPrinter {
  return {
    channels: outlookChannels(shop, printer),
    care: Object.fromEntries(
      care.map(({ id, skippable, what }) => [id, { skippable, onlyNeeded: skippable && onlyNeeded(shop.db, what) }]),
    ),
  };
}

/** What every column across the media gets of the floor's runs. */
export function evenOf({ runs }: Pick<Floor, 'runs'>): EvenMl {
  const even = new Map(runs.map((run) => [run.id, run.evenMl]));
  return (runId) => even.get(runId) ?? null;
}
