import { findPrinter } from '../../db/findRows.ts';
import type { MachineState } from '../../../contract/machine/protocol.ts';
import { spoolViews } from '../../db/printerViews.ts';
import type { SpoolView } from '../../../contract/api/floor.ts';
import { eq } from 'drizzle-orm';
import { spools } from '../../db/tables/floorTables.ts';
import type { MachineLink } from '../../ports/machineLink.ts';
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
    if (wanted && (known?.tag !== wanted.id || measuredAnew(shop, printerId, state, wanted, known.widthMm))) {
      const { id: tag, widthMm, leftMm } = wanted;
      await shop.link.load(printerId, source.id, { tag, widthMm, lengthMm: Math.max(0, leftMm) });
    }
    if (!wanted && known) await shop.link.unload(printerId, source.id);
  }
}

/** A width that differs by less is the same measured twice (mm). */
const SAME_WIDTH_MM = 0.5;

/** The widths that devices were told, by source: one that measures otherwise all the same isn't told again and again. */
const told = new WeakMap<MachineLink, Map<string, string>>();

/**
 * Whether a person has measured the roll in the printer anew: the device lays out and checks by its width. What only its stock says
 * is less than what the device measures. A device that stands is left alone: loading is what lets it go on.
 */
function measuredAnew(
  shop: Shop,
  printerId: string,
  { status }: MachineState,
  { id, sourceId }: SpoolView,
  knownMm: number,
): boolean {
  if (status !== 'idle') return false;
  const own = shop.db.select({ widthMm: spools.widthMm }).from(spools).where(eq(spools.id, id)).get()?.widthMm;
  if (own == null || Math.abs(own - knownMm) <= SAME_WIDTH_MM) return false;
  const before = told.get(shop.link) ?? new Map<string, string>();
  told.set(shop.link, before);
  const [place, what] = [`${printerId} ${sourceId ?? ''}`, `${id} ${String(own)}`];
  if (before.get(place) === what) return false;
  before.set(place, what);
  return true;
}
