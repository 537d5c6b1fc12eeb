import { TZDate } from '@date-fns/tz';
import { and, eq, sql } from 'drizzle-orm';
import { attemptFacts } from '../../../core/pace/attemptFacts.ts';
import { type Amounts, type Fact, QUANTITY_NAMES, partsOf } from '../../../core/pace/quantities.ts';
import { IS_NOTHING, factParts, facts, factsDue } from '../../db/factTables.ts';
import type { Reader } from '../../db/open.ts';
import { prepared } from '../../db/prepared.ts';
import type { Shop } from '../../shop.ts';
import { startOfDay } from '../media/stockDays.ts';
import { attemptRecord } from './attemptSource.ts';
import { noteHours } from './hoursHistory.ts';
import { careFacts, jobFacts, ledgerFacts, spellFacts } from './otherSources.ts';

const HOUR_MS = 3_600_000;
const GRAINS = ['hour', 'day'] as const;
type Grain = (typeof GRAINS)[number];
/** So many sources are looked at before the time is asked again. */
const A_FEW = 5;

type FactRow = typeof facts.$inferSelect;

/** What a source brings today. */
function factsOf(db: Reader, kind: Fact['kind'], key: string): Fact[] {
  switch (kind) {
    case 'attempt': {
      const record = attemptRecord(db, key);
      return record ? attemptFacts(record) : [];
    }
    case 'spell':
      return spellFacts(db, key);
    case 'care':
      return careFacts(db, key);
    case 'ledger':
      return ledgerFacts(db, key);
    case 'job':
      return jobFacts(db, key);
  }
}

/**
 * Makes the facts of sources that are due, for as long as it may: a few of them in one transaction, so that a source that was taken off
 * the list has its facts, whatever happens. The event loop is given back in between.
 * @returns whether something is left to do
 */
export function projectFacts(shop: Pick<Shop, 'db' | 'clock'>, forMs: number, realNow: () => number): boolean {
  noteHours(shop);
  const end = realNow() + forMs;
  for (;;) {
    const due = shop.db
      .select()
      .from(factsDue)
      .orderBy(sql`rowid`)
      .limit(A_FEW)
      .all();
    if (due.length === 0) return false;
    shop.db.transaction((tx) => {
      for (const { kind, key } of due) {
        replaceFacts(tx, shop.clock.zone, kind, key);
        tx.delete(factsDue)
          .where(and(eq(factsDue.kind, kind), eq(factsDue.key, key)))
          .run();
      }
    });
    if (realNow() >= end) return true;
  }
}

/** Takes what a source has brought so far out of the sums, and puts what it brings now in. */
function replaceFacts(tx: Reader, zone: string, kind: Fact['kind'], key: string): void {
  const source = `${kind}/${key}`;
  const before = tx.select().from(facts).where(eq(facts.source, source)).all();
  const after = factsOf(tx, kind, key);
  const same = before.length === after.length && after.every((fact) => before.some((row) => isSame(row, fact)));
  if (same) return;
  for (const row of before) addParts(tx, zone, factOf(row), -1);
  if (before.length > 0) tx.delete(facts).where(eq(facts.source, source)).run();
  for (const fact of after) {
    const { amounts, ...plain } = fact;
    tx.insert(facts)
      .values({ ...plain, source, ...amounts })
      .run();
    addParts(tx, zone, fact, 1);
  }
}

function isSame(row: FactRow, fact: Fact): boolean {
  return (
    row.id === fact.id &&
    row.fromMs === fact.fromMs &&
    row.toMs === fact.toMs &&
    row.stockId === fact.stockId &&
    row.queueId === fact.queueId &&
    row.modeId === fact.modeId &&
    row.customer === fact.customer &&
    QUANTITY_NAMES.every((name) => row[name] === (fact.amounts[name] ?? 0))
  );
}

export function factOf(row: FactRow): Fact {
  const { id, kind, fromMs, toMs, printerId, stockId, queueId, modeId, customer, runId, jobId } = row;
  const amounts: Amounts = {};
  for (const name of QUANTITY_NAMES) if (row[name] !== 0) amounts[name] = row[name];
  return { id, kind, fromMs, toMs, printerId, stockId, queueId, modeId, customer, runId, jobId, amounts };
}

/** Hours, or days of the shop, that hold a span whole. */
export function bordersOf(grain: Grain, fromMs: number, toMs: number, zone: string): number[] {
  if (grain === 'hour') {
    const first = Math.floor(fromMs / HOUR_MS);
    const last = Math.floor(toMs / HOUR_MS) + 1;
    return Array.from({ length: last - first + 1 }, (_, i) => (first + i) * HOUR_MS);
  }
  const borders = [startOfDay(fromMs, zone)];
  while ((borders.at(-1) ?? 0) <= toMs) {
    const next = new TZDate(borders.at(-1) ?? 0, zone);
    next.setDate(next.getDate() + 1);
    borders.push(next.getTime());
  }
  return borders;
}

const ADDED = Object.fromEntries(
  QUANTITY_NAMES.map((name) => [name, sql`${factParts[name]} + ${sql.raw(`excluded.${factParts[name].name}`)}`]),
);
const KEYS = ['grain', 'fromMs', 'printerId', 'stockId', 'queueId', 'modeId', 'customer'] as const;
const KEY_VALUES = Object.fromEntries(KEYS.map((key) => [key, sql.placeholder(key)])) as Record<
  (typeof KEYS)[number],
  ReturnType<typeof sql.placeholder>
>;
const AMOUNT_VALUES = Object.fromEntries(QUANTITY_NAMES.map((name) => [name, sql.placeholder(name)]));
const NO_AMOUNTS = Object.fromEntries(QUANTITY_NAMES.map((name) => [name, 0]));

/** With so many columns putting the statement together takes longer than running it. */
const putPart = prepared((db) =>
  db
    .insert(factParts)
    .values({ ...KEY_VALUES, ...AMOUNT_VALUES } as unknown as typeof factParts.$inferInsert)
    .onConflictDoUpdate({ target: KEYS.map((key) => factParts[key]), set: ADDED })
    .prepare(),
);
const dropEmptyPart = prepared((db) =>
  db
    .delete(factParts)
    .where(and(...KEYS.map((key) => eq(factParts[key], KEY_VALUES[key])), IS_NOTHING))
    .prepare(),
);

function addParts(tx: Reader, zone: string, fact: Fact, sign: 1 | -1): void {
  const { printerId, stockId, queueId, modeId, customer } = fact;
  for (const grain of GRAINS) {
    const borders = bordersOf(grain, fact.fromMs, fact.toMs, zone);
    for (const { at, amounts } of partsOf(fact, borders)) {
      const key = { grain, fromMs: borders[at] ?? 0, printerId, stockId, queueId, modeId, customer };
      const signed = Object.fromEntries(Object.entries(amounts).map(([name, value]) => [name, sign * value]));
      putPart(tx).run({ ...NO_AMOUNTS, ...key, ...signed });
      if (sign < 0) dropEmptyPart(tx).run(key);
    }
  }
}

/** Forgets all facts and puts every source on the list: what they bring is the same, figure by figure. */
export function forgetFacts(db: Shop['db']): void {
  db.transaction((tx) => {
    tx.run(sql`INSERT OR IGNORE INTO facts_due SELECT DISTINCT kind, substr(source, length(kind) + 2) FROM facts`);
    tx.delete(facts).run();
    tx.delete(factParts).run();
  });
}
