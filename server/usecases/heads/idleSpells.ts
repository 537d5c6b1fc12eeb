import { and, eq } from 'drizzle-orm';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import type { ClogPace } from '../../../core/care/clogs.ts';
import {
  NO_SUMS,
  STRAIN_FORMS,
  type StrainForm,
  clogRate,
  meanRate,
  strainForm,
  strainOf,
} from '../../../core/heads/clogLearning.ts';
import { exercisedMs } from '../../db/exercised.ts';
import { channelHeads } from '../../db/tables/headTables.ts';
import type { Reader } from '../../db/open.ts';
import type { printers } from '../../db/tables/floorTables.ts';
import type { Tx } from '../../db/open.ts';

export type HeadRow = typeof channelHeads.$inferSelect;
type PrinterRow = Pick<typeof printers.$inferSelect, 'id' | 'config' | 'measured'>;

const HOUR = 3_600_000;

/** What is known of the nozzles of a channel; a channel that was never looked at has an empty row. */
export function headRow(db: Reader, printer: PrinterRow, channelId: string): HeadRow {
  const kept = db
    .select()
    .from(channelHeads)
    .where(and(eq(channelHeads.printerId, printer.id), eq(channelHeads.channelId, channelId)))
    .get();
  return (
    kept ?? {
      printerId: printer.id,
      channelId,
      faults: null,
      checkedMs: null,
      strain: noStrain(),
      learned: noStrain(),
      countedMs: 0,
      longestH: 0,
      sums: NO_SUMS,
      done: [],
      failed: {},
    }
  );
}

/** Keeps what is known of a channel. */
export function keepHead(tx: Tx, row: HeadRow): void {
  const { printerId: _printer, channelId: _channel, ...set } = row;
  tx.insert(channelHeads)
    .values(row)
    .onConflictDoUpdate({ target: [channelHeads.printerId, channelHeads.channelId], set })
    .run();
}

/**
 * Counts the idle time of a channel up to an instant into its strain. The strain of a spell belongs to the spell as a whole: what was
 * counted of it before is not counted again.
 */
export function countIdle(
  tx: Tx,
  printer: PrinterRow,
  channel: PrinterConfig['channels'][number],
  untilMs: number,
): HeadRow {
  const row = headRow(tx, printer, channel.id);
  const since = exercisedMs(tx, printer)[channel.id];
  if (since === undefined || untilMs <= since || untilMs <= row.countedMs) return row;
  const limitMs = channel.idleLimitH * HOUR;
  const x = (ms: number): number => Math.max(0, ms - since) / limitMs;
  const strain = { ...row.strain };
  for (const form of STRAIN_FORMS) strain[form] += strainOf(x(untilMs), form) - strainOf(x(row.countedMs), form);
  const counted = {
    ...row,
    strain,
    countedMs: Math.floor(untilMs),
    longestH: Math.max(row.longestH, (untilMs - since) / HOUR),
  };
  keepHead(tx, counted);
  return counted;
}

/** How fast a channel clogs, as its checks have told so far. */
export function clogPace(db: Reader, printer: PrinterRow, channelId: string): ClogPace {
  const { sums } = headRow(db, printer, channelId);
  return { theta: meanRate(clogRate(sums)), form: strainForm(sums) };
}

export function noStrain(): Record<StrainForm, number> {
  return { cubic: 0, linear: 0, late: 0 };
}
