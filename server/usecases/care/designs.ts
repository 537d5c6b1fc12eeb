import { asc, eq } from 'drizzle-orm';
import type { PurgeDesignBody, PurgeDesignView, PurgeFiguresView } from '../../../contract/api/care.ts';
import { counted } from '../../../core/counted.ts';
import { toMinor } from '../../../core/estimate/money.ts';
import { type ClogPace, expectedClogs } from '../../../core/care/clogs.ts';
import { clogPace } from '../heads/idleSpells.ts';
import { acceptsForm } from '../../../core/stock/form.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { purgeDesigns, timers } from '../../db/tables/careTables.ts';
import type { Reader } from '../../db/open.ts';
import { spools, stocks } from '../../db/tables/floorTables.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { mmText } from '../../../core/units/lengthText.ts';
import { careLine } from './careItems.ts';
import { exerciseDoses } from './exercise.ts';
import { rasterSize } from './purgeOutput.ts';
import { type DesignRow, carePrinter, designRow, figuresOf } from './careWork.ts';

export function designViews(shop: Shop): PurgeDesignView[] {
  return shop.db
    .select()
    .from(purgeDesigns)
    .orderBy(asc(purgeDesigns.printerId), asc(purgeDesigns.name))
    .all()
    .map((row) => designView(shop, row));
}

export function designView(shop: Shop, row: DesignRow): PurgeDesignView {
  const { levels, ...sheet } = row.sheet;
  return { ...row, sheet: { ...sheet, levels: { ...levels } }, figures: tryDesign(shop, row) };
}

/** What a design would take, before it is kept. @throws Refused where it can't be printed */
export function tryDesign(shop: Shop, body: Omit<DesignRow, 'id'>): PurgeFiguresView {
  const printer = carePrinter(shop.db, body.printerId);
  const { inkMl, ...figures } = figuresOf(printer, body);
  const stock = shop.db.select().from(stocks).where(eq(stocks.id, body.stockId)).get();
  const inkMicro = printer.config.channels.reduce(
    (sum, { id, pricePerMlMicro }) => sum + (inkMl[id] ?? 0) * pricePerMlMicro,
    0,
  );
  const mediaMicro = ((figures.fedMm * (stock?.widthMm ?? 0)) / 1e6) * (stock?.pricePerM2Minor ?? 0) * MICRO_PER_MINOR;
  return {
    ...figures,
    inkMl: { ...inkMl },
    costMinor: toMinor(inkMicro + mediaMicro),
    currency: shop.currency(),
    week: RHYTHMS.map((rhythm) =>
      weekOf(printer, { inkMl, inkMicro, mediaMicro }, rhythm, (id) => clogPace(shop.db, printer, id)),
    ),
  };
}

const MICRO_PER_MINOR = 10_000;
const WEEK_H = 168;

/** What could be done in place of this purge once a day: how often, and how dense by comparison. */
const RHYTHMS = [
  { text: 'once a day', everyH: 24, share: 1 },
  { text: 'a third as dense, three times a day', everyH: 8, share: 1 / 3 },
  { text: 'every other day', everyH: 48, share: 1 },
  { text: 'no purge', everyH: Infinity, share: 0 },
] as const;

/** A week without any work: what that takes, and how many nozzles clog. A sheet below its dose exercises nothing, however often it comes. */
function weekOf(
  printer: ReturnType<typeof carePrinter>,
  {
    inkMl,
    inkMicro,
    mediaMicro,
  }: { readonly inkMl: Readonly<Record<string, number>>; readonly inkMicro: number; readonly mediaMicro: number },
  { text, everyH, share }: (typeof RHYTHMS)[number],
  paces: (channelId: string) => ClogPace,
): PurgeFiguresView['week'][number] {
  const doses = exerciseDoses(printer);
  const times = everyH === Infinity ? 0 : WEEK_H / everyH;
  const clogs = printer.config.channels
    .filter(({ id }) => (inkMl[id] ?? 0) > 0)
    .reduce((sum, { id, heads, idleLimitH: limitH }) => {
      const isEnough = (inkMl[id] ?? 0) * share >= (doses[id] ?? Infinity) - 1e-12;
      const nozzles = printer.config.machine.nozzlesPerChannel * heads;
      return sum + expectedClogs(WEEK_H, isEnough ? everyH : Infinity, { limitH, nozzles }, paces(id));
    }, 0);
  const ml = Object.values(inkMl).reduce((sum, each) => sum + each, 0);
  return { text, inkMl: ml * share * times, costMinor: toMinor((inkMicro * share + mediaMicro) * times), clogs };
}

