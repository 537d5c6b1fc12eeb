import { and, count, eq, gte, inArray, isNull, lt, min, sql, type SQL } from 'drizzle-orm';
import { TZDate } from '@date-fns/tz';
import { PACE_BY, type PaceAnswer, type PaceBy, type PaceQuery, type PaceRow } from '../../../contract/api/pace.ts';
import { LIVE_JOB_STATES } from '../../../core/flow/job.ts';
import {
  type ClockSums,
  MEASURES,
  type Measure,
  type PaceSums,
  measured,
  quantitiesOf,
} from '../../../core/pace/measures.ts';
import { type Amounts, type Quantity, noSums, partsOf } from '../../../core/pace/quantities.ts';
import { factParts, factsDue } from '../../db/factTables.ts';
import { printerSpells, runAttempts } from '../../db/records.ts';
import { jobs, printers, queues, stocks } from '../../db/schema.ts';
import { Refused, type Shop } from '../../shop.ts';
import { SpanLengths, joinSpans } from '../../../core/schedule/spans.ts';
import { armedThen, attendedThen } from './hoursHistory.ts';
import { narrowedTo } from './narrowed.ts';
import { spellAmounts } from './otherSources.ts';
import { bordersOf } from './projectFacts.ts';

type TimeBy = Extract<PaceBy, 'hour' | 'day' | 'week' | 'month'>;
type ThingBy = Exclude<PaceBy, TimeBy>;
const TIMES: readonly PaceBy[] = ['hour', 'day', 'week', 'month'];
/** By hours no longer than this: a table of hours over years says nothing. */
const MOST_HOURS_MS = 62 * 86_400_000;
/** Further back than this no shop looks. */
const MOST_BACK_MS = 20 * 366 * 86_400_000;
/** An answer holds no more figures than this. */
const MOST_FIGURES = 200_000;

const COLUMNS = {
  printer: factParts.printerId,
  stock: factParts.stockId,
  customer: factParts.customer,
  queue: factParts.queueId,
  mode: factParts.modeId,
} as const satisfies Record<ThingBy, unknown>;

interface Asked {
  readonly fromMs: number;
  readonly toMs: number;
  readonly time: TimeBy | undefined;
  readonly things: readonly ThingBy[];
  readonly query: PaceQuery;
}

/** A row while it is added up. */
interface Adding {
  readonly bucketMs: number;
  readonly ids: readonly string[];
  readonly sums: PaceSums;
}

/** Measures of a period, by up to two of time, printer, stock, customer, queue and mode. */
export function paceAnswer(shop: Shop, query: PaceQuery): PaceAnswer {
  const asked = askedOf(query);
  const wanted = measuresOf(query);
  const needed = [...quantitiesOf(wanted)];
  const rows = new Map<string, Adding>();
  const total: Adding = {
    bucketMs: 0,
    ids: [],
    sums: { ...noSums(), plannedMs: 0, staffedMs: 0, peopleMs: 0, armedMs: 0 },
  };
  const buckets = bucketsOf(asked, shop.clock.zone);
  const rowFor = (ms: number, ids: readonly string[]): Adding => {
    const bucketMs = asked.time ? (buckets[bucketAt(buckets, ms)] ?? asked.fromMs) : asked.fromMs;
    const key = `${String(bucketMs)}\n${ids.join('\n')}`;
    const known = rows.get(key);
    if (known) return known;
    if ((rows.size + 1) * wanted.length > MOST_FIGURES) {
      throw new Refused(
        422,
        'too-many-rows',
        `That is more than ${String(MOST_FIGURES)} figures.`,
        undefined,
        'Choose a shorter time, a coarser step, or fewer measures.',
      );
    }
    const made = { bucketMs, ids, sums: { ...noSums(), plannedMs: 0, staffedMs: 0, peopleMs: 0, armedMs: 0 } };
    rows.set(key, made);
    return made;
  };
  const add = (ms: number, ids: readonly string[], amounts: Amounts): void => {
    for (const { sums } of [rowFor(ms, ids), total]) {
      for (const name of needed) sums[name] += amounts[name] ?? 0;
    }
  };
  // Of time alone every step is there, also where nothing happened: periods can be laid over each other.
  if (asked.time && asked.things.length === 0) for (const ms of buckets) rowFor(ms, []);
  for (const { ms, ids, amounts } of [...keptParts(shop, asked, needed), ...partsNow(shop, asked)])
    add(ms, ids, amounts);
  addClock(shop, asked, buckets, rows, total);
  const ofPrinters = asked.things.every((thing) => thing === 'printer') && !filtersThings(query);
  const valuesOf = ({ sums }: Adding): PaceRow['values'] =>
    Object.fromEntries(
      wanted.map((measure) => [
        measure.id,
        measure.ofPrinters && !ofPrinters ? { value: null, numerator: 0, denominator: 0 } : measured(measure, sums),
      ]),
    );
  const names = namesOf(shop);
  const timeName = asked.time && timeNames(asked.time, shop.clock.zone);
  return {
    currency: shop.currency(),
    pending: shop.db.select({ n: count() }).from(factsDue).get()?.n ?? 0,
    measures: wanted.map(({ id, name, words, unit, moreIsBetter }) => ({ id, name, words, unit, moreIsBetter })),
    rows: [...rows.values()]
      .map((row) => ({
        row,
        keys: [
          ...(asked.time && timeName
            ? [{ by: asked.time, id: String(row.bucketMs), name: timeName(row.bucketMs) }]
            : []),
          ...asked.things.map((by, i) => ({ by, id: row.ids[i] ?? '', name: names(by, row.ids[i] ?? '') })),
        ],
      }))
      .sort((a, b) => a.row.bucketMs - b.row.bucketMs || nameOf(a.keys).localeCompare(nameOf(b.keys), 'en'))
      .map(({ row, keys }) => ({ keys, values: valuesOf(row) })),
    total: valuesOf(total),
  };
}

