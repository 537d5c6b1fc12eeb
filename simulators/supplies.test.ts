import type { MachineAbout } from '../contract/machine/about.ts';
import type { MachineRun } from '../contract/machine/protocol.ts';
import type { TimedRun } from '../core/estimate/timedRun.ts';
import { runTime } from '../core/estimate/runTime.ts';
import type { CarriageConstants } from '../core/machine/constants.ts';
import { seededRandom } from '../core/random.ts';
import { type Deviation, NO_DEVIATION } from '../core/machine/deviation.ts';
import { StandIn } from './machine.ts';
import { emptyMemory } from './memory.ts';

const CARRIAGE: CarriageConstants = {
  nozzlesPerChannel: 768,
  nozzlesPerInch: 360,
  carriageMmPerS: 900,
  carriageMmPerS2: 9000,
  dwellS: 0.15,
  returnMmPerS: 1200,
  feedMmPerS: 50,
  backFeedMmPerS: 80,
  dryOutMmPerS: 25,
  bedWidthMm: 1620,
  startUpS: 60,
  fullCutS: 10,
  perforateS: 0,
  loadS: 6,
  handS: 30,
  trailerMm: 40,
  cutter: null,
};
const TIMED: TimedRun = {
  lengthMm: 1500,
  mediaWidthMm: 1000,
  mode: { passes: 6, oneDirectional: false, lineMmPerS: null },
  span: 'media',
  dryOut: true,
  cutOff: 'full',
  pieces: [{ xMm: 0, yMm: 0, widthMm: 900, heightMm: 1500 }],
};
const ABOUT = {
  id: 'heron',
  name: 'Heron',
  form: 'roll',
  collectsMm: 2000,
  machine: { nozzlesPerChannel: 768 },
  channels: [{ id: 'cyan', name: 'Cyan', colour: '#1391C7', heads: 1, tankMl: 100, idleLimitH: 99 }],
} as unknown as MachineAbout;

function orderOf(timed: TimedRun, change: Partial<MachineRun> = {}): MachineRun {
  const time = runTime(timed, CARRIAGE);
  return {
    lengthMm: timed.lengthMm,
    trailerMm: timed.sheets ? 0 : CARRIAGE.trailerMm,
    advanceMm: time.advanceMm,
    passes: 6,
    startUpMs: time.startUpMs,
    strokesMs: [...time.strokesMs],
    block: time.block,
    dryOutMs: time.dryOutMs,
    cutMs: time.cutMs + time.contourMs,
    inkMl: { cyan: 4 },
    sourceId: 'roll',
    pdf: { url: 'http://127.0.0.1/x', sha256: 'x', bytes: 1 },
    ...change,
  };
}

function printer(deviation: Deviation = NO_DEVIATION, random = (): number => 1) {
  let now = 0;
  const machine = new StandIn('heron', emptyMemory(), {
    now: () => now,
    save: () => undefined,
    random,
    about: ABOUT,
    deviation,
  });
  machine.load('roll', { tag: 'spool-1', widthMm: 1000, lengthMm: 10_000 });
  machine.fill({ cyan: 50 });
  /** Until it stands or has ended; the time that it took (ms). */
  const print = (runId: string, limitMs = 4e6): number => {
    let spent = 0;
    while (spent < limitMs && machine.report(runId, 1)?.status === 'printing') {
      now += 100;
      spent += 100;
      machine.tick(100, now);
    }
    return spent;
  };
  const wait = (ms: number): void => {
    now += ms;
    machine.tick(ms, now);
  };
  return { machine, print, wait };
}

test.each([
  ['from a roll', TIMED],
  ['two coats', { ...TIMED, coats: 2 }],
  ['sheets from a tray', { ...TIMED, sheets: { lengthMm: 500, byHand: false } }],
  ['a page-wide array', { ...TIMED, mode: { passes: 1, oneDirectional: false, lineMmPerS: 150 } }],
] as const)('without deviation it takes what the closed form says, within 0.5 %%: %s', (_what, timed) => {
  const { machine, print } = printer();
  machine.accept('run-1', 1, orderOf(timed));
  const spent = print('run-1');
  expect(machine.report('run-1', 1)).toMatchObject({ status: 'printed', lengthMm: 1500 });
  expect(Math.abs(spent / runTime(timed, CARRIAGE).totalMs - 1)).toBeLessThan(0.005);
});

test('media and ink are used by what is fed and fired; levels are measured, lengths are not told', () => {
  const { machine, print } = printer();
  machine.accept('run-1', 1, orderOf(TIMED));
  print('run-1');
  expect(machine.memory.sources.roll?.leftMm).toBeCloseTo(10_000 - 1540, 6);
  const state = machine.state();
  expect(state.inkMl?.cyan).toBeCloseTo(46, 6);
  expect(state.media).toEqual([{ sourceId: 'roll', tag: 'spool-1', widthMm: 1000 }]);
  expect(state.collectedMm).toBe(1540);
});

