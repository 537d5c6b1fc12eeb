import { findPrinter } from '../../db/findRows.ts';
import type { MachineState } from '../../../contract/machine/protocol.ts';
import { spoolViews } from '../../db/printerViews.ts';
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
    if (wanted && known?.tag !== wanted.id) {
      const { id: tag, widthMm, leftMm } = wanted;
      await shop.link.load(printerId, source.id, { tag, widthMm, lengthMm: Math.max(0, leftMm) });
    }
    if (!wanted && known) await shop.link.unload(printerId, source.id);
  }
}
