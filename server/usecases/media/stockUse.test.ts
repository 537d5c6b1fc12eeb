import { TESTER } from '../../testing/tester.ts';
import { eq } from 'drizzle-orm';
import { spoolLedger } from '../../db/records.ts';
import { spools } from '../../db/schema.ts';
import { type TestShop, openTestShop } from '../../testing/shopFixture.ts';
import { setShopSetup, shopSetup } from '../setup/shopSetup.ts';
import { stockUse } from './stockUse.ts';

const DAY = 86_400_000;
let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
  const always = [1, 2, 3, 4, 5, 6, 7].map((weekday) => ({ weekday, from: '07:30', to: '18:00' }));
  setShopSetup(shop, { ...shopSetup(shop.db, shop.clock.zone), days: always, holidays: [] }, TESTER);
});
afterEach(() => {
  close();
});

test('only what runs took in the last 30 days counts, over the days on which the shop was open since it began', () => {
  const nowMs = shop.clock.now();
  const [spool] = shop.db.select().from(spools).where(eq(spools.stockId, 'mesh')).all();
  const book = (kind: 'run' | 'correction', mm: number, daysAgo: number): void => {
    shop.db
      .insert(spoolLedger)
      .values({ spoolId: spool?.id ?? '', kind, mm, atMs: nowMs - daysAgo * DAY })
      .run();
  };
  expect(stockUse(shop).uses).toEqual([]);
  book('run', -4000, 5);
  book('run', -2500, 1);
  book('correction', -9000, 1);
  const young = stockUse(shop);
  expect(young.uses).toEqual([{ stockId: 'mesh', usedMm: 6500 }]);
  // Five days back to the same hour: five or six days were open, by the hour of today.
  expect([5, 6]).toContain(young.openDays);
  book('run', -50_000, 40);
  const old = stockUse(shop);
  expect(old.uses).toEqual(young.uses);
  expect([30, 31]).toContain(old.openDays);
});
