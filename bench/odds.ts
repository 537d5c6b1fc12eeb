/*
 * How honest the odds of a night are. Made-up shops with hidden truths, drawn from wider laws than what is thought beforehand: the
 * odds are worked out from what each shop's log would say, then one night is run with the truth. Faults, flaws of the media, times and
 * repairs; no clogs. Usage: npm run bench:odds [-- --shops 600 --nights 20 --draws 2000]
 */
import { parseArgs } from 'node:util';
import { calibrationOf, type Said } from '../core/away/calibration.ts';
import { type LearnedRate, faultRate, mediaRate } from '../core/away/learnedRate.ts';
import { learnedRatio } from '../core/estimate/learnedRatio.ts';
import type { NightChance } from '../core/away/nightChance.ts';
import { oddsOf, simulateNights } from '../core/away/nights.ts';
import { type NightShop, nightPlan } from '../core/testing/nightShop.ts';
import { type Random, seededRandom } from '../core/random.ts';

const { values } = parseArgs({
  options: {
    shops: { type: 'string', default: '600' },
    nights: { type: 'string', default: '20' },
    draws: { type: 'string', default: '2000' },
  },
});
const PRINTERS = 6;
const STOCKS = ['mesh', 'banner', 'film'];
const MOST_RUNS = 40;

function normal(random: Random): number {
  return Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
}

function logUniform(random: Random, from: number, to: number): number {
  return Math.exp(Math.log(from) + random() * Math.log(to / from));
}

function poisson(random: Random, mean: number): number {
  // Arrivals of a process: exact for any mean that is met here.
  let n = 0;
  for (let t = -Math.log(1 - random()); t < mean; t -= Math.log(1 - random())) n += 1;
  return n;
}

interface Truth {
  readonly faults: Readonly<Record<string, number>>;
  readonly flaws: Readonly<Record<string, number>>;
  readonly time: Readonly<Record<string, { readonly mean: number; readonly deviation: number }>>;
  readonly repair: { readonly mean: number; readonly deviation: number };
}

/** What a shop is really like, and what its log says of it. */
function shopOf(random: Random): {
  readonly truth: Truth;
  readonly learned: Partial<NightChance>;
} {
  const ids = Array.from({ length: PRINTERS }, (_, i) => `printer-${String(i)}`);
  const shopRate = logUniform(random, 0.003, 0.03);
  const byId = <T>(names: readonly string[], of: (id: string) => T): Record<string, T> =>
    Object.fromEntries(names.map((id) => [id, of(id)]));
  const faults = byId(ids, () => shopRate * Math.exp(0.6 * normal(random)));
  const hours = byId(ids, () => logUniform(random, 20, 1500));
  const seen = byId(ids, (id) => ({
    events: poisson(random, (faults[id] ?? 0) * (hours[id] ?? 0)),
    over: hours[id] ?? 0,
  }));
  const time = byId(ids, () => ({
    mean: (random() < 0.5 ? -1 : 1) * (0.05 + 0.15 * random()),
    deviation: 0.03 + 0.12 * random(),
  }));
  const flaws = byId(STOCKS, () => logUniform(random, 1e-4, 5e-3));
  const repair = { mean: Math.log(logUniform(random, 10, 40)), deviation: 0.6 };
  const ratios = (n: number, { mean, deviation }: Truth['repair']): number[] =>
    Array.from({ length: n }, () => Math.exp(mean + deviation * normal(random)));
  const allFaults = Object.values(seen).reduce((sum, { events }) => sum + events, 0);
  const allHours = Object.values(seen).reduce((sum, { over }) => sum + over, 0);
  return {
    truth: { faults, flaws, time, repair },
    learned: {
      faults: byId(ids, (id) => {
        const own = seen[id] ?? { events: 0, over: 0 };
        return faultRate(own, { events: allFaults - own.events, over: allHours - own.over });
      }),
      flaws: byId(STOCKS, (id) => {
        const metres = logUniform(random, 100, 10_000);
        return mediaRate({ events: poisson(random, (flaws[id] ?? 0) * metres), over: metres });
      }),
      // A run takes a good hour.
      time: byId(ids, (id) => learnedRatio(ratios(Math.min(60, Math.round(hours[id] ?? 0)), time[id] ?? repair))),
      repair: learnedRatio(ratios(Math.min(60, allFaults), repair), Math.log(20)),
    },
  };
}

function planOf(random: Random): NightShop {
  const runs = 2 + Math.floor(random() * (MOST_RUNS - 1));
  const printers = Array.from({ length: PRINTERS }, (_, p) => {
    const own = Math.floor(runs / PRINTERS) + (p < runs % PRINTERS ? 1 : 0);
    let startH = 0;
    return {
      id: `printer-${String(p)}`,
      runs: Array.from({ length: own }, (_run, i) => {
        const hours = 0.2 + 1.3 * random();
        const run = {
          id: `run-${String(p)}-${String(i)}`,
          startH,
          hours,
          metres: hours * 8,
          stockId: STOCKS[Math.floor(random() * STOCKS.length)] ?? 'mesh',
        };
        startH += hours + 0.1;
        return run;
      }),
    };
  });
  const end = Math.max(...printers.flatMap(({ runs: own }) => own.map(({ startH, hours }) => startH + hours)));
  // Somebody is there for the first two hours, some nights; the period is as long as the plan and a fifth.
  return { printers, hours: end * 1.2, attended: random() < 0.5 ? [[0, 2]] : [] };
}

const draws = Number(values.draws);
const random = seededRandom(20_261_201);
const said: Said[] = [];
const began = performance.now();
for (let shop = 0; shop < Number(values.shops); shop += 1) {
  const { truth, learned } = shopOf(random);
  const known = (rates: Readonly<Record<string, number>>): Record<string, LearnedRate> =>
    Object.fromEntries(Object.entries(rates).map(([id, rate]) => [id, { kind: 'known', rate }]));
  const real = { ...truth, faults: known(truth.faults), flaws: known(truth.flaws) };
  for (let n = 0; n < Number(values.nights); n += 1) {
    const plan = planOf(random);
    const seed = Math.floor(random() * 2 ** 31);
    const night = { from: 0, count: draws, seed };
    const { chance: p } = oddsOf(simulateNights(nightPlan(plan, learned), night).plan);
    const one = { from: 0, count: 1, seed: Math.floor(random() * 2 ** 31) };
    const came = simulateNights(nightPlan(plan, real), one).plan[0] === 1;
    said.push({ p, came });
  }
}
const { bins, brier, reliability, resolution, skill } = calibrationOf(said);
for (const { fromP, toP, n, meanP, share, holds } of bins) {
  const percent = (value: number | null): string =>
    (value === null ? '–' : `${(value * 100).toFixed(1)} %`).padStart(7);
  process.stdout.write(
    `${(fromP * 100).toFixed(0).padStart(3)} to ${(toP * 100).toFixed(0).padStart(3)} %: ${String(n).padStart(5)} nights, said ${percent(meanP)}, came ${percent(share)}${holds === null ? '' : holds ? ', holds' : ', DOES NOT HOLD'}\n`,
  );
}
process.stdout.write(
  `Brier ${brier.toFixed(4)}, reliability ${reliability.toFixed(5)}, resolution ${resolution.toFixed(4)}, skill ${skill.toFixed(3)}\n` +
    `${String(said.length)} nights of ${String(draws)} draws in ${((performance.now() - began) / 1000).toFixed(0)} s\n`,
);