function mustBeSound({ tx }: Work, body: PurgeDesignBody): void {
  const printer = carePrinter(tx, body.printerId);
  rasterSize(printer, body);
  const unknown = Object.keys(body.sheet.levels).find((id) => !printer.config.channels.some((each) => each.id === id));
  if (unknown !== undefined) throw new Refused(422, 'no-such-channel', `${printer.name} has no channel ${unknown}.`);
  const stock = tx.select().from(stocks).where(eq(stocks.id, body.stockId)).get();
  if (!stock) throw new Refused(404, 'no-such-stock', `There is no stock ${body.stockId}.`);
  if ((stock.form === 'sheet') !== (body.sheet.form === 'sheet')) {
    throw new Refused(
      422,
      'wrong-form',
      `${stock.name} is ${stock.form === 'sheet' ? 'sheets' : `a ${stock.form}`}; the purge is designed for a ${body.sheet.form}.`,
      undefined,
      'Choose another stock, or the other form.',
    );
  }
  mustLieOn(printer, body, stock);
}

/** A purge is never printed beyond its media. */
function mustLieOn(
  { config }: ReturnType<typeof carePrinter>,
  { sheet }: PurgeDesignBody,
  stock: typeof stocks.$inferSelect,
): void {
  const { leftMm, rightMm } = config.mediaMarginMm;
  const mostMm = stock.form === 'sheet' ? stock.widthMm : stock.widthMm - leftMm - rightMm;
  if (stock.widthMm <= config.widestMediaMm && sheet.widthMm <= mostMm + 0.5) {
    if (stock.sheetMm === null || Math.abs(stock.sheetMm - sheet.lengthMm) <= 0.5) return;
    throw new Refused(
      422,
      'other-sheet',
      `A sheet of ${stock.name} is ${mmText(stock.sheetMm)} long, not ${mmText(sheet.lengthMm)}.`,
      { sheetMm: stock.sheetMm, lengthMm: sheet.lengthMm },
      'Say the size of its sheet.',
    );
  }
  throw new Refused(
    422,
    'wider-than-media',
    `It is wider than what can be printed on ${stock.name}: ${mmText(sheet.widthMm)} of ${mmText(mostMm)}.`,
    { widthMm: sheet.widthMm, mostMm },
    'Make it narrower, or choose a wider stock.',
  );
}

export function createDesign(shop: Shop, body: PurgeDesignBody, actor: Actor): string {
  return transact(shop, (work) => keepDesign(work, body, actor));
}

function keepDesign(work: Work, body: PurgeDesignBody, actor: Actor): string {
  mustBeSound(work, body);
  const id = newId('design');
  work.tx
    .insert(purgeDesigns)
    .values({ ...body, id })
    .run();
  noted(work, 'design.made', body, actor);
  return id;
}

/** A design for another printer: its own of that name, else a copy that is kept. */
export function designFor(work: Work, id: string, printerId: string, actor: Actor): string {
  if (designRow(work.tx, id).printerId === printerId) return id;
  const { body, ownId } = copyOfDesign(work.tx, id, printerId);
  return ownId ?? keepDesign(work, body, actor);
}

export function changeDesign(shop: Shop, id: string, body: PurgeDesignBody, actor: Actor): void {
  transact(shop, (work) => {
    const before = designRow(work.tx, id);
    if (before.printerId !== body.printerId) {
      throw new Refused(
        422,
        'other-printer',
        'A design stays with its printer.',
        undefined,
        'Copy it to the other printer.',
      );
    }
    mustBeSound(work, body);
    work.tx.update(purgeDesigns).set(body).where(eq(purgeDesigns.id, id)).run();
    const { id: _id, ...old } = before;
    noted(work, 'design.changed', body, actor, { label: 'Undo', method: 'PUT', path: `/api/purges/${id}`, body: old });
  });
}

export function removeDesign(shop: Shop, id: string, actor: Actor): void {
  transact(shop, (work) => {
    const before = designRow(work.tx, id);
    const used = work.tx
      .select()
      .from(timers)
      .where(eq(timers.printerId, before.printerId))
      .all()
      .filter(({ what }) => what.kind === 'purge' && what.designId === id);
    const inLine = careLine(work.tx, before.printerId).some(
      ({ what }) => what.kind === 'purge' && what.designId === id,
    );
    if (inLine) {
      throw new Refused(
        409,
        'in-use',
        `${before.name} is in the line.`,
        undefined,
        'Take it out, or let it be printed first.',
      );
    }
    if (used.length > 0) {
      throw new Refused(
        409,
        'in-use',
        `${before.name} is printed by ${counted(used.length, 'timer')}.`,
        { timers: used.length },
        'Remove its timers first.',
      );
    }
    work.tx.delete(purgeDesigns).where(eq(purgeDesigns.id, id)).run();
    const { id: _id, ...old } = before;
    noted(work, 'design.removed', before, actor, { label: 'Undo', method: 'POST', path: '/api/purges', body: old });
  });
}

function noted(
  work: Work,
  kind: 'design.made' | 'design.changed' | 'design.removed',
  { printerId, name }: Pick<DesignRow, 'printerId' | 'name'>,
  actor: Actor,
  undo?: Parameters<Work['note']>[0]['undo'],
): void {
  const printer = carePrinter(work.tx, printerId).name;
  work.note({
    kind,
    subject: ['printer', printerId],
    actor,
    data: { design: name, printer },
    ...(undo ? { undo } : {}),
  });
  work.touch({ type: 'printer', id: printerId });
}

