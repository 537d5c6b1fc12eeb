import { and, eq, gte, sql } from 'drizzle-orm';
import { DOSE_WINDOW, exerciseMl, lastExercised } from '../../../core/care/exercise.ts';
import type { OutlookChannel } from '../../../core/care/outlook.ts';
import { channelExercise } from '../../db/tables/careTables.ts';
import { channelFirings } from '../../db/tables/records.ts';
import type { printers } from '../../db/tables/floorTables.ts';
import { exercisedMs } from '../../db/exercised.ts';
import type { Shop, Work } from '../../shop.ts';
import { countIdle } from '../heads/idleSpells.ts';

type PrinterRow = typeof printers.$inferSelect;
const HOUR = 3_600_000;

/** Ink that exercises each channel of a printer (ml). */
export function exerciseDoses({ config }: Pick<PrinterRow, 'config'>): Record<string, number> {
  const dropPl = Math.max(...config.modes.map((mode) => mode.dropPl));
  const nozzles = config.machine.nozzlesPerChannel;
  return Object.fromEntries(
    config.channels.map(({ id, heads }) => [id, exerciseMl({ heads, nozzles, dropPl }, config.care.exerciseDrops)]),
  );
}

/**
 * Looks whether a firing that was just written down has exercised its channel. On a page-wide array only what every column across
 * the media got counts: its sums are a lower bound of what the most idle column got.
 */
export function keepExercise(work: Work, printer: PrinterRow, channelId: string, fromMs: number): void {
  const { tx } = work;
  const channel = printer.config.channels.find(({ id }) => id === channelId);
  const need = exerciseDoses(printer)[channelId];
  if (!channel || need === undefined) return;
  const limitMs = channel.idleLimitH * HOUR;
  const rows = tx
    .select({
      fromMs: channelFirings.fromMs,
      toMs: channelFirings.toMs,
      ml: sql<number>`coalesce(${channelFirings.evenMl}, ${channelFirings.ml})`,
    })
    .from(channelFirings)
    .where(
      and(
        eq(channelFirings.printerId, printer.id),
        eq(channelFirings.channelId, channelId),
        gte(channelFirings.toMs, Math.floor(fromMs - limitMs * DOSE_WINDOW)),
      ),
    )
    .all();
  const at = lastExercised(rows, limitMs, need);
  if (at === undefined) return;
  const exercisedMs = Math.floor(at);
  // Its idle spell ends where this firing began.
  countIdle(tx, printer, channel, fromMs);
  tx.insert(channelExercise)
    .values({ printerId: printer.id, channelId, exercisedMs })
    .onConflictDoUpdate({ target: [channelExercise.printerId, channelExercise.channelId], set: { exercisedMs } })
    .run();
}

/** The channels of a printer as their exercise is looked ahead. */
export function outlookChannels(shop: Shop, printer: PrinterRow): OutlookChannel[] {
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
