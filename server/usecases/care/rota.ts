import { and, gte, lte, ne } from 'drizzle-orm';
import type { RotaItem, RotaView } from '../../../contract/api/care.ts';
import { toMinor } from '../../../core/estimate/money.ts';
import { attendedSpans } from '../../../core/schedule/shopHours.ts';
import type { RunItem } from '../../../contract/api/floor.ts';
import { occurrencesAfter } from '../../../core/care/recurrence.ts';
import type { Line, LineEvent } from '../../../core/schedule/plan.ts';
import { instantOf, wallTimeOf } from '../../../core/care/wallTime.ts';
import { careItems } from '../../db/tables/careTables.ts';
import { findPrinter } from '../../db/findRows.ts';
import type { printers } from '../../db/tables/floorTables.ts';
import type { Shop } from '../../shop.ts';
import { readFloor } from '../plan/fit.ts';
import type { Floor } from '../plan/plannedFloor.ts';
import { shopSetup } from '../setup/shopSetup.ts';
import { ruledCare } from '../../../core/care/careRule.ts';
import { isLate } from '../../../core/care/purgeRule.ts';
import { type CareRow, careBetween } from './careItems.ts';
import { outlookOfLine } from './careOutlook.ts';
import { careWork } from './careWork.ts';
import { mediaFor, outOf } from './nextCare.ts';
import { AHEAD_MS, timersOf } from './plannedCare.ts';
import { type TimerRow, holidayTest } from './timers.ts';
import { plannedWithPurges } from './plannedLines.ts';

type PrinterRow = typeof printers.$inferSelect;

const OUTCOMES: Readonly<Partial<Record<CareRow['state'], RotaItem['outcome']>>> = {
  done: 'done',
  failed: 'failed',
  skipped: 'skipped',
  impossible: 'impossible',
  cancelled: 'cancelled',
};
/** A run that ends so much beyond its date is late (ms). */
const LATE_MS = 60_000;

/** What has happened by itself and what will, printer by printer: care, timers, planned runs, and when people are there. */
export function rotaView(shop: Shop, fromMs: number, toMs: number): RotaView {
  const floor = readFloor(shop);
  const { lines } = plannedWithPurges(shop, floor).plan;
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
    printers: floor.printers.map((cared) => {
      const { id, name } = cared;
      const printer = findPrinter(shop.db, id);
      const line = lines.get(id);
      const own = past.filter((row) => row.printerId === id);
      const planned = printer && line ? plannedItems({ shop, printer, cared, line, floor, rows: own }, toMs) : [];
      const items = [...own.filter(({ endedMs }) => endedMs !== null).map(pastItem), ...planned]
        .filter((item) => item.toMs >= fromMs && item.fromMs < toMs)
        .sort((a, b) => a.fromMs - b.fromMs);
      return { printerId: id, name, items };
    }),
    saved: savedByMonth(shop, nowMs),
  };
}

function pastItem(row: CareRow): RotaItem {
  const from = row.startedMs ?? row.dueMs;
  const late = row.state === 'done' && isLate(from, row.latestMs);
  const holiday = row.state === 'skipped' && row.reason === 'holiday';
  return {
    id: row.id,
    kind: row.what.kind,
    title: row.title,
    timerId: row.timerId,
    fromMs: Math.round(from),
    toMs: Math.round(row.startedMs === null ? row.dueMs + row.estimateMs : (row.endedMs ?? from)),
    dueMs: row.dueMs,
    movable: false,
    outcome: holiday ? 'holiday' : late ? 'late' : (OUTCOMES[row.state] ?? 'planned'),
    why: row.reason ?? '',
    way: '',
  };
}

/** A printer's line and what its items are told from. */
interface PlannedLine {
  readonly shop: Shop;
  readonly printer: PrinterRow;
  readonly cared: Floor['printers'][number];
  readonly line: Line;
  readonly floor: Floor;
  readonly rows: readonly CareRow[];
}

