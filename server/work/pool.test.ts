import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readLimits } from '../limits.ts';
import { ThreadPool } from './pool.ts';

/** A worker in a thread of its own, as small as can be. */
const WORKER = `
export default async ({ kind, input, told }) => {
  if (kind === 'ready') return;
  if (input === 'for ever') {
    told?.postMessage(0.1);
    for (;;);
  }
  for (const share of [0.25, 0.5]) told?.postMessage(share);
  await new Promise((done) => setTimeout(done, 20));
  if (input === 'breaks') throw new Error('no such page');
  return { made: input, hasPort: told !== undefined };
};
`;

let root: string;
let pool: ThreadPool;
beforeEach(() => {
  root = mkdtempSync(join(tmpdir(), 'yellow-spool-test-'));
  const file = join(root, 'worker.mjs');
  writeFileSync(file, WORKER);
  pool = new ThreadPool(file, root, readLimits({}), 2);
});
afterEach(async () => {
  await pool.close();
  rmSync(root, { recursive: true, force: true });
});

const wanted = (): AbortSignal => new AbortController().signal;

test('a thread tells how far it is while it works; kinds that never know get no channel for it', async () => {
  const told: number[] = [];
  const hear = (share: number): void => {
    told.push(share);
  };
  expect(await pool.execute('nest', 'a layout', wanted(), hear)).toEqual({ made: 'a layout', hasPort: true });
  expect(told).toEqual([0.25, 0.5]);
  expect(await pool.execute('first look', 'a file', wanted(), hear)).toEqual({ made: 'a file', hasPort: false });
  expect(told).toHaveLength(2);
});

test('a task that breaks, or is ended in the middle of a loop, costs its thread and nothing else', async () => {
  await expect(pool.execute('nest', 'breaks', wanted(), () => undefined)).rejects.toThrow('no such page');
  const abort = new AbortController();
  const endless = pool.execute('nest', 'for ever', abort.signal, () => {
    // It is under way for certain now.
    abort.abort();
  });
  await expect(endless).rejects.toThrow('aborted');
  expect(await pool.execute('nest', 'the next', wanted(), () => undefined)).toMatchObject({ made: 'the next' });
});
