import { normalQuantile } from '../distributions.ts';
import { learnedRatio, likelyRatio, surpriseOf } from './learnedRatio.ts';
import { type Random, seededRandom } from '../random.ts';
import { ChangeWatch, alarmHeight, watchRatios } from './changePoint.ts';

const SIX = [1.15, 1.12, 1.21, 1.09, 1.18, 1.14];

test('the range of the next run after six, and before any', () => {
  const after = likelyRatio(learnedRatio(SIX, Math.log(1.08)));
  expect(after.factor).toBeCloseTo(1.1201, 4);
  expect([after.low, after.high]).toEqual([expect.closeTo(1.0004, 4), expect.closeTo(1.2541, 4)]);
  const none = likelyRatio(learnedRatio([], Math.log(1.08)));
  expect([none.low, none.high]).toEqual([expect.closeTo(0.9194, 4), expect.closeTo(1.2686, 4)]);
});

test('how surprising a run is after the six', () => {
  const learned = learnedRatio(SIX, Math.log(1.08));
  expect(surpriseOf(1.3, learned)).toBeCloseTo(1.6491, 3);
  expect(Number.isFinite(surpriseOf(1e9, learned))).toBe(true);
});

test('the height of one false alarm in so many values', () => {
  expect(alarmHeight(500)).toBeCloseTo(5.063, 3);
  expect(alarmHeight(5000)).toBeCloseTo(7.353, 3);
  expect(alarmHeight(50_000)).toBeCloseTo(9.654, 3);
});

test('the worked series: alarm at the tenth, since the fourth', () => {
  const watch = new ChangeWatch(alarmHeight(500));
  const said = [0.3, -0.4, 0.2, 1.4, 1.1, 1.6, 0.9, 1.8, 1.2, 1.5].map((z) => watch.next(z));
  expect(said.slice(0, 9)).toEqual(Array(9).fill(undefined));
  expect(said[9]).toEqual({ since: 3, seen: 9, direction: 'up' });
});

const normal = (random: Random): number => normalQuantile(Math.max(1e-12, random()));

test('while nothing changes there are as many false alarms as are said', () => {
  for (const values of [100, 500]) {
    const watch = new ChangeWatch(alarmHeight(values));
    const random = seededRandom(values);
    const all = 200_000;
    let alarms = 0;
    for (let i = 0; i < all; i += 1) if (watch.next(normal(random))) alarms += 1;
    expect(all / alarms / values).toBeGreaterThan(0.9);
    expect(all / alarms / values).toBeLessThan(1.12);
  }
});

/** A printer whose runs take 5 % more or less by chance, and from one run on longer by a share. */
function series(random: Random, count: number, from: number, by: number): number[] {
  return Array.from({ length: count }, (_, i) => Math.exp(0.05 * normal(random) + (i >= from ? Math.log(1 + by) : 0)));
}

test('a tenth longer is mostly found within fifteen runs, from where it began, and by how much', () => {
  let found = 0;
  const off: number[] = [];
  for (let seed = 0; seed < 60; seed += 1) {
    const { changes } = watchRatios(series(seededRandom(seed), 60, 40, 0.1), 0, alarmHeight(5000));
    const change = changes.find(({ since }) => since >= 34);
    if (!change || change.seen > 55) continue;
    found += 1;
    off.push(change.since - 40);
    expect(change.direction).toBe('up');
    expect(Math.exp(change.size) - 1).toBeGreaterThan(0.04);
    expect(Math.exp(change.size) - 1).toBeLessThan(0.17);
  }
  expect(found).toBeGreaterThanOrEqual(48);
  expect(off.reduce((sum, each) => sum + Math.abs(each), 0) / off.length).toBeLessThan(3);
});

test('after a change only what came since is learned', () => {
  const { learned, count, changes } = watchRatios(series(seededRandom(7), 90, 40, 0.2), 0, alarmHeight(5000));
  expect(changes).toHaveLength(1);
  expect(count).toBe(90 - (changes[0]?.since ?? 0));
  expect(Math.exp(learned.m)).toBeGreaterThan(1.15);
});

test('eight of ten next runs lie in their range', () => {
  let inside = 0;
  let all = 0;
  for (let seed = 0; seed < 400; seed += 1) {
    const random = seededRandom(1000 + seed);
    // Each printer has a place and a spread of its own, as the prior says they have.
    const spread = 0.06 + 0.08 * random();
    const place = 0.05 * normal(random);
    const ratios = Array.from({ length: 12 }, () => Math.exp(place + spread * normal(random)));
    for (const n of [1, 4, 11]) {
      const { low, high } = likelyRatio(learnedRatio(ratios.slice(0, n).reverse(), 0));
      const next = ratios[n] ?? 1;
      all += 1;
      if (next >= low && next <= high) inside += 1;
    }
  }
  expect(inside / all).toBeGreaterThan(0.76);
  expect(inside / all).toBeLessThan(0.86);
});
