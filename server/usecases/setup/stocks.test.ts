import { latestLog } from '../../db/views.ts';
import { stockSettings, stockSettingsChanges } from '../../db/tables/floorTables.ts';
import { openTestShop, type TestShop } from '../../testing/shopFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { bulkStockSettings, setStockSettings, undoStockSettings } from './stocks.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

const ORDER = {
  stockIds: ['mesh', 'block-out'],
  printerIds: ['heron', 'kestrel'],
  set: { mirror: true },
  clear: [],
  preview: false,
};
const kept = (): unknown[] =>
  shop.db
    .select()
    .from(stockSettings)
    .all()
    .map(({ stockId, printerId, settings }) => ({ stockId, printerId, settings }))
    .filter(({ settings }) => Object.keys(settings).length > 0)
    .sort((a, b) => `${a.stockId}${a.printerId}`.localeCompare(`${b.stockId}${b.printerId}`));
const wayBack = (): string => /settings\/(.+)\/undo/.exec(latestLog(shop.db, 1)[0]?.undo?.path ?? '')?.[1] ?? '';

test('a change of many stocks is undone whole, and what was undone can be done again', () => {
  setStockSettings(shop, 'mesh', 'heron', { copies: 2 }, TESTER);
  const before = kept();
  const { changes } = bulkStockSettings(shop, ORDER, TESTER);
  expect(changes.length).toBeGreaterThan(1);
  const after = kept();
  expect(after).not.toEqual(before);
  expect(undoStockSettings(shop, wayBack(), TESTER)).toEqual({ undone: changes.length, stayed: 0 });
  expect(kept()).toEqual(before);
  undoStockSettings(shop, wayBack(), TESTER);
  expect(kept()).toEqual(after);
});

test('what somebody has changed since stays, and a way back can be gone once only', () => {
  const { changes } = bulkStockSettings(shop, ORDER, TESTER);
  const way = wayBack();
  setStockSettings(shop, 'mesh', 'heron', { mirror: true, copies: 3 }, TESTER);
  expect(undoStockSettings(shop, way, TESTER)).toEqual({ undone: changes.length - 1, stayed: 1 });
  expect(kept()).toContainEqual({ stockId: 'mesh', printerId: 'heron', settings: { mirror: true, copies: 3 } });
  expect(() => undoStockSettings(shop, way, TESTER)).toThrow('or it is undone');
});

test('nothing is kept of a preview', () => {
  bulkStockSettings(shop, { ...ORDER, preview: true }, TESTER);
  expect(shop.db.select().from(stockSettingsChanges).all()).toEqual([]);
});
