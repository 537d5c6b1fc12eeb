import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { eq } from 'drizzle-orm';
import fc from 'fast-check';
import { type OpenDb, openDb } from '../db/open.ts';
import { tasks } from '../db/tables/records.ts';
import { TaskStopped, isClosing, stepOf } from '../ports/work.ts';
import type { NestOrder, PictureOrder } from './kinds.ts';
import type { Executor } from './pool.ts';
import { TaskStore } from './taskStore.ts';
import { WorkQueue } from './workQueue.ts';

/** Does nothing until a test says how a task ends. */
class ScriptedExecutor implements Executor {
  readonly begun: {
    readonly name: string;
    readonly done: (value: unknown) => void;
    readonly failed: (error: unknown) => void;
    readonly progress: (share: number) => void;
  }[] = [];
  closed = false;
  constructor(readonly slots: number) {}

  execute(_kind: string, input: unknown, signal: AbortSignal, progress: (share: number) => void): Promise<unknown> {
    return new Promise((done, failed) => {
      this.begun.push({ name: nameOf(input), done, failed, progress });
      signal.addEventListener('abort', () => {
        failed(new Error('The task was aborted.'));
      });
    });
  }
  close(): Promise<void> {
    this.closed = true;
    // Like threads that are ended in the middle of their work.
    for (const { failed } of this.begun) failed(new Error('Terminating worker thread'));
    return Promise.resolve();
  }
  get names(): string[] {
    return this.begun.map(({ name }) => name);
  }
  end(name: string, value: unknown = name): void {
    this.begun.findLast((each) => each.name === name)?.done(value);
  }
}

/** A nest is the plainest of tasks; its seed names it here. */
const order = (seed: number): NestOrder => ({ input: {} as NestOrder['input'], seed, stepBudget: 1, timeLimitMs: 1 });
/** A task that leaves a file behind; its page names it. */
const picture = (page: number): PictureOrder => ({
  sha256: 'f',
  page,
  size: 'thumb',
  format: 'pdf',
  appearance: undefined,
});
const nameOf = (input: unknown): string => {
  const { seed, page } = input as Partial<NestOrder & PictureOrder>;
  return String(seed ?? page);
};

let root: string;
let database: OpenDb;
let store: TaskStore;
const failed: unknown[] = [];

beforeEach(() => {
  root = mkdtempSync(join(tmpdir(), 'yellow-spool-test-'));
  database = openDb(join(root, 'shop.db'), resolve('server/db/migrations'));
  store = new TaskStore(database.db, (error) => failed.push(error));
  failed.length = 0;
});
afterEach(() => {
  database.close();
  rmSync(root, { recursive: true, force: true });
});

const explain = (error: unknown) => ({ code: 'explained', message: String(error), remedy: 'Try it so.' });
let ids = 0;
function queueOn(
  executor: Executor,
  {
    taskMs = 60_000,
    holder = 'here',
    nowMs = () => 1000,
  }: Partial<{ taskMs: number; holder: string; nowMs: () => number }> = {},
): WorkQueue {
  return new WorkQueue(executor, store, { taskMs, holder, newId: () => `task-${String(ids++)}`, nowMs });
}
const settle = (): Promise<void> => new Promise((done) => setTimeout(done, 5));
const rows = () => {
  store.flush();
  return database.db.select().from(tasks).orderBy(tasks.createdMs).all();
};

test('a person goes first, the last place is kept for one, and the same question is worked on once', async () => {
  const executor = new ScriptedExecutor(2);
  const queue = queueOn(executor);
  const shop = [1, 2, 3].map((seed) => queue.run('nest', order(seed), { priority: 'whenever' }));
  await settle();
  // Two places: what may wait takes one of them.
  expect(executor.names).toEqual(['1']);
  const person = queue.run('nest', order(9));
  const again = queue.run('nest', order(9));
  await settle();
  expect(executor.names).toEqual(['1', '9']);
  // The third is in a hurry now.
  const hurried = queue.run('nest', order(3));
  executor.end('1');
  await settle();
  expect(executor.names).toEqual(['1', '9', '3']);
  executor.end('9');
  executor.end('3');
  await settle();
  executor.end('2');
  expect(await Promise.all([...shop, person, again, hurried])).toEqual(['1', '2', '3', '9', '9', '3']);
  // Who asks again soon has it at once.
  expect(await queue.run('nest', order(9))).toBe('9');
  expect(executor.begun).toHaveLength(4);
  expect(rows().map(({ state }) => state)).toEqual(['done', 'done', 'done', 'done']);
  await queue.close();
});

test('a time limit counts from the beginning of the work, however long it waited', async () => {
  const executor = new ScriptedExecutor(1);
  const queue = queueOn(executor, { taskMs: 60 });
  const first = queue.run('nest', order(1));
  const second = queue.run('nest', order(2));
  const firstEnds = expect(first).rejects.toMatchObject({ why: 'time' });
  await new Promise((done) => setTimeout(done, 40));
  await firstEnds;
  await settle();
  // By now it has waited for longer than a task may take.
  executor.end('2');
  expect(await second).toBe('2');
  expect(rows().map(({ state, error }) => [state, error?.message ?? null])).toEqual([
    ['failed', 'It took longer than 0.06 s.'],
    ['done', null],
  ]);
  await queue.close();
});

