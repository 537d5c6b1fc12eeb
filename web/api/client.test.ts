import { ApiError, getFile, getJson, sendJson } from './client.ts';

type Answer = { readonly status: number; readonly body: unknown; readonly headers?: Record<string, string> };

/** Answers requests in the order given, and keeps what was asked. */
function serve(...answers: (Answer | 'dead')[]): string[] {
  const asked: string[] = [];
  globalThis.fetch = ((path: string, init?: RequestInit) => {
    asked.push(`${init?.method ?? 'GET'} ${path}`);
    const next = answers.shift();
    if (next === undefined || next === 'dead') return Promise.reject(new TypeError('failed to fetch'));
    return Promise.resolve(
      new Response(JSON.stringify(next.body), { status: next.status, headers: next.headers ?? {} }),
    );
  }) as typeof fetch;
  return asked;
}

const real = globalThis.fetch;
beforeEach(() => {
  jest.useFakeTimers({ advanceTimers: 20 });
});
afterEach(() => {
  jest.useRealTimers();
  globalThis.fetch = real;
});

const task = (state: string, more: object = {}): Answer => ({
  status: 200,
  body: { taskId: 't1', kind: 'Compares printers', state, progress: null, result: null, error: null, ...more },
});

test('an answer that takes longer is followed as a task until its result is there', async () => {
  const asked = serve(
    { status: 202, body: { taskId: 't1' } },
    task('waiting'),
    task('running'),
    task('done', { result: [4] }),
  );
  expect(await sendJson('POST', '/api/fit', { jobIds: ['a'] })).toEqual([4]);
  expect(asked).toEqual(['POST /api/fit', 'GET /api/tasks/t1', 'GET /api/tasks/t1', 'GET /api/tasks/t1']);
});

test('a task that fails says why; one that was cancelled is said to be', async () => {
  serve(
    { status: 202, body: { taskId: 't1' } },
    task('failed', { error: { code: 'media-short', message: 'BO-31 has 2 m left.', remedy: 'Load another.' } }),
  );
  await expect(getJson('/api/order-proposals')).rejects.toMatchObject({
    code: 'media-short',
    message: 'BO-31 has 2 m left.',
    remedy: 'Load another.',
  });
  serve({ status: 202, body: { taskId: 't1' } }, task('cancelled'));
  await expect(getJson('/api/order-proposals')).rejects.toMatchObject({ code: 'cancelled' });
});

test('a file that is still being made is asked for again when it is there', async () => {
  const file = { status: 200, body: 'x', headers: { 'content-disposition': 'attachment; filename="run-7.pdf"' } };
  const asked = serve({ status: 202, body: { taskId: 't1' } }, task('done'), file);
  expect((await getFile('/api/runs/7/pdf')).name).toBe('run-7.pdf');
  expect(asked).toEqual(['GET /api/runs/7/pdf', 'GET /api/tasks/t1', 'GET /api/runs/7/pdf']);
});

test('a refusal keeps its code, its sentence and its way out; a dead server is said as one', async () => {
  serve({
    status: 409,
    body: { error: { code: 'media-short', message: 'BO-31 has 2 m left.', remedy: 'Load another.' } },
  });
  await expect(sendJson('POST', '/api/runs/1/queue')).rejects.toMatchObject({
    status: 409,
    code: 'media-short',
    message: 'BO-31 has 2 m left.',
    remedy: 'Load another.',
  });
  serve('dead');
  await expect(getJson('/api/jobs')).rejects.toBeInstanceOf(ApiError);
});

test('a server that dies while a task is under way is said as dead, and nothing is asked again behind the back', async () => {
  const asked = serve({ status: 202, body: { taskId: 't1' } }, task('running'), 'dead');
  await expect(getJson('/api/batches')).rejects.toMatchObject({ code: 'no-server' });
  expect(asked).toHaveLength(3);
});
