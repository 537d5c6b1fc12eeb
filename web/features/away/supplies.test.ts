import { amountAt } from './Supplies.tsx';

const POINTS = [
  { atMs: 0, amount: 100 },
  { atMs: 10, amount: 100 },
  { atMs: 20, amount: 40 },
  { atMs: 20, amount: 0 },
  { atMs: 30, amount: 8 },
];

test.each([
  ['before it begins', -5, 100],
  ['where nothing is taken', 5, 100],
  ['on the way down', 15, 70],
  ['emptied at an instant', 20, 0],
  ['on the way up again', 25, 4],
  ['after its end', 99, 8],
])('what is there is read off straight lines: %s', (_name, atMs, amount) => {
  expect(amountAt({ points: POINTS }, atMs)).toBeCloseTo(amount, 9);
});

test('of a supply of which nothing is known there is nothing', () => {
  expect(amountAt({ points: [] }, 5)).toBe(0);
});
