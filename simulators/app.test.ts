import { createHash } from 'node:crypto';
import { deflateSync } from 'node:zlib';
import { channelDirectories, channelHeader } from '../core/raster/channelFile.ts';
import { lineTile } from '../core/raster/dotLines.ts';
import { type Server, createServer, request } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { CareReport, MachineRun, MachineState, RunReport } from '../contract/machine/protocol.ts';
import { standInApp } from './app.ts';
import { CutterStandIn, emptyCutter, outlinesOf } from './cutter.ts';
import { NO_DEVIATION } from '../core/machine/deviation.ts';
import { StandIn } from './machine.ts';
import { emptyMemory } from './memory.ts';

const PDF = Buffer.from('%PDF-1.7 the artwork');
let served: Buffer = PDF;
const KESTREL = {
  id: 'kestrel',
  name: 'Kestrel',
  widthMm: 1600,
  lengthMm: 5000,
  markReadS: 20,
  cutMmPerS: 400,
  travelMmPerS: 900,
  liftS: 0.15,
};
let files: Server;
let host: Server;
let base: string;
let pdfUrl: string;
let machines: Map<string, StandIn>;
let cutter: CutterStandIn;
let clock: { rate: number; shopMs: number };
let realMs = 0;

async function listen(server: Server): Promise<string> {
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  return `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
}

beforeEach(async () => {
  machines = new Map();
  served = PDF;
  cutter = new CutterStandIn(KESTREL, emptyCutter(), {
    now: () => clock.shopMs,
    save: () => undefined,
    deviation: NO_DEVIATION,
  });
  clock = { rate: 1, shopMs: 0 };
  realMs = 0;
  files = createServer((_req, res) => res.end(served));
  pdfUrl = await listen(files);
  const machine = (id: string): StandIn => {
    const known =
      machines.get(id) ??
      new StandIn(id, emptyMemory(), { now: () => clock.shopMs, save: () => undefined, random: () => 1 });
    machines.set(id, known);
    return known;
  };
  const app = standInApp({
    machine,
    machines: () => [...machines.values()],
    cutters: () => [cutter],
    setClock: (rate, shopMs) => {
      clock = { rate, shopMs };
    },
    rate: () => clock.rate,
    shopNow: () => clock.shopMs,
    realNow: () => realMs,
    heard: () => undefined,
    shutdown: () => undefined,
    dataDir: '/nowhere',
    port: () => (host.address() as AddressInfo).port,
  });
  host = createServer(app);
  base = await listen(host);
});

afterEach(async () => {
  for (const server of [files, host]) {
    server.closeAllConnections();
    await new Promise((done) => server.close(done));
  }
});

function order(change: Partial<MachineRun> = {}): MachineRun {
  const sha256 = createHash('sha256').update(PDF).digest('hex');
  return {
    lengthMm: 300,
    trailerMm: 20,
    advanceMm: 10,
    passes: 4,
    startUpMs: 100,
    strokesMs: new Array<number>(33).fill(50),
    block: { lengthMm: 300, strokes: 33, coats: 1, byHand: false },
    sourceId: null,
    dryOutMs: 0,
    cutMs: 0,
    inkMl: { black: 1 },
    pdf: { url: pdfUrl, sha256, bytes: PDF.length },
    ...change,
  };
}

async function call(method: string, path: string, body?: unknown): Promise<{ status: number; body: unknown }> {
  const answer = await fetch(base + path, {
    method,
    ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
  });
  return { status: answer.status, body: await answer.json() };
}

test('a run is accepted once: the second send is answered with what became of it', async () => {
  expect(await call('PUT', '/machines/heron/runs/run-1/1', order())).toMatchObject({
    status: 201,
    body: { status: 'printing' },
  });
  machines.get('heron')?.tick(60_000, 0);
  expect(await call('PUT', '/machines/heron/runs/run-1/1', order())).toMatchObject({
    status: 200,
    body: { status: 'printed', fedMm: 320 },
  });
  expect(await call('GET', '/machines/heron/runs/run-1/1')).toMatchObject({ status: 200, body: { status: 'printed' } });
  expect((await call('GET', '/machines/heron/runs/run-1/2')).status).toBe(404);
});

test('a purge fires what the dots of its channel file say, not what it was told; another file is refused', async () => {
  // 1,100 × 300 dots: four tiles, of which three show in part. An eighth of the dots is fired.
  const tile = deflateSync(lineTile(1 / 8, 0));
  const directoryAt = Math.ceil((16 + tile.length) / 8) * 8;
  const tiles = new Array<{ offset: number; bytes: number }>(4).fill({ offset: 16, bytes: tile.length });
  const page = { name: 'black', width: 1100, height: 300, dpiX: 720, dpiY: 720, tiles };
  const gap = new Uint8Array(directoryAt - 16 - tile.length);
  served = Buffer.concat([channelHeader(directoryAt), tile, gap, channelDirectories([page], directoryAt)]);
  const raster = { url: pdfUrl, sha256: createHash('sha256').update(served).digest('hex'), bytes: served.length };
  const care = (change: object) => ({
    ...{ kind: 'purge', durationMs: 1000, inkMl: { black: 99 }, fedMm: 0, sourceId: null, clean: null, dropPl: 7 },
    ...{ rasters: [raster] },
    ...change,
  });
  const wrong = care({ rasters: [{ ...raster, sha256: 'f'.repeat(64) }] });
  expect((await call('PUT', '/machines/heron/care/care-1/1', wrong)).status).toBe(502);
  expect((await call('PUT', '/machines/heron/care/care-1/1', care({ dropPl: undefined }))).status).toBe(502);
  expect((await call('PUT', '/machines/heron/care/care-1/1', care({}))).status).toBe(201);
  machines.get('heron')?.tick(60_000, 0);
  const { body } = await call('GET', '/machines/heron/care/care-1/1');
  const fired = (body as CareReport).inkMl['black'] ?? 0;
  const told = (1100 * 300 * 7e-9) / 8;
  // Its own deviation is up to 20 %.
  expect(Math.abs(fired / told - 1)).toBeLessThan(0.21);
  expect((body as CareReport).status).toBe('done');
});

test('a busy machine, a wrong file, a malformed order and an unknown word are refused', async () => {
  await call('PUT', '/machines/heron/runs/run-1/1', order());
  expect((await call('PUT', '/machines/heron/runs/run-2/1', order())).status).toBe(409);
  expect(
    (await call('PUT', '/machines/magpie/runs/run-3/1', order({ pdf: { url: pdfUrl, sha256: 'other', bytes: 1 } })))
      .status,
  ).toBe(502);
  expect((await call('PUT', '/machines/magpie/runs/run-3/1', { lengthMm: -1 })).status).toBe(400);
  expect((await call('POST', '/machines/heron/runs/run-1/1/explode')).status).toBe(404);
  expect((await call('POST', '/control/machines/heron/faults', { kind: 'gremlins' })).status).toBe(400);
  expect((await call('GET', '/machines/UPPER/state')).status).toBe(404);
  expect((await call('GET', '/machines/magpie/state')).body).toMatchObject({ status: 'idle', run: null });
});

test('states are streamed as they change; a dead line breaks the stream and answers nothing, the control surface still does', async () => {
  const answer = await fetch(`${base}/machines/heron/events`);
  const states: MachineState[] = [];
  const decoder = new TextDecoder();
  const ended = (async () => {
    for await (const chunk of answer.body as unknown as AsyncIterable<Uint8Array>) {
      for (const line of decoder.decode(chunk).split('\n')) {
        if (line.startsWith('data: ')) states.push(JSON.parse(line.slice(6)) as MachineState);
      }
    }
  })().catch(() => 'broken');
  await call('PUT', '/machines/heron/runs/run-1/1', order());
  await call('POST', '/machines/heron/runs/run-1/1/pause');
  await call('POST', '/control/machines/heron/faults', { kind: 'cover open' });
  await new Promise((done) => setTimeout(done, 100));
  expect(states.map((state) => state.status)).toEqual(['idle', 'printing', 'waiting', 'waiting']);
  expect(states.map((state) => state.seq)).toEqual([...states.map((state) => state.seq)].sort((a, b) => a - b));
  await call('POST', '/control/machines/heron/faults', { kind: 'link lost', forMs: 2000 });
  expect(await ended).toBe('broken');
  await expect(fetch(`${base}/machines/heron/state`)).rejects.toThrow();
  expect((await call('GET', '/machines/magpie/state')).status).toBe(200);
  realMs = 2001;
  expect((await call('GET', '/machines/heron/state')).body).toMatchObject({ status: 'waiting', reason: 'cover open' });
  await call('DELETE', '/control/machines/heron/faults');
  expect((await call('GET', '/machines/heron/state')).body).toMatchObject({
    status: 'waiting',
    reason: 'paused by hand',
  });
});

test('the clock is the shop’s', async () => {
  expect((await call('PUT', '/control/clock', { rate: 60, shopMs: 5_000_000 })).body).toEqual({
    rate: 60,
    shopMs: 5_000_000,
    untilMs: null,
  });
  expect((await call('PUT', '/control/clock', { rate: -1, shopMs: 0 })).status).toBe(400);
  expect((await call('PUT', '/machines/heron/runs/run-1/1', order())).body).toMatchObject({ startedMs: 5_000_000 });
  expect((await call('GET', '/control')).body).toMatchObject({
    product: 'yellow-spool stand-ins',
    rate: 60,
    dataDir: '/nowhere',
  });
});

/** Two squares of 200, 100 and 500 mm in. */
const SQUARES = `<svg><g id="contour"><path d="M100 100L300 100L300 300L100 300Z"/><path d="M500 500L700 500L700 700L500 700Z"/></g></svg>`;

function cutOrder(svg: string) {
  served = Buffer.from(svg);
  const sha256 = createHash('sha256').update(served).digest('hex');
  return { widthMm: 1600, lengthMm: 2000, svg: { url: pdfUrl, sha256, bytes: served.length } };
}

test('a cutter waits for the print, cuts in the time of the closed form, and knows a cut by run and attempt', async () => {
  expect((await call('GET', '/cutters')).body).toEqual([KESTREL]);
  const order = cutOrder(SQUARES);
  expect((await call('PUT', '/cutters/kestrel/cuts/run-1/1', order)).body).toMatchObject({
    status: 'waiting',
    of: 2,
    reason: 'waits for the print to be laid on',
  });
  cutter.tick(60_000);
  expect(cutter.report('run-1', 1)).toMatchObject({ status: 'waiting', cut: 0 });
  await call('POST', '/cutters/kestrel/cuts/run-1/1/start');
  // Marks, then 800 mm round the first: 20 + 800/400 + |(200, 200)|/900 + 0.15 s.
  const first = (20 + 2 + Math.hypot(200, 200) / 900 + 0.15) * 1000;
  const second = first + (2 + Math.hypot(400, 400) / 900 + 0.15) * 1000;
  cutter.tick(first - 1);
  expect(cutter.report('run-1', 1)?.cut).toBe(0);
  cutter.tick(2);
  expect(cutter.report('run-1', 1)).toMatchObject({ cut: 1, status: 'cutting' });
  expect(cutter.report('run-1', 1)?.msLeft).toBeCloseTo(second - first - 1, 6);
  cutter.tick(second);
  expect((await call('PUT', '/cutters/kestrel/cuts/run-1/1', order)).body).toMatchObject({ status: 'cut', cut: 2 });
  expect((await call('GET', '/cutters/kestrel/cuts/run-1/2')).status).toBe(404);
});

test('a cutter refuses what it can’t do, pauses for its cover, and a jam ends the cut', async () => {
  const refusal = async (svg: string) => (await call('PUT', '/cutters/kestrel/cuts/run-2/1', cutOrder(svg))).status;
  expect(await refusal(SQUARES.replaceAll('700', '1700'))).toBe(409);
  expect(await refusal('<svg/>')).toBe(409);
  expect(await refusal(SQUARES.replace('L300 300', 'C1 2 3 4 5 6'))).toBe(400);
  expect((await call('GET', '/cutters/heron/state')).status).toBe(404);
  await call('PUT', '/cutters/kestrel/cuts/run-2/1', cutOrder(SQUARES));
  expect((await call('PUT', '/cutters/kestrel/cuts/run-3/1', cutOrder(SQUARES))).status).toBe(409);
  await call('POST', '/cutters/kestrel/cuts/run-2/1/start');
  await call('POST', '/control/cutters/kestrel/faults', { kind: 'cover open' });
  cutter.tick(1e6);
  expect(cutter.report('run-2', 1)).toMatchObject({ status: 'paused', reason: 'cover open', cut: 0 });
  await call('POST', '/cutters/kestrel/cuts/run-2/1/resume');
  expect(cutter.report('run-2', 1)?.status).toBe('paused');
  await call('DELETE', '/control/cutters/kestrel/faults');
  await call('POST', '/cutters/kestrel/cuts/run-2/1/resume');
  cutter.tick(23_000);
  await call('POST', '/control/cutters/kestrel/faults', { kind: 'jam' });
  expect(cutter.report('run-2', 1)).toMatchObject({ status: 'failed', reason: 'jam', cut: 1 });
  expect((await call('GET', '/cutters/kestrel/state')).body).toMatchObject({ status: 'faulted', reason: 'jam' });
});

test('a cutter follows the contours of a file, not its trims', () => {
  const file = `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm">
  <g id="contour">
    <path d="M10 10L60.5 10L60.5 80Z"/>
  </g>
  <g id="trim">
    <path d="M0 0L1 0L1 1Z"/>
  </g>
</svg>`;
  expect(outlinesOf(file)).toEqual([
    [
      { x: 10, y: 10 },
      { x: 60.5, y: 10 },
      { x: 60.5, y: 80 },
    ],
  ]);
});

test('the control surface is shut for pages of other sites and for names that were pointed here', async () => {
  const { port } = host.address() as AddressInfo;
  const asked = (headers: Record<string, string>): Promise<number> =>
    new Promise((done, failed) => {
      const going = request(
        { host: '127.0.0.1', port, method: 'POST', path: '/control/machines/heron/faults', headers },
        (answer) => {
          answer.resume();
          done(answer.statusCode ?? 0);
        },
      );
      going.on('error', failed);
      going.end('{"kind":"jam"}');
    });
  const json = { 'content-type': 'application/json' };
  expect(await asked({ ...json, host: `evil.example:${String(port)}` })).toBe(403);
  expect(await asked({ ...json, host: `127.0.0.1:${String(port)}`, origin: 'http://evil.example' })).toBe(403);
  expect((await call('GET', '/machines/heron/state')).body).toMatchObject({ status: 'idle' });
  expect(await asked({ ...json, host: `127.0.0.1:${String(port)}` })).toBe(201);
});

test('each report is later than the one before, and the last of a run the latest', async () => {
  const first = (await call('PUT', '/machines/heron/runs/run-1/1', order())).body as RunReport;
  machines.get('heron')?.tick(500, 0);
  const second = (await call('GET', '/machines/heron/runs/run-1/1')).body as RunReport;
  const last = (await call('POST', '/machines/heron/runs/run-1/1/cancel')).body as RunReport;
  expect(second.seq).toBeGreaterThan(first.seq);
  expect(last.seq).toBeGreaterThan(second.seq);
});
