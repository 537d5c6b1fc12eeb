/*
 * Which spool each run takes, on cases whose optimum is known: rolls cut in runs without a rest, with and without one new roll
 * for what does not fit. Prints the stubs of the search beside plain best-fit, and how long each takes.
 * Usage: npm run bench:spools
 */
import { performance } from 'node:perf_hooks';
import { type Random, seededRandom } from '../core/random.ts';
import { chooseSpools } from '../core/spools/chooseSpools.ts';
import { bestFit } from '../core/spools/firstAssignments.ts';
import type { ChoosableSpool, SpoolAssignment, SpoolProblem, SpoolRun } from '../core/spools/spoolProblem.ts';

const USABLE_MM = 3000;
const RUNS = 300;
const CASES = 5;

const spoolOf = (id: string, leftMm: number, isUnopened: boolean): ChoosableSpool => ({
  ...{ id, stockId: 'a', lot: '', widthMm: 1372, leftMm, isUnopened, printerId: null, minorPerMm: 1 },
});

/** Rolls that their runs use up to the last mm: the optimum is no stub at all, and no run without a roll. */
function planted(random: Random, perSpool: number, withNew: boolean): SpoolProblem {
  const spools: ChoosableSpool[] = [];
  const runs: SpoolRun[] = [];
  while (runs.length < RUNS) {
    let sum = 0;
    for (let k = 0; k < perSpool && runs.length < RUNS; k += 1) {
      const needMm = 800 + Math.floor(random() * 9000);
      sum += needMm;
      runs.push({
        ...{
          id: `R${String(runs.length)}`,
          printerId: 'heron',
          stockId: 'a',
          leastWidthMm: 1372,
          needMm,
          oneLotFor: null,
        },
      });
    }
    spools.push(spoolOf(`S${String(spools.length)}`, sum, false));
  }
  runs.sort((a, b) => (a.id < b.id ? -1 : 1));
  if (withNew) spools.push(spoolOf('new', 100_000, true));
  return { runs, spools, terms: { usableMm: USABLE_MM, partDiscount: 0, leaderMm: 0, loadMinor: () => 0 } };
}

function figures(
  { runs, spools }: SpoolProblem,
  chosen: SpoolAssignment,
): { stubMm: number; usedMm: number; without: number } {
  let stubMm = 0;
  let usedMm = 0;
  for (const [at, spool] of spools.entries()) {
    const needMm = runs.reduce((sum, run, i) => (chosen[i] === at ? sum + run.needMm : sum), 0);
    if (needMm === 0) continue;
    usedMm += needMm;
    const left = spool.leftMm - needMm;
    if (left < USABLE_MM) stubMm += left;
  }
  return { stubMm, usedMm, without: chosen.filter((at) => at < 0).length };
}

console.log(
  'runs a roll | best-fit: stubs, share of the media, without, ms | search: stubs, share, without, ms, steps',
);
for (const { perSpool, withNew } of [3, 5, 8].flatMap((n) => [
  { perSpool: n, withNew: true },
  { perSpool: n, withNew: false },
])) {
  for (let i = 0; i < CASES; i += 1) {
    const random = seededRandom(perSpool * 100 + i);
    const problem = planted(random, perSpool, withNew);
    const start = performance.now();
    const plain = figures(problem, bestFit(problem));
    const between = performance.now();
    const found = chooseSpools(problem, [], {
      random,
      maxSteps: 20_000,
      shouldStop: () => performance.now() - between > 2500,
    });
    const end = performance.now();
    const own = figures(problem, found.assignment);
    const share = (f: { stubMm: number; usedMm: number }): string => `${((f.stubMm / f.usedMm) * 100).toFixed(3)} %`;
    console.log(
      [
        `${String(perSpool)} (${String(problem.spools.length)} spools${withNew ? ', one new' : ''})`,
        `${(plain.stubMm / 1000).toFixed(1)} m, ${share(plain)}, ${String(plain.without)}, ${(between - start).toFixed(0)}`,
        `${(own.stubMm / 1000).toFixed(2)} m, ${share(own)}, ${String(own.without)}, ${(end - between).toFixed(0)}, ${String(found.steps)}`,
      ].join(' | '),
    );
  }
}
