import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { deflateSync } from 'node:zlib';
import fc from 'fast-check';
import type { MachineRun } from '../contract/machine/protocol.ts';
import { dotsMl } from '../core/coats/dropSizes.ts';
import { NO_DEVIATION } from '../core/machine/deviation.ts';
import { firedShare } from '../core/machine/press.ts';
import { BAND_ROWS, PART_ROWS } from '../core/raster/bands.ts';
import { WAITS_FOR_RENDERING } from '../core/raster/whilePrinting.ts';
import { type ChannelPage, channelDirectories, channelHeader, tileGrid } from '../core/raster/channelFile.ts';
import { TILE } from '../core/raster/dotLines.ts';
import { rowsRead } from './dotsReader.ts';
import { StandIn } from './machine.ts';
import { type PrintJob, emptyMemory } from './memory.ts';
import { firedUpTo, hasWaited, printJobOf, readable, stepJob } from './printJob.ts';

const PARTS = [PART_ROWS, PART_ROWS, PART_ROWS, 700];
const ROWS = PARTS.reduce((sum, rows) => sum + rows, 0);
const EXACT = { ...NO_DEVIATION, ink: 1.05 };
const WIDTH = 64;

function orderOf(urls: readonly string[]): MachineRun {
  return {
    ...{ lengthMm: 1000, trailerMm: 0, advanceMm: 10, passes: 5, startUpMs: 1000 },
    strokesMs: new Array<number>(104).fill(1000),
    ...{ dryOutMs: 0, cutMs: 0, inkMl: { cyan: 4, white: 2 }, sourceId: null },
    block: { lengthMm: 1000, strokes: 104, coats: 1, byHand: false },
    pdf: { url: 'http://127.0.0.1/x', sha256: 'x', bytes: 1 },
    dots: { parts: urls.map((url, i) => ({ url, rows: PARTS[i] ?? 1 })), dropsPl: [3, 5, 7] },
  };
}

const job = (): PrintJob => printJobOf('run-1', 1, orderOf(['a', 'b', 'c', 'd']), EXACT, 0);
/** A part comes in; each fires a ml more than the one before. */
function readNext({ dots }: PrintJob): void {
  if (!dots || dots.read.length === PARTS.length) return;
  dots.read.push({
    toRow: rowsRead(dots) + (PARTS[dots.read.length] ?? 0),
    inkMl: { cyan: dots.read.length + 1 },
  });
}

test('it prints as far as it has rows, stands there, and goes on with the next bands in hand', () => {
  const print = job();
  stepJob(print, 500);
  expect([print.press.phase, print.paused]).toEqual(['start-up', null]);
  stepJob(print, 5000);
  // Not one stroke without its rows.
  expect([print.press.strokes, print.paused]).toEqual([0, WAITS_FOR_RENDERING]);
  expect(print.waitsFor).toBe(4 * BAND_ROWS);
  expect(hasWaited(print)).toBe(false);
  readNext(print);
  expect(hasWaited(print)).toBe(true);
  print.paused = null;
  stepJob(print, 1e6);
  expect(print.paused).toBe(WAITS_FOR_RENDERING);
  expect(print.press.strokes).toBe(Math.floor((PART_ROWS / ROWS) * 100));
  for (let i = 0; i < 3; i += 1) readNext(print);
  print.paused = null;
  stepJob(print, 1e6);
  expect([print.press.phase, print.paused]).toEqual(['done', null]);
  // What was read decides, by this device’s drops; white, which nobody rendered, goes by the plan.
  expect(firedUpTo(print, 1, EXACT.ink)).toEqual({
    cyan: expect.closeTo((1 + 2 + 3 + 4) * EXACT.ink, 9) as number,
    white: expect.closeTo(2 * EXACT.ink, 9) as number,
  });
});

