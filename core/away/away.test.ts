import fc from 'fast-check';
import { type Said, calibrationOf } from './calibration.ts';
import { keyedChance } from './keyedChance.ts';
import { type LearnedRate, faultRate, meanRate, mediaRate, nothingChance, rateQuantile } from './learnedRate.ts';
import { drawnRatio, learnedRatio, ratioFactor, ratioScale } from './learnedRatio.ts';
import { type Night, type NightRun, gainOf, oddsOf, simulateNights } from './nights.ts';

const NIGHTS = 2000;

describe('chance that goes by names', () => {
  test('the same draw is the same number whatever was drawn before it, and lies between 0 and 1', () => {
    fc.assert(
      fc.property(fc.integer(), fc.nat(5000), fc.string(), fc.string(), fc.nat(9), (seed, night, kind, of, index) => {
        const alone = keyedChance(seed)({ night, kind, of }, index);
        const later = keyedChance(seed);
        later({ night: night + 1, kind, of });
        later({ night, kind: of, of: kind });
        expect(later({ night, kind, of }, index)).toBe(alone);
        expect(alone > 0 && alone < 1).toBe(true);
      }),
    );
  });

  test('draws of neighbouring nights, kinds, names and seeds have nothing to do with each other', () => {
    const key = { night: 0, kind: 'fault', of: 'heron' };
    const ways: readonly ((i: number) => number)[] = [
      (i) => keyedChance(1)({ ...key, night: i }),
      (i) => keyedChance(i)(key),
      (i) => keyedChance(1)({ ...key, of: `heron-${String(i)}` }),
      (i) => keyedChance(1)({ ...key, kind: `fault ${String(i)}` }),
      (i) => keyedChance(1)(key, i),
    ];
    for (const way of ways) {
      const n = 20_000;
      const all = Array.from({ length: n }, (_, i) => way(i));
      const mean = all.reduce((sum, u) => sum + u, 0) / n;
      const following = all.slice(1).reduce((sum, u, i) => sum + (u - 0.5) * ((all[i] ?? 0) - 0.5), 0) / (n - 1);
      // Five standard errors of uniform numbers.
      expect(Math.abs(mean - 0.5)).toBeLessThan(5 * Math.sqrt(1 / 12 / n));
      expect(Math.abs(following)).toBeLessThan((5 * (1 / 12)) / Math.sqrt(n));
      const tenths = Array.from({ length: 10 }, (_, i) => all.filter((u) => Math.floor(u * 10) === i).length);
      const chi2 = tenths.reduce((sum, count) => sum + (count - n / 10) ** 2 / (n / 10), 0);
      // Nine degrees of freedom: one time in a million beyond this.
      expect(chi2).toBeLessThan(45);
    }
  });
});

describe('what a shop learns of its rates', () => {
  test('a printer is judged by its own faults and, as much as two faults weigh, by the others', () => {
    const rate = faultRate({ events: 4, over: 260 }, { events: 11, over: 900 });
    expect(rate).toEqual({ kind: 'gamma', a: 6, b: expect.closeTo(426.667, 2) as number });
    expect(meanRate(rate)).toBeCloseTo(0.014063, 6);
    expect(rateQuantile(rate, 0.05)).toBeCloseTo(0.00612, 4);
    expect(rateQuantile(rate, 0.95)).toBeCloseTo(0.02464, 4);
    expect(nothingChance(rate, 9)).toBeCloseTo(0.8823, 4);
    expect(Math.exp(-meanRate(rate) * 9)).toBeCloseTo(0.8811, 4);
  });

  test('a shop without a log has wide odds, not none', () => {
    const unknown = faultRate({ events: 0, over: 0 }, { events: 0, over: 0 });
    expect(nothingChance(unknown, 9)).toBeCloseTo(0.9157, 4);
    expect(nothingChance(mediaRate({ events: 3, over: 1900 }), 42)).toBeCloseTo(0.9306, 4);
  });
});

