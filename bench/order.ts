/*
 * The plan of a large floor, item by item; orders proposed for 12 lines with 500 runs in all within 3 s, and how near eight runs
 * come to the best of all orders.
 * Usage: npm run bench:order
 */
import { seededRandom } from '../core/random.ts';
import { compileFloor } from '../core/schedule/compiledFloor.ts';
import type { Line, PlanPrinter, PlanRun } from '../core/schedule/plan.ts';
import { planCompiled, planFloor } from '../core/schedule/planFloor.ts';
import { plannedWork } from '../core/schedule/planInput.ts';
import { costOf, proposeOrder } from '../core/schedule/proposeOrder.ts';
import { onRack, plannedPrinter, sourceWith } from '../core/testing/plannedPrinter.ts';
import { Attendance } from '../core/schedule/shopHours.ts';

const HOUR = 3_600_000;
const MIN = 60_000;
const RATE = 3000;
const days = Array.from({ length: 46 }, (_, day) => ({ fromMs: day * 24 * HOUR, toMs: (day * 24 + 10.5) * HOUR }));
const people = new Attendance(days);
const rack = ['a', 'b', 'c', 'd', 'e'].flatMap((stockId) =>
  Array.from({ length: 12 }, (_, i) => onRack(`spool-${stockId}-${String(i)}`, stockId, 1e6)),
);

function printer(id: string): PlanPrinter {
  return plannedPrinter(id, {
    sources: [sourceWith({ spoolId: `in ${id}`, leftMm: 1e6 })],
    inkLeftMl: { cyan: 1e6, magenta: 1e6, yellow: 1e6, black: 1e6 },
  });
}

function lineOf(count: number, random: () => number): PlanRun[] {
  const pick = (from: string): string => from[Math.floor(random() * from.length)] ?? 'a';
  return Array.from({ length: count }, (_, i) =>
    plannedWork({
      id: `run-${String(i)}`,
      estimateMs: (4 + random() * 70) * MIN,
      stockId: pick('abcde'),
      modeId: pick('mn'),
      needMm: 1000,
      outMm: 1000,
      inkMl: { cyan: 1, magenta: 1, yellow: 1, black: 1 },
      byHand: random() < 0.1,
      unattended: true,
      dues:
        random() < 0.8
          ? [{ dueMs: Math.floor(random() * count * 0.9) * HOUR, latePerHMinor: 300 + Math.floor(random() * 3000) }]
          : [],
    }),
  );
}

function floorOf(lines: readonly (readonly PlanRun[])[]) {
  return {
    printers: lines.map((runs, i) => ({ printer: printer(`p${String(i)}`), runs })),
    rack,
    attendance: people,
    nowMs: 0,
  };
}

/** The median of a few goes (ms). */
function timed(of: () => unknown): number {
  const took = Array.from({ length: 9 }, () => {
    const start = performance.now();
    of();
    return performance.now() - start;
  }).sort((a, b) => a - b);
  return took[4] ?? 0;
}

{
  const random = seededRandom(5);
  const floor = floorOf(Array.from({ length: 12 }, () => lineOf(500, random)));
  const compiled = compileFloor(floor);
  let items = 0;
  for (const { events } of planFloor(floor).lines.values()) items += events.length;
  const [whole, again] = [timed(() => planFloor(floor)), timed(() => planCompiled(compiled))];
  process.stdout.write(
    `12 printers × 500 runs, ${String(items)} items: ${whole.toFixed(0)} ms with compiling, ${again.toFixed(0)} ms without: ${((again / items) * 1000).toFixed(1)} µs an item\n`,
  );
}

const random = seededRandom(3);
const lines = Array.from({ length: 12 }, (_, i) => lineOf(i < 8 ? 42 : 41, random));
const all = lines.reduce((sum, line) => sum + line.length, 0);
const start = performance.now();
const floor = floorOf(lines);
const answers = lines.map((_, i) => {
  const end = start + (2500 * (i + 1)) / lines.length;
  const question = { floor, printerId: `p${String(i)}`, ratePerHourMinor: RATE };
  return proposeOrder(question, seededRandom(1), 1e6, () => performance.now() > end);
});
const took = performance.now() - start;
const sum = (of: (answer: (typeof answers)[number]) => number): number =>
  answers.reduce((total, each) => total + of(each), 0);
process.stdout.write(`${String(all)} runs on ${String(lines.length)} printers: ${(took / 1000).toFixed(2)} s\n`);
process.stdout.write(
  `change-overs ${sum((each) => each.today.changeOverMin).toFixed(0)} → ${sum((each) => each.proposed.changeOverMin).toFixed(0)} min, lateness ${(sum((each) => each.today.lateMinor) / 100).toFixed(0)} → ${(sum((each) => each.proposed.lateMinor) / 100).toFixed(0)}, all in all ${(sum((each) => each.proposed.totalMinor) / sum((each) => each.today.totalMinor)).toFixed(3)} of today's; worse in ${String(answers.filter((each) => each.proposed.totalMinor > each.today.totalMinor + 1e-9).length)} of ${String(lines.length)}\n`,
);

function best(runs: readonly PlanRun[]): number {
  let least = Infinity;
  const order: PlanRun[] = [];
  const left = new Set(runs);
  const deepen = (): void => {
    if (left.size === 0) {
      const line = planFloor(floorOf([order])).lines.get('p0') as Line;
      least = Math.min(least, costOf(line, RATE, 0).totalMinor);
      return;
    }
    for (const run of [...left]) {
      left.delete(run);
      order.push(run);
      deepen();
      order.pop();
      left.add(run);
    }
  };
  deepen();
  return least;
}

const CASES = 20;
const ratios = Array.from({ length: CASES }, (_, i) => {
  const runs = lineOf(8, seededRandom(100 + i));
  const question = { floor: floorOf([runs]), printerId: 'p0', ratePerHourMinor: RATE };
  const answer = proposeOrder(question, seededRandom(1), 3000);
  return answer.proposed.totalMinor / best(runs);
}).sort((a, b) => a - b);
process.stdout.write(
  `${String(CASES)} cases of 8 runs against all 40,320 orders: median ${(ratios[CASES / 2] ?? 0).toFixed(4)}, worst ${(ratios.at(-1) ?? 0).toFixed(4)}\n`,
);
