import { TZDate } from '@date-fns/tz';
import { count, eq, min } from 'drizzle-orm';
import type { PaceAnswer, PaceQuery, PaceRow } from '../../../contract/api/pace/pace.ts';
import { bordersOf } from '../../../core/pace/borders.ts';
import { type ClockSums, type PaceSums, measured, noPaceSums, quantitiesOf } from '../../../core/pace/measures.ts';
import { SpanLengths, joinSpans } from '../../../core/schedule/spans.ts';
import { factParts, factsDue } from '../../db/tables/factTables.ts';
import { namesOf } from '../../db/names.ts';
import type { Reader } from '../../db/open.ts';
import { queues } from '../../db/tables/schema.ts';
import { printers, stocks } from '../../db/tables/floorTables.ts';
import { Refused, type Shop } from '../../shop.ts';
import { armedThen, attendedThen } from './hoursHistory.ts';
import { type Asked, type ThingBy, type TimeBy, askedOf } from './paceAsked.ts';
import { type Part, keptParts, partsNow } from './paceParts.ts';

/** Further back than this no shop looks. */
const MOST_BACK_MS = 20 * 366 * 86_400_000;
/** An answer holds no more figures than this. */
const MOST_FIGURES = 200_000;

/** A row while it is added up. */
interface Adding {
  readonly bucketMs: number;
  readonly ids: readonly string[];
  readonly sums: PaceSums;
}

/** Measures of a period, by up to two of time, printer, stock, customer, queue and mode. */
export function paceAnswer(shop: Shop, query: PaceQuery): PaceAnswer {
  const asked = askedOf(query);
  const { time, things, measures } = asked;
  const needed = [...quantitiesOf(measures)];
  const buckets = bucketsOf(asked, shop.clock.zone);
  const rows = new Rows(asked, buckets);
  const total: Adding = { bucketMs: asked.fromMs, ids: [], sums: noPaceSums() };
  for (const part of [...keptParts(shop, asked, needed), ...partsNow(shop, asked, buckets)]) {
    for (const { sums } of [rows.of(part), total]) for (const name of needed) sums[name] += part.amounts[name] ?? 0;
  }
  addClock(shop, asked, rows, total);
  const ofPrinters = things.every((thing) => thing === 'printer') && !isOfThings(query);
  const valuesOf = ({ sums }: Adding): PaceRow['values'] =>
    Object.fromEntries(
      measures.map((measure) => [
        measure.id,
        measure.ofPrinters && !ofPrinters ? { value: null, numerator: 0, denominator: 0 } : measured(measure, sums),
      ]),
    );
  const thingName = thingNames(shop.db);
  const timeName = time && timeNames(time, shop.clock.zone);
  const keysOf = ({ bucketMs, ids }: Adding): PaceRow['keys'] => [
    ...(time && timeName ? [{ by: time, id: String(bucketMs), name: timeName(bucketMs) }] : []),
    ...things.map((by, i) => ({ by, id: ids[i] ?? '', name: thingName(by, ids[i] ?? '') })),
  ];
  return {
    currency: shop.currency(),
    pending: pendingFacts(shop.db),
    measures: measures.map(({ id, name, words, unit, moreIsBetter }) => ({ id, name, words, unit, moreIsBetter })),
    rows: rows.all
      .map((row) => {
        const name = things.map((by, i) => thingName(by, row.ids[i] ?? '')).join('\n');
        return { bucketMs: row.bucketMs, name, keys: keysOf(row), values: valuesOf(row) };
      })
      .sort((a, b) => a.bucketMs - b.bucketMs || BY_NAME.compare(a.name, b.name))
      .map(({ keys, values }) => ({ keys, values })),
    total: valuesOf(total),
  };
}

const BY_NAME = new Intl.Collator('en');

function isOfThings({ stockId, queueId, modeId, customer }: PaceQuery): boolean {
  return [stockId, queueId, modeId, customer].some((each) => each !== undefined);
}

/** The rows of an answer, each made when the first figure comes to it. */
class Rows {
  private readonly known = new Map<string, Adding>();

  constructor(
    private readonly asked: Asked,
    readonly buckets: readonly number[],
  ) {
    // Of time alone every step is there, also where nothing happened: periods can be laid over each other.
    if (asked.time && asked.things.length === 0) for (const ms of buckets) this.of({ ms, ids: [] });
  }

  get all(): readonly Adding[] {
    return [...this.known.values()];
  }

