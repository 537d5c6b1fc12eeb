import { eq } from 'drizzle-orm';
import { careItems, channelExercise, timers } from '../db/tables/careTables.ts';
import { channelFirings, inkLedger, spoolLedger } from '../db/tables/records.ts';
import { printers, spools } from '../db/tables/floorTables.ts';
import { type CareShop, careOf, daily, exercised, logOf, openCareShop, whitePurge } from '../testing/careFixture.ts';
import { ServedShop } from '../testing/servedShop.ts';
import { careReport, idle } from '../testing/shopFixture.ts';
import { TESTER } from '../testing/tester.ts';
import { cancelWaitingCare, careView, findCare, startCare } from '../usecases/care/careItems.ts';
import { recordCareReport } from '../usecases/care/careReports.ts';
import { removeDesign } from '../usecases/care/designs.ts';
import { putDueCare } from '../usecases/care/dueTimers.ts';
import { rotaView } from '../usecases/care/rota.ts';
import { timerRow } from '../usecases/care/timers.ts';
import { recordPrinterState } from '../usecases/device/machineReports.ts';
import { printersNow } from '../usecases/plan/printersNow.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

let shop: CareShop['shop'];
let clock: CareShop['clock'];
let close: () => void;
let served: ServedShop;
beforeEach(() => {
  ({ shop, clock, close } = openCareShop());
  served = new ServedShop(shop);
});
afterEach(() => {
  served.dispatcher.close();
  close();
});

test('by hand: it is sent to a free printer, booked once by its attempt, and its ink makes the channel fresh', async () => {
  const designId = whitePurge(shop);
  const id = startCare(shop, 'wren', { kind: 'purge', designId }, TESTER);
  shop.link.startedMs = clock.nowMs;
  await served.says('wren');
  expect(shop.link.cared).toHaveLength(1);
  expect(shop.link.cared[0]).toMatchObject({
    careId: id,
    attempt: 1,
    order: { kind: 'purge', sourceId: 'tray', fedMm: 450, clean: null },
  });
  const white = shop.link.cared[0]?.order.inkMl.white ?? 0;
  expect(white).toBeCloseTo(0.209237, 6);
  expect(findCare(shop.db, id)?.state).toBe('caring');
  await served.says('wren', { status: 'caring' });
  const end = careReport(id, 1, {
    status: 'done',
    seq: 9,
    inkMl: { white },
    fedMm: 450,
    startedMs: clock.nowMs,
    endedMs: clock.nowMs + 120_000,
  });
  recordCareReport(shop, end);
  recordCareReport(shop, end);
  expect(careView(findCare(shop.db, id) as never)).toMatchObject({ state: 'done', late: false, fedMm: 450 });
  const booked = shop.db.select().from(inkLedger).where(eq(inkLedger.runId, id)).all();
  expect(booked.map(({ channelId, ml, purpose }) => [channelId, ml, purpose])).toEqual([['white', -white, 'purge']]);
  expect(shop.db.select().from(channelFirings).where(eq(channelFirings.runId, id)).all()).toHaveLength(1);
  const tray = shop.db.select().from(spools).where(eq(spools.sourceId, 'tray')).get();
  expect(shop.db.select().from(spoolLedger).where(eq(spoolLedger.runId, id)).all()).toMatchObject([
    { spoolId: tray?.id, kind: 'purge', mm: -450 },
  ]);
  // 0.2092 of 0.0144 ml: exercised before it was over.
  const fresh = shop.db.select().from(channelExercise).where(eq(channelExercise.printerId, 'wren')).all();
  expect(fresh).toEqual([{ printerId: 'wren', channelId: 'white', exercisedMs: clock.nowMs + 120_000 }]);
  expect(logOf(shop).filter((text) => text.startsWith('Wren: '))).toEqual([
    'Wren: White, light wanted now',
    'Wren: White, light begins',
    'Wren: White, light done, 0.21 ml of ink',
  ]);
});

