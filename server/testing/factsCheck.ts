import { sql } from 'drizzle-orm';
import { QUANTITY_NAMES, type Quantity } from '../../core/pace/quantities.ts';
import { factParts, facts, factsDue } from '../db/tables/factTables.ts';
import { runAttempts } from '../db/tables/records.ts';
import type { Shop } from '../shop.ts';
import { FactsProjector, forgetFacts } from '../usecases/pace/factsProjector.ts';

/** Makes all facts that are due. */
export function allFacts(shop: Pick<Shop, 'db' | 'clock' | 'log'>): void {
  const projector = new FactsProjector(shop);
  while (projector.work(1000, () => performance.now())) {
    // Goes on until nothing is left.
  }
}

const CAUSES: readonly Quantity[] = [
  'goodMm2',
  'leadMm2',
  'nestMm2',
  'purgeMm2',
  'checkMm2',
  'faultMm2',
  'spoiledMm2',
  'stubMm2',
];

/**
 * Whatever has happened: every mm² that was fed or thrown away has one cause, hours and days each add up to the facts, every attempt that
 * ended has its fact, and all of it made anew is the same figure by figure.
 */
export function factsMustHold(shop: Pick<Shop, 'db' | 'clock' | 'log'>): void {
  const { db } = shop;
  allFacts(shop);
  expect(db.select().from(factsDue).all()).toEqual([]);
  const made = db.select().from(facts).orderBy(facts.id).all();
  const total = (rows: readonly Partial<Record<Quantity, number>>[], name: Quantity): number =>
    rows.reduce((sum, row) => sum + (row[name] ?? 0), 0);
  for (const fact of made) {
    expect([fact.id, CAUSES.reduce((sum, name) => sum + fact[name], 0)]).toEqual([fact.id, fact.fedMm2 + fact.stubMm2]);
  }
  const parts = db
    .select()
    .from(factParts)
    .orderBy(sql`1, 2, 3, 4, 5, 6, 7`)
    .all();
  for (const grain of ['hour', 'day'] as const) {
    const own = parts.filter((part) => part.grain === grain);
    for (const name of QUANTITY_NAMES)
      expect([grain, name, total(own, name)]).toEqual([grain, name, total(made, name)]);
  }
  const ended = db
    .select()
    .from(runAttempts)
    .all()
    .filter(({ outcome }) => outcome !== 'on the printer');
  for (const { runId, attempt } of ended) {
    expect(made.filter((fact) => fact.id.startsWith(`attempt/${runId}/${String(attempt)}/`)).length).toBeGreaterThan(0);
  }
  expect(total(made, 'runs')).toBe(ended.length);
  forgetFacts(db);
  allFacts(shop);
  expect(db.select().from(facts).orderBy(facts.id).all()).toEqual(made);
  expect(
    db
      .select()
      .from(factParts)
      .orderBy(sql`1, 2, 3, 4, 5, 6, 7`)
      .all(),
  ).toEqual(parts);
}
