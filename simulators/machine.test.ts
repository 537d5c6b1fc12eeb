import type { MachineRun } from '../contract/machine/protocol.ts';
import { StandIn } from './machine.ts';
import { emptyMemory } from './memory.ts';

const RUN: MachineRun = {
  lengthMm: 1000,
  trailerMm: 50,
  advanceMm: 10,
  passes: 5,
  startUpMs: 1000,
  strokesMs: new Array<number>(104).fill(1000),
  dryOutMs: 0,
  cutMs: 500,
  block: { lengthMm: 1000, strokes: 104, coats: 1, byHand: false },
  inkMl: { cyan: 4 },
  sourceId: null,
  pdf: { url: 'http://127.0.0.1/x', sha256: 'x', bytes: 1 },
};

function printer(): { machine: StandIn; run: (ms: number) => void; saves: () => number } {
  let now = 0;
  let saves = 0;
  const machine = new StandIn('heron', emptyMemory(), {
    now: () => now,
    save: () => {
      saves += 1;
    },
    random: () => 1,
  });
  const run = (ms: number): void => {
    for (let t = 0; t < ms; t += 500) {
      now += 500;
      machine.tick(500, now);
    }
  };
  return { machine, run, saves: () => saves };
}

test('prints a run to its end, and answers a repeated send with what became of it', () => {
  const { machine, run } = printer();
  expect(machine.accept('run-1', 1, RUN)).toMatchObject({ status: 'printing', phase: 'start-up' });
  expect(machine.accept('run-2', 1, RUN)).toBeUndefined();
  run(60_000);
  const half = machine.accept('run-1', 1, RUN);
  expect(half?.lengthMm).toBeGreaterThan(200);
  expect(half?.fedMm).toBeLessThan(1000);
  run(120_000);
  expect(machine.accept('run-1', 1, RUN)).toMatchObject({ status: 'printed', lengthMm: 1000, fedMm: 1050 });
  expect(machine.state()).toMatchObject({ status: 'idle', run: { runId: 'run-1', status: 'printed' } });
  expect(machine.report('run-1', 2)).toBeUndefined();
});

test('its time differs from the plan by 5 to 20 %, always the same way', () => {
  const time = (): number => {
    const { machine, run } = printer();
    machine.accept('run-1', 1, RUN);
    let spent = 0;
    while (machine.report('run-1', 1)?.status === 'printing') {
      run(500);
      spent += 500;
    }
    return spent / 105_500;
  };
  expect(time()).toBe(time());
  expect(Math.abs(time() - 1)).toBeGreaterThan(0.04);
  expect(Math.abs(time() - 1)).toBeLessThan(0.21);
});

test('media out at a length: waits, does not go on before it is mended and resumed, then ends whole', () => {
  const { machine, run } = printer();
  machine.accept('run-1', 1, RUN);
  machine.strike({ kind: 'media out', atMm: 400 }, 0);
  run(100_000);
  const stopped = machine.report('run-1', 1);
  expect(stopped).toMatchObject({ status: 'paused', reason: 'media out' });
  expect(stopped?.fedMm).toBeCloseTo(400, -1);
  expect(machine.state().status).toBe('waiting');
  expect(machine.command('run-1', 1, 'resume')).toMatchObject({ status: 'paused' });
  machine.mend();
  run(10_000);
  expect(machine.report('run-1', 1)?.fedMm).toBe(stopped?.fedMm);
  machine.command('run-1', 1, 'resume');
  run(120_000);
  expect(machine.report('run-1', 1)).toMatchObject({ status: 'printed', fedMm: 1050 });
});

test('a head strike fails the run where it was; the machine takes no other until it is mended', () => {
  const { machine, run } = printer();
  machine.accept('run-1', 1, RUN);
  run(50_000);
  machine.strike({ kind: 'head strike' }, 0);
  expect(machine.report('run-1', 1)).toMatchObject({ status: 'failed', reason: 'head strike' });
  expect(machine.state().status).toBe('faulted');
  expect(machine.accept('run-2', 1, RUN)).toBeUndefined();
  machine.mend();
  expect(machine.accept('run-2', 1, RUN)).toMatchObject({ status: 'printing' });
});

test('a power cut ends the run at the length that was noted; cancelling counts the ink fired so far', () => {
  const { machine, run, saves } = printer();
  machine.accept('run-1', 1, RUN);
  run(50_000);
  const before = machine.report('run-1', 1);
  expect(saves()).toBeGreaterThan(50);
  const after = new StandIn('heron', structuredClone(machine.memory), {
    now: () => 0,
    save: () => undefined,
    random: () => 1,
  });
  after.powerWasLost();
  expect(after.report('run-1', 1)).toMatchObject({
    status: 'failed',
    lengthMm: before?.lengthMm,
    fedMm: before?.fedMm,
  });
  const end = machine.command('run-1', 1, 'cancel');
  expect(end).toMatchObject({ status: 'cancelled' });
  expect(end?.inkMl.cyan).toBeGreaterThan(0);
  expect(end?.inkMl.cyan).toBeLessThan(4);
});
