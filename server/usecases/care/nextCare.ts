import { CARE_ORDER } from '../../../core/care/careData.ts';
import { CARE_STATES_ON_PRINTER } from '../../../core/flow/care.ts';
import { metresText } from '../../../core/units/lengthText.ts';
import { channelsThatShow } from '../../../core/heads/printerHeads.ts';
import { outputTrouble } from '../../../core/stock/takeUp.ts';
import { neededMm } from '../../../core/stock/need.ts';
import { runName } from '../../../core/flow/runName.ts';
import { feedingOf } from '../../db/feeding.ts';
import { findRun } from '../../db/findRows.ts';
import { spoolLeftMm } from '../../db/printerViews.ts';
import type { Reader } from '../../db/open.ts';
import { type printers, spools, stocks } from '../../db/tables/floorTables.ts';
import { eq } from 'drizzle-orm';
import type { Shop } from '../../shop.ts';
import { type CareRow, careLine, giveUpCare, mayBeginMs, skipCare } from './careItems.ts';
import { outlookNow } from './careOutlook.ts';
import { careWork } from './careWork.ts';

type PrinterRow = typeof printers.$inferSelect;

/** What is on a printer instead of a run. */
export function careOnPrinter(db: Reader, printerId: string): CareRow | undefined {
  return careLine(db, printerId).find(({ state }) => CARE_STATES_ON_PRINTER.includes(state));
}

/** Care that may be sent now, and the spool that it is printed from. */
export interface ReadyCare {
  readonly care: CareRow;
  readonly spoolId: string | null;
}

/** What care is printed from, and the length that it takes there: whole sheets. */
export interface CareMedia {
  readonly spoolId: string | null;
  readonly fedMm: number;
  /** Channels that show on it; left out: all that are fired. */
  readonly shown?: readonly string[];
}

type ShownOn = Pick<typeof stocks.$inferSelect, 'colour' | 'clear'>;

const NO_MEDIA: CareMedia = { spoolId: null, fedMm: 0 };

/**
 * The care that a free printer does next. What work has done already is skipped; what lacks its media waits until its latest start
 * and is given up then; neither keeps the line from going on.
 */
export function nextCare(shop: Shop, printer: PrinterRow): ReadyCare | undefined {
  const nowMs = shop.clock.now();
  const rank = ({ what }: CareRow): number => CARE_ORDER.indexOf(what.kind);
  const due = careLine(shop.db, printer.id)
    .filter((row) => row.state === 'waiting' && mayBeginMs(row) <= nowMs)
    .sort((a, b) => mayBeginMs(a) - mayBeginMs(b) || rank(a) - rank(b));
  for (const [i, care] of due.entries()) {
    const ready = prepare(shop, printer, care, due.slice(i + 1), nowMs);
    if (ready) return ready;
  }
  return undefined;
}

function prepare(
  shop: Shop,
  printer: PrinterRow,
  row: CareRow,
  behind: readonly CareRow[],
  nowMs: number,
): ReadyCare | undefined {
  const { stockId } = careWork(shop.db, printer, row.what);
  const run = row.runId === null ? undefined : findRun(shop.db, row.runId);
  const before = run?.state === 'queued' ? run : undefined;
  if (row.ruleId !== null && !before) {
    giveUpCare(shop, row.id, `${run ? runName(run.number) : 'its run'} is no longer in the line`);
    return undefined;
  }
  const kept = before && { stockId: before.ticket.stockId, needMm: neededMm(feedingOf(shop.db)(before)) };
  const shows =
    row.what.kind === 'check' ? (stock: ShownOn) => channelsThatShow(printer.config.channels, stock) : undefined;
  const found = row.fedMm > 0 ? mediaFor(shop.db, printer.id, stockId, row.fedMm, kept, shows) : NO_MEDIA;
  const full = 'lacks' in found ? undefined : outOf(shop.db, printer, found);
  const media = full === undefined ? found : { lacks: full };
  if ('lacks' in media && row.ruleId !== null) {
    giveUpCare(shop, row.id, media.lacks);
    return undefined;
  }
  // Whether work has done it is asked once, when it could begin or is to be given up: that takes a plan of the whole floor.
  if ('lacks' in media && nowMs <= row.latestMs) return undefined;
  // What a person has asked for is done.
  const care = row.what.kind === 'purge' && row.timerId !== null ? purgeNow(shop, printer, row, behind) : row;
  if (!care) return undefined;
  if (!('lacks' in media)) {
    const { fedMm, spoolId, shown } = media;
    const inkMl = shown
      ? Object.fromEntries(Object.entries(care.inkMl).filter(([id]) => shown.includes(id)))
      : care.inkMl;
    return { care: { ...care, fedMm, inkMl }, spoolId };
  }
  giveUpCare(shop, care.id, media.lacks);
  return undefined;
}

