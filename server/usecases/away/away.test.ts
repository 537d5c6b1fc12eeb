import { eq } from 'drizzle-orm';
import type { AwayLearned, AwayNow, AwaySimulation, AwayView, MorningView } from '../../../contract/api/away.ts';
import { eventSentence } from '../../../core/events/sentence.ts';
import { awayPeriods } from '../../db/tables/awayTables.ts';
import { events, inkLedger, printerSpells, runAttempts } from '../../db/tables/records.ts';
import { runs } from '../../db/tables/schema.ts';
import { printers, spools } from '../../db/tables/floorTables.ts';
import { type Answered, type TestHttp, openTestHttp } from '../../testing/httpFixture.ts';
import { ServedShop } from '../../testing/servedShop.ts';
import { admitPlain, report, switchOn, type TestShop } from '../../testing/shopFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { recordRunReport } from '../device/machineReports.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { loadSpool } from '../media/loadSpool.ts';
import { createRun } from '../run/createRun.ts';
import { queueRun } from '../run/queueRun.ts';
import { setShopSetup, shopSetup } from '../setup/shopSetup.ts';
import { readFloor } from '../plan/fit.ts';
import { endDueAway } from './arm.ts';
import { learnedChance } from './learnedChance.ts';

const MIN = 60_000;
const HOUR = 60 * MIN;
const EVENING = Date.parse('2027-03-24T16:30:00Z');

let http: TestHttp;
let shop: TestShop;
let clock: { nowMs: number };
/** From six in the evening until half past seven. */
let tonight: { readonly fromMs: number; readonly toMs: number };

beforeEach(async () => {
  http = await openTestHttp();
  ({ shop } = http);
  clock = { nowMs: EVENING };
  Object.defineProperty(shop.clock, 'now', { value: () => clock.nowMs });
  shop.work.replace('run pdf', () => Promise.resolve({ sha256: 'f'.repeat(64), bytes: 1 }));
  const days = [1, 2, 3, 4, 5].map((weekday) => ({ weekday, from: '07:30', to: '18:00' }));
  setShopSetup(shop, { ...shopSetup(shop.db, shop.clock.zone), days, holidays: [] }, TESTER);
  switchOn(shop);
  const { body } = await http.call<AwayNow>('GET', '/api/away');
  tonight = body.suggested[0] ?? { fromMs: 0, toMs: 0 };
});
afterEach(() => http.close());

