import fc from 'fast-check';
import { awayRun, awayShop } from '../testing/awayShop.ts';
import { onRack, plannedPrinter, sourceWith } from '../testing/plannedPrinter.ts';
import type { Attendance } from '../schedule/shopHours.ts';
import { awayEvents, awayFigures } from './awayEvents.ts';
import { awaySupplies } from './awaySupplies.ts';
import { type AwayWorld, planAway } from './awayWorld.ts';
import { beforeYouGo, figuresWith } from './beforeYouGo.ts';

const HOUR = 3_600_000;

/** Shops as they may be: several printers, one rack, some hands needed, inks and baskets that may run out. */
const shops = fc
  .record({
    toH: fc.integer({ min: 4, max: 16 }),
    there: fc.option(fc.integer({ min: 1, max: 10 }), { nil: undefined }),
    rack: fc.array(fc.record({ stock: fc.constantFrom('a', 'b'), leftMm: fc.integer({ min: 500, max: 9000 }) }), {
      maxLength: 3,
    }),
    lines: fc.array(
      fc.record({
        leftMm: fc.integer({ min: 500, max: 9000 }),
        cyan: fc.integer({ min: 1, max: 40 }),
        collects: fc.option(fc.integer({ min: 2000, max: 12_000 })),
        runs: fc.array(
          fc.record({
            hours: fc.integer({ min: 1, max: 4 }),
            stockId: fc.constantFrom('a', 'a', 'b'),
            needMm: fc.integer({ min: 100, max: 4000 }),
            byHand: fc.constantFrom(false, false, false, true),
            unattended: fc.constantFrom(true, true, true, false),
            cyan: fc.integer({ min: 0, max: 12 }),
          }),
          { maxLength: 5 },
        ),
      }),
      { minLength: 1, maxLength: 3 },
    ),
  })
  .map(({ toH, there, rack, lines }): AwayWorld =>
    awayShop({
      toH,
      // Somebody may look in, and comes in the end.
      there: [
        ...(there === undefined || there + 1 > toH ? [] : [[there, there + 1] as const]),
        [toH + 1, toH + 9] as const,
      ],
      rack: rack.map(({ stock, leftMm }, i) => onRack(`rack ${String(i)}`, stock, leftMm)),
      printers: lines.map(({ leftMm, cyan, collects, runs }, p) => ({
        printer: plannedPrinter(`p${String(p)}`, {
          sources: [sourceWith({ spoolId: `in ${String(p)}`, leftMm })],
          ...{ inkLeftMl: { cyan }, collectsMm: collects },
        }),
        runs: runs.map(({ hours, cyan: ml, needMm, ...run }, i) =>
          awayRun(`r${String(p)}.${String(i)}`, {
            ...run,
            needMm,
            outMm: run.byHand ? 0 : needMm,
            estimateMs: hours * HOUR,
            inkMl: { cyan: ml },
          }),
        ),
      })),
    }),
  );

test('whatever waits: each run is told once, nothing that needs a person begins with nobody there, and what is done is done in time', () => {
  fc.assert(
    fc.property(shops, (world) => {
      const planned = planAway(world);
      const events = awayEvents(world, planned);
      const runs = world.floor.printers.flatMap((each) => each.runs);
      expect(
        events
          .filter(({ kind }) => kind === 'run')
          .map(({ id }) => id)
          .sort(),
      ).toEqual(runs.map(({ id }) => id).sort());
      const attendance: Attendance = world.floor.attendance;
      for (const { id, outcome, atMs, toMs, share, why } of events) {
        const run = runs.find((each) => each.id === id);
        expect(outcome === 'done' ? why : 'said').toBe(outcome === 'done' ? '' : 'said');
        expect(share).toBeGreaterThanOrEqual(0);
        expect(share).toBeLessThanOrEqual(1);
        if (outcome !== 'done') continue;
        expect(toMs).toBeLessThanOrEqual(world.period.toMs);
        if (run?.byHand === true || run?.unattended === false) expect(attendance.isThere(atMs)).toBe(true);
      }
    }),
    { numRuns: 150 },
  );
});

test('supplies run down only: from what is there, never below nothing, and each ends at an instant of the time away', () => {
  fc.assert(
    fc.property(shops, (world) => {
      for (const { kind, points, full, endsMs } of awaySupplies(world, planAway(world))) {
        const amounts = points.map(({ amount }) => amount);
        expect(Math.min(...amounts)).toBeGreaterThanOrEqual(-1e-6);
        expect([...points].sort((a, b) => a.atMs - b.atMs)).toEqual(points);
        if (kind !== 'basket') expect([...amounts].sort((a, b) => b - a)).toEqual(amounts);
        else expect(Math.max(...amounts)).toBeLessThanOrEqual(Math.max(full, ...amounts.slice(0, 1)) + 4000);
        if (endsMs !== null) expect(endsMs).toBeLessThanOrEqual(world.period.toMs + 4 * HOUR);
      }
    }),
    { numRuns: 100 },
  );
});

test('what an action is said to bring is what the plan brings with it', () => {
  fc.assert(
    fc.property(shops, (world) => {
      const planned = planAway(world);
      const events = awayEvents(world, planned);
      const without = awayFigures(world, planned, events);
      for (const { change, gain } of beforeYouGo(world, planned, events)) {
        if (change === null) continue;
        const now = figuresWith(world, [change]);
        expect(now.pieces - without.pieces).toBe(gain.pieces);
        expect(now.worthMinor - without.worthMinor).toBeCloseTo(gain.worthMinor, 6);
      }
    }),
    { numRuns: 60 },
  );
});
