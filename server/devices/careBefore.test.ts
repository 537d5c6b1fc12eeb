import { eq } from 'drizzle-orm';
import { runName } from '../../core/flow/runName.ts';
import { neededMm } from '../../core/stock/need.ts';
import { feedingOf } from '../db/feeding.ts';
import { putCareBefore } from '../usecases/care/careBefore.ts';
import { correctSpool } from '../usecases/media/spools.ts';
import { returnToDraft } from '../usecases/run/returnToDraft.ts';
import { careItems, channelExercise } from '../db/tables/careTables.ts';
import { findPrinter, findRun } from '../db/findRows.ts';
import { planFloor } from '../../core/schedule/planFloor.ts';
import { exercisingInstants } from '../usecases/care/careOutlook.ts';
import { readFloor } from '../usecases/plan/fit.ts';
import { snapshotFor } from '../usecases/plan/plannedFloor.ts';
import type { PrinterConfig } from '../../contract/api/floor.ts';
import { runs } from '../db/tables/schema.ts';
import { printers, spools } from '../db/tables/floorTables.ts';
import { type CareShop, logOf, openCareShop } from '../testing/careFixture.ts';
import { ServedShop } from '../testing/servedShop.ts';
import { admitPlain, careReport } from '../testing/shopFixture.ts';
import { TESTER } from '../testing/tester.ts';
import { changeCareRule, createCareRule, removeCareRule } from '../usecases/care/careRules.ts';
import { recordCareReport } from '../usecases/care/careReports.ts';
import { createDesign } from '../usecases/care/designs.ts';
import { putDueCare } from '../usecases/care/dueTimers.ts';
import { rotaView } from '../usecases/care/rota.ts';
import { createTimers, timerRow } from '../usecases/care/timers.ts';
import { layOutRun } from '../usecases/layout/layOutRun.ts';
import { nestDraft } from '../usecases/layout/nestDraft.ts';
import { markRun } from '../usecases/plan/lineOrder.ts';
import { printersNow } from '../usecases/plan/printersNow.ts';
import { createRun } from '../usecases/run/createRun.ts';
import { queueRun } from '../usecases/run/queueRun.ts';

const MIN = 60_000;
const HOUR = 60 * MIN;
const DAY = 24 * HOUR;

let shop: CareShop['shop'];
let clock: CareShop['clock'];
let close: () => void;
let served: ServedShop;
beforeEach(() => {
  ({ shop, clock, close } = openCareShop());
  shop.work.replace('run pdf', () => Promise.resolve({ sha256: 'f'.repeat(64), bytes: 1 }));
  served = new ServedShop(shop);
});
afterEach(() => {
  served.dispatcher.close();
  close();
});

const free = (): Promise<void> => served.says('heron');

