import { and, eq, gte, ne } from 'drizzle-orm';
import { DOSE_WINDOW, exerciseMl, lastExercised } from '../../../core/care/exercise.ts';
import { channelExercise } from '../../db/careTables.ts';
import { channelFirings } from '../../db/records.ts';
import type { printers } from '../../db/schema.ts';
import type { Work } from '../../shop.ts';

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
 * Looks whether a firing that was just written down has exercised its channel. On a page-wide array only nozzles over the printed
 * place fire: work there never counts, care that goes across the whole width does.
 */
export function keepExercise(
  { tx }: Work,
  printer: PrinterRow,
  channelId: string,
  firing: { readonly fromMs: number; readonly byRun: boolean },
): void {
  if (firing.byRun && printer.config.head === 'page-wide') return;
  const channel = printer.config.channels.find(({ id }) => id === channelId);
  const need = exerciseDoses(printer)[channelId];
  if (!channel || need === undefined) return;
  const limitMs = channel.idleLimitH * HOUR;
  const rows = tx
    .select({ fromMs: channelFirings.fromMs, toMs: channelFirings.toMs, ml: channelFirings.ml })
    .from(channelFirings)
    .where(
      and(
        eq(channelFirings.printerId, printer.id),
        eq(channelFirings.channelId, channelId),
        printer.config.head === 'page-wide' ? ne(channelFirings.purpose, 'run') : undefined,
        gte(channelFirings.toMs, Math.floor(firing.fromMs - limitMs * DOSE_WINDOW)),
      ),
    )
    .all();
  const at = lastExercised(rows, limitMs, need);
  if (at === undefined) return;
  const exercisedMs = Math.floor(at);
  tx.insert(channelExercise)
    .values({ printerId: printer.id, channelId, exercisedMs })
    .onConflictDoUpdate({ target: [channelExercise.printerId, channelExercise.channelId], set: { exercisedMs } })
    .run();
}
