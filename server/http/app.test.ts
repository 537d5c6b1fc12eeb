import { type Answered, type TestHttp, openTestHttp } from '../testing/httpFixture.ts';
import { TESTER } from '../testing/tester.ts';
import { type Server, request } from 'node:http';
import { type AddressInfo, connect } from 'node:net';
import { PDFDocument } from '@cantoo/pdf-lib';
import { eq } from 'drizzle-orm';
import sharp from 'sharp';
import type { RunDetail } from '../../contract/api/run.ts';
import { printers, spools } from '../db/tables/floorTables.ts';
import { type TestShop, admitPlain } from '../testing/shopFixture.ts';
import { changeJob } from '../usecases/ticket/changeJobs.ts';

import { signedInAs } from '../testing/signedIn.ts';
import { storeSignIn } from '../usecases/people/signInSwitch.ts';

let http: TestHttp;
let shop: TestShop;
let base: string;
let server: Server;
let call: (method: string, path: string, body?: unknown) => Promise<Answered<unknown>>;
let upload: TestHttp['upload'];

beforeEach(async () => {
  http = await openTestHttp();
  ({ shop, base, server, call, upload } = http);
});
afterEach(() => http.close());

test('sizes of the shop: set, named apart from the standard ones, and put back by the undo that the log offers', async () => {
  const { body: before } = await call('GET', '/api/sizes');
  const own = [...(before as object[]), { name: ' Tank window ', widthMm: 2000, heightMm: 800 }];
  expect(await call('PUT', '/api/sizes', own)).toMatchObject({
    status: 200,
    body: expect.arrayContaining([{ name: 'Tank window', widthMm: 2000, heightMm: 800 }]) as unknown,
  });
  for (const name of ['a1', 'TANK WINDOW']) {
    const refused = await call('PUT', '/api/sizes', [...own, { name, widthMm: 1, heightMm: 1 }]);
    expect(refused).toMatchObject({ status: 409, body: { error: { code: 'name-taken' } } });
  }
  const { body: log } = await call('GET', '/api/log?limit=1');
  const [{ data, undo }] = log as [{ data: unknown; undo: { method: string; path: string; body: unknown } }];
  expect(data).toEqual({ added: ['Tank window'], gone: [] });
  expect(await call(undo.method, undo.path, undo.body)).toEqual({ status: 200, body: before });
});

test('jobs come page by page, none twice, none left out, also while others arrive', async () => {
  const names = Array.from({ length: 25 }, (_, i) => `job-${i}.pdf`);
  for (const name of names) admitPlain(shop, name, [[100, 100]]);
  const seen: string[] = [];
  let cursor: string | null = null;
  do {
    const { body } = await call('GET', `/api/jobs?limit=10${cursor === null ? '' : `&cursor=${cursor}`}`);
    const page = body as { items: { sourceName: string }[]; total: number; nextCursor: string | null };
    expect(page.items.length).toBeLessThanOrEqual(10);
    seen.push(...page.items.map((job) => job.sourceName));
    cursor = page.nextCursor;
    if (seen.length === 10) admitPlain(shop, 'late.pdf', [[100, 100]]);
  } while (cursor !== null);
  expect(seen).toEqual([...names, 'late.pdf']);
});