/** A run on Heron, as long as is said, that takes so many hours. */
async function queued(name: string, hours: number, lengthMm?: number): Promise<string> {
  const runId = createRun(shop, [admitPlain(shop, name, [[400, 600]], 'heron-banners')], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  shop.db
    .update(runs)
    .set({ estimateMs: hours * HOUR, ...(lengthMm === undefined ? {} : { lengthMm }) })
    .where(eq(runs.id, runId))
    .run();
  return runId;
}

function daily(startLocal: string, slackMin = 30): string {
  const designId = createDesign(
    shop,
    {
      ...{ printerId: 'heron', name: 'Light', modeId: 'production', stockId: 'block-out', onlyNeeded: false },
      sheet: { form: 'roll', widthMm: 1500, lengthMm: 100, density: 0.05, levels: { cyan: 1, magenta: 1 } },
    },
    TESTER,
  );
  const [id = ''] = createTimers(
    shop,
    {
      ...{
        printerIds: ['heron'],
        what: { kind: 'purge', designId },
        rrule: 'FREQ=DAILY',
        startLocal,
        untilLocal: null,
      },
      ...{ skipHolidays: false, missed: 'report', slackMin, paused: false },
    },
    TESTER,
  );
  return id;
}

const rows = () => shop.db.select().from(careItems).all();
const order = (): string[] => [
  ...shop.link.cared.map(({ order: { kind } }) => kind),
  ...shop.link.sent.map(({ runId }) => runName(findRun(shop.db, runId)?.number ?? 0)),
];
/** The care that was sent last has ended. */
function done(): void {
  const last = shop.link.cared.at(-1);
  if (last)
    recordCareReport(shop, careReport(last.careId, last.attempt, { status: 'done', seq: 9, endedMs: clock.nowMs }));
}

const rowOf = (id: string) => {
  const row = findPrinter(shop.db, id);
  if (!row) throw new Error(id);
  return row;
};
const lineOf = (id: string) => {
  const line = planFloor(snapshotFor(readFloor(shop))).lines.get(id);
  if (!line) throw new Error(id);
  return line;
};

const CHECK = {
  what: { kind: 'check' as const },
  overMm: 20_000,
  onlyImportant: false,
  printerIds: null,
  paused: false,
};

test('a run that would keep a purge too long lets it go first, as the plan said; its timer is set on, and it is done once', async () => {
  const timerId = daily('2027-03-24T06:00');
  await free();
  const runId = await queued('long.pdf', 4, 1000);
  const due = Date.parse('2027-03-24T05:00:00Z');
  const item = rotaView(shop, clock.nowMs, clock.nowMs + DAY).printers[0]?.items.find(({ kind }) => kind === 'purge');
  const name = runName(findRun(shop.db, runId)?.number ?? 0);
  expect(item).toMatchObject({
    outcome: 'planned',
    fromMs: clock.nowMs,
    dueMs: due,
    why: `it goes first: ${name} would keep it beyond its latest start`,
  });
  await free();
  expect(order()).toEqual(['purge']);
  expect(rows()).toMatchObject([{ timerId, dueMs: due, earlyMs: clock.nowMs, runId, state: 'caring' }]);
  expect(timerRow(shop.db, timerId).nextMs).toBe(due + DAY);
  clock.nowMs += 5 * MIN;
  done();
  await free();
  expect(order()).toEqual(['purge', name]);
  clock.nowMs = due + MIN;
  putDueCare(shop);
  expect(rows()).toHaveLength(1);
  expect(logOf(shop)).toContain(`Heron: Light goes first, since ${name} would keep it too long`);
});

test('a run that ends in time, or whose purge has just gone first, starts', async () => {
  daily('2027-03-24T06:00');
  const short = await queued('short.pdf', 2, 1000);
  await free();
  expect(shop.link.sent.map(({ runId }) => runId)).toEqual([short]);
  expect(rows()).toEqual([]);
});

test('a timer that comes round within a run goes first once before it, and once more before the next', async () => {
  const timerId = daily('2027-03-24T04:30', 0);
  shop.db.run(`update timers set rrule = 'FREQ=HOURLY' where id = '${timerId}'`);
  await queued('long.pdf', 6, 1000);
  await free();
  done();
  await free();
  expect(order()).toHaveLength(2);
  expect(rows()).toHaveLength(1);
  // The plan told the same: one before the run, the others behind it.
  expect(timerRow(shop.db, timerId).nextMs).toBe(Date.parse('2027-03-24T04:30:00Z'));
});

test('a rule puts a check before a long run once, and the plan counts it', async () => {
  const ruleId = createCareRule(shop, CHECK, TESTER);
  await free();
  const runId = await queued('long.pdf', 1, 21_000);
  expect(printersNow(shop, 'heron')[0]?.careRules).toMatchObject([{ id: ruleId, title: 'nozzle check', doneFor: [] }]);
  const [check, run] = rotaView(shop, clock.nowMs, clock.nowMs + DAY).printers[0]?.items ?? [];
  expect([
    check?.kind,
    check?.why,
    [check?.fromMs, check?.toMs, run?.fromMs].map((ms) => ((ms ?? 0) - clock.nowMs) / MIN),
  ]).toEqual(['check', `a rule puts it before ${run?.title ?? ''}`, [0, 2, 2]]);
  await free();
  expect(order()).toEqual(['check']);
  expect(rows()).toMatchObject([{ ruleId, runId, timerId: null }]);
  expect(printersNow(shop, 'heron')[0]?.careRules[0]?.doneFor).toEqual([runId]);
  done();
  await free();
  expect(order()).toEqual(['check', run?.title]);
});

test('a clean comes before a run that a person has marked, on the channels that it fires', async () => {
  createCareRule(
    shop,
    { ...CHECK, what: { kind: 'clean', strength: 'light' }, overMm: null, onlyImportant: true },
    TESTER,
  );
  const plain = await queued('plain.pdf', 1);
  const marked = await queued('marked.pdf', 1);
  shop.db
    .update(runs)
    .set({ inkMl: { cyan: 1, magenta: 0 } })
    .where(eq(runs.id, marked))
    .run();
  await free();
  expect(shop.link.sent.map(({ runId }) => runId)).toEqual([plain]);
  markRun(shop, marked, true, TESTER);
  shop.db.update(runs).set({ state: 'printed' }).where(eq(runs.id, plain)).run();
  await free();
  expect(shop.link.cared.map(({ order: { clean } }) => clean)).toEqual([{ strength: 'light', channelIds: ['cyan'] }]);
  expect(() => {
    markRun(shop, plain, true, TESTER);
  }).toThrow("can't be marked any more");
});

test('a check that would leave the spool too short for its run is told, and the run goes without it', async () => {
  createCareRule(shop, CHECK, TESTER);
  const runId = await queued('long.pdf', 1, 21_000);
  const row = findRun(shop.db, runId);
  const needMm = row ? neededMm(feedingOf(shop.db)(row)) : 0;
  // So much is left that the check's 200 mm and the run don't both go.
  correctSpool(shop, 'spool-bo-31', needMm + 100, 'measured', TESTER);
  await free();
  expect(order()).toEqual([runName(row?.number ?? 0)]);
  expect(rows()).toMatchObject([{ state: 'impossible', reason: 'BO-31 would be too short for the run behind it' }]);
  expect(logOf(shop)).toContain('Heron: nozzle check was not done: BO-31 would be too short for the run behind it');
});

test('care that waits for a run which is taken out of the line is not done', async () => {
  createCareRule(shop, CHECK, TESTER);
  const runId = await queued('long.pdf', 1, 21_000);
  const row = findRun(shop.db, runId);
  if (row) expect(putCareBefore(shop, row)).toBe(true);
  if (row) expect(putCareBefore(shop, row)).toBe(false);
  returnToDraft(shop, runId, TESTER);
  await free();
  expect([order(), rows().map(({ state, reason }) => [state, reason])]).toEqual([
    [],
    [['impossible', `${runName(row?.number ?? 0)} is no longer in the line`]],
  ]);
});

test('at one instant the plan has stirring first, then the clean, the purge and the check', () => {
  const at = (what: Parameters<typeof createTimers>[1]['what']): void => {
    createTimers(
      shop,
      {
        ...{ printerIds: ['heron'], what, rrule: null, startLocal: '2027-03-24T06:00', untilLocal: null },
        ...{ skipHolidays: false, missed: 'report', slackMin: 60, paused: false },
      },
      TESTER,
    );
  };
  at({ kind: 'check' });
  daily('2027-03-24T06:00');
  at({ kind: 'clean', strength: 'light', channelIds: ['cyan'] });
  at({ kind: 'stir' });
  const due = Date.parse('2027-03-24T05:00:00Z');
  const titles = printersNow(shop, 'heron')[0]?.care.filter(({ fromMs }) => fromMs === due);
  expect(titles?.map(({ title }) => title)).toEqual(['stir white', 'light clean', 'Light', 'nozzle check']);
});

test('rules name some runs, are changed by their version, and can be put back', () => {
  expect(() => createCareRule(shop, { ...CHECK, overMm: null }, TESTER)).toThrow('before every run');
  expect(() => createCareRule(shop, { ...CHECK, printerIds: ['osprey'] }, TESTER)).toThrow('no printer osprey');
  const id = createCareRule(shop, { ...CHECK, printerIds: ['wren'] }, TESTER);
  expect(printersNow(shop, 'heron')[0]?.careRules).toEqual([]);
  changeCareRule(shop, id, { printerIds: null, overMm: 5000 }, 0, TESTER);
  expect(printersNow(shop, 'heron')[0]?.careRules).toMatchObject([{ overMm: 5000 }]);
  expect(() => {
    changeCareRule(shop, id, { overMm: 6000 }, 0, TESTER);
  }).toThrow('tester has changed this rule meanwhile.');
  changeCareRule(shop, id, { paused: true }, 1, TESTER);
  expect(printersNow(shop, 'heron')[0]?.careRules).toEqual([]);
  removeCareRule(shop, id, TESTER);
  expect(logOf(shop).slice(-3)).toEqual([
    'Rule changed: nozzle check before every run over 5\u00a0m',
    'Rule paused: nozzle check before every run over 5\u00a0m',
    'Rule removed: nozzle check before every run over 5\u00a0m',
  ]);
  // White is stirred where there is white alone.
  createCareRule(shop, { ...CHECK, what: { kind: 'stir' } }, TESTER);
  expect(['bittern', 'wren'].map((each) => printersNow(shop, each)[0]?.careRules.length)).toEqual([0, 1]);
});

test('care whose media could not come out waits, and is told as a conflict where nobody is there before', async () => {
  shop.db.update(spools).set({ takeUp: null }).where(eq(spools.id, 'spool-bo-31')).run();
  const heron = shop.db.select().from(printers).where(eq(printers.id, 'heron')).get();
  const config = { ...heron?.config, collectsMm: 500 } as PrinterConfig;
  shop.db
    .update(printers)
    .set({ config, measured: { media: [], inkMl: null, collectedMm: 450, firedMs: {} } })
    .where(eq(printers.id, 'heron'))
    .run();
  daily('2027-03-24T04:30');
  const found = rotaView(shop, clock.nowMs, clock.nowMs + 12 * HOUR).printers[0]?.items.find(
    ({ kind }) => kind === 'purge',
  );
  expect(found).toMatchObject({
    outcome: 'conflict',
    why: 'the basket takes 0.05\u00a0m more of 0.20\u00a0m',
    way: 'Empty it before then, and confirm that it is empty.',
  });
  clock.nowMs = Date.parse('2027-03-24T03:30:00Z');
  putDueCare(shop);
  await served.says('heron', { media: [], collectedMm: 450 });
  expect([order(), rows().map(({ state }) => state)]).toEqual([[], ['waiting']]);
  await served.says('heron', { media: [], collectedMm: 0 });
  expect(order()).toEqual(['purge']);
});

test('the clean that a rule puts before a run makes a purge needless that is due behind it', async () => {
  await free();
  daily('2027-03-24T08:00');
  const purge = () =>
    rotaView(shop, clock.nowMs, clock.nowMs + DAY).printers[0]?.items.find(({ kind }) => kind === 'purge');
  await queued('marked.pdf', 1, 1000);
  shop.db
    .update(runs)
    .set({ important: true, inkMl: { cyan: 0.001, magenta: 0.001 } })
    .run();
  for (const channelId of ['cyan', 'magenta']) {
    // Fired just now: what comes next decides.
    shop.db
      .insert(channelExercise)
      .values({ printerId: 'heron', channelId, exercisedMs: clock.nowMs - HOUR })
      .run();
  }
  const rule = {
    ...CHECK,
    what: { kind: 'clean' as const, strength: 'deep' as const },
    overMm: null,
    onlyImportant: true,
  };
  const ruleId = createCareRule(shop, rule, TESTER);
  const [clean] = rotaView(shop, clock.nowMs, clock.nowMs + DAY).printers[0]?.items ?? [];
  expect(clean).toMatchObject({ kind: 'clean', id: expect.stringContaining(ruleId) as string });
  const firings = exercisingInstants(shop, rowOf('heron'), lineOf('heron'), readFloor(shop));
  expect([firings.get('cyan')?.[0], firings.get('yellow')?.length]).toEqual([clean?.toMs, 1]);
  expect(purge()?.outcome).toBe('skipped');
});

test('care that lays nothing into a source takes no media there: a check on a bed', () => {
  const printer = printersNow(shop, 'puffin')[0];
  createTimers(
    shop,
    {
      ...{
        printerIds: ['puffin'],
        what: { kind: 'check' },
        rrule: null,
        startLocal: '2027-03-24T06:00',
        untilLocal: null,
      },
      ...{ skipHolidays: false, missed: 'report', slackMin: 60, paused: false },
    },
    TESTER,
  );
  expect(printer?.care).toEqual([]);
  expect(printersNow(shop, 'puffin')[0]?.care).toMatchObject([{ title: 'nozzle check', fedMm: 0, stockId: null }]);
});
