import { eq } from 'drizzle-orm';
import { strainOf } from '../../../core/heads/clogLearning.ts';
import type { ChannelFaults } from '../../../core/heads/nozzleFaults.ts';
import { careMonths, careOutcomes, channelHeads, clogSpells, nozzleChecks } from '../../db/tables/headTables.ts';
import { checkToRead, faultsOf } from '../../db/headStates.ts';
import { stocks } from '../../db/tables/floorTables.ts';
import { type CareShop, careOf, exercised, logOf, openCareShop } from '../../testing/careFixture.ts';
import { ServedShop } from '../../testing/servedShop.ts';
import { careReport } from '../../testing/shopFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { findCare, startCare } from '../care/careItems.ts';
import { recordCareReport } from '../care/careReports.ts';
import { readCheck, readLoosePlot } from './checks.ts';
import { startHeadCare } from './headCare.ts';
import { headsOf } from './headsView.ts';

const HOUR = 3_600_000;
const ALL_GOOD = { missing: [], weak: [], crooked: [], unjudged: [] };
/** Nozzles of Wren that print the same lines in its mode Transfer: 8 passes, 8 interlaces, one class each. */
const SAME_LINE = [10];

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

/** Care that a printer has done, as it reports it. */
async function done(careId: string, more: Parameters<typeof careReport>[2] = {}): Promise<void> {
  shop.link.startedMs = clock.nowMs;
  await served.says('wren');
  await served.says('wren', { status: 'caring' });
  const attempt = findCare(shop.db, careId)?.attempt ?? 1;
  const inkMl = findCare(shop.db, careId)?.inkMl ?? {};
  const end = {
    status: 'done' as const,
    seq: 99,
    startedMs: clock.nowMs,
    endedMs: clock.nowMs + 1000,
    inkMl: { ...inkMl },
  };
  recordCareReport(shop, careReport(careId, attempt, { ...end, ...more }));
  recordCareReport(shop, careReport(careId, attempt, { ...end, ...more }));
}

/** A check is printed on Wren. @returns its id */
async function printed(more: Parameters<typeof careReport>[2] = {}): Promise<string> {
  await done(startCare(shop, 'wren', { kind: 'check' }, TESTER), more);
  const [latest] = shop.db.select().from(nozzleChecks).all().slice(-1);
  return latest?.id ?? '';
}

function read(id: string, faults: Partial<ChannelFaults>, channelId = 'cyan'): void {
  const found = { [channelId]: { ...ALL_GOOD, ...faults } } as Parameters<typeof readCheck>[2]['found'];
  readCheck(shop, id, { by: 'eye', confidence: null, found }, TESTER);
}

const cyan = () => shop.db.select().from(channelHeads).where(eq(channelHeads.channelId, 'cyan')).get();

test('a check that is printed waits to be read; read by eye it says what the nozzles are like, read again it is put right', async () => {
  const id = await printed();
  // Reported twice it is one check; clear film shows every ink.
  expect(shop.db.select().from(nozzleChecks).all()).toMatchObject([
    { id, readMs: null, channelIds: ['cyan', 'magenta', 'yellow', 'black', 'white'] },
  ]);
  expect(checkToRead(shop.db, 'wren')).toBe(id);
  read(id, { missing: [7], weak: [9] });
  expect(checkToRead(shop.db, 'wren')).toBeNull();
  expect(faultsOf(shop.db, 'wren')).toEqual({ cyan: { missing: [7], weak: [9], crooked: [] } });
  read(id, { missing: [7] });
  expect(faultsOf(shop.db, 'wren')).toEqual({ cyan: { missing: [7], weak: [], crooked: [] } });
  expect(shop.db.select().from(clogSpells).all()).toEqual([]);
  expect(logOf(shop).filter((text) => text.includes('read'))).toEqual([
    'Wren: nozzle check read by eye: 1 missing, 1 weak, 0 crooked',
    'Wren: nozzle check read by eye: 1 missing, 0 weak, 0 crooked',
  ]);
});

test('a device that reads its own plots says so with its report', async () => {
  const nozzles = { cyan: { missing: [3], weak: [], crooked: [4] }, black: { missing: [], weak: [], crooked: [] } };
  await printed({ nozzles });
  expect(checkToRead(shop.db, 'wren')).toBeNull();
  expect(faultsOf(shop.db, 'wren')).toEqual(nozzles);
  expect(headsOf(shop, 'wren').checks[0]).toMatchObject({ by: 'device', who: 'Wren', confidence: 1 });
});

test('white is not drawn on white media: only channels that show are, and the others stay as they were known', async () => {
  shop.db.update(stocks).set({ clear: false, colour: '#FFFFFF' }).run();
  const id = startCare(shop, 'wren', { kind: 'check' }, TESTER);
  await done(id);
  expect(shop.link.cared.at(-1)?.order.checks).toEqual(['cyan', 'magenta', 'yellow', 'black']);
  expect(Object.keys(findCare(shop.db, id)?.inkMl ?? {})).not.toContain('white');
  shop.db.update(stocks).set({ colour: '#201E1C' }).run();
  await done(startCare(shop, 'wren', { kind: 'check' }, TESTER));
  expect(shop.link.cared.at(-1)?.order.checks).toEqual(['white']);
});

