import { and, gte, lte, ne } from 'drizzle-orm';
import type { RotaItem, RotaView } from '../../../contract/api/care.ts';
import { toMinor } from '../../../core/estimate/money.ts';
import { whenBusy } from '../../../core/care/purgeRule.ts';
import { attendedSpans } from '../../../core/schedule/shopHours.ts';
import type { Line } from '../../../core/schedule/plan.ts';
import { planFloor } from '../../../core/schedule/planFloor.ts';
import { careItems } from '../../db/careTables.ts';
import { findPrinter } from '../../db/findRows.ts';
import type { printers } from '../../db/schema.ts';
import type { Shop } from '../../shop.ts';
import { readFloor } from '../plan/fit.ts';
import { type Floor, snapshotFor } from '../plan/plannedFloor.ts';
import { shopSetup } from '../setup/shopSetup.ts';
import { type CareRow, careBetween, overdueOf } from './careItems.ts';
import { outlookOfLine } from './careOutlook.ts';
import { careWork } from './careWork.ts';
import { comingOf, timersOf } from './plannedCare.ts';
import { holidayTest } from './timers.ts';

type PrinterRow = typeof printers.$inferSelect;

const OUTCOMES: Readonly<Partial<Record<CareRow['state'], RotaItem['outcome']>>> = {
  done: 'done',
  failed: 'failed',
  skipped: 'skipped',
  impossible: 'impossible',
  cancelled: 'cancelled',
};
/** Care that began so much after its latest start is late (ms). */
const LATE_MS = 60_000;

/** What has happened by itself and what will, printer by printer: care, timers, planned runs, and when people are there. */
export function rotaView(shop: Shop, fromMs: number, toMs: number): RotaView {
  const floor = readFloor(shop);
  const { lines } = planFloor(snapshotFor(floor));
  const past = careBetween(shop.db, fromMs, toMs);
  const { nowMs } = floor;
  return {
    fromMs,
    toMs,
    nowMs,
    attended: attendedSpans(shopSetup(shop.db, shop.clock.zone), fromMs, toMs).map((span) => ({
      fromMs: Math.max(fromMs, Math.round(span.fromMs)),
      toMs: Math.min(toMs, Math.round(span.toMs)),
    })),
    printers: floor.printers.map(({ id, name }) => {
      const printer = findPrinter(shop.db, id);
      const line = lines.get(id);
      const own = past.filter((row) => row.printerId === id);
      const planned = printer && line ? plannedItems(shop, printer, line, floor, own) : [];
      const items = [...own.filter(({ endedMs }) => endedMs !== null).map(pastItem), ...planned]
        .filter((item) => item.toMs >= fromMs && item.fromMs < toMs)
        .sort((a, b) => a.fromMs - b.fromMs);
      return { printerId: id, name, items };
    }),
    saved: savedSince(shop, startOfMonth(nowMs), nowMs),
  };
}

function pastItem(row: CareRow): RotaItem {
  const from = row.startedMs ?? row.dueMs;
  const late = row.state === 'done' && from > row.latestMs + LATE_MS;
  const holiday = row.state === 'skipped' && row.reason === 'holiday';
  return {
    id: row.id,
    kind: row.what.kind,
    title: row.title,
    timerId: row.timerId,
    fromMs: Math.round(from),
    toMs: Math.round(row.startedMs === null ? row.dueMs + row.estimateMs : (row.endedMs ?? from)),
    dueMs: row.dueMs,
    outcome: holiday ? 'holiday' : late ? 'late' : (OUTCOMES[row.state] ?? 'planned'),
    why: row.reason ?? '',
    way: '',
  };
}

function plannedItems(shop: Shop, printer: PrinterRow, line: Line, floor: Floor, own: readonly CareRow[]): RotaItem[] {
  const outlook = outlookOfLine(shop, printer, line, floor);
  const runs = new Map(floor.runs.map((run) => [run.id, run]));
  const rows = new Map(own.map((row) => [row.id, row]));
  const timers = new Map(timersOf(shop.db, printer.id).map((timer) => [timer.id, timer]));
  const items = line.events.flatMap((event): RotaItem[] => {
    if (event.kind === 'run') {
      const run = runs.get(event.id);
      if (!run) return [];
      const common = { id: event.id, kind: 'run' as const, title: run.name, timerId: null, dueMs: run.dueMs };
      const late = event.lateMs > 60_000;
      const outcome = run.endedMs !== null ? (run.state === 'printed' ? 'done' : 'failed') : late ? 'late' : 'planned';
      const span = { fromMs: Math.round(event.fromMs), toMs: Math.round(event.toMs) };
      return [{ ...common, ...span, outcome, why: run.jobNames.join(', '), way: '' }];
    }
    if (event.kind !== 'care') return [];
    const row = rows.get(event.id);
    const [timerId = '', due] = event.id.split('@');
    const timer = timers.get(row?.timerId ?? timerId);
    const what = row?.what ?? timer?.what;
    if (!what) return [];
    const work = careWork(shop.db, printer, what);
    const dueMs = row?.dueMs ?? Number(due);
    const latestMs =
      row?.latestMs ??
      Math.max(dueMs, Math.min(dueMs + (timer?.slackMin ?? 0) * 60_000, ...overdueOf(shop.db, printer, work.inkMl)));
    const skipped = outlook.get(event.id)?.fires.length === 0 && (row?.timerId ?? timer?.id) !== undefined;
    const common = { id: event.id, kind: what.kind, title: work.title, timerId: timer?.id ?? null, dueMs };
    const span = { fromMs: Math.round(event.fromMs), toMs: Math.round(event.toMs) };
    if (skipped) return [{ ...common, ...span, outcome: 'skipped', why: 'exercised by work', way: '' }];
    if (whenBusy(event.fromMs, latestMs + LATE_MS).kind === 'conflict') {
      const before = line.events.find((other) => other.kind === 'run' && other.toMs === event.fromMs);
      const run = before?.kind === 'run' ? runs.get(before.id) : undefined;
      return [{ ...common, ...span, outcome: 'conflict', ...conflictText(run?.name ?? 'another run', run?.state) }];
    }
    const missing = mediaMissing(floor, printer.id, work.stockId, work.needsMedia);
    if (missing !== null)
      return [
        {
          ...common,
          ...span,
          outcome: 'conflict',
          why: missing,
          way: 'Load it before then, or let the timer purge on what is loaded.',
        },
      ];
    return [{ ...common, ...span, outcome: 'planned', why: timer ? '' : 'by hand', way: '' }];
  });
  return [...items, ...together(items), ...released(shop, printer, timers), ...holidays(shop, printer, timers)];
}