/** What is planned on a printer, as far as its line is planned; beyond that, what its timers bring. */
function plannedItems(planned: PlannedLine, toMs: number): RotaItem[] {
  const { shop, printer, cared, line, floor, rows } = planned;
  const timers = timersOf(shop.db, printer.id);
  const outlook = outlookOfLine(shop, printer, line, floor);
  const care = new Map(cared.care.map((each) => [each.id, each]));
  const runs = new Map(floor.runs.map((run) => [run.id, run]));
  const items = line.events.flatMap((event): RotaItem[] => {
    if (event.kind === 'run') return runItem(event, runs.get(event.id));
    if (event.kind !== 'care') return [];
    const own = care.get(event.id);
    if (!own) return ruledItem(event, planned);
    const { what, title, fedMm, stockId, latestMs } = own;
    const row = rows.find(({ id }) => id === event.id);
    const span = { fromMs: Math.round(event.fromMs), toMs: Math.round(event.toMs) };
    const item = {
      ...{ id: event.id, kind: what.kind, title, timerId: row ? row.timerId : own.timerId },
      ...{ ...span, dueMs: row?.dueMs ?? own.fromMs, movable: !row, why: '', way: '' },
    };
    if (outlook.get(event.id)?.fires.length === 0) return [{ ...item, outcome: 'skipped', why: 'exercised by work' }];
    if (isLate(event.fromMs, latestMs)) {
      const before = line.events.find((other) => other.kind === 'run' && other.toMs === event.fromMs);
      const run = before?.kind === 'run' ? runs.get(before.id) : undefined;
      return [{ ...item, outcome: 'conflict', ...conflictText(run?.name ?? 'another run', run?.state) }];
    }
    if (event.lacks !== null) {
      const until = { toMs: Math.round(event.fromMs + own.durationMs) };
      return [{ ...item, ...until, outcome: 'conflict', ...lacksText(shop, printer, event, { stockId, fedMm }) }];
    }
    return [{ ...item, outcome: 'planned', why: whyPlanned(event, item.dueMs, row, planned) }];
  });
  return [...withoutTwins(items), ...timers.flatMap((timer) => fromTimer(shop, printer, timer, floor.nowMs, toMs))];
}

type CareEvent = Extract<LineEvent, { kind: 'care' }>;

/** Care that a rule puts before a run. */
function ruledItem(event: CareEvent, { cared, floor }: PlannedLine): RotaItem[] {
  const ruled = ruledCare(cared.careRules, event.id);
  if (!ruled) return [];
  const { rule, runId } = ruled;
  const run = floor.runs.find(({ id }) => id === runId);
  return [
    {
      ...{ id: event.id, kind: rule.what.kind, title: rule.title, timerId: null, dueMs: null, outcome: 'planned' },
      ...{ fromMs: Math.round(event.fromMs), toMs: Math.round(event.toMs), movable: false, way: '' },
      why: `a rule puts it before ${run?.name ?? 'a run'}`,
    },
  ];
}

/** Why care comes when it does, where its timer alone doesn't say. */
function whyPlanned(event: CareEvent, dueMs: number, row: CareRow | undefined, { line, floor }: PlannedLine): string {
  const name = (id: string | undefined): string => floor.runs.find((run) => run.id === id)?.name ?? 'the next run';
  if (dueMs - event.fromMs > LATE_MS) {
    const next = line.events.find((other) => other.kind === 'run' && other.fromMs >= event.toMs);
    const runId = row?.runId ?? (next?.kind === 'run' ? next.id : undefined);
    return `it goes first: ${name(runId)} would keep it beyond its latest start`;
  }
  if (!row || row.timerId !== null) return '';
  return row.ruleId === null ? 'by hand' : `a rule puts it before ${name(row.runId ?? undefined)}`;
}

