import { eq } from 'drizzle-orm';
import { spoolLeftMm, spoolViews } from '../../db/printerViews.ts';
import { spoolLedger } from '../../db/tables/records.ts';
import { stocks } from '../../db/tables/floorTables.ts';
import { rackOf } from '../../../core/schedule/planInput.ts';
import { type TestShop, openTestShop } from '../../testing/shopFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { changeStock, createStock } from '../setup/stocks.ts';
import { importSpools } from './importSpools.ts';
import { loadSpool } from './loadSpool.ts';
import { receiveSpool } from './spools.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

const received = (label: string, more: { stockId?: string; code?: string; lengthMm?: number } = {}): string =>
  receiveSpool(shop, { stockId: 'block-out', label, lot: '', lengthMm: 50_000, ...more }, TESTER);
const codesOf = (id: string) => shop.db.select().from(stocks).where(eq(stocks.id, id)).get()?.codes;
const ledgerOf = (spoolId: string) =>
  shop.db
    .select({ kind: spoolLedger.kind, mm: spoolLedger.mm })
    .from(spoolLedger)
    .where(eq(spoolLedger.spoolId, spoolId))
    .orderBy(spoolLedger.id)
    .all();

test('a code that was scanned once says which stock it is, on the page and in a list of a delivery', () => {
  received('BO-90', { code: ' 401-7731 ' });
  expect(codesOf('block-out')).toEqual(['401-7731']);
  // Again, and in other letters, it is the same.
  received('BO-91', { code: '401-7731' });
  expect(codesOf('block-out')).toEqual(['401-7731']);
  const { rows } = importSpools(shop, 'stock,label,length\n401-7731,BO-92,50 m\n', false, TESTER);
  expect(rows).toMatchObject([{ stock: 'Block-out banner 1600', trouble: null }]);
  // Another stock can't have it, and nothing of that delivery is booked.
  expect(() => received('ME-90', { stockId: 'mesh', code: '401-7731' })).toThrow(
    '401-7731 is a code of Block-out banner 1600.',
  );
  expect(spoolViews(shop.db).map(({ label }) => label)).not.toContain('ME-90');
  expect(() => {
    changeStock(shop, 'mesh', { codes: ['A', '401-7731'] }, TESTER);
  }).toThrow('is a code of');
  changeStock(shop, 'block-out', { codes: ['b-1', 'B-1', '401-7731'] }, TESTER);
  expect(codesOf('block-out')).toEqual(['B-1', '401-7731']);
  expect(codesOf(createStock(shop, 'Block-out, another', 'block-out', TESTER))).toEqual([]);
});

test('a leader is fed each time a roll is loaded: it is booked, and plans know it beforehand', async () => {
  changeStock(shop, 'block-out', { leaderMm: 300 }, TESTER);
  const id = received('BO-93', { lengthMm: 10_000 });
  const onRack = () => rackOf(spoolViews(shop.db)).find((spool) => spool.id === id)?.leftMm;
  expect(onRack()).toBe(9700);
  await loadSpool(shop, id, { printerId: 'heron', sourceId: 'roll' }, TESTER);
  expect(ledgerOf(id)).toEqual([
    { kind: 'received', mm: 10_000 },
    { kind: 'leader', mm: -300 },
  ]);
  expect(spoolLeftMm(shop.db, id)).toBe(9700);
  // Measured where it stands it is not loaded again.
  await loadSpool(shop, id, { printerId: 'heron', sourceId: 'roll', widthMm: 1600 }, TESTER);
  expect(ledgerOf(id)).toHaveLength(2);
  // No more than there is.
  const stub = received('BO-94', { lengthMm: 120 });
  await loadSpool(shop, stub, { printerId: 'heron', sourceId: 'roll' }, TESTER);
  expect(spoolLeftMm(shop.db, stub)).toBe(0);
  // Sheets have none.
  changeStock(shop, 'film-sheet', { leaderMm: 300 }, TESTER);
  expect(spoolViews(shop.db).find(({ stockId }) => stockId === 'film-sheet')?.leaderMm).toBe(0);
});
