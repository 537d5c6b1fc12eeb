import { careItems } from '../../../db/tables/careTables.ts';
import { daily, whitePurge } from '../../../testing/careFixture.ts';
import { openLockStep } from '../../../testing/lockStep.ts';
import { type TestShop, openTestShop } from '../../../testing/shopFixture.ts';
import { whatIfView } from './whatIfAnswer.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const FROM = Date.parse('2027-03-24T00:00:00Z');

/** Six days of a shop with a purge of white and no work, printed by the stand-in. */
async function sixDays(rrule: string, look: (shop: TestShop, nowMs: number) => Promise<void>): Promise<void> {
  const { shop, close } = openTestShop();
  const clock = { nowMs: FROM };
  const line = await openLockStep(shop, clock);
  daily(shop, whitePurge(shop), { rrule });
  await line.until(FROM + 6 * DAY, HOUR / 2);
  await look(shop, clock.nowMs);
  line.close();
  close();
}

function printed(shop: TestShop): { purges: number; careMs: number; ml: number } {
  const done = shop.db
    .select()
    .from(careItems)
    .all()
    .filter(({ state }) => state === 'done');
  return {
    purges: done.length,
    careMs: done.reduce((sum, { startedMs, endedMs }) => sum + (endedMs ?? 0) - (startedMs ?? 0), 0),
    ml: done.reduce((sum, { inkMl }) => sum + Object.values(inkMl).reduce((all, ml) => all + ml, 0), 0),
  };
}

test('purges every third day: as many, as long and with as much ink as the stand-in prints by that timer', async () => {
  const answers: NonNullable<Awaited<ReturnType<typeof whatIfView>>['care']>[] = [];
  await sixDays('FREQ=DAILY', async (shop, nowMs) => {
    const period = { fromMs: FROM, toMs: nowMs, printerIds: ['wren'] };
    const { care: asked } = await whatIfView(shop, { ...period, change: { purgeDays: 3 } });
    if (asked) answers.push(asked);
    const { purges, careMs, ml } = printed(shop);
    // Every second one is needless: the next comes within the idle limit.
    expect(purges).toBe(3);
    expect(asked?.was).toMatchObject({ purges: 3, careMs, inkMl: expect.closeTo(ml, 9) as number });
    // As often as it was: nothing changes, whatever the hour.
    const same = (await whatIfView(shop, { ...period, change: { purgeDays: 1 } })).care;
    expect(same?.would).toEqual(same?.was);
    const never = (await whatIfView(shop, { ...period, change: { purgeDays: 0 } })).care;
    expect(never?.would).toMatchObject({ purges: 0, careMs: 0, inkMl: 0, costMinor: 0 });
    expect(never?.would.clogs).toBeGreaterThan(asked?.would.clogs ?? Infinity);
    await expect(
      whatIfView(shop, { fromMs: nowMs + 1, toMs: nowMs + DAY, change: { purgeDays: 2 } }),
    ).rejects.toMatchObject({ code: 'no-past' });
    await expect(
      whatIfView(shop, { fromMs: nowMs - 101 * DAY, toMs: nowMs, change: { purgeDays: 2 } }),
    ).rejects.toMatchObject({ code: 'too-long' });
  });
  const [asked] = answers;
  await sixDays('FREQ=DAILY;INTERVAL=3', (shop) => {
    const { purges, careMs, ml } = printed(shop);
    expect(purges).toBe(2);
    expect(asked?.would.purges).toBeCloseTo(purges, 9);
    expect(Math.abs((asked?.would.careMs ?? 0) - careMs) / careMs).toBeLessThan(0.03);
    expect(Math.abs((asked?.would.inkMl ?? 0) - ml) / ml).toBeLessThan(0.03);
    return Promise.resolve();
  });
  expect(asked?.would.clogs).toBeGreaterThan(asked?.was.clogs ?? Infinity);
});
