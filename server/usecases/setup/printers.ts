import { isDeepStrictEqual } from 'node:util';
import { PLAIN_CARE } from '../../../core/care/careData.ts';
import { findPrinter } from '../../db/findRows.ts';
import { type Actor } from '../../../core/events/actor.ts';
import { and, eq, inArray, max } from 'drizzle-orm';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import type { PrinterChange, PrinterCreate } from '../../../contract/api/setup.ts';
import type { TicketValues } from '../../../core/ticket/ticket.ts';
import { dropsGrow, dropsOfMode } from '../../../core/coats/dropSizes.ts';
import { acceptsForm } from '../../../core/stock/form.ts';
import type { MachineAbout } from '../../../contract/machine/about.ts';
import type { CareWhat } from '../../../core/care/careData.ts';
import { careItems, purgeDesigns, timers } from '../../db/tables/careTables.ts';
import { careLine } from '../care/careItems.ts';
import { careWork } from '../care/careWork.ts';
import { hotFolders, jobs, queues, runs } from '../../db/tables/schema.ts';
import { printers, spools, stocks } from '../../db/tables/floorTables.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { forgetCounts } from '../output/countedInk.ts';
import { mmText } from '../../../core/units/lengthText.ts';

/** What only the shop can say of a printer, until somebody does. */
const SHOP_DEFAULTS = {
  ratePerHourMinor: 3000,
  changeOver: { stockMin: 10, modeMin: 2 },
  care: PLAIN_CARE,
  unattended: true,
  pool: null,
  defaults: { cutOff: 'none' as const },
};
const PRICE_PER_ML_MICRO = 110_000;

/** A new printer: a copy of one that is here, from a file, or as a device describes itself. */
export async function createPrinter(shop: Shop, order: PrinterCreate, actor: Actor): Promise<string> {
  const { from } = order;
  const told = from.kind === 'device' ? await askDevice(shop, from.deviceId) : undefined;
  return transact(shop, (work) => {
    const { tx } = work;
    const name = freeName(work, order.name, undefined);
    const config = told ? configOf(told) : from.kind === 'file' ? from.config : copyOf(work, from);
    mustBeSound(config);
    // A device answers to its own name; anything else gets one that no device has yet.
    const id = told ? told.id : newId('printer');
    if (findPrinter(tx, id)) {
      throw new Refused(409, 'is-here', `${told?.name ?? name} is described already.`);
    }
    const last = tx
      .select({ position: max(printers.position) })
      .from(printers)
      .get();
    tx.insert(printers)
      .values({ id, name, position: (last?.position ?? 0) + 1, config })
      .run();
    makeQueue(work, id, name, config);
    work.touch({ type: 'printer', id });
    work.note({ kind: 'printer.made', subject: ['printer', id], actor, data: { printer: name } });
    return id;
  });
}

async function askDevice(shop: Shop, deviceId: string): Promise<MachineAbout> {
  const about = await shop.link.about(deviceId).catch(() => undefined);
  if (!about) {
    throw new Refused(
      503,
      'no-answer',
      `The device ${deviceId} does not say what it can do.`,
      undefined,
      'Check that it is switched on.',
    );
  }
  return about;
}

function configOf({ id: _id, name: _name, channels, ...about }: MachineAbout): PrinterConfig {
  return {
    ...about,
    ...SHOP_DEFAULTS,
    channels: channels.map((channel) => ({ ...channel, pricePerMlMicro: PRICE_PER_ML_MICRO })),
  };
}

function copyOf({ tx }: Work, from: PrinterCreate['from']): PrinterConfig {
  const id = from.kind === 'copy' ? from.printerId : '';
  const like = findPrinter(tx, id);
  if (!like) throw new Refused(404, 'no-such-printer', `There is no printer ${id}.`);
  return like.config;
}

/** Without a queue nothing could ever be sent to it: it gets one with its first mode and the first stock that it takes. */
function makeQueue({ tx, touch }: Work, printerId: string, name: string, config: PrinterConfig): void {
  const stock = tx
    .select()
    .from(stocks)
    .all()
    .find((each) => acceptsForm(config.sources, each.form) && each.widthMm <= config.widestMediaMm);
  const modeId = config.modes[0]?.id;
  if (!stock || modeId === undefined) return;
  const last = tx
    .select({ position: max(queues.position) })
    .from(queues)
    .get();
  const id = newId('queue');
  tx.insert(queues)
    .values({
      id,
      name: `${name} queue`,
      printerId,
      settings: { modeId, stockId: stock.id },
      gapMm: 5,
      arrivalRule: 'prepare',
      checks: { warnBelowDpi: 80, noteBelowDpi: 120, bleedMm: 0, thinLineMm: 0.15, mostPages: 200 },
      position: (last?.position ?? 0) + 1,
    })
    .run();
  touch({ type: 'queue', id });
}