/** Length of a purge on a roll, where it was designed for a sheet (mm). */
const ROLL_MM = 150;

/** What a design is printed on at another printer: its own stock where that can be fed there, else what is loaded. */
function mediaThere(
  db: Reader,
  { stockId, sheet }: Pick<DesignRow, 'stockId' | 'sheet'>,
  to: ReturnType<typeof carePrinter>,
): Pick<PurgeDesignBody['sheet'], 'form' | 'widthMm' | 'lengthMm'> & {
  readonly stockId: string;
  readonly name: string;
} {
  const { sources, widestMediaMm, printableWidthMm, mediaMarginMm } = to.config;
  const fits = (stock: typeof stocks.$inferSelect): boolean =>
    acceptsForm(sources, stock.form) && stock.form !== 'garment' && stock.widthMm <= widestMediaMm;
  const all = db.select().from(stocks).all();
  const loaded = db.select({ stockId: spools.stockId }).from(spools).where(eq(spools.printerId, to.id)).all();
  const own = all.find(({ id }) => id === stockId);
  const isLoaded = ({ id }: typeof stocks.$inferSelect): boolean => loaded.some((spool) => spool.stockId === id);
  const suits = ({ suits: by }: typeof stocks.$inferSelect): boolean => by === null || by[to.id] !== undefined;
  const stock =
    own && fits(own) && suits(own) ? own : (all.find((each) => fits(each) && isLoaded(each)) ?? all.find(fits));
  if (!stock) {
    throw new Refused(
      422,
      'no-media',
      `${to.name} takes no media that a purge could be printed on.`,
      undefined,
      'Leave this printer out.',
    );
  }
  const across = Math.min(printableWidthMm, stock.widthMm - mediaMarginMm.leftMm - mediaMarginMm.rightMm);
  const { id, name } = stock;
  if (stock.form === 'sheet')
    return { stockId: id, name, form: 'sheet', widthMm: stock.widthMm, lengthMm: stock.sheetMm ?? sheet.lengthMm };
  const lengthMm = sheet.form === 'roll' ? sheet.lengthMm : ROLL_MM;
  return {
    stockId: id,
    name,
    form: 'roll',
    widthMm: sheet.form === 'roll' ? Math.min(sheet.widthMm, across) : across,
    lengthMm,
  };
}

/** What of a design another printer can do: channels by name, and what differs. */
export interface DesignCopy {
  readonly body: PurgeDesignBody;
  readonly differences: readonly string[];
  /** A design of that name that the printer has already. */
  readonly ownId: string | null;
}

/**
 * A design as it would be on another printer. Channels go by their ids; the stock stays where it can be fed there, else it is what is
 * loaded; the mode is the one of the nearest resolution.
 */
export function copyOfDesign(db: Reader, id: string, printerId: string): DesignCopy {
  const { id: _id, ...design } = designRow(db, id);
  const from = carePrinter(db, design.printerId);
  const to = carePrinter(db, printerId);
  const differences: string[] = [];
  const has = (channelId: string): boolean => to.config.channels.some((each) => each.id === channelId);
  const lost = Object.entries(design.sheet.levels).filter(([channelId, level]) => level > 0 && !has(channelId));
  for (const [channelId] of lost) {
    const name = from.config.channels.find((each) => each.id === channelId)?.name ?? channelId;
    differences.push(`${to.name} has no ${name.toLowerCase()}; it is left out.`);
  }
  for (const { id: channelId, name } of to.config.channels) {
    if (from.config.channels.some((each) => each.id === channelId)) continue;
    differences.push(`${name} is not in the design; it is not fired.`);
  }
  const before = from.config.modes.find((mode) => mode.id === design.modeId);
  const dots = (mode: { readonly dpiX: number; readonly dpiY: number }): number => mode.dpiX * mode.dpiY;
  const [mode] = [...to.config.modes].sort(
    (a, b) => Math.abs(dots(a) - dots(before ?? a)) - Math.abs(dots(b) - dots(before ?? b)),
  );
  if (mode && before && (mode.dpiX !== before.dpiX || mode.dpiY !== before.dpiY)) {
    differences.push(
      `Printed in ${mode.name}, ${String(mode.dpiX)} × ${String(mode.dpiY)}, instead of ${before.name}.`,
    );
  }
  const levels = Object.fromEntries(Object.entries(design.sheet.levels).filter(([channelId]) => has(channelId)));
  const media = mediaThere(db, design, to);
  if (media.stockId !== design.stockId) differences.push(`Printed on ${media.name}, which ${to.name} can take.`);
  else if (media.widthMm < design.sheet.widthMm) differences.push(`As wide as ${to.name} prints.`);
  const own = db.select().from(purgeDesigns).where(eq(purgeDesigns.printerId, printerId)).all();
  return {
    ownId: own.find(({ name }) => name === design.name)?.id ?? null,
    body: {
      ...design,
      printerId,
      stockId: media.stockId,
      modeId: mode?.id ?? design.modeId,
      sheet: { ...design.sheet, form: media.form, widthMm: media.widthMm, lengthMm: media.lengthMm, levels },
    },
    differences,
  };
}
