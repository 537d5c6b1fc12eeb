import { TESTER } from '../testing/tester.ts';
import fc from 'fast-check';
import { eq } from 'drizzle-orm';
import { type TestShop, admitPlain, openTestShop } from '../testing/shopFixture.ts';
import { changeJob } from '../usecases/ticket/changeJobs.ts';
import { isTooShort } from '../../core/ticket/jobQuery.ts';
import { jobs } from './tables/schema.ts';
import { type JobsWanted, listJobs } from './views.ts';

let shop: TestShop;
let close: () => void;
beforeAll(() => {
  ({ shop, close } = openTestShop());
});
afterAll(() => {
  close();
});

const CUSTOMERS = ['Marram Theatre', 'Dune Radio', 'Søndergård & Co', null];
const NAMES = ['Quay at night', 'quayside_A4', 'Poster “5%” off', 'banner-2_final', 'Ørsted'];

/** Sixty jobs, every third still at work; the others over in each way that there is. */
function filled(): { id: string; seq: number; state: string; text: string }[] {
  const states = ['ready', 'printed', 'shelved', 'ready', 'dropped', 'cancelled'] as const;
  const ids = Array.from({ length: 60 }, (_, i) => {
    const id = admitPlain(shop, `${NAMES[i % 5] ?? ''} ${String(i)}.pdf`, [[100 + i, 60]]);
    const customer = CUSTOMERS[i % 4] ?? null;
    changeJob(shop, id, { customer, orderNo: `O-${String(1000 + i)}` }, TESTER);
    shop.db
      .update(jobs)
      .set({ state: states[i % 6] ?? 'ready' })
      .where(eq(jobs.id, id))
      .run();
    return id;
  });
  return ids.map((id) => {
    const row = shop.db.select().from(jobs).where(eq(jobs.id, id)).get();
    if (!row) throw new Error('gone');
    const { customer, orderNo } = row.ticket.values;
    return { id, seq: row.seq, state: row.state, text: [row.sourceName, customer, orderNo].join(' ').toLowerCase() };
  });
}

function allPages(wanted: Omit<JobsWanted, 'limit' | 'cursor'>): string[] {
  const found: string[] = [];
  let cursor: string | undefined;
  do {
    const page = listJobs(shop.db, { ...wanted, limit: 7, cursor });
    found.push(...page.items.map(({ id }) => id));
    cursor = page.nextCursor ?? undefined;
  } while (cursor !== undefined);
  return found;
}

const PAST = ['printed', 'shelved', 'dropped', 'cancelled'];
const OF = {
  all: () => true,
  live: (state: string) => !PAST.includes(state),
  past: (state: string) => PAST.includes(state),
  kept: (state: string) => ['printed', 'shelved'].includes(state),
};

test('each list holds just its jobs, page after page, and a search finds what a plain look at all of them finds', () => {
  const made = filled();
  for (const which of ['all', 'live', 'past', 'kept'] as const) {
    const own = made.filter(({ state }) => OF[which](state)).map(({ id }) => id);
    expect(allPages({ which, order: 'oldest' })).toEqual(own);
    expect(allPages({ which, order: 'newest' })).toEqual([...own].reverse());
    expect(allPages({ which, order: 'newest', queueId: 'heron-banners' })).toEqual([...own].reverse());
    expect(allPages({ which, order: 'newest', queueId: 'bittern-photo' })).toEqual([]);
  }
  const word = fc.oneof(
    fc.constantFrom(
      'quay',
      'MARRAM',
      'ter 5',
      'A4',
      'o-10',
      '“5%”',
      '-2_',
      'søn',
      'ørs',
      '%',
      '_',
      '"',
      "'",
      'radio',
      '7',
    ),
    fc.string({ minLength: 1, maxLength: 5 }),
  );
  fc.assert(
    fc.property(
      fc.array(word, { minLength: 1, maxLength: 3 }),
      fc.constantFrom('all', 'live', 'past', 'kept'),
      (words, which) => {
        const text = words.join(' ');
        // In one field only: those have tests of their own.
        fc.pre(!/[a-z]+:/i.test(text) && text.trim() !== '' && !isTooShort(text) && !text.includes('×'));
        const parts = text.toLowerCase().split(/\s+/).filter(Boolean);
        const plain = made
          .filter(({ state, text: own }) => OF[which](state) && parts.every((part) => own.includes(part)))
          .map(({ id }) => id)
          .reverse();
        const found = allPages({ which, order: 'newest', text });
        // Other fields (stock, queue, size) may find more; never less, and nothing of another list.
        expect(found.filter((id) => plain.includes(id))).toEqual(plain);
        const states = new Map(made.map(({ id, state }) => [id, state]));
        expect(found.every((id) => OF[which](states.get(id) ?? ''))).toBe(true);
      },
    ),
    { seed: 5, numRuns: 150 },
  );
});

test('a field, the state, a size and a part of a word each find their own; a changed ticket is found by its new words', () => {
  const id = admitPlain(shop, 'harbour wall.pdf', [[841, 1189]]);
  changeJob(shop, id, { customer: 'Gull & Sons' }, TESTER);
  shop.db.update(jobs).set({ state: 'shelved' }).where(eq(jobs.id, id)).run();
  const finds = (text: string): boolean =>
    listJobs(shop.db, { which: 'past', order: 'newest', limit: 100, text }).items.some((job) => job.id === id);
  for (const text of [
    'arbou',
    'customer:gull',
    '841x1189',
    '841×1189',
    'size:841',
    'stock:banner',
    'queue:heron',
    'gull state:shelved',
    'harbour priority:normal',
    'gull &',
  ]) {
    expect([text, finds(text)]).toEqual([text, true]);
  }
  for (const text of [
    'customer:harbour',
    'gull state:printed',
    'name:gull',
    'harbour priority:rush',
    'stock:mesh',
    'NEAR(',
    'gull" OR "quay',
  ]) {
    expect([text, finds(text)]).toEqual([text, false]);
  }
  changeJob(shop, id, { customer: 'Tern Street Choir' }, TESTER);
  expect([finds('gull'), finds('tern street')]).toEqual([false, true]);
});
