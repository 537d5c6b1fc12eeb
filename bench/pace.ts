/*
 * Pace in a shop of three years, beside one with a twelfth of its work in the same time: how long all facts take to be made, the
 * longest that the server's event loop waits for them, and how long its views take. Usage: npm run bench:pace
 */
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { count, max } from 'drizzle-orm';
import type { PaceQuery } from '../contract/api/pace/pace.ts';
import { factParts, facts, factsDue } from '../server/db/tables/factTables.ts';
import type { Shop } from '../server/shop.ts';
import { type OldShop, SHORT_HISTORY, THREE_YEARS, makeOldShop } from '../server/testing/oldShop.ts';
import { openTestShop } from '../server/testing/shopFixture.ts';
import { FactsProjector } from '../server/usecases/pace/factsProjector.ts';
import { paceAnswer } from '../server/usecases/pace/paceQuery.ts';

const ROUNDS = 5;
const DAY_MS = 86_400_000;
const YEARS_MS = 3 * 366 * DAY_MS;
/** As the server calls it. */
const DUTY_MS = 10;
const FOUR = 'good,waste,run-hours,ink';

const VIEWS: readonly (readonly [string, number, Omit<PaceQuery, 'fromMs' | 'toMs'>])[] = [
  ['total, all measures', YEARS_MS, {}],
  ['by day, all measures', YEARS_MS, { by: 'day' }],
  ['by month, all measures', YEARS_MS, { by: 'month' }],
  ['by customer, all measures', YEARS_MS, { by: 'customer' }],
  ['by day and printer, four measures', YEARS_MS, { by: 'day,printer', measures: FOUR }],
  ['by month and stock, four measures', YEARS_MS, { by: 'month,stock', measures: FOUR }],
  ['a week by day, all measures', 7 * DAY_MS, { by: 'day' }],
];

interface Figures {
  readonly sources: number;
  readonly facts: number;
  readonly parts: number;
  readonly madeS: number;
  readonly longestMs: number;
  readonly views: readonly number[];
}

function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? Number.NaN;
}

function numberOf(shop: Shop, table: typeof facts | typeof factParts | typeof factsDue): number {
  return shop.db.select({ n: count() }).from(table).get()?.n ?? 0;
}

/** All that is due is made as the server makes it, without its pauses. */
function project(shop: Shop): { readonly madeS: number; readonly longestMs: number } {
  const projector = new FactsProjector(shop);
  const from = performance.now();
  let longestMs = 0;
  for (let isMore = true; isMore;) {
    const begun = performance.now();
    isMore = projector.work(DUTY_MS, () => performance.now());
    longestMs = Math.max(longestMs, performance.now() - begun);
  }
  return { madeS: (performance.now() - from) / 1000, longestMs };
}

function timed(shop: Shop, query: PaceQuery): number {
  const times = Array.from({ length: ROUNDS }, () => {
    const from = performance.now();
    paceAnswer(shop, query);
    return performance.now() - from;
  });
  return median(times);
}

async function measured(size: OldShop): Promise<Figures> {
  const dir = await mkdtemp(join(tmpdir(), 'yellow-spool-pace-'));
  await makeOldShop(dir, size);
  const { shop, close } = openTestShop(dir);
  try {
    const sources = numberOf(shop, factsDue);
    const made = project(shop);
    const toMs =
      shop.db
        .select({ last: max(facts.toMs) })
        .from(facts)
        .get()?.last ?? 0;
    const views = VIEWS.map(([, lengthMs, view]) => timed(shop, { ...view, fromMs: toMs - lengthMs, toMs }));
    return { sources, facts: numberOf(shop, facts), parts: numberOf(shop, factParts), ...made, views };
  } finally {
    close();
    await rm(dir, { recursive: true, force: true });
  }
}

const small = await measured(SHORT_HISTORY);
const old = await measured(THREE_YEARS);
const row = (what: string, a: number, b: number, digits: number): void => {
  const cells = [a, b].map((value) => value.toFixed(digits).padStart(9));
  process.stdout.write(`${what.padEnd(34)} small ${cells.join('  old ')}  ${(b / a).toFixed(2)}x\n`);
};
row('sources', small.sources, old.sources, 0);
row('facts', small.facts, old.facts, 0);
row('sums by hour and day', small.parts, old.parts, 0);
row('all facts made, s', small.madeS, old.madeS, 1);
row('each source, ms', (1000 * small.madeS) / small.sources, (1000 * old.madeS) / old.sources, 2);
row('longest piece of that work, ms', small.longestMs, old.longestMs, 1);
for (const [i, [name]] of VIEWS.entries()) row(`${name}, ms`, small.views[i] ?? 0, old.views[i] ?? 0, 1);