describe('what a shop learns of its estimates', () => {
  test('the worked figures: six runs, and none', () => {
    const learned = learnedRatio([1.15, 1.12, 1.21, 1.09, 1.18, 1.14], Math.log(1.08));
    expect([learned.m, learned.beta, ratioFactor(learned), ratioScale(learned)]).toEqual([
      expect.closeTo(0.113428, 6),
      expect.closeTo(0.037868, 6),
      expect.closeTo(1.1201, 4),
      expect.closeTo(0.083322, 6),
    ]);
    const none = learnedRatio([], Math.log(1.08));
    expect([ratioFactor(none), ratioScale(none)]).toEqual([expect.closeTo(1.08, 10), expect.closeTo(0.111803, 6)]);
  });

  test('what is drawn of it is what it says: its mean, and as wide as it is sure', () => {
    const learned = learnedRatio([1.15, 1.12, 1.21, 1.09, 1.18, 1.14], Math.log(1.08));
    const draw = keyedChance(2);
    const at = (night: number, kind: string) => draw({ night, kind, of: '' });
    const drawn = Array.from({ length: 20_000 }, (_, i) => drawnRatio(learned, at(i, 'spread'), at(i, 'mean')));
    const mean = drawn.reduce((sum, each) => sum + each.mean, 0) / drawn.length;
    const variance = drawn.reduce((sum, each) => sum + each.deviation ** 2, 0) / drawn.length;
    expect(mean).toBeCloseTo(learned.m, 2);
    // The mean of an inverse gamma.
    expect(variance / (learned.beta / (learned.alpha - 1))).toBeCloseTo(1, 1);
    expect(drawnRatio({ mean: 0.3, deviation: 0.1 }, 0.99, 0.99)).toEqual({ mean: 0.3, deviation: 0.1 });
  });

  test('runs that lie far back, and those of nothing, say nothing', () => {
    const last = Array.from({ length: 60 }, (_, i) => 1 + (i % 5) / 50);
    expect(learnedRatio([...last, 9, 9, 9])).toEqual(learnedRatio(last));
    expect(learnedRatio([0, Number.NaN, Infinity])).toEqual(learnedRatio([]));
  });
});

const run = (id: string, startH: number, hours: number, metres = 0): NightRun => ({
  id,
  startH,
  hours,
  metres,
  stockId: 'mesh',
});
const RUNS = [run('one', 0, 2), run('two', 2, 3), run('three', 5, 4)];

function nightOf(change: Partial<Night> = {}, rate: LearnedRate = { kind: 'known', rate: 0.02 }): Night {
  return {
    hours: 14,
    printers: [{ id: 'heron', runs: RUNS }],
    attended: [],
    faults: new Map([['heron', rate]]),
    flaws: new Map(),
    time: new Map(),
    repair: { mean: Math.log(20), deviation: 0.6 },
    ...change,
  };
}

/** Within four standard errors of what is right. */
function expectChance(nights: Uint8Array | undefined, right: number): void {
  const { chance } = oddsOf(nights ?? new Uint8Array(NIGHTS));
  expect(Math.abs(chance - right)).toBeLessThan(4 * Math.sqrt((right * (1 - right)) / NIGHTS));
}

describe('simulated nights', () => {
  test('three runs with nobody there come out as the closed form says', () => {
    const { succeeded, plan } = simulateNights(nightOf(), NIGHTS, 5);
    [0.960789, 0.904837, 0.83527].forEach((right, i) => {
      expectChance(succeeded[i], right);
    });
    expectChance(plan, 0.83527);
  });

  test('a flaw of the media spoils its run and no other', () => {
    const runs = RUNS.map((each) => (each.id === 'two' ? { ...each, metres: 20 } : each));
    const flaws = new Map<string, LearnedRate>([['mesh', { kind: 'known', rate: 0.001 }]]);
    const flawed = simulateNights(nightOf({ printers: [{ id: 'heron', runs }], flaws }), NIGHTS, 5);
    [0.960789, 0.88692, 0.83527].forEach((right, i) => {
      expectChance(flawed.succeeded[i], right);
    });
    expectChance(flawed.plan, 0.818731);
    // The luck of the others is what it was without it.
    const plain = simulateNights(nightOf(), NIGHTS, 5);
    expect(flawed.succeeded[2]).toEqual(plain.succeeded[2]);
  });

  test('where the rate is not known, runs of one printer hang together: single odds can’t be multiplied', () => {
    const { succeeded } = simulateNights(nightOf({}, { kind: 'gamma', a: 2, b: 100 }), NIGHTS, 7);
    [0.961169, 0.907029, 0.84168].forEach((right, i) => {
      expectChance(succeeded[i], right);
    });
  });

  test('what a night brings is the seed’s: the same one the same, another one another, and nothing before it is touched by what comes behind', () => {
    const a = simulateNights(nightOf(), 500, 3);
    expect(simulateNights(nightOf(), 500, 3)).toEqual(a);
    expect(simulateNights(nightOf(), 500, 4)).not.toEqual(a);
    const longer = nightOf({ printers: [{ id: 'heron', runs: [...RUNS, run('four', 9, 2)] }] });
    expect(simulateNights(longer, 500, 3).succeeded.slice(0, 3)).toEqual(a.succeeded);
  });

  test('with somebody there a fault costs its repair; with nobody there it costs the night', () => {
    const often: LearnedRate = { kind: 'known', rate: 0.2 };
    const alone = oddsOf(simulateNights(nightOf({}, often), NIGHTS, 9).plan).chance;
    const staffed = oddsOf(simulateNights(nightOf({ attended: [[0, 14]] }, often), NIGHTS, 9).plan).chance;
    // Nine hours of printing in fourteen: a repair takes a third of an hour.
    expect(alone).toBeLessThan(0.25);
    expect(staffed).toBeGreaterThan(0.9);
    // Somebody who comes too late is nobody.
    const late = oddsOf(simulateNights(nightOf({ attended: [[13.9, 14]] }, often), NIGHTS, 9).plan).chance;
    expect(late).toBe(alone);
  });

  test('slow printers miss the end of the period: by their mean, and by how little is known of it', () => {
    const slow = (mean: number, deviation: number) =>
      oddsOf(
        simulateNights(
          nightOf({ hours: 9.5, time: new Map([['heron', { mean, deviation }]]) }, { kind: 'known', rate: 0 }),
          NIGHTS,
          2,
        ).plan,
      ).chance;
    expect([slow(0, 0), slow(0.1, 0)]).toEqual([1, 0]);
    expect(slow(0, 0.1)).toBeGreaterThan(0.5);
    expect(slow(0, 0.1)).toBeLessThan(1);
  });

  test('a run keeps its luck with the media when it moves to another printer', () => {
    const flaws = new Map<string, LearnedRate>([['mesh', { kind: 'known', rate: 0.01 }]]);
    const faults = new Map<string, LearnedRate>();
    const [one = run('one', 0, 2)] = RUNS;
    const moved = { ...one, metres: 40 };
    const here = simulateNights({ ...nightOf({ flaws }), faults, printers: [{ id: 'heron', runs: [moved] }] }, 800, 1);
    const there = simulateNights(
      { ...nightOf({ flaws }), faults, printers: [{ id: 'magpie', runs: [moved] }] },
      800,
      1,
    );
    expect(there.succeeded).toEqual(here.succeeded);
    expect(oddsOf(here.plan).chance).toBeLessThan(0.8);
  });
});

