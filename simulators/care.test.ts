import type { MachineAbout } from '../contract/machine/about.ts';
import type { CareOrder } from '../contract/machine/protocol.ts';
import type { ChannelFaults } from '../core/heads/nozzleFaults.ts';
import { exerciseMl } from '../core/care/exercise.ts';
import { type ChannelBuild, dosed, freshWear, machineCleaned, settledShare, stirred } from '../core/machine/nozzles.ts';
import { seededRandom } from '../core/random.ts';
import { StandIn } from './machine.ts';
import { emptyMemory } from './memory.ts';

const HOUR = 3_600_000;

interface PrinterTraits {
  readonly feed?: number;
  readonly readsChecks?: boolean;
  readonly faults?: Record<string, ChannelFaults>;
}

const ABOUT = {
  id: 'wren',
  name: 'Wren',
  channels: [
    { id: 'cyan', name: 'Cyan', colour: '#1391C7', heads: 1, tankMl: 100, idleLimitH: 96 },
    { id: 'white', name: 'White', colour: '#FFFFFF', heads: 4, tankMl: 100, idleLimitH: 72 },
  ],
  modes: [{ dropPl: 5 }],
  machine: { nozzlesPerChannel: 360 },
  collectsMm: null,
} as unknown as MachineAbout;

const PURGE: CareOrder = {
  kind: 'purge',
  durationMs: 120_000,
  inkMl: { white: 0.2 },
  fedMm: 450,
  sourceId: 'tray',
  clean: null,
};

function printer(
  idleH = 0,
  { feed = 1, readsChecks = false, faults = {} }: PrinterTraits = {},
): { machine: StandIn; run: (ms: number) => void; now: () => number } {
  let now = 0;
  const memory = { ...emptyMemory(), inkMl: { cyan: 100, white: 100 } };
  const machine = new StandIn('wren', memory, {
    now: () => now,
    save: () => undefined,
    random: seededRandom(11),
    about: { ...ABOUT, readsChecks },
    deviation: { speed: 1, startUp: 1, ink: 1, rollLength: 1, feed },
    faults,
    idleH: { cyan: idleH, white: idleH },
  });
  machine.tick(1, 0);
  machine.load('tray', { tag: 'FS-03', widthMm: 320, lengthMm: 9000 });
  const run = (ms: number): void => {
    for (let t = 0; t < ms; t += 500) {
      now += 500;
      machine.tick(500, now);
    }
  };
  return { machine, run, now: () => now };
}

test('care is done once, however often it is sent; it takes its time, its ink and its sheet, and no run meanwhile', () => {
  const { machine, run } = printer();
  expect(machine.care.accept('care-1', 1, PURGE)).toMatchObject({ status: 'caring', msLeft: 120_000 });
  expect(machine.state().status).toBe('caring');
  expect(machine.accept('run-1', 1, {} as never)).toBeUndefined();
  expect(machine.care.accept('care-2', 1, PURGE)).toBeUndefined();
  run(60_000);
  expect(machine.care.accept('care-1', 1, PURGE)).toMatchObject({
    status: 'caring',
    fedMm: 225,
    inkMl: { white: 0.1 },
  });
  run(61_000);
  expect(machine.care.accept('care-1', 1, PURGE)).toMatchObject({ status: 'done', fedMm: 450, inkMl: { white: 0.2 } });
  expect(machine.state()).toMatchObject({ status: 'idle', care: { careId: 'care-1', status: 'done' } });
  expect(machine.memory.sources.tray?.leftMm).toBeCloseTo(8550, 6);
  expect(machine.memory.inkMl?.white).toBeCloseTo(99.8, 2);
  expect(machine.memory.inkMl?.cyan).toBe(100);
});

test('a dose that is enough makes its channel fresh; the other stays as idle as it was', () => {
  const { machine, run, now } = printer(40);
  const before = machine.heads.firedMs();
  expect(before.cyan).toBe(-40 * HOUR);
  machine.care.accept('care-1', 1, PURGE);
  run(121_000);
  // 0.2 of 0.0144 ml: exercised again and again until it ends.
  expect(now() - (machine.heads.firedMs().white ?? 0)).toBeLessThan(90_000);
  expect(machine.heads.firedMs().cyan).toBe(before.cyan);
});

test('a few drops exercise nothing: they add up only within a tenth of the idle limit', () => {
  const needed = exerciseMl({ heads: 4, nozzles: 360, dropPl: 5 });
  const build: ChannelBuild = { nozzles: 1440, idleLimitMs: 72 * HOUR, settles: true, exerciseMl: needed };
  const fresh = freshWear(0, () => 0.5);
  const twice = (hoursApart: number): number => {
    const first = dosed(fresh, build, needed * 0.6, 10 * HOUR);
    return dosed(first, build, needed * 0.6, (10 + hoursApart) * HOUR).firedMs / HOUR;
  };
  expect(twice(6)).toBe(16);
  expect(twice(9)).toBe(0);
});

