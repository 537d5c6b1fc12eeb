import { type ProposedChannel, proposeTimer } from './proposeTimer.ts';

const HOUR = 3_600_000;
const WEEK = { nowMs: 0, firstMs: 24 * HOUR, days: 7 };
const WHITE: ProposedChannel = { limitH: 72, nozzles: 1440, exercisedMs: 0, plannedMs: [] };

test('white that nothing else fires: every other day is the rarest that is enough; 29.3 clogs without it', () => {
  const proposal = proposeTimer([WHITE], WEEK);
  expect(proposal).toMatchObject({ everyDays: 2, times: 3 });
  expect(proposal?.clogsBefore).toBeCloseTo(29.276, 3);
  // Spells of 24, 48, 48 and 48 h: three of 0.0222.
  expect(proposal?.clogs).toBeCloseTo(3 * 1440 * (1 - Math.exp(-0.01 * ((48 / 72 - 0.5) ** 3 / 3))), 6);
});

test('work that fires it every day is enough: nothing is proposed; work early in the week makes the purge rarer', () => {
  const daily = { ...WHITE, plannedMs: [20, 44, 68, 92, 116, 140].map((h) => h * HOUR) };
  expect(proposeTimer([daily], WEEK)).toBeUndefined();
  expect(proposeTimer([], WEEK)).toBeUndefined();
  const lasting = { ...WHITE, limitH: 400 };
  expect(proposeTimer([lasting], WEEK)).toBeUndefined();
  const slow = { ...WHITE, limitH: 120 };
  expect(proposeTimer([slow], WEEK)?.everyDays).toBeGreaterThan(2);
});

test('what has clogged already, no purge prevents: it is in no figure', () => {
  const long = { ...WHITE, exercisedMs: -1000 * HOUR };
  // Idle for a thousand hours nearly all of its nozzles are clogged: a clean is wanted, no purge.
  expect(proposeTimer([long], WEEK)).toBeUndefined();
  const due = { ...WHITE, exercisedMs: -40 * HOUR };
  const dueNow = proposeTimer([due], WEEK);
  expect(dueNow?.clogs).toBeLessThan((dueNow?.clogsBefore ?? 0) / 10);
  // From 40 h on: what a spell of 40 h has brought is taken off.
  const spell = (h: number): number => 1440 * (1 - Math.exp(-0.01 * ((h / 72 - 0.5) ** 3 / 3)));
  expect(dueNow?.clogsBefore).toBeCloseTo(spell(40 + 168) - spell(40), 6);
});

test('where not even every day is enough, every day is proposed; where it changes nothing, nothing is', () => {
  const quick = { ...WHITE, limitH: 12 };
  expect(proposeTimer([quick], WEEK)?.everyDays).toBe(1);
  const gone = { ...WHITE, limitH: 0.01 };
  expect(proposeTimer([gone], WEEK)).toBeUndefined();
});