/** A run of so many hours on Heron, on what is loaded there unless something else is said. */
async function queued(name: string, hours: number, stockId?: string, queueId = 'heron-banners'): Promise<string> {
  const jobId = admitPlain(shop, name, [[400, 600]], queueId);
  const runId = createRun(shop, [jobId], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  const row = shop.db.select().from(runs).where(eq(runs.id, runId)).get();
  const ticket = row && stockId !== undefined ? { ...row.ticket, stockId } : row?.ticket;
  shop.db
    .update(runs)
    .set({ estimateMs: hours * HOUR, ...(ticket ? { ticket } : {}) })
    .where(eq(runs.id, runId))
    .run();
  return runId;
}

const simulate = (more: object = {}): Promise<Answered<AwaySimulation>> =>
  http.call<AwaySimulation>('POST', '/api/away/simulate', { ...tonight, nights: 300, ...more });
const arm = (planHash: string): Promise<Answered<AwayView>> =>
  http.call<AwayView>('POST', '/api/away/arm', { fromMs: tonight.fromMs, toMs: tonight.toMs, planHash });
const log = (): string[] =>
  shop.db
    .select()
    .from(events)
    .all()
    .map((row) => eventSentence(row));
const outcomes = ({ events: list }: AwaySimulation): Record<string, string> =>
  Object.fromEntries(list.map(({ id, outcome }) => [id, outcome]));

test('shop hours say when nobody is there', () => {
  expect(new Date(tonight.fromMs).toISOString()).toBe('2027-03-24T17:00:00.000Z');
  expect(tonight.toMs - tonight.fromMs).toBe(13.5 * HOUR);
});

describe('simulating', () => {
  test('tells what is printed, what needs a hand and what that brings; nothing is kept', async () => {
    // Too late to load anything.
    clock.nowMs = tonight.fromMs - 5 * MIN;
    const fits = await queued('a.pdf', 3, undefined, 'bittern-photo');
    const other = await queued('b.pdf', 1, 'mesh');
    const before = JSON.stringify(shop.db.select().from(runs).all());
    const { status, body } = await simulate();
    expect(status).toBe(200);
    expect(outcomes(body)).toEqual({ [fits]: 'done', [other]: 'hand' });
    expect(body.odds.byRun[fits]?.chance).toBeGreaterThan(0.8);
    expect(body.odds.all?.chance).toBe(body.odds.byRun[fits]?.chance);
    expect(body.figures).toMatchObject({ runs: 1, pieces: 1 });
    expect(JSON.stringify(shop.db.select().from(runs).all())).toBe(before);
    expect(shop.db.select().from(awayPeriods).all()).toEqual([]);
    // As if the roll were loaded.
    const [action] = body.before.filter(({ change }) => change?.kind === 'load');
    const { body: loaded } = await simulate({ changes: [action?.change] });
    expect(outcomes(loaded)[other]).toBe('done');
    expect(loaded.figures.pieces - body.figures.pieces).toBe(action?.gain.pieces);
  });

  test('one seed is one answer, in whatever parts its nights are simulated; another floor is another word', async () => {
    await queued('a.pdf', 3);
    const [a, b] = [await simulate({ seed: 7 }), await simulate({ seed: 7 })];
    expect(b.body.odds).toEqual(a.body.odds);
    expect((await simulate({ seed: 8 })).body.odds).not.toEqual(a.body.odds);
    expect(b.body.planHash).toBe(a.body.planHash);
    // How a printer stands that has nothing to do changes no plan; one that prints does.
    const stands = async (id: string): Promise<string> => {
      const of = eq(printers.id, id);
      const was = shop.db.select().from(printers).where(of).get()?.linkStatus ?? 'idle';
      shop.db
        .update(printers)
        .set({ linkStatus: was === 'off' ? 'idle' : 'off' })
        .where(of)
        .run();
      const { planHash } = (await simulate()).body;
      shop.db.update(printers).set({ linkStatus: was }).where(of).run();
      return planHash;
    };
    expect(await stands('wren')).toBe(a.body.planHash);
    expect(await stands('heron')).not.toBe(a.body.planHash);
    await queued('b.pdf', 1);
    expect((await simulate()).body.planHash).not.toBe(a.body.planHash);
  });

  test.each([
    [{ fromMs: EVENING + HOUR, toMs: EVENING }, 'away-backwards'],
    [{ fromMs: EVENING - 2 * HOUR, toMs: EVENING - HOUR }, 'away-past'],
    [{ fromMs: EVENING, toMs: EVENING + 9 * 24 * HOUR }, 'away-too-far'],
    [{ changes: [{ kind: 'leave', runId: 'run-none' }] }, 'change-gone'],
    [{ changes: [{ kind: 'load', printerId: 'heron', sourceId: 'roll', spoolId: 'none' }] }, 'change-gone'],
    [{ changes: [{ kind: 'fill', printerId: 'heron', channelId: 'gold', ml: 5 }] }, 'change-gone'],
    [{ changes: [{ kind: 'empty', printerId: 'gull' }] }, 'change-gone'],
    [{ changes: [{ kind: 'thin', timerId: 'none', share: 0.5 }] }, 'change-gone'],
  ])('refuses what can’t be planned: %j', async (more, code) => {
    const { status, body } = (await simulate(more)) as unknown as Answered<{ error: { code: string } }>;
    expect(status).toBeGreaterThanOrEqual(409);
    expect(body.error.code).toBe(code);
  });

  test('refuses a change that those before it leave nothing of', async () => {
    const runId = await queued('a.pdf', 1);
    const leave = { kind: 'leave', runId };
    expect((await simulate({ changes: [leave] })).status).toBe(200);
    const { status, body } = (await simulate({ changes: [leave, { kind: 'split', runId }] })) as unknown as Answered<{
      error: { code: string; message: string };
    }>;
    expect([status, body.error.code]).toEqual([409, 'change-gone']);
    expect(body.error.message).toContain(runId);
  });

  test('the list for paper and phone is one page that brings all it needs', async () => {
    await queued('a <b>.pdf', 3);
    await queued('b.pdf', 1, 'mesh');
    const asked = `fromMs=${String(tonight.fromMs)}&toMs=${String(tonight.toMs)}`;
    const answer = await fetch(`${http.base}/api/away/list.html?${asked}`);
    const html = await answer.text();
    expect(answer.headers.get('content-security-policy')).toContain("default-src 'none'");
    expect(html).toContain('Before you go');
    expect(html).toMatch(/needs a hand: .* has to be loaded/);
    expect(html).not.toMatch(/<script|<link|src=/);
  });
});

describe('armed', () => {
  let served: ServedShop;
  beforeEach(() => {
    served = new ServedShop(shop);
  });
  afterEach(() => {
    served.dispatcher.close();
  });
  const sent = (): string[] => shop.link.sent.map(({ runId }) => runId);

  test('what needs a hand lets the next go with nobody there, and comes first once somebody is', async () => {
    const other = await queued('b.pdf', 1, 'mesh');
    const fits = await queued('a.pdf', 3);
    await served.says('heron');
    expect(sent()).toEqual([]);
    const { status, body } = await arm((await simulate()).body.planHash);
    expect([status, body.state, body.figures.runs]).toEqual([200, 'armed', 1]);
    // Somebody is still there: the line waits for them.
    await served.says('heron');
    expect(sent()).toEqual([]);
    clock.nowMs = tonight.fromMs + MIN;
    await served.says('heron');
    expect(sent()).toEqual([fits]);
    expect(shop.db.select().from(runs).where(eq(runs.id, other)).get()?.state).toBe('queued');
    expect(log()).toContain('Away plan armed: 1 run by itself, 1 run held for a person');
  });

  test('disarmed, or over, the line waits for hands again', async () => {
    await queued('b.pdf', 1, 'mesh');
    await queued('a.pdf', 3);
    const { body } = await arm((await simulate()).body.planHash);
    clock.nowMs = tonight.fromMs + MIN;
    expect((await http.call('POST', `/api/away/${body.id}/disarm`)).status).toBe(200);
    await served.says('heron');
    expect(sent()).toEqual([]);
    expect((await http.call('POST', `/api/away/${body.id}/disarm`)).status).toBe(409);
    expect(log()).toContain('Away plan disarmed');
  });

  test('a person’s word wins: a spool that is loaded in between lets the line go on in its order', async () => {
    const other = await queued('b.pdf', 1, 'mesh');
    await queued('a.pdf', 3);
    await arm((await simulate()).body.planHash);
    clock.nowMs = tonight.fromMs + MIN;
    const mesh = shop.db.select().from(spools).where(eq(spools.stockId, 'mesh')).all();
    const long = mesh.find(({ printerId }) => printerId === null);
    await loadSpool(shop, long?.id ?? '', { printerId: 'heron', sourceId: 'roll' }, TESTER);
    await served.says('heron');
    expect(sent()).toEqual([other]);
  });

  test('is refused where the floor has changed, and where another is armed', async () => {
    await queued('a.pdf', 3);
    const { planHash } = (await simulate()).body;
    await queued('b.pdf', 1);
    expect((await arm(planHash)).status).toBe(409);
    expect(shop.db.select().from(awayPeriods).all()).toEqual([]);
    const now = (await simulate()).body.planHash;
    expect((await arm(now)).status).toBe(200);
    const again = (await arm(now)) as unknown as Answered<{ error: { code: string; message: string } }>;
    expect([again.status, again.body.error.code]).toEqual([409, 'already-armed']);
    expect((await http.call<AwayNow>('GET', '/api/away')).body.armed?.state).toBe('armed');
  });

  test('ends by itself, once, and is looked at in the morning', async () => {
    const fits = await queued('a.pdf', 3);
    const lost = await queued('b.pdf', 2);
    const { body } = await arm((await simulate()).body.planHash);
    endDueAway(shop);
    await served.says('heron');
    const at = (ms: number): void => {
      clock.nowMs = EVENING + ms;
    };
    at(3 * HOUR);
    recordRunReport(
      shop,
      report(fits, 1, {
        status: 'printed',
        seq: 5,
        lengthMm: 600,
        fedMm: 700,
        endedMs: clock.nowMs,
        startedMs: tonight.fromMs,
      }),
    );
    await served.says('heron');
    at(4 * HOUR);
    recordRunReport(
      shop,
      report(lost, 1, {
        status: 'failed',
        seq: 5,
        lengthMm: 200,
        fedMm: 300,
        reason: 'head strike',
        endedMs: clock.nowMs,
        startedMs: tonight.fromMs + 3 * HOUR,
      }),
    );
    clock.nowMs = tonight.toMs;
    // One stood already when the time away began, another had been seen to by then.
    const stood = (printerId: string, cause: string, fromMs: number, toMs: number): void => {
      shop.db.insert(printerSpells).values({ printerId, state: 'faulted', cause, fromMs, toMs }).run();
    };
    stood('gannet', 'vacuum lost', tonight.fromMs - HOUR, tonight.fromMs + HOUR);
    stood('bittern', 'cover open', tonight.fromMs - HOUR, tonight.fromMs);
    endDueAway(shop);
    endDueAway(shop);
    expect(log().filter((line) => line.includes('The time away is over'))).toEqual([
      'The time away is over: 1 of 2 runs printed',
    ]);
    const { body: now } = await http.call<AwayNow>('GET', '/api/away');
    expect([now.armed, now.toLookAt]).toEqual([null, body.id]);
    const { body: morning } = await http.call<MorningView>('GET', `/api/away/${body.id}`);
    expect(morning).toMatchObject({ state: 'ended', came: false });
    expect(morning.lines.map(({ planned, verdict, why, again }) => [planned.id, verdict, why, again])).toEqual([
      [fits, 'as planned', '', false],
      [lost, 'not done', 'head strike', true],
    ]);
    expect(morning.sums).toMatchObject({ runsPlanned: 2, runsDone: 1, piecesDone: 1, lostPieces: 1, lostMm: 300 });
    expect(morning.sums.lostMinor).toBeGreaterThan(0);
    expect(morning.checkFirst).toMatchObject({ printerId: 'heron' });
    expect(morning.stops.filter(({ printerId }) => printerId !== 'heron')).toEqual([
      { printerId: 'gannet', fromMs: tonight.fromMs - HOUR, toMs: tonight.fromMs + HOUR, why: 'vacuum lost' },
    ]);
    expect(morning.record).toMatchObject({ nights: 1, came: 0, said: body.odds?.chance });
    await http.call('POST', `/api/away/${body.id}/seen`);
    expect((await http.call<AwayNow>('GET', '/api/away')).body.toLookAt).toBeNull();
  });
});

describe('what the odds are learned from', () => {
  const attempt = (more: Partial<typeof runAttempts.$inferInsert>): void => {
    shop.db
      .insert(runAttempts)
      .values({
        ...{ runId: '', attempt: 1, printerId: 'heron', modeId: 'production', stockId: 'mesh' },
        ...{ outcome: 'printed', estimateMs: HOUR, startedMs: EVENING - 2 * HOUR, endedMs: EVENING - HOUR },
        ...{ lengthMm: 50_000, ...more },
      })
      .run();
  };
  const learned = async (): Promise<AwayLearned> => (await http.call<AwayLearned>('GET', '/api/away/learned')).body;
  const heron = (all: AwayLearned) => all.printers.find(({ printerId }) => printerId === 'heron');

  test('faults are the printer’s, jams and flaws the stock’s; a stop and the run that it ended are one', async () => {
    const runId = await queued('a.pdf', 1, 'mesh');
    const day = 24 * HOUR;
    attempt({ runId, attempt: 1 });
    attempt({ runId, attempt: 2, outcome: 'failed', cause: 'head strike', endedMs: EVENING - HOUR });
    attempt({ runId, attempt: 3, outcome: 'failed', cause: 'jam' });
    attempt({
      runId,
      attempt: 4,
      outcome: 'failed',
      cause: 'power',
      startedMs: EVENING - day,
      endedMs: EVENING - day + HOUR,
    });
    attempt({ runId, attempt: 5, outcome: 'failed', cause: 'old', startedMs: 0, endedMs: EVENING - 400 * day });
    shop.db
      .insert(printerSpells)
      .values([
        {
          printerId: 'heron',
          state: 'faulted',
          cause: 'head strike',
          fromMs: EVENING - HOUR - 1000,
          toMs: EVENING - 30 * MIN,
        },
        {
          printerId: 'heron',
          state: 'faulted',
          cause: 'media out',
          fromMs: EVENING - 10 * MIN,
          toMs: EVENING - 9 * MIN,
        },
      ])
      .run();
    const all = await learned();
    expect(heron(all)).toMatchObject({ faults: 2, hours: 4, timeRuns: 1, othersFaults: 0 });
    expect(all.stocks.find(({ stockId }) => stockId === 'mesh')).toMatchObject({
      jams: 1,
      flaws: 0,
      metres: 200,
    });
    expect(all.repair.seen).toBe(1);
    // Half an hour: between what was thought, twenty minutes, and what was seen.
    expect(all.repair.minutes).toBeGreaterThan(20);
    expect(all.repair.minutes).toBeLessThan(30.1);
    const worst = heron(all)?.worst;
    expect(worst?.faults).toBe(1);
    expect(worst?.rateWithout).toBeLessThan(heron(all)?.rate ?? 0);
  });

  test('ink is learned from what was fired against what was planned', async () => {
    const runId = await queued('a.pdf', 1);
    shop.db
      .update(runs)
      .set({ inkMl: { cyan: 2, black: 1 } })
      .where(eq(runs.id, runId))
      .run();
    for (const n of [1, 2, 3, 4]) {
      attempt({ runId, attempt: n, endedMs: EVENING - n * HOUR });
      for (const [channelId, ml] of [
        ['cyan', -2.4],
        ['black', -1.2],
      ] as const) {
        shop.db.insert(inkLedger).values({ printerId: 'heron', channelId, ml, runId, attempt: n, atMs: EVENING }).run();
      }
    }
    const { ink } = learnedChance(shop, readFloor(shop));
    const heronInk = ink['heron'];
    // The first run has moved the estimates of its printer by 1/5 of ln 1.2 and those of its mode by 9/25: what is left is 16/25.
    // Four runs weigh as much as what was thought: half of that.
    expect(heronInk && 'm' in heronInk ? heronInk.m : NaN).toBeCloseTo((Math.log(1.2) * 16) / 25 / 2, 6);
    expect(heronInk && 'kappa' in heronInk ? heronInk.kappa : NaN).toBe(8);
  });

  test('a shop with little in its log has wide odds, not none', async () => {
    const { low = 0, high = 0, rate = 0, worst } = heron(await learned()) ?? {};
    expect(high / low).toBeGreaterThan(5);
    expect(rate).toBeGreaterThan(0.005);
    expect(worst).toBeNull();
  });
});