const nameOf = (keys: PaceRow['keys']): string => keys.map(({ name }) => name).join('\n');

function filtersThings({ stockId, queueId, modeId, customer }: PaceQuery): boolean {
  return [stockId, queueId, modeId, customer].some((each) => each !== undefined);
}

function askedOf(query: PaceQuery): Asked {
  const { fromMs, toMs, by = '' } = query;
  if (!(fromMs < toMs)) throw new Refused(422, 'no-time', 'The period ends before it begins.');
  const wanted = by
    .split(',')
    .map((each) => each.trim())
    .filter((each) => each !== '');
  const unknown = wanted.find((each) => !(PACE_BY as readonly string[]).includes(each));
  if (unknown !== undefined || wanted.length > 2 || new Set(wanted).size < wanted.length) {
    throw new Refused(
      422,
      'by',
      unknown === undefined ? 'At most two different ways at once.' : `Figures can’t be had by ${unknown}.`,
      undefined,
      `Choose up to two of ${PACE_BY.join(', ')}.`,
    );
  }
  const times = wanted.filter((each) => TIMES.includes(each as PaceBy)) as TimeBy[];
  if (times.length > 1)
    throw new Refused(422, 'by', 'Only one way to part the time at once.', undefined, 'Leave one out.');
  if (times[0] === 'hour' && toMs - fromMs > MOST_HOURS_MS) {
    throw new Refused(
      422,
      'too-many-rows',
      'By hours two months at most.',
      undefined,
      'Choose a shorter time, or days.',
    );
  }
  return {
    fromMs,
    toMs,
    time: times[0],
    things: wanted.filter((each) => !TIMES.includes(each as PaceBy)) as ThingBy[],
    query,
  };
}

function measuresOf({ measures }: PaceQuery): readonly Measure[] {
  if (measures === undefined || measures === '') return MEASURES;
  return measures.split(',').map((id) => {
    const found = MEASURES.find((each) => each.id === id.trim());
    if (!found)
      throw new Refused(
        422,
        'no-such-measure',
        `There is no measure ${id.trim()}.`,
        undefined,
        `There are ${MEASURES.map((each) => each.id).join(', ')}.`,
      );
    return found;
  });
}

/** Where each bucket of time begins, the first at the period's beginning. */
function bucketsOf({ fromMs, toMs, time }: Asked, zone: string): number[] {
  if (!time) return [fromMs];
  const borders = bordersOf(time === 'hour' ? 'hour' : 'day', fromMs, toMs - 1, zone).filter((ms) => ms < toMs);
  const begins = borders.filter((ms) => {
    const at = new TZDate(ms, zone);
    return time === 'week' ? at.getDay() === 1 : time === 'month' ? at.getDate() === 1 : true;
  });
  return [...new Set([fromMs, ...begins.filter((ms) => ms > fromMs)])];
}

