import {
  type OutlookChannel,
  type PlannedFiring,
  type PurgeOutlook,
  purgeOutlook,
} from '../../../core/care/outlook.ts';
import type { Line } from '../../../core/schedule/plan.ts';
import { planFloor } from '../../../core/schedule/planFloor.ts';
import type { printers } from '../../db/schema.ts';
import type { Shop } from '../../shop.ts';
import { readFloor } from '../plan/fit.ts';
import { type Floor, snapshotFor } from '../plan/plannedFloor.ts';
import { exercisedMs } from '../../db/exercised.ts';
import { careLine, onlyNeeded } from './careItems.ts';
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
  return purgeOutlook(channelsOf(shop, printer), firingsOf(shop, printer, line, floor));
}

/** When each channel is exercised by what is planned: work, cleans, and purges that are not skipped. */
export function exercisingInstants(
  shop: Shop,
  printer: typeof printers.$inferSelect,
  line: Line,
  floor: Pick<Floor, 'runs'>,
): ReadonlyMap<string, readonly number[]> {
  const channels = channelsOf(shop, printer);
  const firings = firingsOf(shop, printer, line, floor);
  const outlook = purgeOutlook(channels, firings);
  return new Map(
    channels.map(({ id, doseMl }) => [
      id,
      firings
        .filter((each) => (each.inkMl[id] ?? 0) >= doseMl && (outlook.get(each.id)?.fires.includes(id) ?? true))
        .map(({ atMs }) => atMs),
    ]),
  );
}

function channelsOf(shop: Shop, printer: typeof printers.$inferSelect): OutlookChannel[] {
  const known = exercisedMs(shop.db, printer);
  const doses = exerciseDoses(printer);
  return printer.config.channels.map(({ id, idleLimitH }) => ({
    id,
    limitMs: idleLimitH * HOUR,
    doseMl: doses[id] ?? Infinity,
    // A channel that nobody has seen fire counts from when the shop was opened: it is purged.
    exercisedMs: known[id] ?? 0,
  }));
}

/** What the plan of a line fires, in the order of time. */
function firingsOf(
  shop: Shop,
  printer: typeof printers.$inferSelect,
  line: Line,
  floor: Pick<Floor, 'runs'>,
): PlannedFiring[] {
  const inLine = new Map(careLine(shop.db, printer.id).map((row) => [row.id, row.what]));
  const byTimer = new Map(timersOf(shop.db, printer.id).map((timer) => [timer.id, timer.what]));
  const runs = new Map(floor.runs.map((run) => [run.id, run]));
  const firings = line.events.flatMap((event): PlannedFiring[] => {
    if (event.kind === 'run') {
      const run = runs.get(event.id);
      if (!run || run.endedMs !== null) return [];
      return [{ id: event.id, atMs: event.toMs, inkMl: run.evenMl ?? run.inkMl, purge: null }];
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
  return firings.sort((a, b) => a.atMs - b.atMs);
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
