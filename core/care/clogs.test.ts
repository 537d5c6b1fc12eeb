import { expectedClogs } from './clogs.ts';

const WHITE = { limitH: 72, nozzles: 1440 };

test('a week of white: 29.276 clogs without a timer, 0.3778 every 60 h, 0.0667 every 48 h, none every 24 h', () => {
  expect(expectedClogs(168, Infinity, WHITE)).toBeCloseTo(29.276, 3);
  expect(expectedClogs(168, 60, WHITE)).toBeCloseTo(0.3778, 4);
  expect(expectedClogs(168, 48, WHITE)).toBeCloseTo(0.0667, 4);
  expect(expectedClogs(168, 24, WHITE)).toBe(0);
});

test('a channel that has clogged ten times as often as supposed is expected to go on so', () => {
  const pace = { theta: 0.1, form: 'cubic' as const };
  expect(expectedClogs(168, 48, WHITE, pace)).toBeCloseTo(
    3 * 1440 * (1 - Math.exp(-0.1 * ((48 / 72 - 0.5) ** 3 / 3))),
    9,
  );
  // Where clogs grow with plain idle time, even a purge every day does not keep all of them away.
  expect(expectedClogs(168, 24, WHITE, { theta: 0.001, form: 'linear' })).toBeGreaterThan(3);
});
