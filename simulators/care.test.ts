import type { MachineAbout } from '../contract/machine/about.ts';
import type { CareOrder } from '../contract/machine/protocol.ts';
import { exerciseMl } from '../core/care/exercise.ts';
import { type ChannelBuild, dosed, freshWear, machineCleaned, settledShare, stirred } from '../core/machine/nozzles.ts';
import { seededRandom } from '../core/random.ts';
import { StandIn } from './machine.ts';
import { emptyMemory } from './memory.ts';

const HOUR = 3_600_000;

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

function printer(idleH = 0): { machine: StandIn; run: (ms: number) => void; now: () => number } {
  let now = 0;
  const memory = { ...emptyMemory(), inkMl: { cyan: 100, white: 100 } };
  const machine = new StandIn('wren', memory, {
    now: () => now,
    save: () => undefined,
    random: seededRandom(11),
    about: ABOUT,
    deviation: { speed: 1, startUp: 1, ink: 1, rollLength: 1 },
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
