import fc from 'fast-check';
import { seededRandom } from '../random.ts';
import { type WindowInk, isSure, sampledInk, sampledWithin } from './inkSample.ts';

test('figures: two windows that are half as dark again as the coarse picture shows', () => {
  const windows = [
    { real: [0.3], coarse: [0.2] },
    { real: [0.6], coarse: [0.4] },
  ];
  const near = (value: number): number => expect.closeTo(value, 12) as number;
  expect(sampledInk([0.1], windows)).toEqual([{ share: near(0.15), within: near(0) }]);
  // Residuals ± 0.1 about a ratio of 1.5: an error of 0.1, and the coarse picture is a third as dark as the windows.
  const [off] = sampledInk(
    [0.1],
    [
      { real: [0.2], coarse: [0.2] },
      { real: [0.7], coarse: [0.4] },
    ],
  );
  expect(off?.share).toBeCloseTo(0.15, 12);
  expect(off?.within).toBeCloseTo((2 * 0.1 * (0.1 / 0.3)) / 0.15, 12);
});

test('a channel that the coarse picture does not show is taken from the windows alone; one that is not there is none', () => {
  const windows = [
    { real: [0.02, 0], coarse: [0, 0] },
    { real: [0.04, 0], coarse: [0, 0] },
  ];
  const [faint, none] = sampledInk([0, 0], windows);
  expect(faint?.share).toBeCloseTo(0.03, 12);
  expect(none).toEqual({ share: 0, within: 0 });
  expect(isSure([{ share: 0.004, within: 3 }])).toBe(true);
  expect(isSure([{ share: 0.2, within: 0.021 }])).toBe(false);
  expect(
    sampledWithin([
      { share: 0.004, within: 3 },
      { share: 0.2, within: 0.01 },
    ]),
  ).toBe(0.01);
});

test('whatever is drawn, the truth lies within what is said nineteen times of twenty, and better than by windows alone', () => {
  let [held, all, better] = [0, 0, 0];
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 1e6 }), (seed) => {
      const random = seededRandom(seed);
      // A run of 2,000 places, darker towards its end, of which the coarse picture sees some more and some less.
      const truth = Array.from({ length: 2000 }, (_, i) => Math.min(1, (i / 2000) * 0.6 + 0.3 * random()));
      const bend = 0.7 + 0.6 * random();
      const coarse = truth.map((ink) => ink * bend * (0.9 + 0.2 * random()));
      const mean = (values: readonly number[]): number => values.reduce((sum, each) => sum + each, 0) / values.length;
      const windows = Array.from({ length: 64 }, (): WindowInk => {
        const at = Math.floor(random() * 2000);
        return { real: [truth[at] ?? 0], coarse: [coarse[at] ?? 0] };
      });
      const [found] = sampledInk([mean(coarse)], windows);
      if (!found) throw new Error('no channel');
      const { share, within } = found;
      const whole = mean(truth);
      all += 1;
      if (Math.abs(share - whole) <= within * share) held += 1;
      if (Math.abs(share - whole) < Math.abs(mean(windows.map(({ real }) => real[0] ?? 0)) - whole)) better += 1;
    }),
    { numRuns: 300, seed: 7 },
  );
  expect(held / all).toBeGreaterThan(0.9);
  expect(better / all).toBeGreaterThan(0.8);
});
