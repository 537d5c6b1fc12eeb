import { findPrinter } from '../../db/findRows.ts';
import type { MachineState } from '../../../contract/machine/protocol.ts';
import { spoolViews } from '../../db/printerViews.ts';
import type { SpoolView } from '../../../contract/api/floor.ts';
import type { Shop } from '../../shop.ts';

/**
 * Tells a device what a person has put into its sources, where what it measures says otherwise: after a line that was dead,
 * and at the first start. Nothing is changed under a run.
 */
export async function syncMedia(shop: Shop, printerId: string, state: MachineState): Promise<void> {
  const { media } = state;
  if (!media || state.status === 'printing') return;
  const printer = findPrinter(shop.db, printerId);
  if (!printer) return;
  const here = spoolViews(shop.db, { printerId });
  for (const source of printer.config.sources) {
    const wanted = here.find((spool) => spool.sourceId === source.id);
    const known = media.find((each) => each.sourceId === source.id);
    if (wanted && (known?.tag !== wanted.id || measuredAnew(printerId, wanted, known.widthMm))) {
      const { id: tag, widthMm, leftMm } = wanted;
      await shop.link.load(printerId, source.id, { tag, widthMm, lengthMm: Math.max(0, leftMm) });
    }
    if (!wanted && known) await shop.link.unload(printerId, source.id);
  }
}

/** A width that differs by less is the same measured twice (mm). */
const SAME_WIDTH_MM = 0.5;

/** The widths that devices were told, by printer and spool: one that measures otherwise all the same isn't told again and again. */
const told = new Map<string, number>();

/** Whether a person has measured the roll in the printer anew: the device lays out and checks by its width. */
function measuredAnew(printerId: string, { id, widthMm }: SpoolView, knownMm: number): boolean {
  const key = `${printerId} ${id}`;
  if (Math.abs(widthMm - knownMm) <= SAME_WIDTH_MM || told.get(key) === widthMm) return false;
  told.set(key, widthMm);
  return true;
}
