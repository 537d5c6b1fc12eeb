import { eq, sql } from 'drizzle-orm';
import { runDetail } from '../../db/runViews.ts';
import { facts, factsDue } from '../../db/tables/factTables.ts';
import { events, inkLedger, printerSpells, runAttempts } from '../../db/tables/records.ts';
import { jobPages, jobs, pieces } from '../../db/tables/schema.ts';
import { printers } from '../../db/tables/floorTables.ts';
import { transact } from '../../shop.ts';
import { allFacts, factsMustHold } from '../../testing/factsCheck.ts';
import { type TestShop, admitPlain, openTestShop, report } from '../../testing/shopFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { recordRunReport } from '../device/machineReports.ts';
import { startCare } from '../care/careItems.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { retireSpool } from '../media/spools.ts';
import { runCost } from '../run/runCost.ts';
import { createRun } from '../run/createRun.ts';
import { queueRun } from '../run/queueRun.ts';
import { transitionRun } from '../run/transitionRun.ts';
import { setShopSetup, shopSetup } from '../setup/shopSetup.ts';
import { spoilPieces } from '../shelf/shelf.ts';
import { changeJob } from '../ticket/changeJobs.ts';
import { setJobPrice } from '../ticket/jobPrice.ts';
import { toMinor } from '../../../core/estimate/money.ts';
import { FactsProjector } from './factsProjector.ts';
import { inkByChannel, inkCsv } from './inkByChannel.ts';
import { paceChanges } from './changes.ts';
import { paceCsv } from './paceCsv.ts';
import { paceAnswer } from './paceQuery.ts';
import { paceRuns } from './paceRuns.ts';
import { storyOf } from './story.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

/** Two pieces of a job on Heron, printed in an hour that began `agoMs` ago. */
async function printed(
  name: string,
  agoMs: number,
  change: Record<string, unknown> = {},
): Promise<{ runId: string; jobId: string }> {
  const jobId = admitPlain(shop, name, [[500, 700]]);
  changeJob(shop, jobId, { copies: 2, ...change }, TESTER);
  const runId = createRun(shop, [jobId], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 5), { by: TESTER });
  queueRun(shop, runId, TESTER);
  transact(shop, (work) => transitionRun(work, runId, 'send', { attempt: 1 }));
  const startedMs = shop.clock.now() - agoMs;
  const { lengthMm = 0 } = runDetail(shop.db, runId) ?? {};
  const ended = { lengthMm, fedMm: lengthMm + 60, startedMs, endedMs: startedMs + HOUR };
  recordRunReport(shop, report(runId, 1, { status: 'printed', inkMl: { cyan: 3 }, ...ended }));
  return { runId, jobId };
}

const ask = (more: object = {}) =>
  paceAnswer(shop, { fromMs: shop.clock.now() - 3 * DAY, toMs: shop.clock.now() + DAY, ...more });

test('what was printed is in the figures, opens to its run, and changes when a piece is found bad', async () => {
  const { runId, jobId } = await printed('a.pdf', 2 * HOUR, { customer: 'Bluebell' });
  allFacts(shop);
  const run = runDetail(shop.db, runId);
  if (!run) throw new Error('no run');
  const before = ask({ measures: 'good,quality,run-hours,pieces,waste-lead,cost' });
  expect(before.pending).toBe(0);
  expect(before.total['good']?.value).toBeCloseTo(0.7, 6);
  expect(before.total['quality']?.value).toBe(1);
  expect(before.total['run-hours']?.value).toBeCloseTo(1, 6);
  expect(before.total['pieces']?.value).toBe(2);
  const fedM2 = ((run.lengthMm + 60) * run.mediaWidthMm) / 1e6;
  expect(before.total['waste-lead']?.denominator).toBeCloseTo(fedM2 * 1e6, 0);
  const { runs } = paceRuns(shop, { fromMs: 0, toMs: shop.clock.now() });
  expect(runs).toMatchObject([{ runId, outcome: 'printed', runMs: HOUR, pieces: 2, inkMl: 3 }]);
  expect(runs[0]?.costMinor).toBe(Math.round(before.total['cost']?.value ?? 0));
  expect(runs[0]?.fedM2).toBeCloseTo(fedM2, 4);

  const [bad] = shop.db.select().from(pieces).where(eq(pieces.jobId, jobId)).all();
  spoilPieces(shop, jobId, [bad?.id ?? ''], TESTER);
  allFacts(shop);
  const after = ask({ measures: 'good,quality,waste-spoiled,ink-lost' });
  expect(after.total['good']?.value).toBeCloseTo(0.35, 6);
  expect(after.total['quality']?.value).toBeCloseTo(0.5, 6);
  expect(after.total['ink-lost']?.value).toBeCloseTo(1.5, 6);
  factsMustHold(shop);
});

