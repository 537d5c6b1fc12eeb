import { type PlannedFiring, type PurgeOutlook, purgeOutlook } from '../../../core/care/outlook.ts';
import type { Line } from '../../../core/schedule/plan.ts';
import { planFloor } from '../../../core/schedule/planFloor.ts';
import type { printers } from '../../db/schema.ts';
import type { Shop } from '../../shop.ts';
import { readFloor } from '../plan/fit.ts';
import { type Floor, snapshotFor } from '../plan/plannedFloor.ts';
import { careLine, exercisedMs, onlyNeeded } from './careItems.ts';
import { careWork } from './careWork.ts';
import { exerciseDoses } from './exercise.ts';
import { timersOf } from './plannedCare.ts';

const HOUR = 3_600_000;

/** What becomes of the purges in a printer's line, as it is planned. */
export function outlookOfLine(
  shop: Shop,
  printer: typeof printers.$inferSelect,
  line: Line,
  floor: Pick<Floor, 'runs'>,
): ReadonlyMap<string, PurgeOutlook> {
  const known = exercisedMs(shop.db, printer);
  const doses = exerciseDoses(printer);
  const channels = printer.config.channels.map(({ id, idleLimitH }) => ({
    id,
    limitMs: idleLimitH * HOUR,
    doseMl: doses[id] ?? Infinity,
    // A channel that nobody has seen fire counts from when the shop was opened: it is purged.
    exercisedMs: known[id] ?? 0,
  }));
  const inLine = new Map(careLine(shop.db, printer.id).map((row) => [row.id, row.what]));
  const byTimer = new Map(timersOf(shop.db, printer.id).map((timer) => [timer.id, timer.what]));
  const runs = new Map(floor.runs.map((run) => [run.id, run]));
  const firings = line.events.flatMap((event): PlannedFiring[] => {
    if (event.kind === 'run') {
      const run = runs.get(event.id);
      // Work on a page-wide array exercises only what lies under it: nobody can rely on it.
      const counts = run && run.endedMs === null && printer.config.head !== 'page-wide';
      return counts ? [{ id: event.id, atMs: event.toMs, inkMl: run.inkMl, purge: null }] : [];
    }
    if (event.kind !== 'care') return [];
    const [timerId = '', due] = event.id.split('@');
    const what = inLine.get(event.id) ?? byTimer.get(timerId);
    if (!what) return [];
    const { inkMl } = careWork(shop.db, printer, what);
    const dueMs = due === undefined ? Math.min(event.fromMs, shop.clock.now()) : Number(due);
    const purge = what.kind === 'purge' ? { dueMs, onlyNeeded: onlyNeeded(shop.db, what) } : null;
    return [{ id: event.id, atMs: event.toMs, inkMl, purge }];
  });
  firings.sort((a, b) => a.atMs - b.atMs);
  return purgeOutlook(channels, firings);
}

/** The same for a purge that is due now. */
export function outlookNow(
  shop: Shop,
  printer: typeof printers.$inferSelect,
  careId: string,
): PurgeOutlook | undefined {
  const floor = readFloor(shop);
  const line = planFloor(snapshotFor(floor)).lines.get(printer.id);
  return line && outlookOfLine(shop, printer, line, floor).get(careId);
}