function conflictText(run: string, state: string | undefined): Pick<RotaItem, 'why' | 'way'> {
  return {
    why: `${run} prints then, beyond its latest start`,
    way:
      state === 'queued'
        ? `Start it now, before ${run}; or let it come after; or switch the exercise strip on for ${run}.`
        : `It comes after ${run}; an exercise strip on the next long run would make it needless.`,
  };
}

function mediaMissing(floor: Floor, printerId: string, stockId: string | null, needsMedia: boolean): string | null {
  if (!needsMedia) return null;
  const loaded = floor.spools.filter((spool) => spool.printerId === printerId);
  if (loaded.length === 0) return 'nothing is loaded';
  if (stockId === null || loaded.some((spool) => spool.stockId === stockId)) return null;
  return `${floor.stocks[stockId]?.name ?? stockId} is not loaded`;
}

/** Two of the same kind at one instant are one too many. */
function together(items: readonly RotaItem[]): RotaItem[] {
  const seen = new Map<string, RotaItem>();
  for (const item of items) {
    if (item.kind === 'run' || item.outcome !== 'planned') continue;
    const key = `${item.kind} ${String(item.dueMs)}`;
    const other = seen.get(key);
    if (other) {
      item.outcome = 'conflict';
      item.why = `${other.title} is due at the same instant`;
      item.way = 'Move one of the two timers, or pause it.';
    } else seen.set(key, item);
  }
  return [];
}

/** Runs that timers release: no time of the printer is taken. */
function released(
  shop: Shop,
  printer: PrinterRow,
  timers: ReadonlyMap<string, ReturnType<typeof timersOf>[number]>,
): RotaItem[] {
  return [...timers.values()].flatMap((timer) => {
    if (timer.what.kind !== 'release') return [];
    const { title } = careWork(shop.db, printer, timer.what);
    return comingOf(timer, shop.clock.zone).map((atMs) => ({
      ...{ id: `${timer.id}@${String(atMs)}`, kind: 'release' as const, title, timerId: timer.id, dueMs: atMs },
      ...{ fromMs: atMs, toMs: atMs, outcome: 'planned' as const, why: '', way: '' },
    }));
  });
}

/** Occurrences that fall on a day when the shop is closed. */
function holidays(
  shop: Shop,
  printer: PrinterRow,
  timers: ReadonlyMap<string, ReturnType<typeof timersOf>[number]>,
): RotaItem[] {
  const isHoliday = holidayTest(shop);
  return [...timers.values()].flatMap((timer) => {
    if (!timer.skipHolidays) return [];
    const { title, durationMs } = careWork(shop.db, printer, timer.what);
    return comingOf(timer, shop.clock.zone)
      .filter(isHoliday)
      .map((atMs) => ({
        ...{ id: `${timer.id}@${String(atMs)}`, kind: timer.what.kind, title, timerId: timer.id, dueMs: atMs },
        ...{ fromMs: atMs, toMs: Math.round(atMs + durationMs), outcome: 'holiday' as const, why: 'holiday', way: '' },
      }));
  });
}

const DAY_MS = 86_400_000;
/** Savings are told of the last thirty days. */
function startOfMonth(nowMs: number): number {
  return nowMs - 30 * DAY_MS;
}

/** What purges did not fire because work had exercised their channels, and what that ink costs. */
function savedSince(shop: Shop, fromMs: number, toMs: number): RotaView['saved'] {
  const rows = shop.db
    .select({ printerId: careItems.printerId, savedMl: careItems.savedMl, state: careItems.state })
    .from(careItems)
    .where(and(gte(careItems.dueMs, fromMs), lte(careItems.dueMs, toMs), ne(careItems.savedMl, {})))
    .all();
  let inkMl = 0;
  let micro = 0;
  for (const row of rows) {
    const { config } = findPrinter(shop.db, row.printerId) ?? {};
    for (const [id, ml] of Object.entries(row.savedMl)) {
      inkMl += ml;
      micro += ml * (config?.channels.find((channel) => channel.id === id)?.pricePerMlMicro ?? 0);
    }
  }
  return {
    inkMl,
    minor: toMinor(micro),
    currency: shop.currency(),
    purges: rows.filter(({ state }) => state === 'skipped').length,
  };
}