test('a roll that is really shorter ends in the middle; with the next one in, the run goes on and ends whole', () => {
  const { machine, print } = printer();
  machine.load('roll', { tag: 'stump', widthMm: 1000, lengthMm: 600 });
  machine.accept('run-1', 1, orderOf(TIMED));
  print('run-1');
  const stopped = machine.report('run-1', 1);
  expect(stopped).toMatchObject({ status: 'paused', reason: 'media out' });
  expect(stopped?.fedMm).toBeGreaterThanOrEqual(600);
  expect(stopped?.fedMm).toBeLessThan(620);
  machine.load('roll', { tag: 'next', widthMm: 1000, lengthMm: 5000 });
  machine.command('run-1', 1, 'resume');
  print('run-1');
  expect(machine.report('run-1', 1)).toMatchObject({ status: 'printed', fedMm: 1540 });
});

test('a tank that is empty stops the run until it is filled; low is said and stops nothing', () => {
  const { machine, print } = printer();
  machine.strike({ kind: 'ink low' }, 0);
  expect(machine.state()).toMatchObject({ status: 'idle', reason: 'ink low: cyan' });
  machine.fill({ cyan: 2 });
  machine.accept('run-1', 1, orderOf(TIMED));
  print('run-1');
  expect(machine.report('run-1', 1)).toMatchObject({ status: 'paused', reason: 'ink out' });
  machine.fill({ cyan: 100 });
  machine.command('run-1', 1, 'resume');
  print('run-1');
  expect(machine.report('run-1', 1)?.status).toBe('printed');
});

test('a full basket stands it until somebody empties it; a bed stops after each piece', () => {
  const { machine, print } = printer();
  machine.accept('run-1', 1, orderOf(TIMED));
  print('run-1');
  machine.accept('run-2', 1, orderOf(TIMED));
  const stood = print('run-2');
  expect(machine.report('run-2', 1)).toMatchObject({ status: 'paused', reason: 'basket full' });
  expect(print('run-2')).toBe(0);
  machine.command('run-2', 1, 'resume');
  expect(stood + print('run-2')).toBeGreaterThan(0);
  expect(machine.report('run-2', 1)?.status).toBe('printed');
  machine.emptied();
  const beds = orderOf({ ...TIMED, sheets: { lengthMm: 500, byHand: true } }, { sourceId: null });
  machine.accept('run-3', 1, beds);
  for (const whole of [500, 1000]) {
    print('run-3');
    expect(machine.report('run-3', 1)).toMatchObject({ status: 'paused', phase: 'stop', lengthMm: whole });
    machine.command('run-3', 1, 'resume');
  }
  print('run-3');
  expect(machine.report('run-3', 1)).toMatchObject({ status: 'printed', lengthMm: 1500 });
});

test('a jam spoils the run; slow takes three times as long; power lost ends it; chance strikes by its rate', () => {
  const jam = printer();
  jam.machine.accept('run-1', 1, orderOf(TIMED));
  jam.machine.strike({ kind: 'jam', atMm: 700 }, 0);
  jam.print('run-1');
  expect(jam.machine.report('run-1', 1)).toMatchObject({ status: 'failed', reason: 'jam' });
  expect(jam.machine.state().status).toBe('faulted');

  const slow = printer();
  slow.machine.strike({ kind: 'slow device' }, 0);
  slow.machine.accept('run-1', 1, orderOf(TIMED));
  expect(slow.print('run-1') / runTime(TIMED, CARRIAGE).totalMs).toBeCloseTo(3, 1);

  const dark = printer();
  dark.machine.accept('run-1', 1, orderOf(TIMED));
  dark.print('run-1', 120_000);
  dark.machine.power(false);
  const before = dark.machine.report('run-1', 1)?.fedMm;
  dark.machine.tick(60_000, 0);
  dark.machine.power(true);
  expect(dark.machine.report('run-1', 1)).toMatchObject({
    status: 'failed',
    reason: 'the printer lost power',
    fedMm: before,
  });

  const unlucky = printer(NO_DEVIATION, seededRandom(5));
  unlucky.machine.memory.per100h = 20_000;
  unlucky.machine.accept('run-1', 1, orderOf(TIMED));
  unlucky.print('run-1');
  expect(unlucky.machine.report('run-1', 1)?.status).not.toBe('printed');
});

test('nozzles clog while nothing is printed, less ink comes out of them, and only a clean opens them', () => {
  const random = seededRandom(11);
  const { machine, print, wait } = printer(NO_DEVIATION, random);
  wait(1);
  expect(machine.heads.truth(1)).toEqual({ cyan: { clogged: 0, settled: 0 } });
  wait(400 * 3_600_000);
  const clogged = machine.heads.truth(0).cyan?.clogged ?? 0;
  expect(clogged).toBeGreaterThan(20);
  // Some fire nothing, some too little, and some beside their place, which loses no ink.
  const { missing, weak, crooked } = machine.heads.faults('cyan');
  expect(missing.length + weak.length + crooked.length).toBe(clogged);
  expect(Math.min(missing.length, weak.length)).toBeGreaterThan(0);
  machine.accept('run-1', 1, orderOf(TIMED));
  print('run-1');
  expect(machine.state().inkMl?.cyan).toBeCloseTo(50 - 4 * (1 - (missing.length + weak.length / 2) / 768), 2);
  const firedMs = machine.state().firedMs?.cyan ?? 0;
  expect(firedMs).toBeGreaterThan(400 * 3_600_000);
  expect(machine.heads.truth(0).cyan?.clogged).toBe(clogged);
  machine.clean();
  expect(machine.heads.truth(0).cyan?.clogged).toBe(0);
});
