import { eq } from 'drizzle-orm';
import { careItems } from '../../db/tables/careTables.ts';
import { spoolLeftMm } from '../../db/printerViews.ts';
import { runs } from '../../db/tables/schema.ts';
import { type LockStep, openLockStep } from '../../testing/lockStep.ts';
import { type TestShop, admitPlain, openTestShop } from '../../testing/shopFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { createDesign } from '../care/designs.ts';
import { createTimers } from '../care/timers.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { createRun } from '../run/createRun.ts';
import { queueRun } from '../run/queueRun.ts';
import { setShopSetup, shopSetup } from '../setup/shopSetup.ts';
import { armAway } from './arm.ts';
import { morningOf } from './morning.ts';
import { simulateAway } from './simulateAway.ts';

const MIN = 60_000;
const HOUR = 60 * MIN;
/** Where nothing ends, looks of the dispatcher lie so far apart. */
const STEP = MIN;
/** What a handing over takes: a look, an answer. */
const SPREAD = 1000;

let shop: TestShop;
let close: () => void;
const clock = { nowMs: 0 };
let line: LockStep;

beforeEach(async () => {
  ({ shop, close } = openTestShop());
  clock.nowMs = Date.parse('2027-03-24T17:00:00Z');
  // White of Wren has stood so long that no work of the day before makes its purge needless.
  line = await openLockStep(shop, clock, (device) =>
    device.about.id === 'wren' ? { ...device, idleH: { white: 40 } } : device,
  );
  const days = [1, 2, 3, 4, 5].map((weekday) => ({ weekday, from: '07:30', to: '18:00' }));
  setShopSetup(shop, { ...shopSetup(shop.db, shop.clock.zone), days, holidays: [] }, TESTER);
  await line.until(clock.nowMs + MIN, MIN);
});
afterEach(() => {
  line.close();
  close();
});

async function queued(
  name: string,
  size: readonly [number, number],
  queueId: string,
  stockId?: string,
): Promise<string> {
  const runId = createRun(shop, [admitPlain(shop, name, [size], queueId)], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  const row = shop.db.select().from(runs).where(eq(runs.id, runId)).get();
  if (row && stockId !== undefined) {
    shop.db
      .update(runs)
      .set({ ticket: { ...row.ticket, stockId } })
      .where(eq(runs.id, runId))
      .run();
  }
  return runId;
}

function purge(hour: string): void {
  const designId = createDesign(
    shop,
    {
      ...{ printerId: 'wren', name: 'White', modeId: 'draft', stockId: 'film-sheet', onlyNeeded: false },
      sheet: { form: 'sheet', widthMm: 320, lengthMm: 450, density: 0.1, levels: { white: 1 } },
    },
    TESTER,
  );
  createTimers(
    shop,
    {
      ...{ printerIds: ['wren'], what: { kind: 'purge', designId }, rrule: 'FREQ=DAILY' },
      ...{ startLocal: `2027-03-25T${hour}`, untilLocal: null, skipHolidays: false, missed: 'catch-up' },
      ...{ slackMin: 60, paused: false },
    },
    TESTER,
  );
}

test('the night comes as it was planned: the same events in the same order, at the same time, from the same media', async () => {
  const heron = [
    await queued('long.pdf', [1500, 9000], 'heron-banners'),
    await queued('mesh.pdf', [1200, 3000], 'heron-banners', 'mesh'),
    await queued('short.pdf', [1000, 2500], 'heron-banners'),
  ];
  const bittern = [
    await queued('photo.pdf', [800, 4000], 'bittern-photo'),
    await queued('more.pdf', [700, 3000], 'bittern-photo'),
  ];
  purge('02:15');
  const period = { fromMs: clock.nowMs, toMs: clock.nowMs + 13.5 * HOUR };
  const plan = await simulateAway(shop, { ...period, nights: 0 }, {});
  const done = plan.events.filter(({ outcome }) => outcome === 'done');
  expect(done).toHaveLength(5);
  expect(plan.events.filter(({ outcome }) => outcome === 'hand').map(({ id }) => id)).toEqual([heron[1]]);
  const { id } = await armAway(shop, { ...period, planHash: plan.planHash }, TESTER, {});
  await line.until(period.toMs, STEP);

  const began = [
    ...shop.db.select().from(runs).all(),
    ...shop.db
      .select()
      .from(careItems)
      .all()
      .map((care) => ({ ...care, id: `${care.timerId ?? ''}@${String(care.dueMs)}` })),
  ].filter(({ startedMs }) => startedMs !== null);
  const inOrder = began.sort((a, b) => (a.startedMs ?? 0) - (b.startedMs ?? 0)).map((each) => each.id);
  const printerOf = (eventId: string) => done.find((event) => event.id === eventId)?.printerId;
  for (const printerId of ['heron', 'bittern', 'wren']) {
    const planned = done.filter((event) => event.printerId === printerId).map((event) => event.id);
    expect(inOrder.filter((each) => printerOf(each) === printerId)).toEqual(planned);
  }
  for (const event of done) {
    const real = began.find((each) => each.id === event.id);
    expect(Math.abs((real?.startedMs ?? 0) - event.atMs)).toBeLessThanOrEqual(SPREAD);
    expect(Math.abs((real?.endedMs ?? 0) - event.toMs)).toBeLessThanOrEqual(SPREAD);
  }
  for (const supply of plan.supplies) {
    if (supply.kind !== 'spool' || supply.spoolId === null) continue;
    expect(Math.abs(spoolLeftMm(shop.db, supply.spoolId) - (supply.points.at(-1)?.amount ?? 0))).toBeLessThan(1);
  }
  const morning = morningOf(shop, id);
  expect([morning.state, morning.came]).toEqual(['ended', true]);
  expect(morning.lines.map(({ verdict }) => verdict).sort()).toEqual([
    ...Array.from({ length: 5 }, () => 'as planned'),
    'left out',
  ]);
  expect(bittern).toHaveLength(2);
});

test('a fault that nobody clears is what the morning says, and the other printers go on', async () => {
  const heron = await queued('long.pdf', [1500, 9000], 'heron-banners');
  const bittern = await queued('photo.pdf', [800, 4000], 'bittern-photo');
  const period = { fromMs: clock.nowMs, toMs: clock.nowMs + 13.5 * HOUR };
  const plan = await simulateAway(shop, { ...period, nights: 0 }, {});
  const { id } = await armAway(shop, { ...period, planHash: plan.planHash }, TESTER, {});
  await line.until(clock.nowMs + 5 * MIN, STEP);
  line.machines.get('heron')?.strike({ kind: 'head strike' }, 0);
  await line.until(period.toMs, STEP);
  const morning = morningOf(shop, id);
  expect(Object.fromEntries(morning.lines.map(({ planned, verdict }) => [planned.id, verdict]))).toEqual({
    [heron]: 'not done',
    [bittern]: 'as planned',
  });
  expect(morning.came).toBe(false);
  expect(morning.stops.map(({ printerId, why }) => [printerId, why])).toContainEqual(['heron', 'head strike']);
});
