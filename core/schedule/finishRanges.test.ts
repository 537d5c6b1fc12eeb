import { learnedPrinter } from '../estimate/learnedPrinter.ts';
import { learnedRatio, likelyRatio } from '../estimate/learnedRatio.ts';
import { seededRandom } from '../random.ts';
import { toldFinishes } from '../testing/learningShop.ts';
import { plannedPrinter, sourceWith } from '../testing/plannedPrinter.ts';
import { finishRanges } from './finishRanges.ts';
import type { FloorSnapshot, PlanRun } from './plan.ts';
import { plannedWork } from './planInput.ts';
import { Attendance } from './shopHours.ts';

const HOUR = 3_600_000;

function run(id: string, more: Partial<PlanRun> = {}): PlanRun {
  const plain = { id, stockId: 'banner', modeId: 'm', estimateMs: HOUR, needMm: 1000, outMm: 1000 };
  return { ...plannedWork({ ...plain, byHand: false, unattended: true }), ...more };
}

function floorOf(...runs: readonly PlanRun[]): FloorSnapshot {
  const roll = sourceWith({ id: 'banner', stockId: 'banner', spoolId: 'b', leftMm: 1e9 });
  return {
    printers: [{ printer: plannedPrinter('heron', { sources: [roll] }), runs }],
    ...{ rack: [], attendance: Attendance.always(), nowMs: 0 },
  };
}

const outcomes = [1.15, 1.12, 1.21, 1.09, 1.18, 1.14].map((time) => ({
  modeId: 'm',
  stockId: 'banner',
  time,
  ink: {},
  inkCounted: false,
}));
const heron = learnedPrinter(outcomes, 50_000);
const learned = new Map([['heron', heron]]);

test('of one run the drawn range is that of the closed form', () => {
  const range = finishRanges(floorOf(run('a')), learned, { seed: 1, draws: 20_000 }).get('a');
  const { factor, low, high } = likelyRatio(heron.modes.m?.stocks.banner ?? learnedRatio([]));
  expect((range?.lowMs ?? 0) / HOUR).toBeCloseTo(low / factor, 2);
  expect((range?.highMs ?? 0) / HOUR).toBeCloseTo(high / factor, 2);
});

test('behind others ranges get wider, by less than as if each were sure to be off the same way', () => {
  const ranges = finishRanges(floorOf(...['a', 'b', 'c', 'd'].map((id) => run(id))), learned, { seed: 1 });
  const width = (id: string): number => (ranges.get(id)?.highMs ?? 0) - (ranges.get(id)?.lowMs ?? 0);
  expect(width('b')).toBeGreaterThan(width('a') * 1.2);
  expect(width('d')).toBeGreaterThan(width('b'));
  expect(width('d')).toBeLessThan(width('a') * 4);
});

test('with one seed a range stays; a printer of which nothing was learned keeps to its estimates', () => {
  const floor = floorOf(run('a'));
  expect(finishRanges(floor, learned, { seed: 3 })).toEqual(finishRanges(floor, learned, { seed: 3 }));
  expect(finishRanges(floor, new Map(), { seed: 3 }).get('a')).toEqual({ lowMs: HOUR, highMs: HOUR });
});

test('what waits for people waits in every draw: an early end does not pull it before they come', () => {
  const attended = [
    { fromMs: 0, toMs: 1.2 * HOUR },
    { fromMs: 14 * HOUR, toMs: 22 * HOUR },
  ];
  const floor = { ...floorOf(run('a'), run('b', { unattended: false })), attendance: new Attendance(attended) };
  const range = finishRanges(floor, learned, { seed: 1 }).get('b');
  expect(range?.lowMs).toBeGreaterThan(14.8 * HOUR);
});

test('eight of ten finishes come within their ranges, in shops whose ways nobody knows', () => {
  const told = Array.from({ length: 40 }, (_, i) =>
    toldFinishes(seededRandom(i + 1), i + 1, { between: 0.5, mostSeen: 300, queued: 6 }),
  ).flat();
  const inside = told.filter(({ endMs, lowMs, highMs }) => endMs >= lowMs && endMs <= highMs).length;
  expect(told).toHaveLength(240);
  // Ends of one line go together: as sure as of about a third as many.
  expect(inside / told.length).toBeGreaterThan(0.68);
  expect(inside / told.length).toBeLessThan(0.92);
});
