import fc from 'fast-check';
import { seededRandom } from '../random.ts';
import { chooseSpools } from './chooseSpools.ts';
import { everyAssignment } from './everyAssignment.ts';
import { bestFit, fillBest, fullestFill, shortestThatFits } from './firstAssignments.ts';
import { improveAssignment } from './improveAssignment.ts';
import {
  type ChoosableSpool,
  type SpoolProblem,
  type SpoolRun,
  type SpoolTerms,
  compareScores,
  scoreOf,
} from './spoolProblem.ts';

const MINOR_PER_MM = (1.372 * 980) / 1000;

const spool = (id: string, leftMm: number, more: Partial<ChoosableSpool> = {}): ChoosableSpool => ({
  ...{ id, stockId: 'banner', lot: 'L1', widthMm: 1372, leftMm, isUnopened: false, printerId: null },
  ...{ minorPerMm: MINOR_PER_MM },
  ...more,
});
const run = (id: string, needMm: number, more: Partial<SpoolRun> = {}): SpoolRun => ({
  ...{ id, printerId: 'heron', stockId: 'banner', leastWidthMm: 1372, needMm, oneLotFor: null },
  ...more,
});
const terms: SpoolTerms = {
  usableMm: 3000,
  partDiscount: 0.15,
  leaderMm: 300,
  loadMinor: () => (8 / 60) * 3200,
};

/** Worked by hand: three part rolls and an unopened one, six runs of one printer. */
const worked: SpoolProblem = {
  spools: [
    spool('S1', 14_300, { printerId: 'heron' }),
    spool('S2', 16_900),
    spool('S3', 11_800),
    spool('S4', 50_000, { isUnopened: true }),
  ],
  runs: [9100, 8300, 7400, 6200, 5900, 5100].map((mm, i) => run(`R${String(i + 1)}`, mm)),
  terms,
};

test('the worked case: of 938 assignments that fit, the one that uses three part rolls up', () => {
  let full = 0;
  const each = (i: number, chosen: number[]): void => {
    if (i === worked.runs.length) {
      if (scoreOf(worked, chosen)) full += 1;
      return;
    }
    for (const at of worked.spools.keys()) each(i + 1, [...chosen, at]);
  };
  each(0, []);
  expect(full).toBe(938);
  const { best } = everyAssignment(worked);
  expect(best.assignment).toEqual([1, 0, 1, 2, 0, 2]);
  expect(best.score.lossMinor / 100).toBeCloseTo(-64.7452, 4);
  expect(best.score).toMatchObject({ without: 0, spools: 3, longestLeftMm: 200 });
  const chosen = chooseSpools(worked, [], { random: seededRandom(1), maxSteps: 1000, shouldStop: () => false });
  expect(chosen.isExact).toBe(true);
  expect(chosen.assignment).toEqual(best.assignment);
});

test('the worked case by best-fit: stubs of 2.5 m, an offcut, and a roll that is opened', () => {
  const assignment = bestFit(worked);
  expect((scoreOf(worked, assignment)?.lossMinor ?? 0) / 100).toBeCloseTo(67.7925, 4);
  const taken = worked.spools.map((_, at) =>
    worked.runs.reduce((sum, { needMm }, i) => (assignment[i] === at ? sum + needMm : sum), 0),
  );
  // S1 0.1 m, S2 3.0 m with its leader, S3 2.4 m, S4 opened.
  expect(taken).toEqual([14_200, 13_600, 9_100, 5_100]);
});

const limits = { random: seededRandom(3), maxSteps: 5000, shouldStop: () => false };

const anyProblem = fc
  .record({
    lengths: fc.array(fc.integer({ min: 2000, max: 30_000 }), { minLength: 1, maxLength: 4 }),
    needs: fc.array(fc.integer({ min: 500, max: 9000 }), { minLength: 1, maxLength: 6 }),
    bits: fc.array(fc.nat(255), { minLength: 12, maxLength: 12 }),
    usableMm: fc.constantFrom(0, 1500, 3000),
    partDiscount: fc.constantFrom(0, 0.15, 0.5),
    leaderMm: fc.constantFrom(0, 300),
  })
  .map(({ lengths, needs, bits, ...own }): SpoolProblem => ({
    spools: lengths.map((mm, i) =>
      spool(`S${String(i)}`, mm, {
        isUnopened: (bits[i] ?? 0) % 3 === 0,
        printerId: [null, null, 'heron', 'wren'][(bits[i] ?? 0) >> 6] ?? null,
        widthMm: (bits[i] ?? 0) % 5 === 0 ? 1000 : 1372,
        lot: (bits[i] ?? 0) % 2 === 0 ? 'L1' : 'L2',
      }),
    ),
    runs: needs.map((mm, i) =>
      run(`R${String(i)}`, mm, {
        printerId: (bits[i + 6] ?? 0) % 2 === 0 ? 'heron' : 'wren',
        leastWidthMm: (bits[i + 6] ?? 0) % 3 === 0 ? 900 : 1372,
        oneLotFor: (bits[i + 6] ?? 0) % 4 === 0 ? 'order' : null,
      }),
    ),
    terms: { ...terms, ...own },
  }));