test.each([
  ['GET', '/api/jobs?limit=5000', undefined, 400, 'bad-request'],
  ['GET', '/api/jobs?cursor=abc', undefined, 400, 'bad-request'],
  ['GET', '/api/jobs/job-none', undefined, 404, 'no-such-job'],
  ['GET', '/api/runs/run-none', undefined, 404, 'no-such-run'],
  ['GET', '/api/runs/run-none/pdf', undefined, 404, 'no-such-run'],
  ['PATCH', '/api/jobs/job-none', { copies: 0 }, 400, 'bad-request'],
  ['PATCH', '/api/jobs/job-none', { colour: 'red' }, 400, 'bad-request'],
  ['PATCH', '/api/jobs/job-none', { copies: 2 }, 404, 'no-such-job'],
  ['POST', '/api/runs', { jobIds: [] }, 400, 'bad-request'],
  ['POST', '/api/runs', { jobIds: ['job-none'] }, 404, 'no-such-job'],
  ['POST', '/api/runs/run-none/pause', undefined, 404, 'no-such-run'],
  ['POST', '/api/refusals/ref-none/dismiss', undefined, 404, 'no-such-refusal'],
  ['PUT', '/api/clock', { rate: -1 }, 400, 'bad-request'],
  ['POST', '/api/spools/spool-bo-32/load', { printerId: 'bittern', sourceId: 'roll-1' }, 409, 'too-wide'],
  ['POST', '/api/spools/spool-bo-32/load', { printerId: 'heron', sourceId: 'tray' }, 404, 'no-such-source'],
] as const)('%s %s is refused plainly', async (method, path, body, status, code) => {
  const answer = await call(method, path, body);
  expect([answer.status, (answer.body as { error: { code: string; message: string } }).error.code]).toEqual([
    status,
    code,
  ]);
  expect((answer.body as { error: { message: string } }).error.message).not.toMatch(/at .*\.ts|node_modules/);
});

test('what is not JSON, and what is too large, is said to be so', async () => {
  const bad = await fetch(`${base}/api/runs`, {
    method: 'POST',
    body: '{"jobIds":',
    headers: { 'content-type': 'application/json' },
  });
  expect([bad.status, await bad.json()]).toEqual([
    400,
    { error: { code: 'bad-json', message: 'The request is not valid JSON.' } },
  ]);
  const large = await fetch(`${base}/api/runs`, {
    method: 'POST',
    body: JSON.stringify({ jobIds: ['x'.repeat(40_000_000)] }),
    headers: { 'content-type': 'application/json' },
  });
  expect([large.status, await large.json()]).toMatchObject([413, { error: { code: 'too-large' } }]);
});

test('an upload: the sound files are jobs with pictures and their source, the others are refused and kept', async () => {
  const pdf = await PDFDocument.create();
  pdf.addPage([600, 300]).drawRectangle({ x: 0, y: 0, width: 300, height: 300 });
  const bytes = await pdf.save();
  const png = await sharp({ create: { width: 300, height: 100, channels: 4, background: '#0a0' } })
    .withMetadata({ density: 100 })
    .png()
    .toBuffer();
  const { status, body } = await upload(
    'magpie-labels',
    ['../../étage 2.pdf', bytes],
    ['ok.png', png],
    ['sheet.txt', 'text'],
  );
  expect(status).toBe(201);
  const { accepted, refused } = body as {
    accepted: { id: string; sourceName: string; widthMm: number }[];
    refused: unknown[];
  };
  expect(accepted.map((job) => [job.sourceName, job.widthMm])).toEqual([
    ['étage 2.pdf', 211.6667],
    ['ok.png', 76.2],
  ]);
  expect(refused).toEqual([
    {
      sourceName: 'sheet.txt',
      reason: 'Not supported: this is no format that can be printed. PDF, PNG, JPEG, TIFF and SVG can be printed.',
    },
  ]);
  for (const job of accepted) {
    const thumb = await fetch(`${base}/api/jobs/${job.id}/pages/0/picture?size=thumb`);
    const meta = await sharp(await thumb.arrayBuffer()).metadata();
    expect([thumb.headers.get('content-type'), meta.format, Math.max(meta.width, meta.height)]).toEqual([
      'image/webp',
      'webp',
      192,
    ]);
  }
  const source = await fetch(`${base}/api/jobs/${accepted[0]?.id ?? ''}/file`);
  expect(Buffer.from(await source.arrayBuffer()).equals(Buffer.from(bytes))).toBe(true);
  expect(decodeURIComponent(source.headers.get('content-disposition') ?? '')).toContain('étage 2.pdf');
  const none = await upload('magpie-labels', ['only.txt', 'text']);
  expect(none.status).toBe(422);
  expect((await call('GET', '/api/refusals')).body).toHaveLength(2);
  expect((await fetch(`${base}/api/jobs/${accepted[0]?.id ?? ''}/pages/7/picture`)).status).toBe(404);
});