test('by day, printer, stock, customer, queue and mode the same whole comes out; hours add up to it', async () => {
  await printed('a.pdf', 2 * HOUR, { customer: 'Bluebell' });
  await printed('b.pdf', 30 * HOUR, { customer: 'Harbour' });
  await printed('c.pdf', 50 * HOUR);
  allFacts(shop);
  const whole = ask({ measures: 'good,cost,pieces' });
  for (const by of [
    'hour',
    'day',
    'week',
    'month',
    'printer',
    'stock',
    'customer',
    'queue',
    'mode',
    'day,printer',
    'customer,hour',
  ]) {
    const { rows, total } = ask({ by, measures: 'good,cost,pieces' });
    expect(total).toEqual(whole.total);
    for (const id of ['good', 'cost', 'pieces']) {
      const sum = rows.reduce((all, { values }) => all + (values[id]?.numerator ?? 0), 0);
      expect([by, id, sum]).toEqual([by, id, expect.closeTo(whole.total[id]?.numerator ?? 0, 6)]);
    }
  }
  const customers = ask({ by: 'customer', measures: 'good,use' }).rows;
  expect(customers.map(({ keys }) => keys[0]?.name)).toEqual(['Bluebell', 'Harbour', 'none']);
  // A customer has no idle hours.
  expect(customers.map(({ values }) => values['use']?.value)).toEqual([null, null, null]);
  expect(ask({ customer: 'Harbour', measures: 'pieces' }).total['pieces']?.value).toBe(2);
  const csv = paceCsv(ask({ by: 'customer', measures: 'pieces' })).split('\r\n');
  expect(csv).toEqual([
    'customer,Good pieces,Good pieces: of,Good pieces: by',
    'Bluebell,2,2,1',
    'Harbour,2,2,1',
    'none,2,2,1',
    'all,6,6,1',
  ]);
});

test('what goes on now counts up to now; planned time goes by the hours as they were then', () => {
  const now = shop.clock.now();
  shop.db.delete(printerSpells).run();
  shop.db
    .insert(printerSpells)
    .values({ printerId: 'heron', state: 'idle', fromMs: now - 3 * HOUR })
    .run();
  const always = [1, 2, 3, 4, 5, 6, 7].map((weekday) => ({ weekday, from: '00:00', to: '24:00', people: 3 }));
  // Two days ago somebody came to be always there; before that as it was.
  const clock = jest.spyOn(shop.clock, 'now').mockReturnValue(now - 2 * DAY);
  setShopSetup(shop, { ...shopSetup(shop.db, shop.clock.zone), days: always, holidays: [] }, TESTER);
  clock.mockReturnValue(now);
  allFacts(shop);
  const of = (measures: string) =>
    paceAnswer(shop, { fromMs: now - DAY, toMs: now, printerId: 'heron', measures }).total[measures];
  expect(of('use')).toEqual({ value: 0, numerator: 0, denominator: 3 * HOUR });
  expect(of('availability')).toMatchObject({ value: 1, denominator: DAY });
  expect(of('pieces-person')?.denominator).toBeCloseTo(72, 6);
  // From tomorrow on nobody comes any more: what was planned stays.
  clock.mockReturnValue(now + DAY);
  setShopSetup(shop, { ...shopSetup(shop.db, shop.clock.zone), days: [], holidays: [] }, TESTER);
  allFacts(shop);
  clock.mockReturnValue(now + 2 * DAY);
  expect(of('availability')).toMatchObject({ denominator: DAY });
  expect(
    paceAnswer(shop, { fromMs: now + DAY, toMs: now + 2 * DAY, measures: 'availability' }).total['availability']?.value,
  ).toBeNull();
});

