import fc from 'fast-check';
import { SubsetSum } from './subsetSum.ts';

/** All sums that subsets reach, the plain way. */
function reachable(first: number, spans: readonly number[]): Set<number> {
  let sums = new Set([first]);
  for (const span of spans) sums = new Set([...sums, ...[...sums].map((sum) => sum + span)]);
  return sums;
}

const case_ = fc.record({
  first: fc.integer({ min: 1, max: 60 }),
  spans: fc.array(fc.integer({ min: 1, max: 70 }), { maxLength: 11 }),
  goal: fc.integer({ min: 1, max: 200 }),
  slack: fc.integer({ min: 0, max: 3 }),
});

test('finds a subset exactly when there is one, and what it finds adds up', () => {
  const sums = new SubsetSum(200, 11);
  fc.assert(
    fc.property(case_, ({ first, spans, goal, slack }) => {
      fc.pre(first <= goal);
      const all = reachable(first, spans);
      const possible = Array.from({ length: slack + 1 }, (_, i) => goal - i).some((sum) => all.has(sum));
      const found = sums.find(first, spans, goal, slack);
      expect(found !== undefined).toBe(possible);
      if (!found) return;
      expect(new Set(found).size).toBe(found.length);
      const total = found.reduce((sum, i) => sum + (spans[i] ?? NaN), first);
      expect(total).toBeLessThanOrEqual(goal);
      expect(total).toBeGreaterThanOrEqual(goal - slack);
    }),
    { numRuns: 3000, seed: 12 },
  );
});

test('the earlier members are taken first, and a former question leaves nothing behind', () => {
  const sums = new SubsetSum(1000, 6);
  expect(sums.find(100, [300, 300, 300, 600], 700, 0)).toEqual([1, 0]);
  expect(sums.find(999, [1], 1000, 0)).toEqual([0]);
  expect(sums.find(100, [], 1000, 0)).toBeUndefined();
  expect(sums.find(31, [1, 32, 64], 128, 0)).toEqual([2, 1, 0]);
});