test('an occurrence is put into the line once, however often it is looked for and whatever was cut off in between', async () => {
  const timerId = daily(shop, whitePurge(shop));
  expect(timerRow(shop.db, timerId).nextMs).toBe(Date.parse('2027-03-24T04:15:00Z'));
  putDueCare(shop);
  expect(careOf(shop)).toEqual([]);
  clock.nowMs = Date.parse('2027-03-24T04:15:00Z');
  const due = clock.nowMs;
  putDueCare(shop);
  putDueCare(shop);
  // As if the program had died between the row and the timer's next instant: the row is there, the timer is not set on.
  shop.db.update(timers).set({ nextMs: due }).where(eq(timers.id, timerId)).run();
  putDueCare(shop);
  expect(careOf(shop)).toMatchObject([{ timerId, dueMs: due, state: 'waiting' }]);
  expect(timerRow(shop.db, timerId).nextMs).toBe(due + DAY);
  await served.says('wren');
  await served.says('wren');
  expect(shop.link.cared).toHaveLength(1);
});

test('what work exercised and the next timer will again is skipped, and the ink that was not fired is saved', async () => {
  daily(shop, whitePurge(shop));
  clock.nowMs = Date.parse('2027-03-24T04:15:00Z');
  exercised(shop, 'white', clock.nowMs - 20 * HOUR);
  putDueCare(shop);
  await served.says('wren');
  expect(shop.link.cared).toEqual([]);
  expect(careOf(shop)).toMatchObject([{ state: 'skipped', reason: 'exercised by work' }]);
  expect(careOf(shop)[0]?.savedMl).toBeCloseTo(0.209237, 6);
  expect(rotaView(shop, clock.nowMs - DAY, clock.nowMs + DAY).saved).toMatchObject([
    { month: '2027-03', purges: 1 },
    { month: '2027-02', purges: 0, inkMl: 0 },
  ]);
  expect(logOf(shop).at(-1)).toBe('Wren: White, light skipped: exercised by work, 0.21 ml saved');
  // A day later it has been idle for 44 h of 72: more than half of its limit.
  clock.nowMs += DAY;
  putDueCare(shop);
  await served.says('wren', { seq: 2 });
  await served.says('wren', { seq: 3, reason: 'ink low: white' });
  expect(shop.link.cared).toHaveLength(1);
});

test('a design that fires only what needs it leaves the others out and books them as saved', async () => {
  daily(shop, whitePurge(shop, { white: 1, cyan: 1 }, { onlyNeeded: true }));
  clock.nowMs = Date.parse('2027-03-24T04:15:00Z');
  exercised(shop, 'white', clock.nowMs - 60 * HOUR);
  exercised(shop, 'cyan', clock.nowMs - 2 * HOUR);
  putDueCare(shop);
  await served.says('wren');
  expect(Object.keys(shop.link.cared[0]?.order.inkMl ?? {})).toEqual(['white']);
  const [row] = shop.db.select().from(careItems).all();
  expect(Object.keys(row?.savedMl ?? {})).toEqual(['cyan']);
});

test('the wrong media: it waits until its latest start and is told then; runs go on meanwhile', async () => {
  shop.db.update(spools).set({ printerId: null, sourceId: null }).where(eq(spools.sourceId, 'tray')).run();
  daily(shop, whitePurge(shop));
  clock.nowMs = Date.parse('2027-03-24T04:15:00Z');
  putDueCare(shop);
  await served.says('wren');
  expect([shop.link.cared.length, careOf(shop)[0]?.state]).toEqual([0, 'waiting']);
  const planned = rotaView(shop, clock.nowMs - DAY, clock.nowMs + DAY).printers.find(
    ({ printerId }) => printerId === 'wren',
  )?.items;
  expect(planned?.[0]).toMatchObject({ outcome: 'conflict', why: 'Film sheet 320 × 450 is not loaded' });
  clock.nowMs = (careOf(shop)[0]?.latestMs ?? 0) + 1000;
  await served.says('wren', { seq: 2, reason: 'looked at again' });
  expect(careOf(shop)[0]).toMatchObject({ state: 'impossible', reason: 'Film sheet 320 × 450 is not loaded' });
});