test('late jobs count at their date, open ones as long as they are open; prices bring a margin', async () => {
  const now = shop.clock.now();
  const { jobId } = await printed('late.pdf', 2 * HOUR, { dueMs: now - 3 * HOUR });
  await printed('early.pdf', 6 * HOUR, { dueMs: now - HOUR });
  changeJob(shop, admitPlain(shop, 'open.pdf', [[500, 700]]), { dueMs: now - 4 * HOUR }, TESTER);
  allFacts(shop);
  expect(ask({ measures: 'late,lateness,margin' }).total).toMatchObject({
    late: { numerator: 2, denominator: 3 },
    // Two hours late, and four so far.
    lateness: { numerator: expect.closeTo(6, 1) as number, denominator: 2 },
    margin: { value: null },
  });
  setJobPrice(shop, jobId, 10_000, TESTER);
  allFacts(shop);
  const { cost = null, margin = null } = Object.fromEntries(
    Object.entries(ask({ measures: 'cost,margin' }).total).map(([id, { value }]) => [id, value]),
  );
  expect(margin).toBeCloseTo(10_000 - (cost ?? 0) / 2, 0);
  expect(shop.db.select().from(jobs).all().length).toBe(3);
});

test('what is thrown away is a stub; what can not be asked is refused with what can', () => {
  const [spool] = shop.db.select().from(facts).all();
  expect(spool).toBeUndefined();
  retireSpool(shop, 'spool-me-08', true, TESTER);
  allFacts(shop);
  expect(ask({ measures: 'waste-stub' }).total['waste-stub']?.value).toBe(1);
  retireSpool(shop, 'spool-me-08', false, TESTER);
  allFacts(shop);
  expect(ask({ measures: 'waste-stub' }).total['waste-stub']?.numerator).toBe(0);
  for (const [more, text] of [
    [{ by: 'moon' }, 'Figures can’t be had by moon.'],
    [{ by: 'day,printer,stock' }, 'At most two different ways at once.'],
    [{ by: 'day,week' }, 'Only one way to part the time at once.'],
    [{ measures: 'luck' }, 'There is no measure luck.'],
    [{ fromMs: 5, toMs: 5 }, 'The period ends before it begins.'],
    [{ by: 'hour', fromMs: 0 }, 'By hours two months at most.'],
  ] as const) {
    expect(() => ask(more)).toThrow(text);
  }
});

test('the story of a run, its job, a piece, its spool and a head: where, when, on what, with which heads, and what became of it', async () => {
  const { runId, jobId } = await printed('a.pdf', 2 * HOUR, { customer: 'Bluebell' });
  const [first, second] = shop.db.select().from(pieces).where(eq(pieces.jobId, jobId)).all();
  if (!first || !second) throw new Error('no pieces');
  spoilPieces(shop, jobId, [first.id], TESTER);
  const run = storyOf(shop.db, 'run', runId);
  expect(run.prints).toMatchObject([
    { runId, outcome: 'printed', printerName: 'Heron', inkMl: { Cyan: 3 }, check: null },
  ]);
  expect(run.prints[0]?.pieces.map(({ outcome }) => outcome).sort()).toEqual(['printed', 'spoiled']);
  expect(run.links).toEqual([{ kind: 'job', id: jobId, name: 'a.pdf' }]);
  expect(run.events.map(({ kind }) => kind)).toContain('run.queued');
  const job = storyOf(shop.db, 'job', jobId);
  expect(job.links).toEqual([{ kind: 'run', id: runId, name: run.title }]);
  expect(job.under).toContain('Bluebell');
  const piece = storyOf(shop.db, 'piece', first.id);
  expect(piece.prints[0]?.pieces).toMatchObject([{ pieceId: first.id, outcome: 'spoiled' }]);
  const spoolId = run.prints[0]?.spoolId;
  if (spoolId) expect(storyOf(shop.db, 'spool', spoolId).prints.map((each) => each.runId)).toEqual([runId]);
  const head = storyOf(shop.db, 'head', 'heron-cyan');
  expect([head.title, head.prints.map((each) => each.runId)]).toEqual(['Cyan of Heron', [runId]]);
  startCare(shop, 'heron', { kind: 'check' }, TESTER);
  expect(storyOf(shop.db, 'head', 'heron-cyan').events.map(({ kind }) => kind)).toEqual(['care.wanted']);
  expect(storyOf(shop.db, 'head', 'wren-cyan').prints).toEqual([]);
  expect(() => storyOf(shop.db, 'head', 'heron-gold')).toThrow('There is no head heron-gold.');
  expect(() => storyOf(shop.db, 'run', 'nothing')).toThrow('There is no run nothing.');
});