function runItem(event: Extract<LineEvent, { kind: 'run' }>, run: RunItem | undefined): RotaItem[] {
  if (!run) return [];
  const planned = event.lateMs > LATE_MS ? 'late' : 'planned';
  const outcome = run.endedMs === null ? planned : run.state === 'printed' ? 'done' : 'failed';
  const span = { fromMs: Math.round(event.fromMs), toMs: Math.round(event.toMs), dueMs: run.dueMs };
  return [
    {
      id: run.id,
      kind: 'run',
      title: run.name,
      timerId: null,
      ...span,
      movable: run.state === 'queued',
      outcome,
      why: run.jobNames.join(', '),
      way: '',
    },
  ];
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

/** What care will lack when it is due, and what to do about it. */
function lacksText(
  { db }: Shop,
  printer: PrinterRow,
  { lacks }: Pick<CareEvent, 'lacks'>,
  { stockId, fedMm }: { readonly stockId: string | null; readonly fedMm: number },
): Pick<RotaItem, 'why' | 'way'> {
  const media = mediaFor(db, printer.id, stockId, fedMm);
  if (lacks === 'media') {
    const why = 'lacks' in media ? media.lacks : 'what comes before it uses up its media';
    return { why, way: 'Load it before then, or pause the timer.' };
  }
  const full = 'lacks' in media ? undefined : outOf(db, printer, media);
  const way = 'Empty it before then, and confirm that it is empty.';
  return { why: full ?? 'the basket is full by then', way };
}

/** Two of the same kind that are due at one instant are one too many: the second is in conflict. */
function withoutTwins(items: readonly RotaItem[]): RotaItem[] {
  const seen = new Map<string, RotaItem>();
  return items.map((item) => {
    if (item.kind === 'run' || item.outcome !== 'planned') return item;
    const key = `${item.kind} ${String(item.dueMs)}`;
    const other = seen.get(key);
    if (!other) seen.set(key, item);
    return other
      ? {
          ...item,
          outcome: 'conflict',
          why: `${other.title} is due at the same instant`,
          way: 'Move one of the two timers, or pause it.',
        }
      : item;
  });
}

/** What the plan of the line doesn't hold of a timer: releases, which take no time, holidays, and what comes after the plan's end. */
function fromTimer(shop: Shop, printer: PrinterRow, timer: TimerRow, nowMs: number, toMs: number): RotaItem[] {
  if (timer.paused || timer.nextMs === null) return [];
  const isPlanned = timer.what.kind !== 'release' && toMs <= nowMs + AHEAD_MS;
  if (isPlanned && !timer.skipHolidays) return [];
  const isHoliday = holidayTest(shop);
  const { title, durationMs } = careWork(shop.db, printer, timer.what);
  const { nextMs } = timer;
  const coming = [nextMs, ...occurrencesAfter(timer, shop.clock.zone, nextMs, { beforeMs: toMs, known: nextMs })];
  return coming
    .filter((atMs) => atMs < toMs)
    .flatMap((atMs): RotaItem[] => {
      const holiday = timer.skipHolidays && isHoliday(atMs);
      if (timer.what.kind !== 'release' && !holiday && atMs <= nowMs + AHEAD_MS) return [];
      return [
        {
          ...{ id: `${timer.id}@${String(atMs)}`, kind: timer.what.kind, title, timerId: timer.id, dueMs: atMs },
          ...{ fromMs: atMs, toMs: Math.round(atMs + durationMs), movable: !holiday, way: '' },
          ...(holiday ? { outcome: 'holiday', why: 'holiday' } : { outcome: 'planned', why: '' }),
        },
      ];
    });
}

/** What was saved in the present month and in the one before. */
function savedByMonth(shop: Shop, nowMs: number): RotaView['saved'] {
  const { zone } = shop.clock;
  const startOf = (ms: number): number => instantOf(`${wallTimeOf(ms, zone).slice(0, 7)}-01T00:00`, zone);
  const present = startOf(nowMs);
  const before = startOf(present - 1);
  return [
    { month: wallTimeOf(present, zone).slice(0, 7), ...savedBetween(shop, present, nowMs) },
    { month: wallTimeOf(before, zone).slice(0, 7), ...savedBetween(shop, before, present - 1) },
  ];
}

/** What purges did not fire because work had exercised their channels, and what that ink costs. */
function savedBetween(shop: Shop, fromMs: number, toMs: number): Omit<RotaView['saved'][number], 'month'> {
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
