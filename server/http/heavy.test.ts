import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import express from 'express';
import { Type } from 'typebox';
import type { TaskView } from '../../contract/api/task.ts';
import { type OpenDb, openDb } from '../db/open.ts';
import { type RunHow, TaskStopped } from '../ports/work.ts';
import type { Shop } from '../shop.ts';
import { AT_THE_MACHINE } from '../usecases/people/sessions.ts';
import { TaskStore } from '../work/taskStore.ts';
import { WorkQueue } from '../work/workQueue.ts';
import { type Call, FileAnswer, type Route, mount, route } from './route.ts';
import { taskRoutes } from './routes/taskRoutes.ts';

let root: string;
let database: OpenDb;
let queue: WorkQueue;
let server: Server;
let base: string;
/** Ends what is under way. */
let finish: (value: unknown) => void;
let fail: (error: Error) => void;
let signalled: AbortSignal | undefined;
let tell: RunHow['progress'];
/** How many slow requests have been begun. */
let begun: number;
/** After so long a heavy request is answered with its task. */
let inTimeMs: number;
/** For requests that must be waited for, however slow the machine is. */
const VERY_LONG_MS = 300_000;

beforeEach(async () => {
  begun = 0;
  inTimeMs = 50;
  root = mkdtempSync(join(tmpdir(), 'yellow-spool-test-'));
  writeFileSync(join(root, 'run.pdf'), '%PDF-made');
  database = openDb(join(root, 'shop.db'), resolve('server/db/migrations'));
  let n = 0;
  const store = new TaskStore(database.db, () => undefined);
  const executor = { slots: 1, execute: () => Promise.resolve(), close: () => Promise.resolve() };
  queue = new WorkQueue(executor, store, {
    taskMs: 60_000,
    holder: 'here',
    newId: () => `task-${String(n++)}`,
    nowMs: Date.now,
  });
  const slow = ({ how }: Pick<Call, 'how'>): Promise<unknown> =>
    new Promise((done, failed) => {
      finish = done;
      fail = failed;
      begun += 1;
      signalled = how.signal;
      tell = how.progress;
      how.signal?.addEventListener('abort', () => {
        failed(new TaskStopped('cancelled', 'It was cancelled.'));
      });
    });
  const routes: Route[] = [
    route({
      method: 'post',
      path: '/api/quick',
      needs: 'see',
      summary: 'Quick',
      heavy: 'Being quick',
      answer: Type.Unknown(),
      handle: () => ({ quick: true }),
    }),
    route({
      method: 'post',
      path: '/api/slow',
      needs: 'see',
      summary: 'Compares printers',
      heavy: 'Comparing printers',
      answer: Type.Unknown(),
      handle: slow,
    }),
    route({
      method: 'get',
      path: '/api/slow.pdf',
      needs: 'see',
      summary: 'Lays out',
      heavy: 'Laying out',
      produces: 'application/pdf',
      handle: async (call) => {
        await slow(call);
        return new FileAnswer('application/pdf', { path: join(root, 'run.pdf') }, 'run.pdf');
      },
    }),
    ...taskRoutes({ work: queue, tasks: { view: () => undefined, cancel: () => undefined } } as unknown as Shop),
  ];
  const app = express();
  mount(app, routes, {
    callerOf: () => AT_THE_MACHINE,
    isFromOwnPage: () => true,
    isDeviceLink: () => false,
    readBody: () => Promise.resolve(),
    work: queue,
    get inTimeMs() {
      return inTimeMs;
    },
    explain: (error) => ({ status: 500, error: { code: 'explained', message: String(error), remedy: 'Try it so.' } }),
  });
  server = app.listen(0, '127.0.0.1');
  await new Promise((done) => server.once('listening', done));
  base = `http://127.0.0.1:${String((server.address() as AddressInfo).port)}`;
});
afterEach(async () => {
  server.closeAllConnections();
  await new Promise((done) => server.close(done));
  await queue.close();
  database.close();
  rmSync(root, { recursive: true, force: true });
});