test('a gain is told night by night: 100 won and 20 lost of 2,000 is 4 of 100, to half of one', () => {
  const without = Uint8Array.from({ length: NIGHTS }, (_, i) => (i < 1420 ? 1 : 0));
  const withIt = Uint8Array.from({ length: NIGHTS }, (_, i) => (i < 1520 && i >= 20 ? 1 : 0));
  const { chance, error } = gainOf(without, withIt);
  expect([chance, error]).toEqual([expect.closeTo(0.04, 10), expect.closeTo(0.0054, 4)]);
  expect(oddsOf(withIt).chance).toBe(0.75);
  expect(gainOf(without, without)).toEqual({ chance: 0, error: 0 });
  expect(() => gainOf(without, new Uint8Array(3))).toThrow(RangeError);
});

describe('how honest odds have been', () => {
  const said = (n: number, p: number, came: number): Said[] =>
    Array.from({ length: n }, (_, i) => ({ p, came: i < came }));

  test('the worked figures', () => {
    const { bins, brier, reliability, resolution, skill } = calibrationOf([
      ...said(200, 0.95, 188),
      ...said(300, 0.75, 219),
      ...said(100, 0.55, 61),
    ]);
    expect([brier, reliability, resolution, skill]).toEqual([
      expect.closeTo(0.157833, 6),
      expect.closeTo(0.000833, 6),
      expect.closeTo(0.0146, 6),
      expect.closeTo(0.0802, 4),
    ]);
    // Exact when all that was said in a bin is the same.
    expect(brier).toBeCloseTo(reliability - resolution + 0.78 * 0.22, 10);
    expect(bins.map(({ n, holds }) => [n, holds]).slice(5)).toEqual([
      [100, null],
      [0, null],
      [300, true],
      [0, null],
      [200, true],
    ]);
  });

  test('a bin holds as far as chance alone may take it, and no further', () => {
    const holds = (came: number) => calibrationOf(said(300, 0.75, came)).bins[7]?.holds;
    expect([holds(195), holds(255), holds(194), holds(256)]).toEqual([true, true, false, false]);
    expect(calibrationOf(said(1, 1, 1)).bins[9]?.n).toBe(1);
    expect(calibrationOf(said(5, 0.4, 5)).skill).toBe(0);
    expect(() => calibrationOf([])).toThrow(RangeError);
  });

  test('odds that are drawn honestly pass, odds that are too sure do not', () => {
    const draw = keyedChance(11);
    const nights = Array.from({ length: 20_000 }, (_, i) => {
      const p = draw({ night: i, kind: 'p', of: '' });
      return { p, came: draw({ night: i, kind: 'came', of: '' }) < p };
    });
    const honest = calibrationOf(nights);
    expect(honest.bins.map(({ holds }) => holds)).not.toContain(false);
    expect(honest.reliability).toBeLessThan(0.005);
    expect(honest.skill).toBeGreaterThan(0.3);
    const sure = calibrationOf(nights.map(({ p, came }) => ({ p: p > 0.5 ? 1 - (1 - p) / 3 : p / 3, came })));
    expect(sure.reliability).toBeGreaterThan(0.005);
    expect(sure.bins.map(({ holds }) => holds)).toContain(false);
  });
});