/** Changes what is said of a printer. Runs that are laid out keep what they were laid out by. */
export function changePrinter(shop: Shop, id: string, change: PrinterChange, actor: Actor): void {
  transact(shop, (work) => {
    const { tx } = work;
    const printer = findPrinter(tx, id);
    if (!printer) throw new Refused(404, 'no-such-printer', `There is no printer ${id}.`);
    const name = change.name === undefined ? printer.name : freeName(work, change.name, id);
    const config = change.config ?? printer.config;
    mustBeSound(config);
    mustKeepLoaded(work, id, config);
    mustKeepModes(work, id, config);
    mustKeepCare(work, { ...printer, name, config });
    tx.update(printers).set({ name, config }).where(eq(printers.id, id)).run();
    forgetCounts(
      work,
      ({ printerId, ticket }) =>
        printerId === id && !isDeepStrictEqual(firedBy(printer.config, ticket), firedBy(config, ticket)),
    );
    for (const queue of tx.select().from(queues).where(eq(queues.printerId, id)).all())
      work.touch({ type: 'queue', id: queue.id });
    work.touch({ type: 'printer', id });
    work.note({
      kind: 'printer.changed',
      subject: ['printer', id],
      actor,
      data: { printer: name },
      undo: {
        label: 'Undo',
        method: 'PATCH',
        path: `/api/printers/${id}`,
        body: { name: printer.name, config: printer.config },
      },
    });
  });
  shop.wakeDispatcher();
}

/** What of a printer decides how much ink the dots of a run are. */
function firedBy({ modes, channels }: PrinterConfig, { modeId }: Pick<TicketValues, 'modeId'>) {
  return [modes.find(({ id }) => id === modeId), channels.map(({ id, heads }) => [id, heads])];
}

/** What a schema can't say of a printer. */
function mustBeSound(config: PrinterConfig): void {
  const refuse = (text: string): never => {
    throw new Refused(422, 'unsound', text);
  };
  if (config.printableWidthMm > config.widestMediaMm + 1e-6) {
    refuse(
      `It can't print wider than its widest media: ${mmText(config.printableWidthMm)} of ${mmText(config.widestMediaMm)}.`,
    );
  }
  const parts = { source: config.sources, channel: config.channels, 'print mode': config.modes };
  for (const [what, list] of Object.entries(parts)) {
    const seen = new Set<string>();
    for (const { id, name } of list) {
      if (seen.has(id)) refuse(`Two of its ${what}s have the id ${id}: ${name}.`);
      seen.add(id);
    }
  }
  if (config.head === 'page-wide' && config.modes.some(({ lineMmPerS }) => lineMmPerS === null)) {
    refuse('Every mode of a page-wide array needs its line speed.');
  }
  for (const mode of config.modes) {
    const drops = dropsOfMode(mode);
    if (!dropsGrow(drops)) refuse(`The drops of ${mode.name} must grow: ${drops.map(plText).join(', ')} pl.`);
  }
  if (config.sources.some(({ kind }) => kind === 'bed') && config.beds.length === 0)
    refuse('A bed needs at least one platen size.');
}

function plText(pl: number): string {
  return String(Math.round(pl * 100) / 100);
}

/** A source can go only when nothing is loaded on it: a spool would hang in the air. */
function mustKeepLoaded({ tx }: Work, id: string, config: PrinterConfig): void {
  const lost = tx
    .select()
    .from(spools)
    .where(eq(spools.printerId, id))
    .all()
    .find((spool) => !config.sources.some((source) => source.id === spool.sourceId));
  if (lost)
    throw new Refused(
      409,
      'loaded',
      `${lost.label} stands in a source that would be gone.`,
      undefined,
      'Take it out first.',
    );
}