test('a deep clean opens more than a light one, both the less the longer nozzles were clogged; now and then air is drawn in', () => {
  const build: ChannelBuild = { nozzles: 1440, idleLimitMs: 72 * HOUR, settles: false, exerciseMl: 0.0144 };
  const clogged = Array.from({ length: 40 }, (_, i) => i * 30);
  const left = (strength: 'light' | 'deep', ageH: number): { mean: number; worse: number } => {
    let sum = 0;
    let worse = 0;
    for (let seed = 0; seed < 200; seed += 1) {
      const wear = { ...freshWear(0, () => 0.5), clogged, cloggedMs: clogged.map(() => 0) };
      const after = machineCleaned(wear, build, strength, ageH * HOUR, seededRandom(seed * 7919));
      sum += after.clogged.filter((nozzle) => clogged.includes(nozzle)).length;
      worse += after.clogged.some((nozzle) => !clogged.includes(nozzle)) ? 1 : 0;
    }
    return { mean: sum / 200, worse };
  };
  // Just clogged: a quarter stays after a light clean, 7 of 100 after a deep one. After two limits e⁻¹ of each opens.
  expect(left('light', 0).mean).toBeCloseTo(10, 0);
  expect(left('deep', 0).mean).toBeCloseTo(2.8, 0);
  expect(left('deep', 144).mean).toBeCloseTo(40 * (1 - 0.93 / Math.E), 0);
  expect(left('deep', 0).worse).toBeGreaterThan(left('light', 0).worse);
  expect(left('light', 0).worse).toBeGreaterThan(0);
});

test('stirring puts the pigment in motion and fires nothing', () => {
  const build: ChannelBuild = { nozzles: 1440, idleLimitMs: 72 * HOUR, settles: true, exerciseMl: 0.0144 };
  const wear = freshWear(0, () => 0.5);
  expect(settledShare(wear, build, 36 * HOUR)).toBeCloseTo(0.5, 9);
  const after = stirred(wear, 36 * HOUR);
  expect([settledShare(after, build, 36 * HOUR), after.firedMs]).toEqual([0, 0]);
});

test('a fault ends care: what was used so far is told, and it is not gone on with', () => {
  const { machine, run } = printer();
  machine.care.accept('care-1', 1, PURGE);
  run(30_000);
  machine.strike({ kind: 'cover open' }, 0);
  expect(machine.care.report('care-1', 1)).toMatchObject({ status: 'failed', reason: 'cover open', fedMm: 112.5 });
  machine.mend();
  expect(machine.state().status).toBe('idle');
  machine.care.accept('care-2', 1, PURGE);
  run(10_000);
  machine.power(false);
  machine.power(true);
  expect(machine.care.report('care-2', 1)).toMatchObject({ status: 'failed', reason: 'the printer lost power' });
  machine.care.accept('care-3', 1, { ...PURGE, fedMm: 100_000 });
  run(20_000);
  expect(machine.care.report('care-3', 1)).toMatchObject({ status: 'failed', reason: 'media out' });
});

test('it can be stopped by hand, and what is not known is not told of', () => {
  const { machine, run } = printer();
  machine.care.accept('care-1', 1, PURGE);
  run(30_000);
  expect(machine.care.cancel('care-1', 1)).toMatchObject({ status: 'cancelled', fedMm: 112.5 });
  expect(machine.care.cancel('care-9', 1)).toBeUndefined();
});

const CHECK: CareOrder = { ...PURGE, kind: 'check', inkMl: { cyan: 0.05 }, fedMm: 0, sourceId: null };

test('what a check shows is what its nozzles are like; a device that reads its plots says so, others leave it in the tray', () => {
  const shown = { cyan: { missing: [3], weak: [8], crooked: [] } };
  for (const readsChecks of [true, false]) {
    const { machine, run } = printer(0, { readsChecks, faults: shown });
    machine.care.accept('check-1', 1, { ...CHECK, checks: ['cyan'] });
    run(CHECK.durationMs);
    const report = machine.care.report('check-1', 1);
    expect(report?.status).toBe('done');
    expect(report?.nozzles).toEqual(readsChecks ? shown : undefined);
    expect(machine.memory.printedCheck).toEqual(shown);
  }
});

test('bars of a feed check lie as far apart as it truly feeds; runs take as much of their roll, less where they are corrected', () => {
  const { machine, run } = printer(0, { feed: 1.002 });
  machine.care.accept('feed-1', 1, { ...CHECK, kind: 'feed', feedMm: 500 });
  run(CHECK.durationMs);
  expect(machine.memory.printedFeedMm).toBe(501);
  expect(machine.care.report('feed-1', 1)?.measuredMm).toBeUndefined();
  const taken = (feedFactor?: number): number => {
    const before = machine.memory.sources.tray?.leftMm ?? 0;
    const block = { lengthMm: 1000, strokes: 100, coats: 1, byHand: false };
    const strokes = { strokesMs: Array.from({ length: 100 }, () => 100), advanceMm: 10, passes: 1, startUpMs: 0 };
    const rest = { trailerMm: 0, dryOutMs: 0, cutMs: 0, inkMl: {}, sourceId: 'tray' };
    const pdf = { url: '', sha256: '', bytes: 0 };
    const corrected = feedFactor === undefined ? {} : { feedFactor, advanceMm: 10 / feedFactor };
    machine.accept(`run-${String(feedFactor)}`, 1, { lengthMm: 1000, block, ...strokes, ...rest, pdf, ...corrected });
    run(60_000);
    return before - (machine.memory.sources.tray?.leftMm ?? 0);
  };
  expect(taken()).toBeCloseTo(1002, 3);
  expect(taken(1.002)).toBeCloseTo(1000, 3);
});