test('a printer whose runs take longer from a day on is named, with its mode and stock and by how much', async () => {
  const { runId } = await printed('a.pdf', 300 * DAY);
  const [row] = shop.db.select().from(runAttempts).where(eq(runAttempts.runId, runId)).all();
  if (!row) throw new Error('no attempt');
  shop.db.delete(runAttempts).run();
  const now = shop.clock.now();
  expect((await paceChanges(shop)).changes).toEqual([]);
  // Coats tell attempts apart that only stand for many runs here.
  for (let i = 0; i < 60; i += 1) {
    const startedMs = now - (60 - i) * DAY;
    const takesMs = 60_000 * (100 + ((i * 37) % 11) - 5) * (i >= 45 ? 1.2 : 1);
    shop.db
      .insert(runAttempts)
      .values({
        ...row,
        coat: i + 1,
        estimateMs: 6_000_000,
        startedMs,
        endedMs: Math.round(startedMs + takesMs),
        pausedMs: 0,
      })
      .run();
  }
  const { changes, falseAlarmDays } = await paceChanges(shop);
  expect(falseAlarmDays).toBe(90);
  expect(changes).toMatchObject([{ what: 'time', printerName: 'Heron', of: 'Production, Block-out banner 1600' }]);
  expect(changes[0]?.share).toBeCloseTo(0.2, 1);
  expect(Math.abs(((changes[0]?.sinceMs ?? 0) - (now - 15 * DAY)) / DAY)).toBeLessThan(3);
});

test('a period from any hour to any hour is told to the hour; days within it by their sums', async () => {
  const now = shop.clock.now();
  jest.spyOn(shop.clock, 'now').mockReturnValue(now);
  await printed('a.pdf', 30 * HOUR);
  await printed('b.pdf', 3 * HOUR);
  allFacts(shop);
  const hours = (fromMs: number, toMs: number) =>
    paceAnswer(shop, { fromMs, toMs, measures: 'run-hours' }).total['run-hours']?.value ?? 0;
  const floor = (ms: number): number => Math.floor(ms / HOUR) * HOUR;
  for (const [from, to] of [
    [40, 0],
    [29, 0],
    [29, 2],
    [3, 0],
    [40, 2.5],
  ] as const) {
    const [fromMs, toMs] = [floor(now - from * HOUR), floor(now - to * HOUR)];
    const inside = (agoMs: number): number =>
      Math.max(0, Math.min(toMs, now - agoMs + HOUR) - Math.max(fromMs, now - agoMs)) / HOUR;
    expect(hours(fromMs, toMs)).toBeCloseTo(inside(30 * HOUR) + inside(3 * HOUR), 3);
  }
});

test('what a job bears of a run is the same on Pace as in the cost of the run, to the cent', async () => {
  const [a, b] = [admitPlain(shop, 'a.pdf', [[500, 700]]), admitPlain(shop, 'b.pdf', [[300, 400]])];
  changeJob(shop, a, { copies: 3, customer: 'Bluebell' }, TESTER);
  changeJob(shop, b, { copies: 5, customer: 'Harbour' }, TESTER);
  shop.db
    .update(jobPages)
    .set({ coverage: { cyan: 0.6 } })
    .where(eq(jobPages.jobId, b))
    .run();
  const runId = createRun(shop, [a, b], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 5), { by: TESTER });
  queueRun(shop, runId, TESTER);
  transact(shop, (work) => transitionRun(work, runId, 'send', { attempt: 1 }));
  const startedMs = shop.clock.now() - 2 * HOUR;
  const { lengthMm = 0 } = runDetail(shop.db, runId) ?? {};
  const ended = { lengthMm, fedMm: lengthMm + 60, startedMs, endedMs: startedMs + HOUR };
  recordRunReport(shop, report(runId, 1, { status: 'printed', inkMl: { cyan: 30, black: 4 }, ...ended }));
  allFacts(shop);
  const { jobs: shares, totalMinor } = runCost(shop.db, runId, 'EUR');
  const { rows, total } = ask({ by: 'customer', measures: 'cost' });
  expect(Math.round(total['cost']?.value ?? 0)).toBe(totalMinor);
  for (const [customer, jobId] of [
    ['Bluebell', a],
    ['Harbour', b],
  ] as const) {
    const row = rows.find(({ keys }) => keys[0]?.id === customer);
    const share = shares.find((each) => each.jobId === jobId);
    expect(Math.abs((row?.values['cost']?.value ?? 0) - (share?.minor ?? NaN))).toBeLessThan(1);
  }
});