function bucketAt(buckets: readonly number[], ms: number): number {
  let low = 0;
  let high = buckets.length;
  while (low < high) {
    const mid = (low + high) >> 1;
    if ((buckets[mid] ?? 0) > ms) high = mid;
    else low = mid + 1;
  }
  return Math.max(0, low - 1);
}

interface Part {
  readonly ms: number;
  readonly ids: readonly string[];
  readonly amounts: Amounts;
}

/** Sums of facts, by hours or days and by what was asked for. */
function keptParts({ db }: Shop, { fromMs, toMs, time, things, query }: Asked, names: readonly Quantity[]): Part[] {
  const sums = names.map((name) => sql`sum(${factParts[name]})`);
  const grain = time === 'hour' || toMs - fromMs < 86_400_000 ? 'hour' : 'day';
  const keys: SQL[] = [...(time ? [sql`${factParts.fromMs}`] : []), ...things.map((thing) => sql`${COLUMNS[thing]}`)];
  const where = and(
    eq(factParts.grain, grain),
    gte(factParts.fromMs, fromMs),
    lt(factParts.fromMs, toMs),
    narrowedTo(factParts, query),
  );
  const list = sql.join([...keys, ...sums], sql`, `);
  const group = keys.length > 0 ? sql` GROUP BY ${sql.join(keys, sql`, `)}` : sql``;
  const rows = db.values<(string | number | null)[]>(sql`SELECT ${list} FROM ${factParts} WHERE ${where}${group}`);
  return rows.map((row) => {
    const amounts: Amounts = {};
    names.forEach((name, i) => {
      amounts[name] = Number(row[keys.length + i] ?? 0);
    });
    const ms = time ? Number(row[0]) : fromMs;
    return { ms, ids: row.slice(time ? 1 : 0, keys.length).map(String), amounts };
  });
}

/** What is going on now and is in no fact yet: runs that print, spells that last, jobs that are open past their date. */
function partsNow(shop: Shop, { fromMs, toMs, time, things, query }: Asked): Part[] {
  const now = Math.min(shop.clock.now(), toMs);
  const found: {
    readonly keys: Record<ThingBy, string>;
    readonly from: number;
    readonly to: number;
    readonly amounts: Amounts;
  }[] = [];
  const NONE = { printer: '', stock: '', customer: '', queue: '', mode: '' };
  for (const row of shop.db.select().from(printerSpells).where(isNull(printerSpells.toMs)).all()) {
    const amounts = spellAmounts(shop.db, row, now);
    if (amounts) found.push({ keys: { ...NONE, printer: row.printerId }, from: row.fromMs, to: now, amounts });
  }
  const running = shop.db.select().from(runAttempts).where(isNull(runAttempts.endedMs)).all();
  for (const row of running) {
    if (row.startedMs === null || row.startedMs >= now) continue;
    const amounts = { runMs: Math.max(0, now - row.startedMs - row.pausedMs) };
    const keys = {
      ...NONE,
      printer: row.printerId,
      stock: row.stockId,
      mode: row.modeId,
      queue: row.terms?.queueId ?? '',
    };
    found.push({ keys, from: row.startedMs, to: now, amounts });
  }
  for (const { ticket, queueId } of shop.db
    .select({ ticket: jobs.ticket, queueId: jobs.queueId })
    .from(jobs)
    .where(inArray(jobs.state, [...LIVE_JOB_STATES]))
    .all()) {
    const { dueMs, customer } = ticket.values;
    if (dueMs === null || dueMs < fromMs || dueMs >= toMs) continue;
    const lateMs = Math.max(0, Math.round(shop.clock.now() - dueMs));
    const amounts = { jobsDue: 1, jobsLate: lateMs > 0 ? 1 : 0, lateMs };
    found.push({ keys: { ...NONE, queue: queueId, customer: customer ?? '' }, from: dueMs, to: dueMs, amounts });
  }
  const isIn = (keys: Record<ThingBy, string>): boolean =>
    (query.printerId === undefined || keys.printer === query.printerId) &&
    (query.stockId === undefined || keys.stock === query.stockId) &&
    (query.queueId === undefined || keys.queue === query.queueId) &&
    (query.modeId === undefined || keys.mode === query.modeId) &&
    (query.customer === undefined || keys.customer === query.customer);
  return found
    .filter(({ keys }) => isIn(keys))
    .flatMap(({ keys, from, to, amounts }) => {
      const grain = time === 'hour' || toMs - fromMs < 86_400_000 ? 'hour' : 'day';
      const borders = bordersOf(grain, from, to, shop.clock.zone);
      return partsOf({ fromMs: from, toMs: to, amounts }, borders)
        .map(({ at, amounts: own }) => ({ ms: borders[at] ?? from, amounts: own }))
        .filter(({ ms }) => ms >= fromMs && ms < toMs)
        .map(({ ms, amounts: own }) => ({ ms, ids: things.map((thing) => keys[thing]), amounts: own }));
    });
}

