import fc from 'fast-check';
import { type Said, calibrationOf } from './calibration.ts';
import { keyedChance } from '../keyedChance.ts';
import { faultRate, meanRate, mediaRate, nothingChance, rateQuantile } from './learnedRate.ts';
import { drawnRatio, learnedRatio, ratioFactor, ratioScale } from '../estimate/learnedRatio.ts';
import { gainOf, oddsOf } from './nights.ts';

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
