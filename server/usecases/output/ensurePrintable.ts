import { findRun } from '../../db/findRows.ts';
import type { RunHow } from '../../ports/work.ts';
import { Refused, type Shop } from '../../shop.ts';
import { printerOf } from '../run/runRows.ts';
import { coatProgress } from './runChannels.ts';
import { ensurePdf } from './runPdf.ts';

/**
 * Makes what a run is printed from, as far as it has to be there before it is queued: its PDF; and where its printer fires what we render,
 * makes sure that it can be.
 * @throws Refused where it can't be, so that what can't be printed is never queued
 */
export async function ensurePrintable(shop: Shop, runId: string, how: RunHow = {}): Promise<void> {
  await ensurePdf(shop, runId, how);
  const run = findRun(shop.db, runId);
  if (!run) return;
  const { config, name } = printerOf(shop.db, run);
  if ((config.rendering ?? 'by the printer') === 'by the printer') return;
  try {
    await coatProgress(shop, runId, how);
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    const { status, code, message, figures, remedy } = error;
    throw new Refused(
      status,
      code,
      `${name} fires what is rendered here. ${message}`,
      figures,
      `${remedy ?? ''} Or let ${name} render by itself: Setup, ${name}.`.trim(),
    );
  }
}
