import fc from 'fast-check';
import { tasks } from '../db/tables/records.ts';
import type { TaskSteps } from '../ports/shopTasks.ts';
import { openTestShop, type TestShop } from '../testing/shopFixture.ts';
import type { ShopTaskKinds } from './kinds.ts';
import { ShopTaskList } from './shopTaskList.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

type Does = (input: ShopTaskKinds['arrival'], steps: TaskSteps<ShopTaskKinds['arrival']>) => Promise<void>;

/** A process of the server: what it does for an arrival, and what it says went wrong. */
function server(does: Does) {
  const failures: unknown[] = [];
  let made = 0;
  const list = new ShopTaskList(shop.db, () => ({ arrival: does, 'send run': () => Promise.resolve() }), {
    newId: () => `task-${String(++made)}-${String(Math.round(performance.now() * 1000))}`,
    nowMs: () => 5000,
    isStorageFault: (error) => shop.storage.noticed(error),
    failed: (error) => failures.push(error),
  });
  const add = (key: string, input: Partial<ShopTaskKinds['arrival']> = {}): void => {
    shop.db.transaction((tx) => {
      list.add(tx, 'arrival', key, { jobIds: [key], rule: null, step: 'route', ...input });
    });
  };
  return { list, add, failures };
}

const rows = () => shop.db.select().from(tasks).all();
const states = () => rows().map(({ key, state }) => `${key} ${state}`);

test('a task is there only if the transaction that makes it necessary is', () => {
  const { list } = server(() => Promise.resolve());
  expect(() =>
    shop.db.transaction((tx) => {
      list.add(tx, 'arrival', 'claim-1', { jobIds: [], rule: null, step: 'go' });
      throw new Error('killed');
    }),
  ).toThrow('killed');
  expect(rows()).toEqual([]);
});

test('it is done once, however many ask for it, and none is added while it is not over', async () => {
  const does = jest.fn(() => Promise.resolve());
  const { list, add } = server(does);
  add('claim-1');
  add('claim-1');
  await Promise.all([list.perform('arrival', 'claim-1'), list.perform('arrival', 'claim-1'), list.resume()]);
  await list.perform('arrival', 'claim-1');
  expect(does).toHaveBeenCalledTimes(1);
  expect(states()).toEqual(['claim-1 done']);
  // What it was given is not kept for the hour in which its end can be asked for.
  expect(rows()[0]).toMatchObject({ input: null, endedMs: 5000 });
});

test('after a crash it goes on with what was written down as left', async () => {
  const before = server((input, { keep }) => {
    keep({ ...input, step: 'go' });
    return new Promise(() => undefined);
  });
  before.add('claim-1');
  void before.list.perform('arrival', 'claim-1');
  await new Promise((done) => setImmediate(done));
  const seen: string[] = [];
  const after = server(({ step }) => {
    seen.push(step);
    return Promise.resolve();
  });
  await after.list.resume();
  expect(seen).toEqual(['go']);
  expect(states()).toEqual(['claim-1 done']);
});

test('what ends its process three times is given up, said, and does not keep the others', async () => {
  for (let start = 0; start < 3; start++) {
    const dies = server(() => new Promise(() => undefined));
    if (start === 0) dies.add('claim-bad');
    void dies.list.resume();
    await new Promise((done) => setImmediate(done));
  }
  const does = jest.fn(() => Promise.resolve());
  const { list, add, failures } = server(does);
  add('claim-good');
  await list.resume();
  expect(states().sort()).toEqual(['claim-bad failed', 'claim-good done']);
  expect(failures.map(String)).toEqual(['Error: It ended the server 3 times.']);
  expect(does).toHaveBeenCalledTimes(1);
});

test('an error of its own ends it and is told; a full disk leaves it to be done', async () => {
  let error: Error | undefined = new Error('ENOSPC: no space left on device');
  const { list, add, failures } = server(() => (error ? Promise.reject(error) : Promise.resolve()));
  add('claim-1');
  await expect(list.perform('arrival', 'claim-1')).rejects.toThrow('ENOSPC');
  expect(rows()).toMatchObject([{ state: 'waiting', attempts: 0 }]);
  error = new Error('a fault of the program');
  await list.perform('arrival', 'claim-1');
  expect(rows()).toMatchObject([
    { state: 'failed', error: { code: 'task-failed', message: 'a fault of the program' } },
  ]);
  expect(failures).toHaveLength(1);
});

test('it says how far it is, and can be cancelled while it waits and while it runs', async () => {
  const { list, add } = server(
    (_, { signal, progress }) =>
      new Promise((_done, failed) => {
        progress(0.25);
        signal.addEventListener('abort', () => {
          failed(signal.reason as Error);
        });
      }),
  );
  add('claim-1');
  add('claim-2');
  const idOf = (key: string): string => rows().find((row) => row.key === key)?.id ?? '';
  const ended = list.perform('arrival', 'claim-1');
  await new Promise((done) => setImmediate(done));
  expect(list.view(idOf('claim-1'))).toMatchObject({ kind: 'arrival', state: 'running', progress: 0.25 });
  expect(list.view(idOf('claim-2'))).toMatchObject({ state: 'waiting', progress: null });
  list.cancel(idOf('claim-1'));
  await ended;
  expect(list.cancel(idOf('claim-2'))?.state).toBe('cancelled');
  expect(states()).toEqual(['claim-1 cancelled', 'claim-2 cancelled']);
  // What is over stays as it is.
  expect(list.cancel(idOf('claim-1'))?.state).toBe('cancelled');
  expect(list.view('task-of-nobody')).toBeUndefined();
});

test('whatever fails, crashes or is full on the way, each step that was written down is done once', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(fc.constantFrom('crash', 'full', 'well'), { maxLength: 2 }), async (ends) => {
      shop.db.delete(tasks).run();
      const done: string[] = [];
      const does =
        (end: string): Does =>
        async (input, { keep }) => {
          if (input.step === 'route') {
            done.push('route');
            keep({ ...input, step: 'go' });
          }
          if (end === 'crash') await new Promise(() => undefined);
          if (end === 'full') throw new Error('ENOSPC: no space left on device');
          done.push('go');
        };
      server(does('well')).add('claim-1');
      for (const end of [...ends, 'well']) {
        void server(does(end))
          .list.resume()
          .catch(() => undefined);
        await new Promise((next) => setImmediate(next));
      }
      expect(done).toEqual(['route', 'go']);
    }),
    { numRuns: 13 },
  );
});

test('stopped in order, a task leaves the rest to the next server; none is begun any more', async () => {
  const before = server(
    (input, { signal, keep }) =>
      new Promise((_done, failed) => {
        keep({ ...input, step: 'go' });
        signal.addEventListener('abort', () => {
          failed(signal.reason as Error);
        });
      }),
  );
  before.add('claim-1');
  before.add('claim-2');
  void before.list.perform('arrival', 'claim-1');
  await new Promise((done) => setImmediate(done));
  await before.list.close();
  await before.list.perform('arrival', 'claim-2');
  expect(rows().map(({ key, state, attempts }) => [key, state, attempts])).toEqual([
    ['claim-1', 'waiting', 0],
    ['claim-2', 'waiting', 0],
  ]);
  const seen: string[] = [];
  await server(({ step }) => {
    seen.push(step);
    return Promise.resolve();
  }).list.resume();
  expect(seen.sort()).toEqual(['go', 'route']);
  expect(before.failures).toEqual([]);
});