/** A mode can go only when no queue gives it and no live run prints in it. */
function mustKeepModes({ tx }: Work, id: string, config: PrinterConfig): void {
  const modes = new Set(config.modes.map((mode) => mode.id));
  const queue = tx
    .select()
    .from(queues)
    .where(eq(queues.printerId, id))
    .all()
    .find(({ settings }) => settings.modeId !== undefined && !modes.has(settings.modeId));
  if (queue)
    throw new Refused(
      409,
      'mode-in-use',
      `${queue.name} gives a print mode that would be gone.`,
      undefined,
      'Change the queue first.',
    );
  const live = tx
    .select()
    .from(runs)
    .where(and(eq(runs.printerId, id), inArray(runs.state, ['draft', 'queued', 'sent', 'printing', 'paused'])))
    .all()
    .find(({ ticket }) => !modes.has(ticket.modeId));
  if (live) throw new Refused(409, 'mode-in-use', `Run ${String(live.number)} prints in a mode that would be gone.`);
}

/** What is designed for a printer, and what its timers do, must be possible on it still: else the line could not be planned. */
function mustKeepCare({ tx }: Work, printer: typeof printers.$inferSelect): void {
  const designs = tx.select().from(purgeDesigns).where(eq(purgeDesigns.printerId, printer.id)).all();
  const what: CareWhat[] = [
    ...designs.map(({ id }) => ({ kind: 'purge' as const, designId: id })),
    ...tx
      .select()
      .from(timers)
      .where(eq(timers.printerId, printer.id))
      .all()
      .map((timer) => timer.what),
    ...careLine(tx, printer.id).map((care) => care.what),
  ];
  for (const each of what) {
    try {
      careWork(tx, printer, each);
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      const named = each.kind === 'purge' ? designs.find(({ id }) => id === each.designId)?.name : undefined;
      throw new Refused(
        409,
        'care-in-use',
        `Its ${named === undefined ? each.kind : `purge ${named}`} would not be possible any more: ${error.message}`,
        error.figures,
        'Change its purges and timers in the Rota first.',
      );
    }
  }
}

function freeName({ tx }: Work, wanted: string, own: string | undefined): string {
  const name = wanted.trim();
  const taken = tx
    .select()
    .from(printers)
    .all()
    .find((printer) => printer.name.toLowerCase() === name.toLowerCase() && printer.id !== own);
  if (taken)
    throw new Refused(409, 'name-taken', `A printer is called ${name} already.`, undefined, 'Choose another name.');
  return name;
}

/** Takes a printer off the floor that nothing holds on to. */
export function removePrinter(shop: Shop, id: string, actor: Actor): void {
  transact(shop, (work) => {
    const { tx } = work;
    const printer = findPrinter(tx, id);
    if (!printer) throw new Refused(404, 'no-such-printer', `There is no printer ${id}.`);
    const held = [
      tx.select().from(runs).where(eq(runs.printerId, id)).all().length > 0 ? 'runs' : '',
      tx.select().from(spools).where(eq(spools.printerId, id)).all().length > 0 ? 'spools' : '',
      tx.select().from(timers).where(eq(timers.printerId, id)).limit(1).all().length > 0 ? 'timers' : '',
      tx.select().from(purgeDesigns).where(eq(purgeDesigns.printerId, id)).limit(1).all().length > 0 ? 'purges' : '',
      tx.select().from(careItems).where(eq(careItems.printerId, id)).limit(1).all().length > 0
        ? 'care in its history'
        : '',
    ].filter(Boolean);
    if (held.length > 0) {
      throw new Refused(409, 'in-use', `${printer.name} has ${held.join(' and ')}; it can’t be removed.`);
    }
    const own = tx.select({ id: queues.id }).from(queues).where(eq(queues.printerId, id)).all();
    mustBeEmpty(
      work,
      own.map((queue) => queue.id),
      printer.name,
    );
    tx.delete(queues).where(eq(queues.printerId, id)).run();
    tx.delete(printers).where(eq(printers.id, id)).run();
    work.touch({ type: 'printer', id }, ...own.map((queue) => ({ type: 'queue' as const, id: queue.id })));
    work.note({ kind: 'printer.removed', subject: ['printer', id], actor, data: { printer: printer.name } });
  });
}

/** A printer can go only when its queues hold no jobs and no hot folders. */
function mustBeEmpty({ tx }: Work, queueIds: readonly string[], name: string): void {
  const held = tx
    .select({ id: jobs.id })
    .from(jobs)
    .where(inArray(jobs.queueId, [...queueIds]))
    .limit(1)
    .all();
  const folders = tx
    .select()
    .from(hotFolders)
    .where(inArray(hotFolders.queueId, [...queueIds]))
    .all();
  if (folders.length > 0)
    throw new Refused(409, 'in-use', `${name} has hot folders.`, undefined, 'Give them up first.');
  if (held.length > 0)
    throw new Refused(409, 'in-use', `${name} has jobs in its queues.`, undefined, 'Move them to another queue first.');
}