test('nozzles and channels that there are not are refused with the figures', async () => {
  const id = await printed();
  expect(() => read(id, { missing: [360] })).toThrow('Cyan of Wren has no nozzle 360: they go from 0 to 359.');
  expect(() => read(id, {}, 'gold')).toThrow('Wren has no channel gold.');
  expect(() => read('check-none', {})).toThrow('There is no check check-none.');
});

test('clogs are learned from the second check on: the strain of the idle spells between two checks, and what came of them', async () => {
  exercised(shop, 'cyan', clock.nowMs - HOUR);
  read(await printed(), { missing: [1] });
  expect(cyan()?.sums.clogs).toBe(0);
  // Idle for 1.2 of its 96 h; the check itself ends the spell.
  clock.nowMs += 1.2 * 96 * HOUR;
  const second = await printed();
  // It is read an hour and some firings later: they belong to the spell behind it.
  clock.nowMs += 48 * HOUR;
  read(second, { missing: [1, 2], weak: [3] });
  const spells = shop.db.select().from(clogSpells).all();
  expect(spells).toMatchObject([{ channelId: 'cyan', clogs: 2 }]);
  expect(spells[0]?.idleH).toBeCloseTo(1.2 * 96, 1);
  expect(cyan()?.sums.clogs).toBe(2);
  expect(cyan()?.sums.exposure.cubic).toBeCloseTo(359 * strainOf(1.2), 2);
  const [view] = headsOf(shop, 'wren').channels;
  expect(view?.rate.mean).toBeCloseTo(4 / (200 + 359 * strainOf(1.2)), 6);
});

test('a clean is judged by the next check: what helped is counted, what failed three times in a row is not offered again', async () => {
  read(await printed(), { missing: SAME_LINE });
  const advice = () => headsOf(shop, 'wren').advice;
  // Nothing waits for it: only ink and the checks cost anything, and doing nothing costs nothing.
  expect(advice()).toMatchObject({ what: 'nothing', channelIds: ['cyan'] });
  expect(advice()?.rungs.map(({ action }) => action)).toContain('light');
  for (let attempt = 1; attempt <= 3; attempt += 1) {
    clock.nowMs += HOUR;
    await done(startCare(shop, 'wren', { kind: 'clean', strength: 'light', channelIds: ['cyan'] }, TESTER));
    read(await printed(), { missing: SAME_LINE });
  }
  expect(shop.db.select().from(careOutcomes).all()).toMatchObject([{ action: 'light', tried: 3, helped: 0 }]);
  expect(advice()?.rungs.map(({ action }) => action)).not.toContain('light');
  clock.nowMs += HOUR;
  await done(startCare(shop, 'wren', { kind: 'clean', strength: 'deep', channelIds: ['cyan'] }, TESTER));
  read(await printed(), {});
  expect(shop.db.select().from(careOutcomes).all()).toMatchObject([
    { action: 'light', tried: 3, helped: 0 },
    { action: 'deep', tried: 1, helped: 1 },
  ]);
  expect(advice()).toBeNull();
});

test('an action of the ladder brings its check with it; what care fires is added up by month', async () => {
  startHeadCare(shop, 'wren', { action: 'light', channelIds: ['cyan'], check: true }, TESTER);
  const [clean] = careOf(shop);
  await done(clean?.id ?? '');
  expect(shop.link.cared.map(({ order }) => order.kind)).toEqual(['clean']);
  clock.nowMs += 1000;
  await served.says('wren');
  expect(shop.link.cared.map(({ order }) => order.kind)).toEqual(['clean', 'check']);
  const [month] = shop.db.select().from(careMonths).where(eq(careMonths.channelId, 'cyan')).all();
  expect(month).toMatchObject({ printerId: 'wren', month: '2027-03' });
  expect(month?.ml).toBeCloseTo(0.9, 6);
  expect(headsOf(shop, 'wren').careInk).toMatchObject([{ month: '2027-03', ml: { cyan: 0.9 } }]);
});

test('a plot that was not printed from here counts as printed now; an older one changes nothing any more', async () => {
  const old = await printed();
  clock.nowMs += HOUR;
  const found = { cyan: { ...ALL_GOOD, missing: [5] } };
  readLoosePlot(shop, 'wren', { by: 'photo', confidence: 0.99, found }, TESTER);
  expect(faultsOf(shop.db, 'wren').cyan?.missing).toEqual([5]);
  read(old, { missing: [8] });
  expect(faultsOf(shop.db, 'wren').cyan?.missing).toEqual([5]);
  expect(() => readLoosePlot(shop, 'nobody', { by: 'photo', confidence: 1, found }, TESTER)).toThrow('no printer');
});
