import { findRun } from '../db/findRows.ts';
import { TESTER } from '../testing/tester.ts';
import { eq } from 'drizzle-orm';
import type { MachineRun, MachineState, RunReport } from '../../contract/machine/protocol.ts';
import { spoolLedger } from '../db/tables/records.ts';
import { runs } from '../db/tables/schema.ts';
import { printers, spools } from '../db/tables/floorTables.ts';
import type { MachineLink, RunCommand } from '../ports/machineLink.ts';
import { SilentLink, admitPlain, openTestShop, report, type TestShop } from '../testing/shopFixture.ts';
import { createRun } from '../usecases/run/createRun.ts';
import { layOutRun } from '../usecases/layout/layOutRun.ts';
import { nestDraft } from '../usecases/layout/nestDraft.ts';
import { recordRunReport } from '../usecases/device/machineReports.ts';
import { queueRun } from '../usecases/run/queueRun.ts';
import type { Shop } from '../shop.ts';
import { Dispatcher } from './dispatcher.ts';

/** Printers as a script: what they say, and whether an answer to a send is lost on the way. */
class ScriptedLink extends SilentLink implements MachineLink {
  readonly keys: string[] = [];
  readonly known = new Map<string, RunReport>();
  loseAnswers = false;
  private readonly listeners = new Map<string, (state: MachineState | undefined) => void>();

  override send(_machineId: string, runId: string, attempt: number, run: MachineRun): Promise<RunReport> {
    const key = `${runId}/${attempt}`;
    this.keys.push(key);
    const known = this.known.get(key) ?? report(runId, attempt, { msLeft: run.strokesMs.length });
    this.known.set(key, known);
    return this.loseAnswers ? Promise.reject(new Error('line broke')) : Promise.resolve(known);
  }
  override report(_machineId: string, runId: string, attempt: number): Promise<RunReport | undefined> {
    return Promise.resolve(this.known.get(`${runId}/${attempt}`));
  }
  override command(_machineId: string, runId: string, attempt: number, command: RunCommand): Promise<RunReport> {
    return Promise.resolve(
      report(runId, attempt, {
        status: command === 'resume' ? 'printing' : command === 'pause' ? 'paused' : 'cancelled',
      }),
    );
  }
  override watch(machineId: string, onState: (state: MachineState | undefined) => void): () => void {
    this.listeners.set(machineId, onState);
    return () => this.listeners.delete(machineId);
  }
  say(
    machineId: string,
    status: MachineState['status'] | 'off',
    run: RunReport | null = null,
    media?: MachineState['media'],
  ): void {
    this.listeners.get(machineId)?.(
      status === 'off' ? undefined : { machineId, seq: 1, atMs: 0, status, reason: null, run, ...(media && { media }) },
    );
  }
}

let shop: TestShop;
let close: () => void;
let link: ScriptedLink;
let dispatcher: Dispatcher;

beforeEach(() => {
  const opened = openTestShop();
  link = new ScriptedLink();
  const laid = { sha256: 'f'.repeat(64), bytes: 1 };
  opened.shop.work.replace('run pdf', () => Promise.resolve(laid));
  shop = { ...opened.shop, link };
  ({ close } = opened);
  dispatcher = open(shop);
});
afterEach(() => {
  dispatcher.close();
  close();
});

function open(on: Shop): Dispatcher {
  const made = new Dispatcher(on);
  made.open();
  return made;
}