/** A purge of a timer as far as it is needed; undefined: skipped. */
function purgeNow(shop: Shop, printer: PrinterRow, row: CareRow, behind: readonly CareRow[]): CareRow | undefined {
  const covered = behind.some(
    (other) =>
      other.what.kind === 'purge' &&
      other.dueMs <= row.latestMs &&
      Object.entries(row.inkMl).every(([id, ml]) => (other.inkMl[id] ?? 0) >= ml - 1e-9),
  );
  if (covered) {
    skipCare(shop, row, 'another does it');
    return undefined;
  }
  const outlook = outlookNow(shop, printer, row.id);
  if (!outlook) return row;
  if (outlook.fires.length === 0) {
    skipCare(shop, row, 'exercised by work');
    return undefined;
  }
  const inkMl = Object.fromEntries(Object.entries(row.inkMl).filter(([id]) => outlook.fires.includes(id)));
  return { ...row, inkMl, savedMl: outlook.savedMl };
}

/**
 * The loaded spool that care is printed from: of its stock, or the widest; of several the one with the least that is enough.
 * @param shows channels that show on a stock: where most do is taken first
 * @param kept what the run behind it takes: care never makes a spool too short for it
 */
export function mediaFor(
  db: Reader,
  printerId: string,
  stockId: string | null,
  fedMm: number,
  kept?: { readonly stockId: string; readonly needMm: number },
  shows?: (stock: ShownOn) => readonly string[],
): CareMedia | { readonly lacks: string } {
  const loaded = db
    .select({ spool: spools, stock: stocks })
    .from(spools)
    .innerJoin(stocks, eq(stocks.id, spools.stockId))
    .where(eq(spools.printerId, printerId))
    .all()
    .map(({ spool, stock }) => ({
      ...{
        id: spool.id,
        label: spool.label,
        stockId: stock.id,
        widthMm: spool.widthMm ?? stock.widthMm,
      },
      ...(shows ? { shown: shows(stock) } : {}),
      leftMm: spoolLeftMm(db, spool.id) - (kept?.stockId === stock.id ? kept.needMm : 0),
      fedMm: stock.sheetMm === null ? fedMm : Math.ceil(fedMm / stock.sheetMm - 1e-9) * stock.sheetMm,
    }));
  const right = loaded.filter((each) => (stockId === null || each.stockId === stockId) && each.shown?.length !== 0);
  const [best] = right
    .filter((each) => each.leftMm >= each.fedMm - 1e-6)
    .sort(
      (a, b) =>
        (b.shown?.length ?? 0) - (a.shown?.length ?? 0) ||
        (stockId === null ? b.widthMm - a.widthMm : 0) ||
        a.leftMm - b.leftMm,
    );
  if (best) {
    const { id: spoolId, fedMm: feeds, shown } = best;
    return { spoolId, fedMm: feeds, ...(shown ? { shown } : {}) };
  }
  const [short] = right;
  if (short && kept?.stockId === short.stockId) {
    return { lacks: `${short.label} would be too short for the run behind it` };
  }
  if (short) return { lacks: `${short.label} has ${metresText(short.leftMm)} left of ${metresText(short.fedMm)}` };
  const wanted = stockId === null ? undefined : db.select().from(stocks).where(eq(stocks.id, stockId)).get()?.name;
  if (wanted !== undefined) return { lacks: `${wanted} is not loaded` };
  return { lacks: loaded.length > 0 ? 'no ink shows on what is loaded' : 'nothing is loaded' };
}

/** Why what care feeds can't come out of a printer as it is now; undefined: it can. */
export function outOf(db: Reader, { config, measured }: PrinterRow, { spoolId, fedMm }: CareMedia): string | undefined {
  const spool = spoolId === null ? undefined : db.select().from(spools).where(eq(spools.id, spoolId)).get();
  const out = spool && outputTrouble(config, spool.takeUp, fedMm, measured?.collectedMm ?? 0);
  if (!out) return undefined;
  const [have, need] = [metresText(out.haveMm), metresText(out.needMm)];
  return out.code === 'basket' ? `the basket takes ${have} more of ${need}` : `${need} would hang free of ${have}`;
}
