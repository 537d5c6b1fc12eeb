import { eq } from 'drizzle-orm';
import type { PrinterConfig } from '../../contract/api/floor.ts';
import type { MachineState } from '../../contract/machine/protocol.ts';
import { changePrinter, removePrinter } from '../usecases/setup/printers.ts';
import { printersNow } from '../usecases/plan/printersNow.ts';
import { careItems, channelExercise, timers } from '../db/careTables.ts';
import { channelFirings, inkLedger, spoolLedger } from '../db/records.ts';
import { printers, runs, spools } from '../db/schema.ts';
import { Dispatcher } from './dispatcher.ts';
import { eventSentence } from '../../core/events/sentence.ts';
import { events } from '../db/records.ts';
import { careReport, idle } from '../testing/shopFixture.ts';
import { type TestShop, openTestShop } from '../testing/shopFixture.ts';
import { TESTER } from '../testing/tester.ts';
import { recordPrinterState } from '../usecases/device/machineReports.ts';
import { cancelWaitingCare, careBetween, careView, findCare, startCare } from '../usecases/care/careItems.ts';
import { recordCareReport } from '../usecases/care/careReports.ts';
import { copyOfDesign, createDesign, removeDesign } from '../usecases/care/designs.ts';
import { putDueCare } from '../usecases/care/dueTimers.ts';
import { rotaView } from '../usecases/care/rota.ts';
import { changeTimer, createTimers, nextOccurrences, removeTimer, timerRow } from '../usecases/care/timers.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

let shop: TestShop;
let close: () => void;
let dispatcher: Dispatcher;
/** The shop's clock as a test wants it. */
let nowMs = 0;

beforeEach(() => {
  ({ shop, close } = openTestShop());
  nowMs = Date.parse('2027-03-24T03:00:00Z');
  Object.defineProperty(shop.clock, 'now', { value: () => nowMs });
  dispatcher = new Dispatcher(shop);
  // The dispatcher of a test is served by hand: its listening is what a printer says.
  shop.link.watch = (machineId, onState) => {
    listeners.set(machineId, onState);
    return () => undefined;
  };
  listeners.clear();
  dispatcher.follow();
});
afterEach(() => {
  dispatcher.close();
  close();
});

const listeners = new Map<string, (state: MachineState | undefined) => void>();

/** Lets a printer say something, and whatever follows from it happen. */
async function says(printerId: string, change: Partial<MachineState> = {}): Promise<void> {
  listeners.get(printerId)?.({ ...idle(printerId), ...change });
  for (let i = 0; i < 20; i += 1) await new Promise((done) => setImmediate(done));
}

const WREN_SHEET = { form: 'sheet' as const, widthMm: 320, lengthMm: 450, density: 0.1 };

function whitePurge(levels: Record<string, number> = { white: 1 }, more: { onlyNeeded?: boolean } = {}): string {
  return createDesign(
    shop,
    {
      printerId: 'wren',
      name: 'White, light',
      sheet: { ...WREN_SHEET, levels },
      modeId: 'draft',
      stockId: 'film-sheet',
      onlyNeeded: more.onlyNeeded ?? false,
    },
    TESTER,
  );
}

function daily(designId: string, change: Partial<Parameters<typeof createTimers>[1]> = {}): string {
  const [id = ''] = createTimers(
    shop,
    {
      printerIds: ['wren'],
      what: { kind: 'purge', designId },
      rrule: 'FREQ=DAILY',
      startLocal: '2027-03-24T05:15',
      untilLocal: null,
      skipHolidays: false,
      missed: 'catch-up',
      slackMin: 60,
      paused: false,
      ...change,
    },
    TESTER,
  );
  return id;
}

const items = () => careBetween(shop.db, 0, Number.MAX_SAFE_INTEGER).map(careView);
const log = (): string[] =>
  shop.db
    .select()
    .from(events)
    .all()
    .map((row) => eventSentence(row));
