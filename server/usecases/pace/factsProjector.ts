import { and, eq, sql } from 'drizzle-orm';
import { attemptFacts } from '../../../core/pace/attemptFacts.ts';
import { bordersOf } from '../../../core/pace/borders.ts';
import { type Amounts, type Fact, QUANTITY_NAMES, partsOf } from '../../../core/pace/quantities.ts';
import { IS_NOTHING, factParts, facts, factsDue } from '../../db/tables/factTables.ts';
import type { Reader } from '../../db/open.ts';
import { prepared } from '../../db/prepared.ts';
import { storageFault } from '../../files/storageFault.ts';
import type { Shop } from '../../shop.ts';
import { shopSetup } from '../setup/shopSetup.ts';
import { attemptRecord } from './attemptSource.ts';
import { noteHours } from './hoursHistory.ts';
import { actionFacts, careFacts, jobFacts, ledgerFacts, spellFacts } from './otherSources.ts';

const GRAINS = ['hour', 'day'] as const;
/** So many sources are looked at before the time is asked again. */
const A_FEW = 5;

type FactRow = typeof facts.$inferSelect;
type Due = typeof factsDue.$inferSelect;

/** What a source brings today. */
function factsOf(db: Reader, { kind, key }: Due): Fact[] {
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
    case 'actions':
      return actionFacts(db, key);
  }
}

/** Makes the facts of what has happened, in small pieces, so that nobody waits for them. */
export class FactsProjector {
  /** Sources whose facts could not be made: they stay on the list, and keep no other from its turn. */
  private readonly failed = new Set<string>();

  constructor(private readonly shop: Pick<Shop, 'db' | 'clock' | 'log'>) {
    const { db, clock } = shop;
    // Sums are by days of the shop: where those begin at other instants, they are made anew.
    if (noteHours(db, shopSetup(db, clock.zone), clock.now())) forgetFacts(db);
  }

  /**
   * Makes facts for as long as it may: those of a few sources in one transaction with the sums, so that a source that was taken off the
   * list has its facts, whatever happens.
   * @returns whether something is left that can be made
   */
  work(forMs: number, realNow: () => number): boolean {
    const end = realNow() + forMs;
    for (;;) {
      const due = this.due();
      if (due.length === 0) return false;
      this.shop.db.transaction((tx) => {
        for (const source of due) this.make(tx, source);
      });
      if (realNow() >= end) return true;
    }
  }

  private due(): Due[] {
    return this.shop.db
      .select()
      .from(factsDue)
      .orderBy(sql`rowid`)
      .limit(A_FEW + this.failed.size)
      .all()
      .filter((source) => !this.failed.has(sourceOf(source)))
      .slice(0, A_FEW);
  }

  private make(tx: Reader, source: Due): void {
    try {
      // A transaction within the transaction: what fails leaves the others as they are.
      tx.transaction((inner) => {
        replaceFacts(inner, this.shop.clock.zone, source);
        inner
          .delete(factsDue)
          .where(and(eq(factsDue.kind, source.kind), eq(factsDue.key, source.key)))
          .run();
      });
    } catch (error) {
      if (storageFault(error) !== undefined) throw error;
      this.failed.add(sourceOf(source));
      this.shop.log.error(
        { err: error, source },
        'the figures of this could not be made; they are tried again at the next start',
      );
    }
  }
}

const sourceOf = ({ kind, key }: Due): string => `${kind}/${key}`;

/** Takes what a source has brought so far out of the sums, and puts what it brings now in. */
function replaceFacts(tx: Reader, zone: string, due: Due): void {
  const source = sourceOf(due);
  const before = tx.select().from(facts).where(eq(facts.source, source)).all();
  const after = factsOf(tx, due);
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

const PLAIN = ['id', 'fromMs', 'toMs', 'printerId', 'stockId', 'queueId', 'modeId', 'customer'] as const;

function isSame(row: FactRow, fact: Fact): boolean {
  return (
    PLAIN.every((key) => row[key] === fact[key]) &&
    QUANTITY_NAMES.every((name) => row[name] === (fact.amounts[name] ?? 0))
  );
}

function factOf(row: FactRow): Fact {
  const { source: _source, ...plain } = row;
  const amounts: Amounts = {};
  for (const name of QUANTITY_NAMES) if (row[name] !== 0) amounts[name] = row[name];
  return { ...plain, amounts };
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