test('who no longer wants it leaves; when the last one has left, it is cancelled, waiting or under way', async () => {
  const executor = new ScriptedExecutor(1);
  const queue = queueOn(executor);
  const [one, two, three] = [new AbortController(), new AbortController(), new AbortController()];
  const running = [one, two].map(({ signal }) => queue.run('nest', order(1), { signal }));
  const waiting = queue.run('nest', order(2), { signal: three.signal });
  const ends = [...running, waiting].map((each) => expect(each).rejects.toBeInstanceOf(TaskStopped));
  await settle();
  one.abort();
  three.abort();
  await settle();
  expect(rows().map(({ state }) => state)).toEqual(['running', 'cancelled']);
  two.abort();
  await Promise.all(ends);
  await settle();
  expect(rows().map(({ state }) => state)).toEqual(['cancelled', 'cancelled']);
  expect(executor.names).toEqual(['1']);
  await queue.close();
});

test('after a crash: files that were waiting or under way are made, what nobody waits for any more is given up', async () => {
  const died = queueOn(new ScriptedExecutor(1), { holder: 'died' });
  void died.run('picture', picture(1)).catch(() => undefined);
  void died.run('picture', picture(2)).catch(() => undefined);
  void died.run('nest', order(7)).catch(() => undefined);
  const followed = died.follow('Queues a draft', () => new Promise(() => undefined), explain).publish(String);
  await settle();
  store.flush();
  const executor = new ScriptedExecutor(4);
  // Its lease is not over: it may still live.
  const early = queueOn(executor, { holder: 'next' });
  early.takeUp();
  await settle();
  expect(executor.names).toEqual([]);
  let nowMs = 1000 + 30_000;
  const queue = queueOn(executor, { holder: 'next', nowMs: () => nowMs });
  queue.lookAfter();
  await settle();
  expect(executor.names).toEqual([]);
  // Nobody has said for a minute that they are still at it.
  nowMs += 40_000;
  queue.lookAfter();
  await settle();
  expect(executor.names.sort()).toEqual(['1', '2']);
  expect(queue.view(followed)).toMatchObject({
    state: 'failed',
    error: { message: 'The server was restarted before this was done. Ask for it again.' },
  });
  // Whoever asks the same joins it.
  const asked = queue.run('picture', picture(2));
  executor.end('2');
  expect(await asked).toBe('2');
  expect(executor.begun).toHaveLength(2);
  await Promise.all([early.close(), queue.close(), died.close()]);
});

test('a task that ends its process again and again is given up', async () => {
  const executors: ScriptedExecutor[] = [];
  let nowMs = 1000;
  const first = queueOn(new ScriptedExecutor(1), { holder: 'server-0', nowMs: () => nowMs });
  void first.run('picture', picture(1)).catch(() => undefined);
  await settle();
  store.flush();
  for (let start = 1; start < 4; start++) {
    nowMs += 3_600_000;
    const executor = new ScriptedExecutor(1);
    executors.push(executor);
    queueOn(executor, { holder: `server-${String(start)}`, nowMs: () => nowMs }).takeUp();
    await settle();
    store.flush();
  }
  expect(executors.map(({ names }) => names)).toEqual([['1'], ['1'], []]);
  expect(rows()).toMatchObject([{ state: 'failed', error: { message: 'It ended the server 3 times.' }, attempts: 3 }]);
});

test('a followed request: told while it runs, its answer when it is done, ended when it is cancelled', async () => {
  const queue = queueOn(new ScriptedExecutor(1));
  let answer = (_value: unknown): void => undefined;
  const made = queue.follow('Proposes orders', () => new Promise((done) => (answer = done)), explain);
  const id = made.publish((value) => value);
  expect(queue.view(id)).toMatchObject({ kind: 'Proposes orders', state: 'running', result: null });
  answer([{ printerId: 'heron' }]);
  await made.answer;
  await settle();
  expect(queue.view(id)).toMatchObject({ state: 'done', result: [{ printerId: 'heron' }] });
  expect(rows()).toMatchObject([{ state: 'done', result: [{ printerId: 'heron' }] }]);
  const stopped = queue.follow(
    'Lays out',
    ({ signal }) =>
      new Promise((_done, fail) => {
        signal.addEventListener('abort', () => {
          fail(new TaskStopped('cancelled', 'It was cancelled.'));
        });
      }),
    explain,
  );
  const second = stopped.publish(String);
  const ends = expect(stopped.answer).rejects.toBeInstanceOf(TaskStopped);
  queue.cancel(second);
  await ends;
  await settle();
  expect(queue.view(second)).toMatchObject({ state: 'cancelled' });
  expect(queue.cancel('task-unknown')).toBeUndefined();
  await queue.close();
});

