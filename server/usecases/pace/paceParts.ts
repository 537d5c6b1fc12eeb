import { type SQL, and, eq, gte, inArray, isNull, lt, sql } from 'drizzle-orm';
import { LIVE_JOB_STATES } from '../../../core/flow/job.ts';
import { bordersOf } from '../../../core/pace/borders.ts';
import { type Amounts, type Quantity, partsOf } from '../../../core/pace/quantities.ts';
import { factParts } from '../../db/tables/factTables.ts';
import { printerSpells, runAttempts } from '../../db/tables/records.ts';
import { jobs } from '../../db/tables/schema.ts';
import { printers } from '../../db/tables/floorTables.ts';
import type { Shop } from '../../shop.ts';
import { narrowedTo } from './narrowed.ts';
import { spellAmounts } from './otherSources.ts';
import type { Asked, ThingBy } from './paceAsked.ts';

/** What was brought at a time, by what was asked for. */
export interface Part {
  readonly ms: number;
  readonly ids: readonly string[];
  readonly amounts: Amounts;
}

const COLUMNS = {
  printer: factParts.printerId,
  stock: factParts.stockId,
  customer: factParts.customer,
  queue: factParts.queueId,
  mode: factParts.modeId,
} as const satisfies Record<ThingBy, unknown>;

/** Sums of facts: of whole days by day, of what lies before the first and behind the last by hour, or all by hour. */
export function keptParts({ db, clock }: Shop, asked: Asked, names: readonly Quantity[]): Part[] {
  const { time, things, query } = asked;
  const keys: SQL[] = [...(time ? [sql`${factParts.fromMs}`] : []), ...things.map((thing) => sql`${COLUMNS[thing]}`)];
  const list = sql.join([...keys, ...names.map((name) => sql`sum(${factParts[name]})`)], sql`, `);
  const group = keys.length > 0 ? sql` GROUP BY ${sql.join(keys, sql`, `)}` : sql``;
  // One after the other: each is read in the order of its key and needs no sorting, which one question about all of them would.
  const rows = grainsOf(asked, clock.zone).flatMap((grain) => {
    const where = and(grain, narrowedTo(factParts, query));
    return db.values<(string | number | null)[]>(sql`SELECT ${list} FROM ${factParts} WHERE ${where}${group}`);
  });
  return rows.map((row) => {
    const amounts: Amounts = {};
    names.forEach((name, i) => {
      amounts[name] = Number(row[keys.length + i] ?? 0);
    });
    return {
      ms: time ? Number(row[0]) : asked.fromMs,
      ids: row.slice(time ? 1 : 0, keys.length).map(String),
      amounts,
    };
  });
}

function grainsOf({ fromMs, toMs, time }: Asked, zone: string): (SQL | undefined)[] {
  const of = (grain: 'hour' | 'day', from: number, to: number): SQL | undefined =>
    from < to ? and(eq(factParts.grain, grain), gte(factParts.fromMs, from), lt(factParts.fromMs, to)) : undefined;
  if (time === 'hour') return [of('hour', fromMs, toMs)];
  const [day = fromMs, next = toMs] = bordersOf('day', fromMs, fromMs, zone);
  const firstMs = Math.min(toMs, day === fromMs ? day : next);
  const lastMs = Math.max(firstMs, bordersOf('day', toMs, toMs, zone)[0] ?? toMs);
  return [of('hour', fromMs, firstMs), of('day', firstMs, lastMs), of('hour', lastMs, toMs)].filter(
    (each) => each !== undefined,
  );
}

/** Something that has not ended. */
interface Open {
  readonly keys: Readonly<Partial<Record<ThingBy, string>>>;
  readonly fromMs: number;
  readonly toMs: number;
  readonly amounts: Amounts;
}

/**
 * What is going on now and is in no fact yet: runs that print, spells that last, jobs that are open past their date.
 * @param buckets where each step of the time begins
 */
export function partsNow(shop: Shop, { fromMs, toMs, things, query }: Asked, buckets: readonly number[]): Part[] {
  const { printerId, stockId, queueId, modeId, customer } = query;
  const wanted = { printer: printerId, stock: stockId, queue: queueId, mode: modeId, customer };
  const isIn = ({ keys }: Open): boolean =>
    Object.entries(wanted).every(([by, id]) => id === undefined || (keys[by as ThingBy] ?? '') === id);
  return [...openSpells(shop, toMs), ...openRuns(shop, toMs), ...openJobs(shop, fromMs, toMs)]
    .filter(isIn)
    .flatMap((open) => {
      // The steps, and what lies before and behind them, which nobody asked for.
      const before = open.fromMs < fromMs ? [open.fromMs] : [];
      const behind = open.toMs >= toMs ? [open.toMs + 1] : [];
      const borders = [...before, ...buckets, toMs, ...behind];
      return partsOf(open, borders)
        .map(({ at, amounts }) => ({ ms: borders[at] ?? toMs, amounts }))
        .filter(({ ms }) => ms >= fromMs && ms < toMs)
        .map(({ ms, amounts }) => ({ ms, ids: things.map((thing) => open.keys[thing] ?? ''), amounts }));
    });
}

function openSpells({ db, clock }: Shop, toMs: number): Open[] {
  const now = Math.min(clock.now(), toMs);
  const rows = db.select().from(printerSpells).where(isNull(printerSpells.toMs)).all();
  return rows.flatMap((row): Open[] => {
    const amounts = spellAmounts(db, row, now);
    return amounts ? [{ keys: { printer: row.printerId }, fromMs: row.fromMs, toMs: now, amounts }] : [];
  });
}

function openRuns({ db, clock }: Shop, toMs: number): Open[] {
  const now = Math.min(clock.now(), toMs);
  // Printer by printer: attempts are found by their printer, and one at most is on each.
  const ids = db.select({ id: printers.id }).from(printers).all();
  return ids.flatMap(({ id }) => {
    const rows = db
      .select()
      .from(runAttempts)
      .where(and(eq(runAttempts.printerId, id), isNull(runAttempts.endedMs)))
      .all();
    return rows.flatMap(({ startedMs, pausedMs, stockId, modeId, terms }): Open[] => {
      if (startedMs === null || startedMs >= now) return [];
      const keys = { printer: id, stock: stockId, mode: modeId, queue: terms?.queueId ?? '' };
      return [{ keys, fromMs: startedMs, toMs: now, amounts: { runMs: Math.max(0, now - startedMs - pausedMs) } }];
    });
  });
}

function openJobs({ db, clock }: Shop, fromMs: number, toMs: number): Open[] {
  const dueMs = sql<number>`json_extract(${jobs.ticket}, '$.values.dueMs')`;
  const customer = sql<string | null>`json_extract(${jobs.ticket}, '$.values.customer')`;
  return db
    .select({ dueMs, customer, queueId: jobs.queueId })
    .from(jobs)
    .where(and(inArray(jobs.state, [...LIVE_JOB_STATES]), gte(dueMs, fromMs), lt(dueMs, toMs)))
    .all()
    .map((job) => {
      const lateMs = Math.max(0, Math.round(clock.now() - job.dueMs));
      const amounts = { jobsDue: 1, jobsLate: lateMs > 0 ? 1 : 0, lateMs };
      const keys = { queue: job.queueId, customer: job.customer ?? '' };
      return { keys, fromMs: job.dueMs, toMs: job.dueMs, amounts };
    });
}
