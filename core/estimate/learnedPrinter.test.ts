import fc from 'fast-check';
import {
  type LearnedFrom,
  NOTHING_LEARNED,
  inkAsItGoes,
  learnedPrinter,
  learnedTime,
  timeAsItGoes,
} from './learnedPrinter.ts';
import { learnedRatio, likelyRatio, ratioFactor } from './learnedRatio.ts';

const MANY = 50_000;

function ran(modeId: string, stockId: string, ...times: readonly number[]): LearnedFrom[] {
  return times.map((time) => ({ modeId, stockId, time, ink: {}, inkCounted: false }));
}

test('each level begins from what the one above it has learned', () => {
  const six = [1.15, 1.12, 1.21, 1.09, 1.18, 1.14];
  const outcomes = [...ran('production', 'banner', ...six), ...ran('fine', 'film', 0.98, 1.01, 1.0)];
  const learned = learnedPrinter(outcomes, MANY);
  const printer = learnedRatio([...six, 0.98, 1.01, 1.0]);
  const production = learnedRatio(six, printer.m);
  expect(learned.time).toEqual({ ...printer, runs: 9 });
  expect(learned.modes.production?.time).toEqual({ ...production, runs: 6 });
  expect(learnedTime(learned, 'production', 'banner')).toEqual({ ...learnedRatio(six, production.m), runs: 6 });
});

test('the worked figures: 70 min come to 78.41 (70.03 to 87.79) after six runs, and a stock never seen is as its mode', () => {
  // A mode that has come to 1.08 exactly.
  const time = { ...learnedRatio([], Math.log(1.08)), runs: 9 };
  const six = [1.15, 1.12, 1.21, 1.09, 1.18, 1.14];
  const banner = { ...learnedRatio(six, time.m), runs: 6 };
  const learned = { ...NOTHING_LEARNED, modes: { production: { time, stocks: { banner }, ink: {}, countedInk: {} } } };
  expect(timeAsItGoes(70, learned, 'production', 'banner')).toBeCloseTo(78.41, 2);
  const { low, high } = likelyRatio(learnedTime(learned, 'production', 'banner'));
  expect([70 * low, 70 * high]).toEqual([expect.closeTo(70.03, 2), expect.closeTo(87.79, 2)]);
  const never = likelyRatio(learnedTime(learned, 'production', 'mesh'));
  expect(never.factor).toBeCloseTo(1.08, 9);
  expect([never.low, never.high]).toEqual([expect.closeTo(0.9194, 4), expect.closeTo(1.2686, 4)]);
});

test('few runs say little, and one that went wrong moves a mode of many runs hardly at all', () => {
  const one = learnedPrinter(ran('production', 'banner', 2), MANY);
  expect(ratioFactor(one.time)).toBeCloseTo(2 ** (1 / 5), 9);
  const many = learnedPrinter(ran('production', 'banner', 1.6, ...new Array<number>(50).fill(1)), MANY);
  expect(ratioFactor(learnedTime(many, 'production', 'banner'))).toBeLessThan(1.02);
});

test('after a change a series is learned anew from there; others keep what they know', () => {
  // The latest first: twelve runs at 1.4 after thirty at 1.
  const changed = [...new Array<number>(12).fill(1.4), ...new Array<number>(30).fill(1)];
  const learned = learnedPrinter(
    [...ran('production', 'banner', ...changed), ...ran('production', 'film', 1, 1, 1)],
    500,
  );
  const banner = learnedTime(learned, 'production', 'banner');
  expect(banner.runs).toBe(12);
  expect(ratioFactor(banner)).toBeGreaterThan(1.3);
  expect(learnedTime(learned, 'production', 'film').runs).toBe(3);
});

test('ink is learned by channel and mode; a channel that nothing is known of keeps its estimate', () => {
  const outcomes = Array.from({ length: 20 }, (): LearnedFrom => {
    return { modeId: 'fine', stockId: 'film', time: 1, ink: { cyan: 1.2, black: 0.9 }, inkCounted: false };
  });
  const learned = learnedPrinter(outcomes, MANY);
  const estimate = { modeId: 'fine', inkMl: { cyan: 10, black: 10, white: 3 }, inkCounted: false };
  const inkMl = inkAsItGoes(estimate, learned);
  const twice = (ratio: number): number => {
    const printer = (20 * Math.log(ratio)) / 24;
    return Math.exp((4 * printer + 20 * Math.log(ratio)) / 24);
  };
  expect(inkMl).toEqual({
    cyan: expect.closeTo(10 * twice(1.2), 9) as number,
    black: expect.closeTo(10 * twice(0.9), 9) as number,
    white: 3,
  });
  expect(inkAsItGoes({ ...estimate, modeId: 'draft' }, learned)).toEqual(estimate.inkMl);
});

test('ink that was counted is learned apart from ink that was estimated: neither moves the other', () => {
  const of = (cyan: number, inkCounted: boolean): LearnedFrom[] =>
    Array.from({ length: 20 }, () => ({ modeId: 'fine', stockId: 'film', time: 1, ink: { cyan }, inkCounted }));
  const estimates = of(1.4, false);
  const both = learnedPrinter([...estimates, ...of(0.97, true)], MANY);
  const estimate = { modeId: 'fine', inkMl: { cyan: 10 }, inkCounted: false };
  // Counted runs leave the series of estimates as it would be without them, and the other way round.
  expect(inkAsItGoes(estimate, both)).toEqual(inkAsItGoes(estimate, learnedPrinter(estimates, MANY)));
  const counted = { ...estimate, inkCounted: true };
  expect(inkAsItGoes(counted, both)).toEqual(inkAsItGoes(counted, learnedPrinter(of(0.97, true), MANY)));
  expect(inkAsItGoes(counted, both).cyan).toBeLessThan(10);
  // The series of counts starts anew: what estimates were off by says nothing of drops.
  expect(inkAsItGoes(counted, learnedPrinter(estimates, MANY))).toEqual({ cyan: 10 });
});

test('whatever the runs: factors lie between the least and the largest ratio and 1, and ranges around their factors', () => {
  const outcome = fc.record({
    modeId: fc.constantFrom('fine', 'production'),
    stockId: fc.constantFrom('banner', 'film', 'mesh'),
    time: fc.double({ min: 0.2, max: 5, noNaN: true }),
    ink: fc.constant({}),
    inkCounted: fc.boolean(),
  });
  fc.assert(
    fc.property(fc.array(outcome, { maxLength: 120 }), (outcomes) => {
      const learned = learnedPrinter(outcomes, MANY);
      const ratios = [1, ...outcomes.map(({ time }) => time)];
      for (const [modeId, stockId] of [
        ['fine', 'film'],
        ['production', 'mesh'],
        ['draft', 'canvas'],
      ] as const) {
        const { factor, low, high } = likelyRatio(learnedTime(learned, modeId, stockId));
        expect(factor).toBeGreaterThanOrEqual(Math.min(...ratios) - 1e-9);
        expect(factor).toBeLessThanOrEqual(Math.max(...ratios) + 1e-9);
        expect(low).toBeLessThan(factor);
        expect(high).toBeGreaterThan(factor);
      }
    }),
  );
});
