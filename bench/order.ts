/*
 * Orders proposed for 12 lines with 500 runs in all within 3 s, and how near eight runs come to the best of all orders.
 * Usage: npm run bench:order
 */
import { seededRandom } from '../core/random.ts';
import { type PlanPrinter, type PlanRun, planLine } from '../core/schedule/planLine.ts';
import { costOf, proposeOrder } from '../core/schedule/proposeOrder.ts';
import { Attendance } from '../core/schedule/shopHours.ts';

const HOUR = 3_600_000;
const MIN = 60_000;
const RATE = 3000;
const days = Array.from({ length: 40 }, (_, day) => ({ fromMs: day * 24 * HOUR, toMs: (day * 24 + 10.5) * HOUR }));
const people = new Attendance(days);
const rack = ['a', 'b', 'c', 'd', 'e'].map((stockId) => ({ id: `spool-${stockId}`, stockId, leftMm: 1e6 }));
const printer: PlanPrinter = {
  unattended: true,
  changeOver: { stockMin: 10, modeMin: 2 },
  sources: [{ id: 'roll', stockId: 'a', spoolId: 'in', leftMm: 1e6 }],
  inkLeftMl: {},
  lastModeId: 'm',
};

function lineOf(count: number, random: () => number): PlanRun[] {
  const pick = (from: string): string => from[Math.floor(random() * from.length)] ?? 'a';
  return Array.from({ length: count }, (_, i) => ({
    id: `run-${String(i)}`,
    state: 'queued',
    estimateMs: (4 + random() * 70) * MIN,
    startedMs: null,
    endedMs: null,
    msLeft: null,
    saidAtMs: null,
    stockId: pick('abcde'),
    modeId: pick('mn'),
    needMm: 1000,
    spoolId: null,
    fedMm: 0,
    inkMl: {},
    byHand: random() < 0.1,
    unattended: true,
    fixedStartMs: null,
    dueMs: random() < 0.8 ? Math.floor(random() * count * 0.9) * HOUR : null,
    latePerHMinor: 300 + Math.floor(random() * 3000),
  }));
}

const random = seededRandom(3);
const lines = Array.from({ length: 12 }, (_, i) => lineOf(i < 8 ? 42 : 41, random));
const all = lines.reduce((sum, line) => sum + line.length, 0);
const start = performance.now();
const answers = lines.map((runs, i) => {
  const end = start + (2500 * (i + 1)) / lines.length;
  const question = { runs, printer, ratePerHourMinor: RATE, rack };
  return proposeOrder(question, people, 0, seededRandom(1), 1e6, () => performance.now() > end);
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
      least = Math.min(least, costOf(planLine(order, printer, rack, people, 0), RATE, 0).totalMinor);
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
  const answer = proposeOrder({ runs, printer, ratePerHourMinor: RATE, rack }, people, 0, seededRandom(1), 3000);
  return answer.proposed.totalMinor / best(runs);
}).sort((a, b) => a - b);
process.stdout.write(
  `${String(CASES)} cases of 8 runs against all 40,320 orders: median ${(ratios[CASES / 2] ?? 0).toFixed(4)}, worst ${(ratios.at(-1) ?? 0).toFixed(4)}\n`,
);