const taskOf = async (id: string): Promise<TaskView> =>
  (await (await fetch(`${base}/api/tasks/${id}`)).json()) as TaskView;
const until = async (isSo: () => boolean | Promise<boolean>): Promise<void> => {
  while (!(await isSo())) await new Promise((done) => setTimeout(done, 5));
};
const isOver = (taskId: string) => async () => (await taskOf(taskId)).state !== 'running';

test('what is done in time is answered at once; what takes longer is answered with a task that tells its result', async () => {
  inTimeMs = VERY_LONG_MS;
  const quick = await fetch(`${base}/api/quick`, { method: 'POST' });
  expect([quick.status, await quick.json()]).toEqual([200, { quick: true }]);
  inTimeMs = 50;
  const slow = await fetch(`${base}/api/slow`, { method: 'POST' });
  const { taskId } = (await slow.json()) as { taskId: string };
  expect([slow.status, slow.headers.get('location')]).toEqual([202, `/api/tasks/${taskId}`]);
  const running = { kind: 'Comparing printers', state: 'running', result: null };
  expect(await taskOf(taskId)).toMatchObject({ ...running, progress: null });
  tell?.(0.4);
  expect(await taskOf(taskId)).toMatchObject({ ...running, progress: 0.4 });
  finish({ fits: [1, 2] });
  await until(isOver(taskId));
  expect(await taskOf(taskId)).toMatchObject({ state: 'done', progress: 1, result: { fits: [1, 2] }, error: null });
});

test('a file that is not there yet: its task has no result, and asking again brings the file', async () => {
  const asked = await fetch(`${base}/api/slow.pdf`);
  expect(asked.status).toBe(202);
  const { taskId } = (await asked.json()) as { taskId: string };
  finish(undefined);
  await until(isOver(taskId));
  expect(await taskOf(taskId)).toMatchObject({ state: 'done', result: null });
  inTimeMs = VERY_LONG_MS;
  const again = fetch(`${base}/api/slow.pdf`);
  await until(() => begun === 2);
  finish(undefined);
  const answer = await again;
  expect([answer.status, answer.headers.get('content-disposition'), await answer.text()]).toEqual([
    200,
    'attachment; filename=run.pdf',
    '%PDF-made',
  ]);
});

test('a picture in a page waits as long as it takes: a browser could not ask for its task', async () => {
  const asked = fetch(`${base}/api/slow.pdf`, { headers: { 'sec-fetch-dest': 'image' } });
  await until(() => begun === 1);
  // Longer than any other request is kept.
  await new Promise((done) => setTimeout(done, 4 * inTimeMs));
  finish(undefined);
  expect((await asked).status).toBe(200);
});

test('a task is cancelled by whoever no longer wants it; one that nobody knows is said to be gone', async () => {
  const asked = await fetch(`${base}/api/slow`, { method: 'POST' });
  const { taskId } = (await asked.json()) as { taskId: string };
  const cancelled = await fetch(`${base}/api/tasks/${taskId}`, { method: 'DELETE' });
  expect(cancelled.status).toBe(200);
  await until(isOver(taskId));
  expect(signalled?.aborted).toBe(true);
  expect(await taskOf(taskId)).toMatchObject({ state: 'cancelled' });
});

test('a request that is refused after its task was told is told as it would have been refused, with the way out', async () => {
  const asked = await fetch(`${base}/api/slow`, { method: 'POST' });
  const { taskId } = (await asked.json()) as { taskId: string };
  fail(new Error('no spool holds that'));
  await until(isOver(taskId));
  expect(await taskOf(taskId)).toMatchObject({
    state: 'failed',
    result: null,
    error: { code: 'explained', message: 'Error: no spool holds that', remedy: 'Try it so.' },
  });
});