test('however time is sliced and parts come: it never prints rows that it has not read, and fires neither less nor more than it read', () => {
  const steps = fc.array(fc.record({ ms: fc.integer({ min: 1, max: 30_000 }), reads: fc.boolean() }), {
    maxLength: 60,
  });
  fc.assert(
    fc.property(steps, (list) => {
      const print = job();
      let before = 0;
      for (const { ms, reads } of list) {
        if (reads) readNext(print);
        if (hasWaited(print)) print.paused = null;
        if (print.paused === null) stepJob(print, ms);
        const share = firedShare(print.plan, print.press);
        expect(share).toBeLessThanOrEqual(readable(print) + 1e-9);
        const cyan = firedUpTo(print, share, EXACT.ink).cyan ?? 0;
        expect(cyan).toBeGreaterThanOrEqual(before - 1e-9);
        before = cyan;
      }
      while (readable(print) < 1) readNext(print);
      print.paused = null;
      stepJob(print, 1e7);
      expect(firedUpTo(print, firedShare(print.plan, print.press), EXACT.ink).cyan).toBeCloseTo(10 * EXACT.ink, 9);
    }),
    { numRuns: 60 },
  );
});

describe('over the line', () => {
  let server: Server;
  const there = new Map<string, Uint8Array>();
  const asked: string[] = [];
  beforeEach(async () => {
    there.clear();
    asked.length = 0;
    server = createServer((req, res) => {
      const path = req.url ?? '';
      asked.push(path);
      const file = there.get(path);
      if (file) res.writeHead(200).end(file);
      else res.writeHead(409).end('{}');
    });
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  });
  afterEach(() => {
    server.close();
  });

  /** Cyan with every dot of one size: all of its tiles are one. */
  function part(rows: number, level: number): Uint8Array {
    const tile = deflateSync(new Uint8Array((TILE.width * TILE.height) / 4).fill(level * 0b01010101));
    const { across, down } = tileGrid(WIDTH, rows);
    const tiles = new Array<ChannelPage['tiles'][number]>(across * down).fill({ offset: 16, bytes: tile.length });
    const at = 16 + tile.length + (8 - (tile.length % 8));
    const page = { name: 'cyan', tiles, width: WIDTH, height: rows, dpiX: 720, dpiY: 720 };
    const file = Buffer.alloc(at);
    file.set(channelHeader(at));
    file.set(tile, 16);
    return Buffer.concat([file, channelDirectories([page], at)]);
  }

  test('a part that is not rendered yet is asked for again; what is fired is what its dots say', async () => {
    const { port } = server.address() as AddressInfo;
    let now = 0;
    const machine = new StandIn('heron', emptyMemory(), {
      ...{ now: () => now, save: () => undefined, random: () => 1, deviation: EXACT },
    });
    const urls = PARTS.map((_, i) => `http://127.0.0.1:${String(port)}/${String(i)}`);
    machine.accept('run-1', 1, orderOf(urls));
    const tick = (ms: number): void => {
      now += ms;
      machine.tick(ms, now);
    };
    const until = async (is: () => boolean): Promise<void> => {
      while (!is()) await new Promise((done) => setTimeout(done, 20));
    };
    tick(60_000);
    expect(machine.state().run).toMatchObject({ status: 'paused', reason: WAITS_FOR_RENDERING });
    // What a person or a fault stops meanwhile stands, whatever rows come.
    machine.command('run-1', 1, 'pause');
    expect(machine.state().run?.reason).toBe('paused by hand');
    machine.command('run-1', 1, 'resume');
    tick(1);
    expect(machine.state().run?.reason).toBe(WAITS_FOR_RENDERING);
    machine.strike({ kind: 'cover open' }, 0);
    await until(() => asked.length >= 2);
    expect(new Set(asked)).toEqual(new Set(['/0']));
    PARTS.forEach((rows, i) => there.set(`/${String(i)}`, part(rows, (i % 3) + 1)));
    const read = (): number => machine.memory.job?.dots?.read.length ?? 0;
    await until(() => read() === PARTS.length);
    tick(1);
    expect(machine.state().run).toMatchObject({ status: 'paused', reason: 'cover open' });
    machine.mend();
    machine.command('run-1', 1, 'resume');
    tick(1);
    expect(machine.state().run?.status).toBe('printing');
    for (let i = 0; i < 300; i += 1) tick(1000);
    const counts = [0, 1, 2, 3].map((level) =>
      level === 0 ? 0 : PARTS.reduce((sum, rows, i) => sum + ((i % 3) + 1 === level ? rows * WIDTH : 0), 0),
    );
    expect(machine.state().run?.status).toBe('printed');
    expect(machine.state().run?.inkMl.cyan).toBeCloseTo(dotsMl(counts, [3, 5, 7]) * EXACT.ink, 12);
  });
});