/** Planned and staffed time, people and armed hours of each bucket; of each printer, where rows are of printers. */
function addClock(
  shop: Shop,
  { fromMs, toMs, things, query }: Asked,
  buckets: readonly number[],
  rows: ReadonlyMap<string, Adding>,
  total: Adding,
): void {
  const until = Math.min(toMs, shop.clock.now());
  // Before anything happened nothing was planned.
  const since = Math.max(fromMs, firstPartMs(shop) ?? until - MOST_BACK_MS);
  if (until <= since) return;
  const attended = attendedThen(shop.db, since, until);
  const armed = armedThen(shop.db, since, until);
  const planned = joinSpans(attended, armed);
  const all = shop.db.select({ id: printers.id }).from(printers).all();
  const printersCounted = query.printerId === undefined ? all.length : 1;
  const [staffedIn, plannedIn, armedIn] = [attended, planned, armed].map((spans) => new SpanLengths(spans));
  const peopleIn = new SpanLengths(attended, (at) => attended[at]?.people ?? 1);
  const own = (from: number, to: number, of: number): ClockSums => ({
    plannedMs: of * (plannedIn?.between(from, to) ?? 0),
    staffedMs: of * (staffedIn?.between(from, to) ?? 0),
    peopleMs: peopleIn.between(from, to),
    armedMs: of * (armedIn?.between(from, to) ?? 0),
  });
  const put = ({ sums }: Adding, clock: ReturnType<typeof own>): void => {
    Object.assign(sums, clock);
  };
  const byPrinter = things.includes('printer');
  for (const row of rows.values()) {
    // What belongs to no printer has no hours.
    if (byPrinter && row.ids[things.indexOf('printer')] === '') continue;
    const next = buckets[bucketAt(buckets, row.bucketMs) + 1] ?? until;
    put(row, own(row.bucketMs, Math.min(next, until), byPrinter ? 1 : printersCounted));
  }
  put(total, own(fromMs, until, printersCounted));
}

function firstPartMs({ db }: Shop): number | undefined {
  const row = db
    .select({ ms: min(factParts.fromMs) })
    .from(factParts)
    .where(eq(factParts.grain, 'day'))
    .get();
  return row?.ms ?? undefined;
}

function namesOf({ db }: Shop): (by: ThingBy, id: string) => string {
  const rows = db.select({ id: printers.id, name: printers.name, config: printers.config }).from(printers).all();
  const known: Record<ThingBy, Map<string, string>> = {
    printer: new Map(rows.map(({ id, name }) => [id, name])),
    stock: new Map(
      db
        .select({ id: stocks.id, name: stocks.name })
        .from(stocks)
        .all()
        .map(({ id, name }) => [id, name]),
    ),
    queue: new Map(
      db
        .select({ id: queues.id, name: queues.name })
        .from(queues)
        .all()
        .map(({ id, name }) => [id, name]),
    ),
    mode: new Map(rows.flatMap(({ config }) => config.modes.map(({ id, name }) => [id, name] as const))),
    customer: new Map(),
  };
  return (by, id) => (id === '' ? 'none' : (known[by].get(id) ?? id));
}

const PARTS: Record<TimeBy, Intl.DateTimeFormatOptions> = {
  hour: { weekday: 'short', day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit', hourCycle: 'h23' },
  day: { weekday: 'short', day: 'numeric', month: 'short', year: 'numeric' },
  week: { day: 'numeric', month: 'short', year: 'numeric' },
  month: { month: 'long', year: 'numeric' },
};

/** Names of instants: years of days are named in one answer. */
function timeNames(by: TimeBy, zone: string): (ms: number) => string {
  const format = new Intl.DateTimeFormat('en-GB', { ...PARTS[by], timeZone: zone });
  return (ms) => `${by === 'week' ? 'Week of ' : ''}${format.format(ms).replaceAll(',', '')}`;
}