/** Reads server-sent events until one of each wanted kind has come. */
async function eventsUntil(
  path: string,
  headers: Record<string, string>,
  wanted: readonly string[],
  then?: () => void,
) {
  const stop = new AbortController();
  const answer = await fetch(base + path, { headers, signal: stop.signal });
  const found: { event: string; id: string | undefined; data: unknown }[] = [];
  const decoder = new TextDecoder();
  let text = '';
  then?.();
  for await (const chunk of answer.body as unknown as AsyncIterable<Uint8Array>) {
    text += decoder.decode(chunk, { stream: true });
    const parts = text.split('\n\n');
    text = parts.pop() ?? '';
    for (const part of parts) {
      const line = (name: string) =>
        part
          .split('\n')
          .find((each) => each.startsWith(`${name}: `))
          ?.slice(name.length + 2);
      const data = line('data');
      if (data !== undefined)
        found.push({ event: line('event') ?? '', id: line('id'), data: JSON.parse(data) as unknown });
    }
    if (wanted.every((event) => found.some((each) => each.event === event))) break;
  }
  stop.abort();
  return found;
}

test('live events: the clock at once, then what changed; the log can be taken up where it was left', async () => {
  let jobId = '';
  const live = await eventsUntil('/api/events', {}, ['clock', 'log', 'job'], () => {
    jobId = admitPlain(shop, 'live.pdf', [[100, 100]]);
  });
  expect(live.find((each) => each.event === 'job')?.data).toMatchObject({
    id: jobId,
    sourceName: 'live.pdf',
    state: 'ready',
  });
  const log = live.find((each) => each.event === 'log');
  expect(log?.data).toMatchObject({ kind: 'job.arrived', subjectId: jobId });
  changeJob(shop, jobId, { copies: 2 }, TESTER);
  const again = await eventsUntil('/api/events', { 'last-event-id': log?.id ?? '' }, ['clock', 'log']);
  expect(again.filter((each) => each.event === 'log').map((each) => (each.data as { kind: string }).kind)).toEqual([
    'job.changed',
  ]);
});

test('the pages: every address gives the page, under a strict policy; health is 200 only when ready', async () => {
  const page = await fetch(`${base}/bench/run-1`);
  expect([page.status, await page.text()]).toEqual([200, '<!doctype html><title>the page</title>']);
  expect(page.headers.get('content-security-policy')).toContain("default-src 'self'");
  expect(page.headers.get('x-powered-by')).toBeNull();
  expect((await fetch(`${base}/assets/none.js`)).status).toBe(404);
  expect((await call('GET', '/api/health')).status).toBe(503);
  http.ready = true;
  expect((await call('GET', '/api/health')).body).toMatchObject({ status: 'ready' });
});

test('a run on the printer is paused and cancelled there', async () => {
  const jobId = admitPlain(shop, 'a.pdf', [[400, 400]]);
  const { body } = await call('POST', '/api/runs', { jobIds: [jobId] });
  const run = body as { id: string; settings: object; pieces: { pieceId: string }[] };
  expect((await call('POST', `/api/runs/${run.id}/pause`)).status).toBe(409);
  await call('PUT', `/api/runs/${run.id}/layout`, {
    settings: run.settings,
    placements: [{ pieceId: run.pieces[0]?.pieceId, xMm: 0, yMm: 20, angleDeg: 0 }],
  });
  expect(await call('POST', `/api/runs/${run.id}/queue`)).toMatchObject({
    status: 422,
    body: { error: { code: 'no-pdf' } },
  });
  shop.work.replace('run pdf', () => Promise.resolve({ sha256: 'f'.repeat(64), bytes: 1 }));
  expect((await call('POST', `/api/runs/${run.id}/queue`)).body).toMatchObject({
    state: 'queued',
    lengthMm: 440,
    pieces: [{ placed: true }],
  });
  expect((await call('PUT', `/api/runs/${run.id}/layout`, { settings: run.settings, placements: [] })).status).toBe(
    409,
  );
  shop.db.update(printers).set({ linkStatus: 'idle' }).where(eq(printers.id, 'heron')).run();
  expect((await call('POST', `/api/runs/${run.id}/cancel`)).body).toMatchObject({ state: 'cancelled' });
  expect(shop.link.commands).toEqual([]);
});