  of({ ms, ids }: Pick<Part, 'ms' | 'ids'>): Adding {
    const bucketMs = this.buckets[this.stepAt(ms)] ?? this.asked.fromMs;
    const key = [String(bucketMs), ...ids].join('\n');
    const known = this.known.get(key);
    if (known) return known;
    if ((this.known.size + 1) * this.asked.measures.length > MOST_FIGURES) {
      throw new Refused(
        422,
        'too-many-rows',
        `That is more than ${String(MOST_FIGURES)} figures.`,
        undefined,
        'Choose a shorter time, a coarser step, or fewer measures.',
      );
    }
    const made = { bucketMs, ids, sums: noPaceSums() };
    this.known.set(key, made);
    return made;
  }

  /** Where the step of a row ends; undefined: it is the last. */
  endOf({ bucketMs }: Adding): number | undefined {
    return this.buckets[this.stepAt(bucketMs) + 1];
  }

  private stepAt(ms: number): number {
    let low = 0;
    let high = this.buckets.length;
    while (low < high) {
      const mid = (low + high) >> 1;
      if ((this.buckets[mid] ?? 0) > ms) high = mid;
      else low = mid + 1;
    }
    return Math.max(0, low - 1);
  }
}

/** Where each step of the time begins, the first at the period's beginning. */
function bucketsOf({ fromMs, toMs, time }: Asked, zone: string): number[] {
  if (!time) return [fromMs];
  const begins = bordersOf(time === 'hour' ? 'hour' : 'day', fromMs, toMs - 1, zone).filter((ms) => {
    if (ms <= fromMs || ms >= toMs) return false;
    const at = new TZDate(ms, zone);
    return time === 'week' ? at.getDay() === 1 : time === 'month' ? at.getDate() === 1 : true;
  });
  return [fromMs, ...begins];
}

/** Planned and staffed time, people and armed hours of each row; of each printer, where rows are of printers. */
function addClock(shop: Shop, { fromMs, toMs, things, query }: Asked, rows: Rows, total: Adding): void {
  const until = Math.min(toMs, shop.clock.now());
  // Before anything happened nothing was planned.
  const since = Math.max(fromMs, firstPartMs(shop.db) ?? until - MOST_BACK_MS);
  if (until <= since) return;
  const attended = attendedThen(shop.db, since, until);
  const armed = armedThen(shop.db, since, until);
  const lengths = {
    planned: new SpanLengths(joinSpans(attended, armed)),
    staffed: new SpanLengths(attended),
    people: new SpanLengths(attended, (at) => attended[at]?.people ?? 1),
    armed: new SpanLengths(armed),
  };
  const clockOf = (from: number, to: number, printerCount: number): ClockSums => ({
    plannedMs: printerCount * lengths.planned.between(from, to),
    staffedMs: printerCount * lengths.staffed.between(from, to),
    peopleMs: lengths.people.between(from, to),
    armedMs: printerCount * lengths.armed.between(from, to),
  });
  const all = query.printerId === undefined ? (shop.db.select({ n: count() }).from(printers).get()?.n ?? 0) : 1;
  const printerAt = things.indexOf('printer');
  for (const row of rows.all) {
    // What belongs to no printer has no hours.
    if (row.ids[printerAt] === '') continue;
    const to = Math.min(rows.endOf(row) ?? until, until);
    Object.assign(row.sums, clockOf(row.bucketMs, to, printerAt < 0 ? all : 1));
  }
  Object.assign(total.sums, clockOf(fromMs, until, all));
}

function firstPartMs(db: Reader): number | undefined {
  const row = db
    .select({ ms: min(factParts.fromMs) })
    .from(factParts)
    .where(eq(factParts.grain, 'day'))
    .get();
  return row?.ms ?? undefined;
}

function thingNames(db: Reader): (by: ThingBy, id: string) => string {
  const configs = db.select({ config: printers.config }).from(printers).all();
  const known: Record<ThingBy, ReadonlyMap<string, string>> = {
    printer: namesOf(db, printers),
    stock: namesOf(db, stocks),
    queue: namesOf(db, queues),
    mode: new Map(configs.flatMap(({ config }) => config.modes.map(({ id, name }) => [id, name] as const))),
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
  const known = new Map<number, string>();
  return (ms) => {
    const name = known.get(ms) ?? `${by === 'week' ? 'Week of ' : ''}${format.format(ms).replaceAll(',', '')}`;
    known.set(ms, name);
    return name;
  };
}

/** How many things that happened have no figures yet. */
export function pendingFacts(db: Reader): number {
  return db.select({ n: count() }).from(factsDue).get()?.n ?? 0;
}