test('a printer with a fault: nothing is sent, and after the latest start it is told why', async () => {
  daily(shop, whitePurge(shop));
  recordPrinterState(shop, 'wren', { ...idle('wren'), status: 'faulted', reason: 'head strike' });
  clock.nowMs = Date.parse('2027-03-24T04:15:00Z');
  putDueCare(shop);
  await served.says('wren', { status: 'faulted', reason: 'head strike' });
  expect(careOf(shop)[0]?.state).toBe('waiting');
  clock.nowMs = Date.parse('2027-03-24T05:15:01Z');
  putDueCare(shop);
  expect(careOf(shop)[0]).toMatchObject({ state: 'impossible', reason: 'Wren: head strike' });
  expect(shop.link.cared).toEqual([]);
});

test('care that its printer has never heard of is not done twice: it failed', async () => {
  const id = startCare(shop, 'wren', { kind: 'clean', strength: 'deep', channelIds: ['white'] }, TESTER);
  await served.says('wren');
  expect(shop.link.cared[0]?.order).toMatchObject({
    sourceId: null,
    fedMm: 0,
    clean: { channelIds: ['white'], strength: 'deep' },
  });
  await served.says('wren', { status: 'caring' });
  await served.says('wren', { seq: 5 });
  expect(findCare(shop.db, id)).toMatchObject({ state: 'failed', reason: 'the printer no longer knows of it' });
  expect(shop.link.cared).toHaveLength(1);
});

test('what waits can be taken out, what is unknown or on the way can not', async () => {
  const id = startCare(shop, 'wren', { kind: 'check' }, TESTER);
  cancelWaitingCare(shop, id, TESTER);
  expect(findCare(shop.db, id)?.state).toBe('cancelled');
  const other = startCare(shop, 'wren', { kind: 'stir' }, TESTER);
  await served.says('wren');
  expect(() => {
    cancelWaitingCare(shop, other, TESTER);
  }).toThrow('is caring; only care that waits can be taken out');
});

test('what is in the line keeps its design, a check takes whole sheets, and on a bed none', async () => {
  const designId = whitePurge(shop);
  startCare(shop, 'wren', { kind: 'purge', designId }, TESTER);
  expect(() => {
    removeDesign(shop, designId, TESTER);
  }).toThrow('is in the line');
  shop.db.update(spools).set({ printerId: null, sourceId: null }).where(eq(spools.sourceId, 'roll')).run();
  cancelWaitingCare(shop, careOf(shop)[0]?.id ?? '', TESTER);
  startCare(shop, 'wren', { kind: 'check' }, TESTER);
  await served.says('wren');
  expect(shop.link.cared[0]?.order).toMatchObject({ kind: 'check', sourceId: 'tray', fedMm: 450 });
  startCare(shop, 'puffin', { kind: 'check' }, TESTER);
  await served.says('puffin');
  expect(shop.link.cared[1]?.order).toMatchObject({ kind: 'check', sourceId: null, fedMm: 0 });
});

test('the device’s own word does not make a channel look fresher than what it fired: the printer’s view says the same', () => {
  shop.db
    .update(printers)
    .set({ measured: { media: [], inkMl: null, collectedMm: null, firedMs: { white: clock.nowMs, cyan: 5 } } })
    .where(eq(printers.id, 'wren'))
    .run();
  exercised(shop, 'white', clock.nowMs - 50 * HOUR);
  expect(printersNow(shop, 'wren')[0]?.firedMs).toEqual({ white: clock.nowMs - 50 * HOUR, cyan: 5 });
});

test('care that can not be stopped because its printer does not answer is told so', async () => {
  const id = startCare(shop, 'wren', { kind: 'stir' }, TESTER);
  await served.says('wren');
  shop.link.cancelCare = () => Promise.reject(new Error('no line'));
  await expect(served.dispatcher.care.cancel(id)).rejects.toThrow("can't be stopped now");
  expect(findCare(shop.db, id)?.state).toBe('caring');
});