test('progress reaches everybody who waits for a task, and the view of it; a step of several counts for its part', async () => {
  const executor = new ScriptedExecutor(2);
  const queue = queueOn(executor);
  const told: [who: string, share: number][] = [];
  const hear = (who: string) => (share: number) => {
    told.push([who, share]);
  };
  const alone = queue.run('nest', order(1), { progress: hear('alone') });
  const leaves = new AbortController();
  const gone = queue.run('nest', order(1), { progress: hear('gone'), signal: leaves.signal });
  const made = queue.follow(
    'Queuing both sides',
    async (how) => {
      await queue.run('nest', order(1), stepOf(how, 0, 0.5));
      await queue.run('nest', order(2), stepOf(how, 0.5, 1));
    },
    explain,
  );
  const id = made.publish(() => null);
  await settle();
  const [first] = rows();
  expect(queue.view(first?.id ?? '')?.progress).toBeNull();
  executor.begun[0]?.progress(0.2);
  leaves.abort();
  await expect(gone).rejects.toBeInstanceOf(TaskStopped);
  executor.begun[0]?.progress(0.6);
  expect(told).toEqual([
    ['alone', 0.2],
    ['gone', 0.2],
    ['alone', 0.6],
  ]);
  expect(queue.view(first?.id ?? '')?.progress).toBe(0.6);
  expect(queue.view(id)?.progress).toBeCloseTo(0.3);
  executor.end('1');
  await alone;
  await settle();
  executor.begun[1]?.progress(0.5);
  expect(queue.view(id)?.progress).toBeCloseTo(0.75);
  executor.end('2');
  await made.answer;
  await settle();
  expect(queue.view(id)).toMatchObject({ state: 'done', progress: 1 });
  await queue.close();
});

test('a table that cannot be written holds nobody up', async () => {
  const executor = new ScriptedExecutor(1);
  const queue = queueOn(executor);
  database.db.run('DROP TABLE tasks');
  const asked = queue.run('nest', order(1));
  await settle();
  executor.end('1');
  expect(await asked).toBe('1');
  store.flush();
  expect(failed.length).toBeGreaterThan(0);
  await queue.close();
});

test('whatever is asked, cancelled and ended in whatever order: never more at once than there are places, and all come to an end', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(
        fc.record({
          seed: fc.nat(6),
          priority: fc.constantFrom('a person waits' as const, 'the shop waits' as const, 'whenever' as const),
          leaves: fc.boolean(),
          fails: fc.boolean(),
        }),
        { minLength: 1, maxLength: 20 },
      ),
      fc.integer({ min: 1, max: 4 }),
      async (asked, slots) => {
        let atOnce = 0;
        let most = 0;
        const queue = queueOn({
          slots,
          close: () => Promise.resolve(),
          execute: async (_kind, input) => {
            most = Math.max(most, ++atOnce);
            await new Promise((done) => setImmediate(done));
            atOnce -= 1;
            if (asked.some(({ seed, fails }) => fails && String(seed) === nameOf(input))) throw new Error('no');
            return nameOf(input);
          },
        });
        const ends = await Promise.allSettled(
          asked.map(async ({ seed, priority, leaves }) => {
            const abort = new AbortController();
            const answer = queue.run('nest', order(seed), { priority, signal: abort.signal });
            if (leaves) abort.abort();
            return answer;
          }),
        );
        expect(most).toBeLessThanOrEqual(slots);
        for (const [i, end] of ends.entries()) {
          if (end.status === 'fulfilled') expect(end.value).toBe(String(asked[i]?.seed));
          else
            expect(asked[i]?.leaves === true || asked.some(({ seed, fails }) => fails && seed === asked[i]?.seed)).toBe(
              true,
            );
        }
        await settle();
        expect(rows().filter(({ state }) => state === 'waiting' || state === 'running')).toEqual([]);
        database.db.delete(tasks).where(eq(tasks.kind, 'nest')).run();
        await queue.close();
      },
    ),
    { numRuns: 25, seed: 5 },
  );
});

test('stopped in order, nothing has failed: whoever waits hears why, and the next server takes it up at once', async () => {
  const executor = new ScriptedExecutor(1);
  const queue = queueOn(executor);
  const ends = [1, 2].map((page) => queue.run('picture', picture(page)).catch((error: unknown) => error));
  await settle();
  expect(executor.names).toEqual(['1']);
  await queue.close();
  expect((await Promise.all(ends)).map(isClosing)).toEqual([true, true]);
  expect(rows().map(({ state, attempts }) => [state, attempts])).toEqual([
    ['waiting', 0],
    ['waiting', 0],
  ]);
  // One place is kept for people.
  const next = new ScriptedExecutor(3);
  const after = queueOn(next, { holder: 'the next server' });
  after.takeUp();
  await settle();
  expect(next.names.sort()).toEqual(['1', '2']);
  await after.close();
});