test('segments by the API: cut, queued in one go with a PDF each, and a job sheet of one of them', async () => {
  const file = await PDFDocument.create();
  const page = file.addPage([(300 * 72) / 25.4, (120 * 72) / 25.4]);
  page.drawRectangle({ x: 10, y: 10, width: 200, height: 100 });
  const { body: brought } = await upload('magpie-labels', ['sticker.pdf', await file.save()]);
  const jobId = (brought as { accepted: { id: string }[] }).accepted[0]?.id;
  await call('PATCH', `/api/jobs/${jobId ?? ''}`, { copies: 10, quarterTurn: false });
  const run = (await call('POST', '/api/runs', { jobIds: [jobId] })).body as { id: string };
  expect(await call('POST', `/api/runs/${run.id}/segments`, { mostMm: 150 })).toMatchObject({
    status: 409,
    body: { error: { code: 'too-long', figures: { leastMm: 120 } } },
  });
  const cut = await call('POST', `/api/runs/${run.id}/segments`, { queue: true });
  expect(cut.status).toBe(200);
  const segments = cut.body as { id: string; state: string; pieceCount: number; series: { id: string; of: number } }[];
  expect(segments.map((segment) => [segment.state, segment.pieceCount])).toEqual([
    ['queued', 8],
    ['queued', 2],
  ]);
  const [first] = segments;
  expect(await call('POST', `/api/series/${first?.series.id ?? ''}/join`)).toMatchObject({
    status: 409,
    body: { error: { code: 'nothing-to-join' } },
  });
  for (const [path, title] of [
    ['pdf', 'sticker.pdf on Magpie'],
    ['sheet', 'Run 2, segment 1 of 2: job sheet'],
  ] as const) {
    const answer = await fetch(`${base}/api/runs/${first?.id ?? ''}/${path}`);
    expect(answer.headers.get('content-type')).toContain('application/pdf');
    const pdf = await PDFDocument.load(await answer.arrayBuffer());
    expect(pdf.getPageCount()).toBe(1);
    expect(pdf.getTitle()).toBe(title);
  }
});

/** As a browser would send it, whatever the address says: fetch sets these headers itself. */
function raw(method: string, path: string, headers: Record<string, string>, body = ''): Promise<[number, string]> {
  return new Promise((done, failed) => {
    const { port } = server.address() as AddressInfo;
    const asked = request({ host: '127.0.0.1', port, method, path, headers }, (answer) => {
      let text = '';
      answer.setEncoding('utf8');
      answer.on('data', (chunk: string) => (text += chunk));
      answer.on('end', () => {
        done([answer.statusCode ?? 0, text]);
      });
    });
    asked.on('error', failed);
    asked.end(body);
  });
}

test('pages of other sites can neither change nor read anything, nor those whose name was pointed here', async () => {
  const { port } = server.address() as AddressInfo;
  const own = `127.0.0.1:${String(port)}`;
  const json = { 'content-type': 'application/json' };
  const retire = '/api/spools/spool-bo-32/retire';
  for (const headers of [
    { host: own, origin: 'http://evil.example' },
    { host: own, origin: 'null' },
    { host: `evil.example:${String(port)}` },
    { host: `evil.example:${String(port)}`, origin: `http://evil.example:${String(port)}` },
    { host: '127.0.0.1:1' },
  ]) {
    const [status, text] = await raw('POST', retire, { ...headers, ...json }, '{}');
    expect([status, text]).toEqual([403, expect.stringMatching(/"code":"foreign-(host|origin)"/)]);
    for (const path of ['/api/jobs', '/api/events', '/', '/api/nothing']) {
      expect((await raw('GET', path, headers))[0]).toBe(403);
    }
  }
  expect(shop.db.select().from(spools).where(eq(spools.id, 'spool-bo-32')).get()?.gone).toBe(false);
  // A form of another site needs no leave of the browser to send this.
  const form = { host: own, origin: 'http://evil.example', 'content-type': 'application/x-www-form-urlencoded' };
  expect((await raw('POST', retire, form, 'a=b'))[0]).toBe(403);
  for (const headers of [
    { host: own },
    { host: own, origin: `http://${own}` },
    { host: `localhost:${String(port)}`, origin: `http://localhost:${String(port)}` },
    { host: `[::1]:${String(port)}` },
  ]) {
    expect((await raw('GET', '/api/jobs', headers))[0]).toBe(200);
  }
  expect((await raw('POST', retire, { host: own, origin: `http://${own}` }))[0]).toBe(200);
});

