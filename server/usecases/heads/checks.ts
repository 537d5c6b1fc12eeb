import { desc, eq, sql } from 'drizzle-orm';
import type { Actor } from '../../../core/events/actor.ts';
import { withSpell } from '../../../core/heads/clogLearning.ts';
import type { ChannelFaults } from '../../../core/heads/nozzleFaults.ts';
import { afterCheck, newClogs, unfitModes } from '../../../core/heads/printerHeads.ts';
import {
  type FoundNozzles,
  type HeadAction,
  type ReadBy,
  type SpellsThen,
  careOutcomes,
  clogSpells,
  nozzleChecks,
} from '../../db/tables/headTables.ts';
import { findPrinter } from '../../db/findRows.ts';
import type { Reader } from '../../db/open.ts';
import type { printers } from '../../db/tables/floorTables.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { type HeadRow, countIdle, headRow, keepHead } from './idleSpells.ts';

export type CheckRow = typeof nozzleChecks.$inferSelect;
type PrinterRow = typeof printers.$inferSelect;

/** What somebody, or the device, has read on a check plot. */
export interface CheckReading {
  readonly by: ReadBy;
  readonly confidence: number | null;
  /** By channel; of those that are left out it says nothing. */
  readonly found: Readonly<Record<string, FoundNozzles>>;
}

/** A check plot was printed: it waits to be read. Told twice of the same care it stays one. */
export function checkPrinted(
  { tx }: Work,
  printer: PrinterRow,
  print: { readonly careId: string | null; readonly channelIds: readonly string[]; readonly printedMs: number },
): CheckRow | undefined {
  const spells: Record<string, SpellsThen> = {};
  for (const channel of printer.config.channels) {
    if (!print.channelIds.includes(channel.id)) continue;
    const row = countIdle(tx, printer, channel, print.printedMs);
    spells[channel.id] = { strain: row.strain, longestH: row.longestH };
    keepHead(tx, { ...row, longestH: 0 });
  }
  return tx
    .insert(nozzleChecks)
    .values({ id: newId('check'), printerId: printer.id, ...print, spells })
    .onConflictDoNothing()
    .returning()
    .get();
}

/** A check by its id. @throws Refused where there is none */
export function checkRow(db: Reader, id: string): CheckRow {
  const row = db.select().from(nozzleChecks).where(eq(nozzleChecks.id, id)).get();
  if (!row) throw new Refused(404, 'no-such-check', `There is no check ${id}.`);
  return row;
}

/** Checks of a printer, the latest first. */
export function latestChecks(db: Reader, printerId: string, count: number): CheckRow[] {
  return db
    .select()
    .from(nozzleChecks)
    .where(eq(nozzleChecks.printerId, printerId))
    .orderBy(desc(nozzleChecks.printedMs), desc(nozzleChecks.seq))
    .limit(count)
    .all();
}

/** A person, or a picture that a person has taken, says what a check shows. Read again it is corrected. */
export function readCheck(shop: Shop, checkId: string, reading: CheckReading, actor: Actor): void {
  transact(shop, (work) => {
    const check = checkRow(work.tx, checkId);
    const printer = findPrinter(work.tx, check.printerId);
    if (!printer) throw new Error(`no printer ${check.printerId}`);
    wantKnown(printer, reading);
    takeReading(work, printer, check, reading, actor);
  });
  shop.wakeDispatcher();
}

/** A plot that was printed before, or elsewhere, is read: it counts as printed now. @returns the id of its check */
export function readLoosePlot(shop: Shop, printerId: string, reading: CheckReading, actor: Actor): string {
  const id = transact(shop, (work) => {
    const printer = findPrinter(work.tx, printerId);
    if (!printer) throw new Refused(404, 'no-such-printer', `There is no printer ${printerId}.`);
    wantKnown(printer, reading);
    const print = { careId: null, channelIds: Object.keys(reading.found), printedMs: Math.floor(work.nowMs) };
    const check = checkPrinted(work, printer, print);
    if (!check) throw new Error('a check of no care is there already');
    takeReading(work, printer, check, reading, actor);
    return check.id;
  });
  shop.wakeDispatcher();
  return id;
}

/** Refuses what is said of channels or nozzles that there are not. */
function wantKnown({ name, config }: PrinterRow, { found }: CheckReading): void {
  for (const [channelId, faults] of Object.entries(found)) {
    const channel = config.channels.find(({ id }) => id === channelId);
    if (!channel) throw new Refused(422, 'no-such-channel', `${name} has no channel ${channelId}.`);
    const nozzles = channel.heads * config.machine.nozzlesPerChannel;
    const beyond = [...faults.missing, ...faults.weak, ...faults.crooked, ...faults.unjudged].find((n) => n >= nozzles);
    if (beyond !== undefined) {
      throw new Refused(
        422,
        'no-such-nozzle',
        `${channel.name} of ${name} has no nozzle ${String(beyond)}: they go from 0 to ${String(nozzles - 1)}.`,
        { nozzle: beyond, nozzles },
      );
    }
  }
}