test('whatever stands on the rack: each start fits, and searching makes none worse', () => {
  fc.assert(
    fc.property(anyProblem, (problem) => {
      const all = everyAssignment(problem).best;
      for (const start of [
        bestFit(problem),
        fullestFill(problem),
        shortestThatFits(problem, [...problem.runs.keys()]),
      ]) {
        const before = scoreOf(problem, start);
        const after = improveAssignment(problem, start, limits);
        if (!before) throw new Error('a start does not fit');
        expect(compareScores(after.score, before)).toBeLessThanOrEqual(0);
        expect(scoreOf(problem, after.assignment)).toEqual(after.score);
        expect(compareScores(all.score, after.score)).toBeLessThanOrEqual(0);
      }
    }),
    { numRuns: 150 },
  );
});

test('searching alone comes to the best of all in most small cases', () => {
  let same = 0;
  const cases = fc.sample(anyProblem, { numRuns: 100, seed: 11 });
  for (const problem of cases) {
    const all = everyAssignment(problem).best.score;
    const starts = [bestFit(problem), fullestFill(problem)].map(
      (start) => improveAssignment(problem, start, limits).score,
    );
    if (starts.some((score) => score.without === all.without && score.lossMinor - all.lossMinor < 1e-6)) same += 1;
  }
  expect(same).toBeGreaterThanOrEqual(90);
});

test('rolls that can be used up to the last mm are, and what need not be opened stays closed', () => {
  const random = seededRandom(5);
  const runs: SpoolRun[] = [];
  const spools: ChoosableSpool[] = [];
  for (let s = 0; s < 12; s += 1) {
    const needs = Array.from({ length: 3 + Math.floor(random() * 4) }, () => 1500 + Math.floor(random() * 8000));
    spools.push(
      spool(
        `S${String(s)}`,
        needs.reduce((sum, mm) => sum + mm, 0),
      ),
    );
    for (const mm of needs) runs.push(run(`R${String(runs.length)}`, mm));
  }
  spools.push(spool('new', 50_000, { isUnopened: true }));
  const problem = { runs, spools, terms: { ...terms, partDiscount: 0, leaderMm: 0, loadMinor: () => 0 } };
  const plain = scoreOf(problem, bestFit(problem));
  const { score, isExact } = chooseSpools(problem, [], { random, maxSteps: 20_000, shouldStop: () => false });
  expect(isExact).toBe(false);
  expect(score.without).toBe(0);
  const usedMm = runs.reduce((sum, { needMm }) => sum + needMm, 0);
  expect(score.lossMinor).toBeLessThan(0.005 * usedMm * MINOR_PER_MM);
  expect(score.lossMinor).toBeLessThan(plain?.lossMinor ?? 0);
});

test('runs of one order come from one lot, and an order goes to another lot as a whole', () => {
  const problem: SpoolProblem = {
    spools: [spool('A', 4000, { lot: 'L1' }), spool('B', 9000, { lot: 'L2' }), spool('C', 3500, { lot: 'L1' })],
    runs: [run('R1', 3900, { oneLotFor: 'o' }), run('R2', 3100, { oneLotFor: 'o' })],
    terms: { ...terms, leaderMm: 0 },
  };
  expect(scoreOf(problem, [0, 1])).toBeUndefined();
  expect(everyAssignment(problem).best.assignment).toEqual([0, 2]);
  expect(improveAssignment(problem, [1, 1], limits).assignment).toEqual([0, 2]);
});

test('a run with no spool long enough is left out, never another one with it', () => {
  const problem: SpoolProblem = { spools: [spool('A', 5000)], runs: [run('R1', 9000), run('R2', 4000)], terms };
  expect(everyAssignment(problem).best.assignment).toEqual([-1, 0]);
});

test('lengths that come closest to a capacity', () => {
  expect(fillBest([9100, 8300, 7400, 6200, 5900, 5100], 14_300)).toEqual([1, 4]);
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 1, max: 60 }), { maxLength: 9 }),
      fc.integer({ min: 0, max: 150 }),
      (mm, cap) => {
        const chosen = fillBest(mm, cap);
        expect(new Set(chosen).size).toBe(chosen.length);
        const sum = chosen.reduce((all, k) => all + (mm[k] ?? 0), 0);
        let best = 0;
        for (let bits = 0; bits < 1 << mm.length; bits += 1) {
          const own = mm.reduce((all, each, k) => ((bits >> k) & 1 ? all + each : all), 0);
          if (own <= cap) best = Math.max(best, own);
        }
        expect(sum).toBe(best);
      },
    ),
  );
});