const exercised = (channelId: string, ms: number): void => {
  shop.db
    .insert(channelExercise)
    .values({ printerId: 'wren', channelId, exercisedMs: ms })
    .onConflictDoUpdate({ target: [channelExercise.printerId, channelExercise.channelId], set: { exercisedMs: ms } })
    .run();
};

test('by hand: it is sent to a free printer, booked once by its attempt, and its ink makes the channel fresh', async () => {
  const designId = whitePurge();
  const id = startCare(shop, 'wren', { kind: 'purge', designId }, TESTER);
  shop.link.startedMs = nowMs;
  await says('wren');
  expect(shop.link.cared).toHaveLength(1);
  expect(shop.link.cared[0]).toMatchObject({
    careId: id,
    attempt: 1,
    order: { kind: 'purge', sourceId: 'tray', fedMm: 450, clean: null },
  });
  const white = shop.link.cared[0]?.order.inkMl.white ?? 0;
  expect(white).toBeCloseTo(0.209237, 6);
  expect(findCare(shop.db, id)?.state).toBe('caring');
  await says('wren', { status: 'caring' });
  const end = careReport(id, 1, {
    status: 'done',
    seq: 9,
    inkMl: { white },
    fedMm: 450,
    startedMs: nowMs,
    endedMs: nowMs + 120_000,
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
  expect(fresh).toEqual([{ printerId: 'wren', channelId: 'white', exercisedMs: nowMs + 120_000 }]);
  expect(log().filter((text) => text.startsWith('Wren: '))).toEqual([
    'Wren: White, light wanted now',
    'Wren: White, light begins',
    'Wren: White, light done, 0.21 ml of ink',
  ]);
});

test('an occurrence is put into the line once, however often it is looked for and whatever was cut off in between', async () => {
  const timerId = daily(whitePurge());
  expect(timerRow(shop.db, timerId).nextMs).toBe(Date.parse('2027-03-24T04:15:00Z'));
  putDueCare(shop);
  expect(items()).toEqual([]);
  nowMs = Date.parse('2027-03-24T04:15:00Z');
  const due = nowMs;
  putDueCare(shop);
  putDueCare(shop);
  // As if the program had died between the row and the timer's next instant: the row is there, the timer is not set on.
  shop.db.update(timers).set({ nextMs: due }).where(eq(timers.id, timerId)).run();
  putDueCare(shop);
  expect(items()).toMatchObject([{ timerId, dueMs: due, state: 'waiting' }]);
  expect(timerRow(shop.db, timerId).nextMs).toBe(due + DAY);
  await says('wren');
  await says('wren');
  expect(shop.link.cared).toHaveLength(1);
});

test('three missed: back at 09:00 the latest is made up and two are told; back at 20:00 all are told', () => {
  const timerId = daily(whitePurge());
  nowMs = Date.parse('2027-03-26T08:00:00Z');
  putDueCare(shop);
  expect(items().map(({ state }) => state)).toEqual(['impossible', 'impossible', 'waiting']);
  expect(items()[0]?.reason).toBe('it fell due while the program was not running');
  nowMs = Date.parse('2027-03-29T18:00:00Z');
  shop.db.delete(careItems).run();
  putDueCare(shop);
  expect(items().map(({ state }) => state)).toEqual(['impossible', 'impossible', 'impossible']);
  expect(timerRow(shop.db, timerId).nextMs).toBe(Date.parse('2027-03-30T03:15:00Z'));
});

test('a holiday is skipped and not moved; a paused timer is not looked at, and goes on with the next', () => {
  const setup = { days: [], holidays: [{ date: '2027-03-25', name: 'Easter' }], people: [] };
  shop.db.run(`INSERT INTO settings (key, value) VALUES ('shopSetup', '${JSON.stringify(setup)}')
    ON CONFLICT (key) DO UPDATE SET value = excluded.value`);
  const timerId = daily(whitePurge(), { skipHolidays: true });
  expect(nextOccurrences(shop, timerRow(shop.db, timerId), 3).map(({ holiday }) => holiday)).toEqual([
    false,
    true,
    false,
  ]);
  nowMs = Date.parse('2027-03-25T04:15:01Z');
  putDueCare(shop);
  expect(items().map(({ state, reason }) => [state, reason])).toEqual([
    ['impossible', 'it fell due while the program was not running'],
    ['skipped', 'holiday'],
  ]);
  changeTimer(shop, timerId, { paused: true }, undefined, TESTER);
  nowMs += 3 * DAY;
  putDueCare(shop);
  expect(items()).toHaveLength(2);
  const { version } = timerRow(shop.db, timerId);
  expect(() => {
    changeTimer(shop, timerId, { paused: false }, version - 1, TESTER);
  }).toThrow('Somebody else has changed this timer meanwhile.');
  changeTimer(shop, timerId, { paused: false }, version, TESTER);
  putDueCare(shop);
  expect(items()).toHaveLength(2);
  expect(timerRow(shop.db, timerId).nextMs).toBe(Date.parse('2027-03-29T03:15:00Z'));
});

test('what work exercised and the next timer will again is skipped, and the ink that was not fired is saved', async () => {
  daily(whitePurge());
  nowMs = Date.parse('2027-03-24T04:15:00Z');
  exercised('white', nowMs - 20 * HOUR);
  putDueCare(shop);
  await says('wren');
  expect(shop.link.cared).toEqual([]);
  expect(items()).toMatchObject([{ state: 'skipped', reason: 'exercised by work' }]);
  expect(items()[0]?.savedMl).toBeCloseTo(0.209237, 6);
  expect(rotaView(shop, nowMs - DAY, nowMs + DAY).saved).toMatchObject([
    { month: '2027-03', purges: 1 },
    { month: '2027-02', purges: 0, inkMl: 0 },
  ]);
  expect(log().at(-1)).toBe('Wren: White, light skipped: exercised by work, 0.21 ml saved');
  // A day later it has been idle for 44 h of 72: more than half of its limit.
  nowMs += DAY;
  putDueCare(shop);
  await says('wren', { seq: 2 });
  await says('wren', { seq: 3, reason: 'ink low: white' });
  expect(shop.link.cared).toHaveLength(1);
});

test('a design that fires only what needs it leaves the others out and books them as saved', async () => {
  daily(whitePurge({ white: 1, cyan: 1 }, { onlyNeeded: true }));
  nowMs = Date.parse('2027-03-24T04:15:00Z');
  exercised('white', nowMs - 60 * HOUR);
  exercised('cyan', nowMs - 2 * HOUR);
  putDueCare(shop);
  await says('wren');
  expect(Object.keys(shop.link.cared[0]?.order.inkMl ?? {})).toEqual(['white']);
  const [row] = shop.db.select().from(careItems).all();
  expect(Object.keys(row?.savedMl ?? {})).toEqual(['cyan']);
});

test('the wrong media: it waits until its latest start and is told then; runs go on meanwhile', async () => {
  shop.db.update(spools).set({ printerId: null, sourceId: null }).where(eq(spools.sourceId, 'tray')).run();
  daily(whitePurge());
  nowMs = Date.parse('2027-03-24T04:15:00Z');
  putDueCare(shop);
  await says('wren');
  expect([shop.link.cared.length, items()[0]?.state]).toEqual([0, 'waiting']);
  const planned = rotaView(shop, nowMs - DAY, nowMs + DAY).printers.find(
    ({ printerId }) => printerId === 'wren',
  )?.items;
  expect(planned?.[0]).toMatchObject({ outcome: 'conflict', why: 'Film sheet 320 × 450 is not loaded' });
  nowMs = (items()[0]?.latestMs ?? 0) + 1000;
  await says('wren', { seq: 2, reason: 'looked at again' });
  expect(items()[0]).toMatchObject({ state: 'impossible', reason: 'Film sheet 320 × 450 is not loaded' });
});

test('a printer with a fault: nothing is sent, and after the latest start it is told why', async () => {
  daily(whitePurge());
  recordPrinterState(shop, 'wren', { ...idle('wren'), status: 'faulted', reason: 'head strike' });
  nowMs = Date.parse('2027-03-24T04:15:00Z');
  putDueCare(shop);
  await says('wren', { status: 'faulted', reason: 'head strike' });
  expect(items()[0]?.state).toBe('waiting');
  nowMs = Date.parse('2027-03-24T05:15:01Z');
  putDueCare(shop);
  expect(items()[0]).toMatchObject({ state: 'impossible', reason: 'Wren: head strike' });
  expect(shop.link.cared).toEqual([]);
});

test('care that its printer has never heard of is not done twice: it failed', async () => {
  const id = startCare(shop, 'wren', { kind: 'clean', strength: 'deep', channelIds: ['white'] }, TESTER);
  await says('wren');
  expect(shop.link.cared[0]?.order).toMatchObject({
    sourceId: null,
    fedMm: 0,
    clean: { channelIds: ['white'], strength: 'deep' },
  });
  await says('wren', { status: 'caring' });
  await says('wren', { seq: 5 });
  expect(findCare(shop.db, id)).toMatchObject({ state: 'failed', reason: 'the printer no longer knows of it' });
  expect(shop.link.cared).toHaveLength(1);
});

test('what waits can be taken out, what is unknown or on the way can not', async () => {
  const id = startCare(shop, 'wren', { kind: 'check' }, TESTER);
  cancelWaitingCare(shop, id, TESTER);
  expect(findCare(shop.db, id)?.state).toBe('cancelled');
  const other = startCare(shop, 'wren', { kind: 'stir' }, TESTER);
  await says('wren');
  expect(() => {
    cancelWaitingCare(shop, other, TESTER);
  }).toThrow('is caring; only care that waits can be taken out');
});

test('a timer releases a run that waits for a fixed start, at its instant', () => {
  const [run] = shop.db
    .insert(runs)
    .values({
      id: 'run-held',
      printerId: 'wren',
      queueId: 'wren-transfers',
      state: 'queued',
      position: 1,
      settings: {} as never,
      ticket: { modeId: 'draft', stockId: 'film-sheet' } as never,
      mediaWidthMm: 320,
      inkMl: {},
      createdMs: 0,
      fixedStartMs: nowMs + 30 * DAY,
    })
    .returning()
    .all();
  const what = { kind: 'release' as const, runId: run?.id ?? '' };
  daily('', { what, rrule: null });
  nowMs = Date.parse('2027-03-24T04:15:00Z');
  putDueCare(shop);
  expect(shop.db.select().from(runs).where(eq(runs.id, 'run-held')).get()?.fixedStartMs).toBeNull();
  expect(items()).toMatchObject([{ state: 'done', title: `release Run ${String(run?.number)}` }]);
  expect(() => daily('', { what, rrule: null, startLocal: '2027-03-25T05:15' })).toThrow(
    'Only a run that is queued on Wren and waits',
  );
});

test('designs: what can not be printed is refused; a copy says what differs; one that a timer prints stays', () => {
  expect(() => whitePurge({ white: 0 })).toThrow('No channel is fired.');
  expect(() => whitePurge({ green: 1, white: 1 })).toThrow('Wren has no channel green.');
  const id = whitePurge({ white: 1, cyan: 0.3 });
  const { body, differences } = copyOfDesign(shop.db, id, 'bittern');
  expect(Object.keys(body.sheet.levels)).toEqual(['cyan']);
  expect(differences).toContain('Bittern has no white; it is left out.');
  // Bittern has rolls only: what is loaded there, as wide as it prints.
  expect(body.sheet).toMatchObject({ form: 'roll', lengthMm: 150 });
  expect(differences.some((text) => text.startsWith('Printed on ') && text.endsWith(', which Bittern can take.'))).toBe(
    true,
  );
  expect(() => copyOfDesign(shop.db, id, 'puffin')).toThrow('Puffin takes no media');
  expect(differences.some((text) => text.endsWith('is not in the design; it is not fired.'))).toBe(true);
  const timerId = daily(id);
  expect(() => {
    removeDesign(shop, id, TESTER);
  }).toThrow('is printed by 1 timer');
  removeTimer(shop, timerId, TESTER);
  removeDesign(shop, id, TESTER);
  expect(() => daily(id)).toThrow('There is no purge design');
});

test('the plan of a line knows its care: the Floor, the Rota and the printer’s view say the same', () => {
  daily(whitePurge());
  const rota = rotaView(shop, nowMs, nowMs + 7 * DAY).printers.find(({ printerId }) => printerId === 'wren');
  expect(rota?.items.map(({ fromMs, kind }) => [fromMs, kind])).toEqual(
    Array.from({ length: 7 }, (_, i) => [Date.parse('2027-03-24T04:15:00Z') + i * DAY - (i >= 4 ? HOUR : 0), 'purge']),
  );
  expect(shop.db.select().from(printers).where(eq(printers.id, 'wren')).get()?.linkStatus).toBe('off');
});

test('another printer can not release a run, and white is stirred only where there is some', () => {
  shop.db
    .insert(runs)
    .values({
      ...{
        id: 'run-held',
        printerId: 'wren',
        queueId: 'wren-transfers',
        state: 'queued',
        position: 1,
        settings: {} as never,
      },
      ...{ ticket: { modeId: 'draft', stockId: 'film-sheet' } as never, mediaWidthMm: 320, inkMl: {}, createdMs: 0 },
      fixedStartMs: nowMs + DAY,
    })
    .run();
  const release = { what: { kind: 'release' as const, runId: 'run-held' }, rrule: null };
  expect(() => daily('', { ...release, printerIds: ['heron'] })).toThrow('queued on Heron');
  const id = daily('', release);
  expect(() => {
    changeTimer(
      shop,
      daily('', { what: { kind: 'check' }, printerIds: ['heron'] }),
      { what: release.what },
      undefined,
      TESTER,
    );
  }).toThrow('queued on Heron');
  expect(timerRow(shop.db, id).what).toEqual(release.what);
  expect(() => startCare(shop, 'gannet', { kind: 'stir' }, TESTER)).toThrow('Gannet has no white that could settle.');
});

test('a printer can not be changed so that its purges are no longer possible; one with timers or purges is not removed', () => {
  const designId = whitePurge();
  daily(designId);
  const config = () => shop.db.select().from(printers).where(eq(printers.id, 'wren')).get()?.config as PrinterConfig;
  const changed = (change: Partial<PrinterConfig>) => () => {
    changePrinter(shop, 'wren', { config: { ...config(), ...change } }, TESTER);
  };
  expect(changed({ modes: config().modes.filter(({ id }) => id !== 'draft') })).toThrow(
    'Its purge White, light would not be possible any more: Wren has no print mode draft.',
  );
  expect(changed({ printableWidthMm: 200 })).toThrow('310\u00a0mm of 200\u00a0mm');
  expect(changed({ channels: config().channels.filter(({ id }) => id !== 'white') })).toThrow('No channel is fired.');
  changed({ leadMm: 20 })();
  expect(() => {
    removePrinter(shop, 'wren', TESTER);
  }).toThrow(/timers and purges/);
});

test('a purge lies on its media: not wider than it, and on a sheet of its own size', () => {
  const design =
    (sheet: Partial<Parameters<typeof createDesign>[1]['sheet']>, stockId = 'film-sheet') =>
    () =>
      createDesign(
        shop,
        {
          ...{ printerId: 'wren', name: 'White', modeId: 'draft', stockId, onlyNeeded: false },
          sheet: { ...WREN_SHEET, levels: { white: 1 }, ...sheet },
        },
        TESTER,
      );
  expect(design({ lengthMm: 300 })).toThrow('A sheet of Film sheet 320 × 450 is 450\u00a0mm long, not 300\u00a0mm.');
  expect(design({ widthMm: 400 })).toThrow('400\u00a0mm of 320\u00a0mm');
  expect(design({ form: 'roll', widthMm: 430 }, 'film-610')).toThrow(/There is no stock|of/);
  expect(design({ form: 'roll', widthMm: 430, lengthMm: 200 }, 'film-450')).not.toThrow();
  expect(design({ form: 'roll', widthMm: 430, lengthMm: 90_000 }, 'film-450')).toThrow('longer than a purge can be');
});

test('what is in the line keeps its design, a check takes whole sheets, and on a bed none', async () => {
  const designId = whitePurge();
  startCare(shop, 'wren', { kind: 'purge', designId }, TESTER);
  expect(() => {
    removeDesign(shop, designId, TESTER);
  }).toThrow('is in the line');
  shop.db.update(spools).set({ printerId: null, sourceId: null }).where(eq(spools.sourceId, 'roll')).run();
  cancelWaitingCare(shop, items()[0]?.id ?? '', TESTER);
  startCare(shop, 'wren', { kind: 'check' }, TESTER);
  await says('wren');
  expect(shop.link.cared[0]?.order).toMatchObject({ kind: 'check', sourceId: 'tray', fedMm: 450 });
  startCare(shop, 'puffin', { kind: 'check' }, TESTER);
  await says('puffin');
  expect(shop.link.cared[1]?.order).toMatchObject({ kind: 'check', sourceId: null, fedMm: 0 });
});

test('a month shows what timers bring beyond the plan of the line, holidays and all', () => {
  daily(whitePurge());
  const days = (fromMs: number, toMs: number): number =>
    rotaView(shop, fromMs, toMs).printers.find(({ printerId }) => printerId === 'wren')?.items.length ?? 0;
  expect([days(nowMs, nowMs + 31 * DAY), days(nowMs + 20 * DAY, nowMs + 30 * DAY)]).toEqual([31, 10]);
});

test('a timer that comes every hour and was away for weeks makes the latest up, not the first', () => {
  daily(whitePurge(), { rrule: 'FREQ=HOURLY', startLocal: '2027-03-24T05:00', slackMin: 0 });
  nowMs = Date.parse('2027-05-20T10:20:00Z');
  putDueCare(shop);
  const waiting = items().filter(({ state }) => state === 'waiting');
  expect(waiting.map(({ dueMs }) => new Date(dueMs).toISOString())).toEqual(['2027-05-20T10:00:00.000Z']);
  expect(items().length).toBeLessThanOrEqual(200);
});

test('the device’s own word does not make a channel look fresher than what it fired: the printer’s view says the same', () => {
  shop.db
    .update(printers)
    .set({ measured: { media: [], inkMl: null, collectedMm: null, firedMs: { white: nowMs, cyan: 5 } } })
    .where(eq(printers.id, 'wren'))
    .run();
  exercised('white', nowMs - 50 * HOUR);
  expect(printersNow(shop, 'wren')[0]?.firedMs).toEqual({ white: nowMs - 50 * HOUR, cyan: 5 });
});

test('care that can not be stopped because its printer does not answer is told so', async () => {
  const id = startCare(shop, 'wren', { kind: 'stir' }, TESTER);
  await says('wren');
  shop.link.cancelCare = () => Promise.reject(new Error('no line'));
  await expect(dispatcher.care.cancel(id)).rejects.toThrow("can't be stopped now");
  expect(findCare(shop.db, id)?.state).toBe('caring');
});
