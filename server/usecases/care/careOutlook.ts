import { type PlannedFiring, type PurgeOutlook, purgeOutlook } from '../../../core/care/outlook.ts';
import type { Line } from '../../../core/schedule/plan.ts';
import type { printers } from '../../db/schema.ts';
import type { Shop } from '../../shop.ts';
import { readFloor } from '../plan/fit.ts';
import type { Floor } from '../plan/plannedFloor.ts';
import { plannedWithPurges } from './plannedLines.ts';
import { ruledCare } from '../../../core/care/careRule.ts';
import { onlyNeeded } from './careItems.ts';
import { outlookChannels } from './exercise.ts';

/** What becomes of the purges in a printer's line, as it is planned. */
export function outlookOfLine(
  shop: Shop,
  printer: PrinterRow,
  line: Line,
  floor: PlannedOn,
): ReadonlyMap<string, PurgeOutlook> {
  return purgeOutlook(outlookChannels(shop, printer), firingsOf(shop, printer, line, floor));
}

type PrinterRow = typeof printers.$inferSelect;
type PlannedOn = Pick<Floor, 'runs' | 'printers'>;

/** When each channel is exercised by what is planned: work, cleans, and purges that are not skipped. */
export function exercisingInstants(
  shop: Shop,
  printer: PrinterRow,
  line: Line,
  floor: PlannedOn,
): ReadonlyMap<string, readonly number[]> {
  const channels = outlookChannels(shop, printer);
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

/** What the plan of a line fires, in the order of time. */
function firingsOf(shop: Shop, printer: PrinterRow, line: Line, floor: PlannedOn): PlannedFiring[] {
  const cared = floor.printers.find(({ id }) => id === printer.id);
  const care = new Map(cared?.care.map((each) => [each.id, each]));
  const runs = new Map(floor.runs.map((run) => [run.id, run]));
  const firings = line.events.flatMap((event): PlannedFiring[] => {
    if (event.kind !== 'run' && event.kind !== 'care') return [];
    // What can't be printed exercises nothing.
    if (event.kind === 'care' && event.lacks !== null) return [];
    const { id, toMs: atMs } = event;
    if (event.kind === 'run') {
      const run = runs.get(id);
      return run?.endedMs === null ? [{ id, atMs, inkMl: run.evenMl ?? run.inkMl, purge: null }] : [];
    }
    const planned = care.get(id);
    const { inkMl } = planned ?? ruledCare(cared?.careRules ?? [], id)?.rule ?? { inkMl: {} };
    if (!planned?.skippable) return [{ id, atMs, inkMl, purge: null }];
    // Whether it is needed is asked when it begins: when it is due, or sooner where it goes before a run.
    const dueMs = Math.min(event.fromMs, planned.fromMs);
    return [{ id, atMs, inkMl, purge: { dueMs, onlyNeeded: onlyNeeded(shop.db, planned.what) } }];
  });
  return firings.sort((a, b) => a.atMs - b.atMs);
}

/** The same for a purge that is due now. */
export function outlookNow(shop: Shop, printer: PrinterRow, careId: string): PurgeOutlook | undefined {
  const floor = readFloor(shop);
  const line = plannedWithPurges(shop, floor).plan.lines.get(printer.id);
  return line && outlookOfLine(shop, printer, line, floor).get(careId);
}
