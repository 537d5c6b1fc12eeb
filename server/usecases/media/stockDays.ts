import { and, eq, gt, gte, inArray, lt, max, min } from 'drizzle-orm';
import { tz } from '@date-fns/tz';
import { getISODay, startOfDay } from 'date-fns';
import type { LedgerEntry } from '../../../core/stock/roll.ts';
import { attendedSpans } from '../../../core/schedule/shopHours.ts';
import type { Reader } from '../../db/open.ts';
import { spoolLedger } from '../../db/tables/records.ts';
import { spools } from '../../db/tables/floorTables.ts';
import type { Shop } from '../../shop.ts';
import { shopSetup } from '../setup/shopSetup.ts';

const DAY_MS = 86_400_000;
/** So far back use is looked at: two years, for its months, and a little. */
const BACK_DAYS = 110 * 7;
/** What work and care take. Corrections, offcuts and what is thrown away are no use of a stock. */
const USES: readonly LedgerEntry['kind'][] = ['run', 'purge', 'leader'];

/** A day on which the shop was, or will be, open. */
export interface OpenDay {
  readonly fromMs: number;
  readonly weekday: number;
  readonly month: number;
}

/** Use of all stocks on the open days of the last two years, today left out. */
export interface StockDays {
  readonly days: readonly OpenDay[];
  /** By stock, for each of those days (mm); of a stock that came later, only from its first use on. */
  readonly used: ReadonlyMap<string, readonly number[]>;
  /** Days of the calendar since the first use of anything. */
  readonly spanDays: number;
}

/** Days on which somebody comes, by shop hours. */
export function openDays(shop: Pick<Shop, 'db' | 'clock'>, fromMs: number, toMs: number): OpenDay[] {
  const { zone } = shop.clock;
  const days: OpenDay[] = [];
  for (const span of attendedSpans(shopSetup(shop.db, zone), fromMs, toMs)) {
    const day = dayOf(span.fromMs, zone);
    const ms = day.getTime();
    if (days.at(-1)?.fromMs !== ms) days.push({ fromMs: ms, weekday: getISODay(day), month: day.getMonth() + 1 });
  }
  return days;
}

/** The beginning of the day of the shop that an instant lies in. */
export function dayOf(ms: number, zone: string): Date {
  return startOfDay(ms, { in: tz(zone) });
}

interface Kept {
  readonly key: string;
  /** The newest line of the ledgers that was looked at. */
  readonly lastId: number;
  readonly days: StockDays;
}

/** Days that are over are read once a day, when the hours are set anew, or when a line of the ledger comes late. */
const kept = new WeakMap<object, Kept>();

export function stockDays(shop: Pick<Shop, 'db' | 'clock'>): StockDays {
  const { db } = shop;
  const { zone } = shop.clock;
  const today = dayOf(shop.clock.now(), zone).getTime();
  const { days: hours, holidays } = shopSetup(db, zone);
  const key = JSON.stringify([today, zone, hours, holidays]);
  const known = kept.get(db);
  const { lastId, isLate } = since(db, known?.lastId, today);
  const days = known?.key === key && !isLate ? known.days : readDays(shop, today);
  kept.set(db, { key, lastId, days });
  return days;
}

/** What was booked since a line: few lines, since this is asked again and again. */
function since(
  db: Reader,
  lastId: number | undefined,
  today: number,
): { readonly lastId: number; readonly isLate: boolean } {
  if (lastId === undefined) {
    const newest = db
      .select({ id: max(spoolLedger.id) })
      .from(spoolLedger)
      .get();
    return { lastId: newest?.id ?? 0, isLate: false };
  }
  const row = db
    .select({ lastId: max(spoolLedger.id), firstMs: min(spoolLedger.atMs) })
    .from(spoolLedger)
    .where(gt(spoolLedger.id, lastId))
    .get();
  return { lastId: row?.lastId ?? lastId, isLate: row?.firstMs != null && row.firstMs < today };
}

function readDays(shop: Pick<Shop, 'db' | 'clock'>, today: number): StockDays {
  const from = Math.max(today - BACK_DAYS * DAY_MS, firstUseMs(shop.db) ?? today);
  const days = openDays(shop, dayOf(from, shop.clock.zone).getTime(), today).filter(({ fromMs }) => fromMs < today);
  const rows = shop.db
    .select({ stockId: spools.stockId, spoolId: spoolLedger.spoolId, atMs: spoolLedger.atMs, mm: spoolLedger.mm })
    .from(spoolLedger)
    .innerJoin(spools, eq(spools.id, spoolLedger.spoolId))
    .where(
      and(
        inArray(spoolLedger.kind, [...USES]),
        gte(spoolLedger.atMs, days[0]?.fromMs ?? today),
        lt(spoolLedger.atMs, today),
      ),
    )
    .all();
  const all = new Map<string, number[]>();
  for (const { stockId, atMs, mm } of rows) {
    // Work of a closed day counts with the next open one.
    const at = countedWith(days, atMs);
    if (at === undefined) continue;
    const own = all.get(stockId) ?? days.map(() => 0);
    own[at] = (own[at] ?? 0) - mm;
    all.set(stockId, own);
  }
  const used = new Map(
    [...all].map(([id, mm]) => [
      id,
      mm.slice(
        Math.max(
          0,
          mm.findIndex((each) => each > 0),
        ),
      ),
    ]),
  );
  return { days, used, spanDays: Math.round((today - from) / DAY_MS) };
}

function firstUseMs(db: Reader): number | undefined {
  const firsts = USES.map(
    (kind) =>
      db
        .select({ atMs: min(spoolLedger.atMs) })
        .from(spoolLedger)
        .where(eq(spoolLedger.kind, kind))
        .get()?.atMs ?? Infinity,
  );
  const first = Math.min(...firsts);
  return Number.isFinite(first) ? first : undefined;
}

/** The open day that an instant lies in, or the next after it; undefined: after the last. */
function countedWith(days: readonly OpenDay[], ms: number): number | undefined {
  let low = 0;
  let high = days.length;
  while (low < high) {
    const mid = (low + high) >> 1;
    if ((days[mid]?.fromMs ?? 0) > ms) high = mid;
    else low = mid + 1;
  }
  const at = low - 1;
  const day = days[at];
  if (day && ms < day.fromMs + DAY_MS) return at;
  return at + 1 < days.length ? at + 1 : undefined;
}