async function queued(name: string, queueId = 'heron-banners'): Promise<string> {
  const runId = createRun(shop, [admitPlain(shop, name, [[400, 600]], queueId)], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  return runId;
}

const rowOf = (id: string) => findRun(shop.db, id);
/** Gives the line time: for so many sends where some are due, then a moment for what must not come. */
async function settle(sends = 0): Promise<void> {
  for (let tries = 0; tries < 200 && link.keys.length < sends; tries += 1) await moment(15);
  await moment(40);
}
const moment = (ms: number) => new Promise((done) => setTimeout(done, ms));

test('a free printer gets the first run of its line, and the next one only when that has ended', async () => {
  const first = await queued('one.pdf');
  const second = await queued('two.pdf');
  await settle();
  expect(link.keys).toEqual([]);
  link.say('heron', 'idle');
  await settle(1);
  expect(link.keys).toEqual([`${first}/1`]);
  expect([rowOf(first)?.state, rowOf(second)?.state]).toEqual(['printing', 'queued']);
  link.say('heron', 'printing', report(first, 1, { lengthMm: 200 }));
  dispatcher.look();
  await settle(1);
  expect(link.keys).toHaveLength(1);
  link.say('heron', 'idle', report(first, 1, { status: 'printed', lengthMm: 640, fedMm: 700, endedMs: 5000 }));
  await settle();
  expect(rowOf(first)?.state).toBe('printed');
  expect(link.keys).toEqual([`${first}/1`, `${second}/1`]);
});

test('printers work side by side', async () => {
  const heron = await queued('wide.pdf');
  const bittern = await queued('photo.pdf', 'bittern-photo');
  link.say('heron', 'idle');
  link.say('bittern', 'idle');
  await settle(2);
  expect([...link.keys].sort()).toEqual([`${heron}/1`, `${bittern}/1`].sort());
});

test('an answer that is lost: the same attempt is sent again, never a new one', async () => {
  const run = await queued('lost.pdf');
  link.loseAnswers = true;
  link.say('heron', 'idle');
  await settle();
  expect(rowOf(run)).toMatchObject({ state: 'sent', attempt: 1 });
  link.loseAnswers = false;
  dispatcher.look();
  await settle(2);
  expect(link.keys).toEqual([`${run}/1`, `${run}/1`]);
  expect(rowOf(run)).toMatchObject({ state: 'printing', attempt: 1 });
});

test('a server that died after sending: the next one asks under the same attempt and takes over what became of it', async () => {
  const run = await queued('crash.pdf');
  link.loseAnswers = true;
  link.say('heron', 'idle');
  await settle();
  dispatcher.close();
  link.loseAnswers = false;
  link.known.set(`${run}/1`, report(run, 1, { status: 'printed', lengthMm: 640, fedMm: 700, endedMs: 7000 }));
  dispatcher = open(shop);
  link.say('heron', 'idle');
  await settle();
  expect(rowOf(run)).toMatchObject({ state: 'printed', attempt: 1, fedMm: 700 });
});

test('a printer that has forgotten a run it was printing: failed at the length last seen, then the line goes on', async () => {
  const run = await queued('gone.pdf');
  const next = await queued('next.pdf');
  link.say('heron', 'idle');
  await settle();
  link.say('heron', 'printing', report(run, 1, { lengthMm: 310, fedMm: 360 }));
  link.known.clear();
  link.say('heron', 'idle');
  await settle();
  expect(rowOf(run)).toMatchObject({
    state: 'failed',
    reachedMm: 310,
    fedMm: 360,
    reason: 'the printer no longer knows this run',
  });
  dispatcher.look();
  await settle();
  expect(rowOf(next)?.state).toBe('printing');
});

test('nothing is sent while the spool is away, a fault stands, or the line is dead', async () => {
  const run = await queued('waits.pdf');
  shop.db.update(spools).set({ printerId: null, sourceId: null }).where(eq(spools.id, 'spool-bo-31')).run();
  link.say('heron', 'idle');
  await settle();
  expect(link.keys).toEqual([]);
  shop.db.update(spools).set({ printerId: 'heron', sourceId: 'roll' }).where(eq(spools.id, 'spool-bo-31')).run();
  link.say('heron', 'faulted');
  dispatcher.look();
  link.say('heron', 'off');
  dispatcher.look();
  await settle();
  expect(link.keys).toEqual([]);
  expect(shop.db.select().from(printers).where(eq(printers.id, 'heron')).get()).toMatchObject({
    linkStatus: 'off',
    linkReason: 'no answer from the printer',
  });
  link.say('heron', 'idle');
  await settle(1);
  expect(link.keys).toEqual([`${run}/1`]);
});

test('a printer that stands is told again what was loaded, though it says nothing new', async () => {
  const run = await queued('ran out.pdf');
  link.say('heron', 'idle');
  await settle();
  const told: string[] = [];
  link.load = (machineId, _sourceId, { tag }) => {
    told.push(tag);
    const state: MachineState = { machineId, seq: 2, atMs: 0, status: 'waiting', reason: null, run: null };
    return told.length === 1 ? Promise.reject(new Error('line broke')) : Promise.resolve(state);
  };
  const media = [{ sourceId: 'roll', tag: 'spool-that-ran-out', widthMm: 1600 }];
  link.say('heron', 'faulted', report(run, 1, { status: 'paused' }), media);
  await settle();
  expect(told).toEqual(['spool-bo-31']);
  dispatcher.look();
  await settle();
  expect(told).toEqual(['spool-bo-31', 'spool-bo-31']);
});

test('a word of a person goes to the printer that has the run', async () => {
  const run = await queued('pause.pdf');
  await expect(dispatcher.command(run, 'pause')).rejects.toMatchObject({ code: 'wrong-state' });
  link.say('heron', 'idle');
  await settle();
  await dispatcher.command(run, 'pause');
  expect(rowOf(run)?.state).toBe('paused');
  await dispatcher.command(run, 'resume');
  expect(rowOf(run)?.state).toBe('printing');
  link.command = () => Promise.reject(new Error('line broke'));
  await expect(dispatcher.command(run, 'cancel')).rejects.toMatchObject({
    status: 503,
    message: `Heron does not answer, so Run 1 can't cancel now.`,
  });
  expect(rowOf(run)?.state).toBe('printing');
});

test('what allowed a run is asked again once its PDF is made: media that was taken out meanwhile is not written back', async () => {
  const runId = await queued('slow.pdf');
  const planned = rowOf(runId)?.spoolId;
  let made = (): void => undefined;
  const waits = new Promise<void>((done) => (made = done));
  shop.work.replace('run pdf', () => waits.then(() => ({ sha256: 'f'.repeat(64), bytes: 1 })));
  link.say('heron', 'idle');
  await settle();
  shop.db.update(spools).set({ printerId: null, sourceId: null }).where(eq(spools.printerId, 'heron')).run();
  made();
  await settle();
  expect(link.keys).toEqual([]);
  expect(rowOf(runId)).toMatchObject({ state: 'queued', attempt: 0, spoolId: planned });
});

test('a run that is not the first of its line any more when its PDF is made waits for its turn', async () => {
  const first = await queued('first.pdf');
  const second = await queued('second.pdf');
  let made = (): void => undefined;
  const waits = new Promise<void>((done) => (made = done));
  shop.work.replace('run pdf', () => waits.then(() => ({ sha256: 'f'.repeat(64), bytes: 1 })));
  link.say('heron', 'idle');
  await settle();
  shop.db.update(runs).set({ position: 0 }).where(eq(runs.id, second)).run();
  made();
  dispatcher.look();
  await settle(1);
  expect(link.keys).toEqual([`${second}/1`]);
  expect(rowOf(first)?.state).toBe('queued');
});

test('what a printer said while nothing could be written is taken later, and the run booked once', async () => {
  const runId = await queued('noted.pdf');
  link.say('heron', 'idle');
  await settle(1);
  const transaction = shop.db.transaction.bind(shop.db);
  Object.assign(shop.db, {
    transaction: () => {
      throw Object.assign(new Error('database or disk is full'), { code: 'SQLITE_FULL' });
    },
  });
  link.say('heron', 'idle', report(runId, 1, { seq: 9, status: 'printed', lengthMm: 640, fedMm: 700, endedMs: 5000 }));
  dispatcher.look();
  expect(rowOf(runId)?.state).toBe('printing');
  expect(shop.storage.errors.length).toBeGreaterThan(0);
  Object.assign(shop.db, { transaction });
  dispatcher.look();
  expect(rowOf(runId)?.state).toBe('printed');
  const booked = shop.db.select().from(spoolLedger).where(eq(spoolLedger.runId, runId)).all();
  expect(booked).toHaveLength(1);
});

test('a look that throws is written down, and the next one comes all the same', async () => {
  shop.storage.acceptsWork = false;
  await queued('waits.pdf');
  link.say('heron', 'idle');
  let asked = 0;
  Object.defineProperty(shop.storage, 'acceptsWork', {
    configurable: true,
    get: () => {
      asked += 1;
      throw new Error('something broke');
    },
  });
  const error = jest.spyOn(shop.log, 'error');
  jest.useFakeTimers();
  try {
    expect(() => {
      dispatcher.look();
    }).not.toThrow();
    expect(error).toHaveBeenCalledTimes(1);
    expect(asked).toBe(1);
    await jest.advanceTimersByTimeAsync(1100);
    expect(asked).toBe(2);
  } finally {
    Object.defineProperty(shop.storage, 'acceptsWork', { configurable: true, writable: true, value: false });
    jest.restoreAllMocks();
    jest.useRealTimers();
  }
});

test('nothing new is sent while nothing can be written down; what is on the printer is looked after', async () => {
  const runId = await queued('later.pdf');
  shop.storage.acceptsWork = false;
  link.say('heron', 'idle');
  await settle();
  expect(link.keys).toEqual([]);
  shop.storage.acceptsWork = true;
  dispatcher.look();
  await settle(1);
  expect(link.keys).toEqual([`${runId}/1`]);
});

test('a printer that never answers is known not to: the others don’t wait for it', () => {
  const all = shop.db.select({ id: printers.id }).from(printers).all();
  for (const { id } of all.slice(1)) link.say(id, 'idle');
  expect(dispatcher.allKnown()).toBe(false);
  link.say(all[0]?.id ?? '', 'off');
  expect(dispatcher.allKnown()).toBe(true);
});

test('a late answer does not move a paused run back to printing; an end is taken whenever it comes', async () => {
  const runId = await queued('paused.pdf');
  link.say('heron', 'idle');
  await settle(1);
  link.say('heron', 'waiting', report(runId, 1, { seq: 20, status: 'paused', lengthMm: 100, reason: 'cover open' }));
  expect(rowOf(runId)?.state).toBe('paused');
  recordRunReport(shop, report(runId, 1, { seq: 12, status: 'printing', lengthMm: 80 }));
  expect(rowOf(runId)).toMatchObject({ state: 'paused', reachedMm: 100, reportSeq: 20 });
  recordRunReport(shop, report(runId, 1, { seq: 21, status: 'printing', lengthMm: 110 }));
  expect(rowOf(runId)?.state).toBe('printing');
  recordRunReport(
    shop,
    report(runId, 1, { seq: 3, status: 'failed', lengthMm: 120, endedMs: 9, reason: 'lost power' }),
  );
  expect(rowOf(runId)?.state).toBe('failed');
});

test('a printer whose last word was lost is asked, so that its line goes on', async () => {
  const first = await queued('one.pdf');
  // It is free by now, but the last that was heard is that it prints something that nobody here knows.
  link.say('heron', 'printing');
  dispatcher.look();
  await settle();
  expect([link.keys, rowOf(first)?.state]).toEqual([[], 'queued']);
  const real = performance.now.bind(performance);
  const later = jest.spyOn(performance, 'now').mockImplementation(() => real() + 6000);
  try {
    dispatcher.look();
    await settle(1);
    expect(link.keys).toEqual([`${first}/1`]);
  } finally {
    later.mockRestore();
  }
});