test('what people did is counted by hours and for the printer that it was about; programs and printers do not count', async () => {
  await printed('a.pdf', 2 * HOUR);
  allFacts(shop);
  const log = shop.db.select().from(events).all();
  const byPeople = log.filter(({ actorKind }) => actorKind === 'person');
  expect(byPeople.length).toBeLessThan(log.length);
  const { total } = ask({ measures: 'actions,actions-run' });
  expect(total['actions']?.value).toBe(byPeople.length);
  expect(total['actions-run']).toEqual({ value: byPeople.length, numerator: byPeople.length, denominator: 1 });
  const { rows } = ask({ measures: 'actions', by: 'printer' });
  const ofRun = byPeople.filter(({ subjectType }) => subjectType === 'run').length;
  expect(ofRun).toBeGreaterThan(0);
  expect(rows.find(({ keys }) => keys[0]?.id === 'heron')?.values['actions']?.value).toBe(ofRun);
  factsMustHold(shop);
});

test('ink by channel and by what it was fired for: as it was booked, at today’s prices, fillings left out', async () => {
  await printed('a.pdf', 2 * HOUR);
  const [atMs, printerId] = [shop.clock.now() - HOUR, 'heron'];
  const row = (channelId: string, ml: number, purpose: 'purge' | 'fill' | 'exercise', ofMs = atMs) =>
    shop.db.insert(inkLedger).values({ printerId, channelId, ml, purpose, atMs: ofMs }).run();
  row('cyan', -0.5, 'purge');
  row('cyan', -0.25, 'exercise');
  row('cyan', 500, 'fill');
  row('magenta', -2, 'purge', atMs - 30 * DAY);
  const period = { fromMs: atMs - 3 * HOUR, toMs: atMs + HOUR };
  const { rows } = inkByChannel(shop, period);
  const price = shop.db.select().from(printers).where(eq(printers.id, printerId)).get()?.config
    .channels[0]?.pricePerMlMicro;
  expect(rows).toEqual([
    {
      ...{
        printerId,
        printerName: 'Heron',
        channelId: 'cyan',
        channelName: 'Cyan',
        costMinor: toMinor(3.75 * (price ?? 0)),
      },
      ...{
        colour: expect.stringMatching(/^#/) as string,
        workMl: 3,
        purgeMl: 0.5,
        cleanMl: 0,
        checkMl: 0,
        otherMl: 0.25,
        allMl: 3.75,
      },
    },
  ]);
  expect(inkByChannel(shop, { ...period, printerId: 'wren' }).rows).toEqual([]);
  expect(inkCsv(inkByChannel(shop, period))).toContain('Heron,Cyan,3,0.5,0,0,0.25,3.75,');
});

test('a source whose facts can not be made keeps no other from its turn', async () => {
  const { runId } = await printed('a.pdf', 2 * HOUR);
  await printed('b.pdf', 4 * HOUR);
  // A run whose printer has no modes any more.
  shop.db
    .update(printers)
    .set({ config: sql`json_set(config, '$.modes', json('[]'))` })
    .where(eq(printers.id, 'heron'))
    .run();
  shop.db.insert(printerSpells).values({ printerId: 'wren', state: 'idle', fromMs: 5, toMs: 9 }).run();
  const logged = jest.spyOn(shop.log, 'error').mockImplementation(() => undefined);
  const projector = new FactsProjector(shop);
  while (projector.work(1000, () => performance.now()));
  expect(logged).toHaveBeenCalledTimes(2);
  expect(
    shop.db
      .select()
      .from(facts)
      .all()
      .map(({ kind }) => kind)
      .filter((kind) => kind !== 'actions'),
  ).toEqual(['spell']);
  expect(
    shop.db
      .select()
      .from(factsDue)
      .all()
      .map(({ key }) => key),
  ).toContain(`${runId}/1/1`);
});
