import fc from 'fast-check';
import { seededRandom } from '../random.ts';
import { clogRisk } from './clogRisk.ts';
import { type ChannelBuild, type ChannelWear, cleaned, fired, freshWear, idle, settledShare } from './nozzles.ts';

const H = 3_600_000;
const BUILD: ChannelBuild = { nozzles: 1200, idleLimitMs: 72 * H, settles: false, exerciseMl: 0.01 };

test('idle hours against the limit: fresh under half, due under all, then overdue', () => {
  expect([35.9, 36, 71.9, 72, 200].map((h) => clogRisk(h * H, 72 * H))).toEqual([
    'fresh',
    'due',
    'due',
    'overdue',
    'overdue',
  ]);
});

test('the same seed clogs the same nozzles, however the time is sliced; none twice, none while fresh', () => {
  const slices = fc.array(fc.integer({ min: 1, max: 40 * H }), { minLength: 1, maxLength: 30 });
  fc.assert(
    fc.property(fc.integer(), slices, (seed, steps) => {
      const once = seededRandom(seed);
      const often = seededRandom(seed);
      const end = steps.reduce((sum, step) => sum + step, 0);
      const whole = idle(freshWear(0, once), BUILD, end, once);
      let sliced = freshWear(0, often);
      let at = 0;
      for (const step of steps) {
        at += step;
        sliced = idle(sliced, BUILD, at, often);
        if (at <= 36 * H) expect(sliced.clogged).toEqual([]);
      }
      // Sums of cubes may part in the last digit, which moves a clog by less than can be measured.
      expect(Math.abs(sliced.clogged.length - whole.clogged.length)).toBeLessThanOrEqual(1);
      const shared = Math.min(sliced.clogged.length, whole.clogged.length);
      expect(sliced.clogged.slice(0, shared)).toEqual(whole.clogged.slice(0, shared));
      expect(new Set(sliced.clogged).size).toBe(sliced.clogged.length);
    }),
  );
});

test('so many clog as the chance says, and twice as many of a pigment that settles', () => {
  const mean = (build: ChannelBuild, hours: number): number => {
    let sum = 0;
    for (let seed = 0; seed < 200; seed += 1) {
      const random = seededRandom(seed * 7919);
      sum += idle(freshWear(0, random), build, hours * H, random).clogged.length;
    }
    return sum / 200;
  };
  // 1,200 nozzles after two idle limits: 0.01 · 1200 · 1.5³ / 3 = 13.5.
  expect(mean(BUILD, 144)).toBeGreaterThan(12.7);
  expect(mean(BUILD, 144)).toBeLessThan(14.3);
  expect(mean({ ...BUILD, settles: true }, 144)).toBeGreaterThan(25.8);
  expect(mean({ ...BUILD, settles: true }, 144)).toBeLessThan(28.2);
});

test('firing starts the idle time anew and opens nothing; a clean does both', () => {
  const random = seededRandom(5);
  const worn = idle(freshWear(0, random), BUILD, 200 * H, random);
  expect(worn.clogged.length).toBeGreaterThan(10);
  const after = fired(worn, 200 * H);
  expect(after.clogged).toEqual(worn.clogged);
  expect(idle(after, BUILD, 230 * H, random).clogged).toEqual(worn.clogged);
  const clean: ChannelWear = cleaned(after, 231 * H);
  expect([clean.clogged, clean.firedMs]).toEqual([[], 231 * H]);
});

test('white sinks in its idle limit, and is stirred by firing', () => {
  const white = { ...BUILD, settles: true };
  const wear = freshWear(0, seededRandom(1));
  expect([0, 36, 72, 300].map((h) => settledShare(wear, white, h * H))).toEqual([0, 0.5, 1, 1]);
  expect(settledShare(fired(wear, 300 * H), white, 300 * H)).toBe(0);
  expect(settledShare(wear, BUILD, 300 * H)).toBe(0);
});
