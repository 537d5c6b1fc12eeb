import { type NightShop, type ShopRun, nightPlan } from '../testing/nightShop.ts';
import type { LearnedRate } from './learnedRate.ts';
import type { ClogChance, NightChance } from './nightChance.ts';
import { type Nights, joinNights, oddsOf, simulateNights } from './nights.ts';

const NIGHTS = 2000;
const KNOWN: LearnedRate = { kind: 'known', rate: 0.02 };

const run = (id: string, startH: number, hours: number, metres = 0): ShopRun => ({
  id,
  startH,
  hours,
  metres,
  stockId: 'mesh',
});
const RUNS = [run('one', 0, 2), run('two', 2, 3), run('three', 5, 4)];

interface Asked extends Partial<NightShop>, Partial<NightChance> {}

function nights(asked: Asked, count: number, seed: number, rate: LearnedRate = KNOWN): Nights {
  const { hours = 14, printers = [{ id: 'heron', runs: RUNS }], attended = [], ...chance } = asked;
  const plan = nightPlan({ hours, printers, attended }, { faults: { heron: rate }, ...chance });
  return simulateNights(plan, { from: 0, count, seed });
}

/** Within four standard errors of what is right. */
function expectChance(nights: Uint8Array | undefined, right: number): void {
  const { chance } = oddsOf(nights ?? new Uint8Array(NIGHTS));
  expect(Math.abs(chance - right)).toBeLessThan(4 * Math.sqrt((right * (1 - right)) / NIGHTS));
}

describe('simulated nights', () => {
  test('three runs with nobody there come out as the closed form says', () => {
    const { succeeded, plan } = nights({}, NIGHTS, 5);
    [0.960789, 0.904837, 0.83527].forEach((right, i) => {
      expectChance(succeeded[i], right);
    });
    expectChance(plan, 0.83527);
  });

  test('a flaw of the media spoils its run and no other', () => {
    const runs = RUNS.map((each) => (each.id === 'two' ? { ...each, metres: 20 } : each));
    const flaws = { mesh: { kind: 'known', rate: 0.001 } } as const;
    const flawed = nights({ printers: [{ id: 'heron', runs }], flaws }, NIGHTS, 5);
    [0.960789, 0.88692, 0.83527].forEach((right, i) => {
      expectChance(flawed.succeeded[i], right);
    });
    expectChance(flawed.plan, 0.818731);
    // The luck of the others is what it was without it.
    const plain = nights({}, NIGHTS, 5);
    expect(flawed.succeeded[2]).toEqual(plain.succeeded[2]);
  });

  test('where the rate is not known, runs of one printer hang together: single odds can’t be multiplied', () => {
    const { succeeded } = nights({}, NIGHTS, 7, { kind: 'gamma', a: 2, b: 100 });
    [0.961169, 0.907029, 0.84168].forEach((right, i) => {
      expectChance(succeeded[i], right);
    });
  });

  test('what a night brings is the seed’s: the same one the same, another one another, and nothing before it is touched by what comes behind', () => {
    const a = nights({}, 500, 3);
    expect(nights({}, 500, 3)).toEqual(a);
    expect(nights({}, 500, 4)).not.toEqual(a);
    const longer = { printers: [{ id: 'heron', runs: [...RUNS, run('four', 9, 2)] }] };
    expect(nights(longer, 500, 3).succeeded.slice(0, 3)).toEqual(a.succeeded);
  });

  test('with somebody there a fault costs its repair; with nobody there it costs the night', () => {
    const often: LearnedRate = { kind: 'known', rate: 0.2 };
    const alone = oddsOf(nights({}, NIGHTS, 9, often).plan).chance;
    const staffed = oddsOf(nights({ attended: [[0, 14]] }, NIGHTS, 9, often).plan).chance;
    // Nine hours of printing in fourteen: a repair takes a third of an hour.
    expect(alone).toBeLessThan(0.25);
    expect(staffed).toBeGreaterThan(0.9);
    // Somebody who comes too late is nobody.
    const late = oddsOf(nights({ attended: [[13.9, 14]] }, NIGHTS, 9, often).plan).chance;
    expect(late).toBe(alone);
  });

  test('slow printers miss the end of the period: by their mean, and by how little is known of it', () => {
    const slow = (mean: number, deviation: number) =>
      oddsOf(nights({ hours: 9.5, time: { heron: { mean, deviation } } }, NIGHTS, 2, { kind: 'known', rate: 0 }).plan)
        .chance;
    expect([slow(0, 0), slow(0.1, 0)]).toEqual([1, 0]);
    expect(slow(0, 0.1)).toBeGreaterThan(0.5);
    expect(slow(0, 0.1)).toBeLessThan(1);
  });

  test('a run keeps its luck with the media when it moves to another printer', () => {
    const flaws = { mesh: { kind: 'known', rate: 0.01 } } as const;
    const [one = run('one', 0, 2)] = RUNS;
    const on = (id: string) =>
      nights({ flaws, faults: {}, printers: [{ id, runs: [{ ...one, metres: 40 }] }] }, 800, 1);
    const [here, there] = [on('heron'), on('magpie')];
    expect(there.succeeded).toEqual(here.succeeded);
    expect(oddsOf(here.plan).chance).toBeLessThan(0.8);
  });

  test('nights that are simulated in parts are the same nights', () => {
    const plan = nightPlan(
      { hours: 14, printers: [{ id: 'heron', runs: RUNS }], attended: [] },
      { faults: { heron: KNOWN } },
    );
    const part = (from: number, count: number) => simulateNights(plan, { from, count, seed: 3 });
    expect(joinNights([part(0, 120), part(120, 180)])).toEqual(part(0, 300));
    expect(() => joinNights([])).toThrow(RangeError);
  });

  test('a channel that has stood too long clogs, and spoils every run that fires it until it is cleaned', () => {
    const inky = (limitH: number, rate = 0.05) => {
      const plan = nightPlan({ hours: 14, printers: [{ id: 'heron', runs: RUNS }], attended: [] }, {});
      const clog: ClogChance = {
        theta: { kind: 'known', rate },
        ...{ limitMs: limitH * 3_600_000, doseMl: 1, exercisedMs: -100 * 3_600_000 },
        heads: { head: 'carriage', heads: 1, nozzles: 768, nozzlesPerInch: 360, bars: 1 },
        faults: { missing: [], weak: [], crooked: [] },
        asks: {
          m: { dpiX: 720, dpiY: 720, passes: 6, classShare: 0.5, channelShare: 0.95, mostColumns: 2, mostShare: 0.01 },
        },
      };
      const printers = plan.floor.printers.map(({ printer, runs }) => ({
        printer,
        runs: runs.map((each) => (each.id === 'one' ? each : { ...each, inkMl: { white: 2 } })),
      }));
      const clogs = { heron: { white: clog } };
      return simulateNights(
        { ...plan, floor: { ...plan.floor, printers }, chance: { ...plan.chance, clogs } },
        { from: 0, count: 400, seed: 1 },
      ).succeeded.map((each) => oddsOf(each).chance);
    };
    // Idle for 102 h of 300: nothing clogs. Of 60: what is clogged in one run is clogged in the next as well.
    expect(inky(300)).toEqual([1, 1, 1]);
    const [one, two, three] = inky(60);
    expect(one).toBe(1);
    // About 22 of 768 clog; two of one class of ten are too many.
    expect(two).toBeGreaterThan(0.3);
    expect(two).toBeLessThan(0.8);
    expect(three).toBe(two);
    // Every tenth nozzle and more: the channel itself is too thin.
    expect(inky(60, 0.3)).toEqual([1, 0, 0]);
  });
});