test('a name that is listed in Setup is the shop’s own as well, at once', async () => {
  const asked = () => raw('GET', '/api/jobs', { host: 'print.example', origin: 'https://print.example' });
  expect((await asked())[0]).toBe(403);
  const { body } = await call('GET', '/api/shop');
  const set = (hostNames: string[]) => call('PUT', '/api/shop', { ...(body as object), hostNames });
  expect((await set(['http://print.example/'])).status).toBe(400);
  // Other machines could reach it then, and nobody could sign in yet.
  expect(await set(['print.example'])).toMatchObject({ status: 409, body: { error: { code: 'no-owner' } } });
  signedInAs(shop, 'owner');
  storeSignIn(shop.db, false);
  expect((await set(['print.example'])).status).toBe(200);
  expect(await asked()).toEqual([401, expect.stringContaining('"code":"sign-in"')]);
  expect((await call('GET', '/api/jobs')).status).toBe(401);
});

test('a page that takes nothing in any more is let go before it fills the memory', async () => {
  const { port } = server.address() as AddressInfo;
  const socket = connect(port, '127.0.0.1');
  socket.write(`GET /api/events HTTP/1.1\r\nHost: 127.0.0.1:${String(port)}\r\n\r\n`);
  await new Promise((done) => socket.once('data', done));
  socket.pause();
  const closed = new Promise((done) => socket.once('close', done));
  const text = 'x'.repeat(256 * 1024);
  let sent = 0;
  while (server.listening && sent < 400) {
    shop.bus.tell('clock', text);
    sent += 1;
    if (sent % 20 === 0) await new Promise((done) => setImmediate(done));
  }
  socket.on('error', () => undefined);
  socket.resume();
  await closed;
  // Others are told as ever.
  expect((await raw('GET', '/api/jobs', { host: `127.0.0.1:${String(port)}` }))[0]).toBe(200);
});

test('a layout saved over another one is refused with the version, and what was there stays', async () => {
  const jobId = admitPlain(shop, 'two.pdf', [[300, 200]]);
  const run = (await call('POST', '/api/runs', { jobIds: [jobId] })).body as RunDetail;
  const layout = (xMm: number) => ({
    settings: run.settings,
    placements: run.pieces.map(({ pieceId }) => ({ pieceId, xMm, yMm: 60, angleDeg: 0 })),
  });
  const put = async (xMm: number, match: string) => {
    const answer = await fetch(`${base}/api/runs/${run.id}/layout`, {
      method: 'PUT',
      body: JSON.stringify(layout(xMm)),
      headers: { 'content-type': 'application/json', 'if-match': match },
    });
    return { status: answer.status, body: (await answer.json()) as RunDetail & { error?: unknown } };
  };
  const first = await put(10, `"${String(run.version)}"`);
  expect([first.status, first.body.version]).toEqual([200, run.version + 1]);
  const late = await put(20, `"${String(run.version)}"`);
  expect(late).toMatchObject({
    status: 409,
    body: { error: { code: 'layout-changed', figures: { version: run.version + 1, yourVersion: run.version } } },
  });
  expect((await call('GET', `/api/runs/${run.id}`)).body).toMatchObject({ pieces: [{ xMm: 10 }] });
  expect((await put(20, '"one"')).status).toBe(400);
  expect((await put(20, '*')).body.pieces[0]?.xMm).toBe(20);
});
