import fc from 'fast-check';
import { plannedPrinter, sourceWith } from '../testing/plannedPrinter.ts';
import { bestPlace } from './bestPlace.ts';
import type { FloorSnapshot, PlanRun } from './plan.ts';
import { planFloor } from './planFloor.ts';
import { plannedWork } from './planInput.ts';
import { Attendance } from './shopHours.ts';

const HOUR = 3_600_000;

function run(id: string, hours: number, dueH?: number, together: string | null = null): PlanRun {
  const plain = { id, stockId: 'a', modeId: 'm', estimateMs: hours * HOUR, needMm: 100, outMm: 100 };
  const dues = dueH === undefined ? [] : [{ dueMs: dueH * HOUR, latePerHMinor: 1500 }];
  return { ...plannedWork({ ...plain, byHand: false, unattended: true, dues }), together };
}

function floorOf(...runs: readonly PlanRun[]): FloorSnapshot {
  const sources = [sourceWith({ leftMm: 1e6 })];
  return {
    printers: [{ printer: plannedPrinter('heron', { sources }), runs }],
    ...{ rack: [], attendance: Attendance.always(), nowMs: 0 },
  };
}

test('it goes as early as nobody is late for it, and behind all where each place would make somebody late', () => {
  const asked = run('new', 2);
  expect(bestPlace(floorOf(run('a', 1), run('b', 1)), 'heron', asked)).toMatchObject({ behind: 0, endMs: 2 * HOUR });
  // The first is due at once; the second has an hour and a half to spare, and one is more.
  const tight = floorOf(run('a', 1, 1), run('b', 1, 3.5), run('c', 1, 4.5));
  expect(bestPlace(tight, 'heron', asked)).toMatchObject({ behind: 3, endMs: 5 * HOUR });
  const loose = floorOf(run('a', 1, 1), run('b', 1, 4), run('c', 1, 5));
  expect(bestPlace(loose, 'heron', asked)).toMatchObject({ behind: 1, endMs: 3 * HOUR });
});

test('a run that is late anyway must not become later; runs that stay together are not parted', () => {
  expect(bestPlace(floorOf(run('late', 3, 1)), 'heron', run('new', 1))).toMatchObject({ behind: 1 });
  const pair = floorOf(run('a', 1, 1), run('front', 1, undefined, 'p'), run('back', 1, 3, 'p'));
  expect(bestPlace(pair, 'heron', run('new', 0.5))?.behind).toBe(3);
});

test('a printer that is not there has no place', () => {
  expect(bestPlace(floorOf(), 'gull', run('new', 1))).toBeUndefined();
});

test('whatever the line: nobody is later than before unless it stands at the end, and no earlier place would have done', () => {
  const anyRun = fc.record({ hours: fc.integer({ min: 1, max: 4 }), dueH: fc.option(fc.integer({ min: 1, max: 14 })) });
  const lateness = (snapshot: FloorSnapshot): number =>
    [...planFloor(snapshot).lines.values()].reduce((sum, { lateMinor }) => sum + lateMinor, 0);
  fc.assert(
    fc.property(fc.array(anyRun, { maxLength: 5 }), fc.integer({ min: 1, max: 3 }), (made, hours) => {
      const runs = made.map(({ hours: long, dueH }, i) => run(String(i), long, dueH ?? undefined));
      const before = lateness(floorOf(...runs));
      const found = bestPlace(floorOf(...runs), 'heron', run('new', hours));
      const costs = Array.from({ length: runs.length + 1 }, (_, at) =>
        lateness(floorOf(...runs.slice(0, at), run('new', hours), ...runs.slice(at))),
      );
      const earliest = costs.findIndex((cost) => cost <= before + 0.5);
      expect(found?.behind).toBe(earliest < 0 ? runs.length : earliest);
    }),
    { numRuns: 60 },
  );
});
