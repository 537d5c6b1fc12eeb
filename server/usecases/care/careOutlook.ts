import { plannedFirings } from '../../../core/care/plannedPurges.ts';
import { type PlannedFiring, type PurgeOutlook, purgeOutlook } from '../../../core/care/outlook.ts';
import type { Line } from '../../../core/schedule/plan.ts';
import type { printers } from '../../db/tables/floorTables.ts';
import type { Shop } from '../../shop.ts';
import { readFloor } from '../plan/fit.ts';
import type { Floor } from '../plan/plannedFloor.ts';
import { outlookChannels } from './exercise.ts';
import { evenOf, plannedWithPurges, purgedPrinter } from './plannedLines.ts';

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
  if (!cared) return [];
  const { care, careRules } = cared;
  const about = purgedPrinter(shop, printer, care);
  return plannedFirings(about, line, { care, careRules, runs: floor.runs }, evenOf(floor));
}

/** The same for a purge that is due now. */
export function outlookNow(shop: Shop, printer: PrinterRow, careId: string): PurgeOutlook | undefined {
  const floor = readFloor(shop);
  const line = plannedWithPurges(shop, floor).plan.lines.get(printer.id);
  return line && outlookOfLine(shop, printer, line, floor).get(careId);
}