/** What a reading changes: the check, the state of its channels, what is learned of clogs and of care. */
export function takeReading(
  work: Work,
  printer: PrinterRow,
  check: CheckRow,
  reading: CheckReading,
  actor: Actor,
): void {
  const { tx } = work;
  const before = new Map(Object.keys(reading.found).map((id) => [id, headRow(tx, printer, id)]));
  tx.update(nozzleChecks)
    .set({
      readMs: Math.floor(work.nowMs),
      by: reading.by,
      who: actor.name,
      confidence: reading.confidence,
      found: reading.found,
    })
    .where(eq(nozzleChecks.id, check.id))
    .run();
  // An older plot than the one that was read last tells nothing of now.
  for (const [channelId, found] of Object.entries(reading.found)) {
    const row = before.get(channelId);
    if (row && (row.checkedMs === null || check.printedMs >= row.checkedMs)) {
      channelRead(work, printer, row, found, check, check.readMs !== null);
    }
  }
  const counts = { missing: 0, weak: 0, crooked: 0 };
  for (const { missing, weak, crooked } of Object.values(reading.found)) {
    counts.missing += missing.length;
    counts.weak += weak.length;
    counts.crooked += crooked.length;
  }
  work.note({
    kind: 'check.read',
    subject: ['printer', printer.id],
    actor,
    data: { printer: printer.name, by: reading.by, ...counts },
  });
  work.touch({ type: 'printer', id: printer.id });
}

/** @param again it was read before: its figures are put right, and nothing is learned twice */
function channelRead(
  { tx }: Work,
  printer: PrinterRow,
  row: HeadRow,
  found: FoundNozzles,
  check: CheckRow,
  again: boolean,
): void {
  const channel = printer.config.channels.find(({ id }) => id === row.channelId);
  const nozzles = (channel?.heads ?? 1) * printer.config.machine.nozzlesPerChannel;
  if (!channel || found.unjudged.length >= nozzles) return;
  const faults = afterCheck(row.faults ?? undefined, found);
  if (again && row.checkedMs === check.printedMs) {
    keepHead(tx, { ...row, faults });
    return;
  }
  const then = check.spells[channel.id] ?? { strain: row.strain, longestH: row.longestH };
  // What the first check finds may be as old as the printer: clogs are learned from the second on.
  const clogs = row.faults === null ? 0 : newClogs(row.faults, faults);
  if (row.faults !== null) {
    tx.insert(clogSpells)
      .values({
        printerId: printer.id,
        channelId: channel.id,
        endedMs: check.printedMs,
        idleH: then.longestH,
        clogs,
      })
      .run();
  }
  const spell = {
    idleH: then.longestH,
    strain: {
      cubic: then.strain.cubic - row.learned.cubic,
      linear: then.strain.linear - row.learned.linear,
      late: then.strain.late - row.learned.late,
    },
    open: nozzles - (row.faults?.missing.length ?? 0) - (row.faults?.weak.length ?? 0),
    clogs,
  };
  keepHead(tx, {
    ...row,
    faults,
    checkedMs: check.printedMs,
    learned: then.strain,
    sums: row.faults === null ? row.sums : withSpell(row.sums, spell),
    done: [],
    failed: row.faults === null ? {} : outcomeOf(tx, printer, row, row.faults, faults),
  });
}

/**
 * Whether what was done since the last check has helped: every mode for which the channel was not fit is one for which it is now. Where
 * several actions lie between two checks, none of them is given the credit.
 * @returns how often each action has failed in a row for this state
 */
function outcomeOf(
  tx: Work['tx'],
  { config }: PrinterRow,
  { printerId, channelId, done, failed }: HeadRow,
  before: ChannelFaults,
  now: ChannelFaults,
): HeadRow['failed'] {
  const unfit = (faults: ChannelFaults): string[] => Object.keys(unfitModes(config, { [channelId]: faults }));
  const were = unfit(before);
  const are = unfit(now);
  const [action, other] = [...new Set(done)];
  if (were.length === 0 || action === undefined || other !== undefined) return are.length === 0 ? {} : failed;
  const helped = were.every((mode) => !are.includes(mode));
  countOutcome(tx, { printerId, channelId, action }, helped);
  return helped ? {} : { ...failed, [action]: (failed[action] ?? 0) + 1 };
}

function countOutcome(
  tx: Work['tx'],
  of: { readonly printerId: string; readonly channelId: string; readonly action: HeadAction },
  helped: boolean,
): void {
  tx.insert(careOutcomes)
    .values({ ...of, tried: 1, helped: Number(helped) })
    .onConflictDoUpdate({
      target: [careOutcomes.printerId, careOutcomes.channelId, careOutcomes.action],
      set: { tried: sql`${careOutcomes.tried} + 1`, helped: sql`${careOutcomes.helped} + ${Number(helped)}` },
    })
    .run();
}

/** A clean was done to channels: what it brought, the next check says. */
export function headsCleaned(
  { tx }: Work,
  printer: PrinterRow,
  channelIds: readonly string[],
  action: HeadAction,
): void {
  for (const channelId of channelIds) {
    const row = headRow(tx, printer, channelId);
    keepHead(tx, { ...row, done: [...row.done, action] });
  }
}
