import { workValueMinor } from './workValue.ts';

const PLAIN = { pieces: 4, priced: 0, pricesMinor: 0, costMinor: 1000, marginShare: 0.5 };

test.each([
  ['without a price it brings its cost and the margin', {}, 1500],
  ['prices say what it brings, whatever it costs', { priced: 4, pricesMinor: 9000 }, 9000],
  [
    'where some have a price, the others bring their part of the cost',
    { priced: 1, pricesMinor: 2000 },
    2000 + 0.75 * 1500,
  ],
  ['a price of nothing is a price', { priced: 4 }, 0],
  ['nothing brings nothing', { pieces: 0 }, 0],
])('%s', (_what, more, minor) => {
  expect(workValueMinor({ ...PLAIN, ...more })).toBeCloseTo(minor, 9);
});
