import fc from 'fast-check';
import { type AttemptPiece, type AttemptRecord, attemptFacts, mediaParts } from './attemptFacts.ts';
import { MEASURES, type PaceSums, measured, noPaceSums, quantitiesOf } from './measures.ts';
import { type Fact, QUANTITIES, QUANTITY_NAMES, type Quantity, partsOf } from './quantities.ts';

const MIN = 60_000;
const HOUR = 60 * MIN;
const DAY = 24 * HOUR;
/** Half past seven. */
const at = (h: number, min = 0): number => h * HOUR + min * MIN;

const keys = { printerId: 'heron', stockId: 'banner', queueId: 'q', modeId: 'production', customer: '' };
const spell = (id: string, amounts: Fact['amounts'], fromMs: number, toMs: number): Fact => ({
  ...{ ...keys, id, kind: 'spell', fromMs, toMs, runId: '', jobId: '' },
  amounts,
});

function pieces(jobs: readonly string[], areaMm2: number, lengthMm: number, spoiled = 0): AttemptPiece[] {
  return jobs.map((jobId, i) => ({
    jobId,
    areaMm2,
    endMm: ((i + 1) / jobs.length) * lengthMm,
    outcome: i < spoiled ? 'spoiled' : 'good',
  }));
}

const record = (runId: string, more: Partial<AttemptRecord>): AttemptRecord => ({
  ...{ runId, attempt: 1, coat: 1, printerId: 'heron', stockId: 'banner', queueId: 'q', modeId: 'production' },
  ...{ outcome: 'printed', startedMs: 0, endedMs: 0, pausedMs: 0, aloneMs: 0, estimateMs: 0, mediaWidthMm: 1600 },
  ...{ leadMm: 20, trailMm: 20, lengthMm: 0, fedMm: 0, inkMl: 0, plannedInkMl: 0, inkMicro: 0 },
  // 4.20 for each m², 38 for each hour.
  ...{ mediaMicroPerMm2: (420 * 10_000) / 1e6, microPerMs: (3800 * 10_000) / HOUR, isChangeOver: false },
  ...{ pieces: [], jobs: [] },
  ...more,
});

const job = (id: string, count: number, areaMm2: number, inkWeight: number) => ({
  ...{ id, customer: id, areaMm2: count * areaMm2, inkWeight, pieceMicro: null },
});

/** The worked day of Heron: half past seven to six, one person. */
const RUN_A = record('A', {
  ...{ startedMs: at(8), endedMs: at(10), estimateMs: 110 * MIN, lengthMm: 8000, fedMm: 8060, inkMl: 96 },
  inkMicro: 96 * 11 * 10_000,
  pieces: pieces(['J1', 'J1', 'J1', 'J1', 'J1', 'J1', 'J2', 'J2', 'J2', 'J3'], 1.125e6, 7980, 1),
  jobs: [job('J1', 6, 1.125e6, 60), job('J2', 3, 1.125e6, 30), job('J3', 1, 1.125e6, 6)],
});
const RUN_B = record('B', {
  ...{ startedMs: at(10, 12), endedMs: at(11, 30), outcome: 'failed', lengthMm: 3900, fedMm: 3900, inkMl: 41.5 },
  ...{ isChangeOver: true, plannedInkMl: 76.8 },
  pieces: [
    ...pieces(['J4', 'J4', 'J4', 'J4'], 1.35e6, 3650),
    ...Array.from({ length: 4 }, () => ({ jobId: 'J4', areaMm2: 1.35e6, endMm: 7300, outcome: 'not whole' as const })),
  ],
  jobs: [job('J4', 8, 1.35e6, 1)],
});
const RUN_C = record('C', {
  ...{ startedMs: at(12, 18), endedMs: at(14, 28), estimateMs: 125 * MIN, lengthMm: 7000, fedMm: 7060, inkMl: 71.2 },
  pieces: pieces(
    Array.from({ length: 8 }, () => 'J5'),
    1.2464e6,
    6980,
  ),
  jobs: [job('J5', 8, 1.2464e6, 1)],
});
const PURGE_NL = Math.round(8 * 0.236235e6);

const THE_DAY: Fact[] = [
  ...[RUN_A, RUN_B, RUN_C].flatMap(attemptFacts),
  spell('caring', { caringMs: 20 * MIN }, at(7, 30), at(7, 50)),
  {
    ...spell('purge', { purgeMm2: 520 * 1600, fedMm2: 520 * 1600, purgeNl: PURGE_NL }, at(7, 30), at(7, 50)),
    kind: 'care',
  },
  spell('waiting', { waitingMs: 12 * MIN, lostMs: 12 * MIN }, at(10), at(10, 12)),
  spell('down', { downMs: 48 * MIN, lostMs: 48 * MIN, faults: 1 }, at(11, 30), at(12, 18)),
  spell('idle', { idleMs: 10 * MIN }, at(7, 50), at(8)),
  spell('idle later', { idleMs: 212 * MIN }, at(14, 28), at(18)),
  { ...spell('late', { jobsDue: 5, jobsLate: 2, lateMs: (30 + 360) * MIN }, at(12), at(12)), kind: 'job' },
];

function sumsOf(facts: readonly Fact[]): PaceSums {
  const sums = { ...noPaceSums(), plannedMs: 630 * MIN, staffedMs: 630 * MIN, peopleMs: 630 * MIN, armedMs: 0 };
  for (const { amounts } of facts) for (const name of QUANTITY_NAMES) sums[name] += amounts[name] ?? 0;
  return sums;
}

const value = (id: string, facts = THE_DAY): number | null => {
  const measure = MEASURES.find((each) => each.id === id);
  if (!measure) throw new Error(`no measure ${id}`);
  return measured(measure, sumsOf(facts)).value;
};

describe('a day of Heron', () => {
  test('use, availability, performance, quality', () => {
    const sums = sumsOf(THE_DAY);
    expect([sums.runMs, sums.caringMs, sums.waitingMs, sums.downMs, sums.idleMs].map((ms) => ms / MIN)).toEqual([
      328, 20, 12, 48, 222,
    ]);
    expect(value('use')).toBeCloseTo(0.5206, 4);
    expect(value('availability')).toBeCloseTo(0.9048, 4);
    expect(value('performance')).toBeCloseTo(0.94, 10);
    expect(value('quality')).toBeCloseTo(0.9577, 4);
    expect(value('combined')).toBeCloseTo(0.8145, 4);
    expect(value('combined', [])).toBeNull();
    expect(value('area-run')).toBeCloseTo(4.6639, 4);
    expect(value('area-staffed')).toBeCloseTo(2.4282, 4);
    expect(value('pieces')).toBe(21);
    expect(value('pieces-person')).toBeCloseTo(2, 10);
    expect(value('bias')).toBeCloseTo(0.0638, 4);
    expect(value('late')).toBeCloseTo(0.4, 10);
    expect(value('lateness')).toBeCloseTo(3.25, 10);
    expect([value('runs'), value('change-overs'), value('faults')]).toEqual([3, 1, 1]);
  });

  test('media by cause, and ink', () => {
    const sums = sumsOf(THE_DAY);
    const areas: [Quantity, number][] = [
      ['fedMm2', 31.264],
      ['goodMm2', 25.4962],
      ['nestMm2', 3.0588],
      ['leadMm2', 0.352],
      ['purgeMm2', 0.832],
      ['faultMm2', 0.4],
      ['spoiledMm2', 1.125],
    ];
    for (const [name, m2] of areas) expect([name, sums[name] / 1e6]).toEqual([name, expect.closeTo(m2, 6)]);
    expect(value('waste')).toBeCloseTo(0.1845, 4);
    expect(value('ink')).toBeCloseTo(210.58988, 4);
    expect(value('ink-work')).toBeCloseTo(0.991, 4);
    expect(value('ink-lost')).toBeCloseTo(12.7, 6);
  });

  test('the cost of A, to the cent, shared by what each job bears', () => {
    const facts = attemptFacts(RUN_A);
    const micro = facts.reduce((sum, { amounts }) => sum + (amounts.costMicro ?? 0), 0);
    expect(micro / 1e6).toBeCloseTo(140.7232, 6);
    const of = (id: string): number => facts.find(({ jobId }) => jobId === id)?.amounts.costMicro ?? 0;
    expect([of('J1'), of('J2'), of('J3')].map((each) => each / 1e6)).toEqual([
      expect.closeTo(84.69792, 5),
      expect.closeTo(42.34896, 5),
      expect.closeTo(13.67632, 5),
    ]);
  });

  test('a measure is the same from its own quantities alone', () => {
    const all = sumsOf(THE_DAY);
    for (const measure of MEASURES) {
      const own = quantitiesOf([measure]);
      const few = { ...all };
      for (const name of QUANTITY_NAMES) if (!own.has(name)) few[name] = NaN;
      expect([measure.id, measured(measure, few)]).toEqual([measure.id, measured(measure, all)]);
    }
  });

  test('a denominator of 0 has no value', () => {
    for (const id of ['alone', 'margin']) expect(value(id)).toBeNull();
    for (const measure of MEASURES) {
      const { value: none, denominator } = measured(measure, noPaceSums());
      expect(denominator === 0 ? none : 0).toBe(denominator === 0 ? null : 0);
    }
  });
});

const anyRecord = fc
  .record({
    outcome: fc.constantFrom('printed' as const, 'failed' as const, 'cancelled' as const),
    length: fc.integer({ min: 0, max: 9000 }),
    trailer: fc.integer({ min: 0, max: 200 }),
    pieces: fc.array(
      fc.record({
        job: fc.integer({ min: 0, max: 3 }),
        area: fc.integer({ min: 1, max: 3_000_000 }),
        end: fc.integer({ min: 1, max: 9000 }),
        outcome: fc.constantFrom('good' as const, 'spoiled' as const, 'not whole' as const),
      }),
      { maxLength: 12 },
    ),
    ink: fc.integer({ min: 0, max: 90_000 }),
    start: fc.integer({ min: 0, max: 3 * DAY }),
    took: fc.integer({ min: 0, max: DAY }),
  })
  .map(({ outcome, length, trailer, pieces: own, ink, start, took }) =>
    record('R', {
      ...{ outcome, lengthMm: length, fedMm: length + trailer, inkMl: ink / 1000, plannedInkMl: ink / 800 },
      ...{ startedMs: start, endedMs: start + took, estimateMs: took * 0.9, inkMicro: ink * 7 },
      pieces: own.map(({ job: of, area, end, outcome: came }) => ({
        ...{ jobId: `J${String(of)}`, areaMm2: area, endMm: end, outcome: came },
      })),
      jobs: [...new Set(own.map(({ job: of }) => of))].map((of) => job(`J${String(of)}`, 1, 1e6, of)),
    }),
  );

test('whatever became of a run: good and all causes bring what was fed, and its jobs bring the run', () => {
  fc.assert(
    fc.property(anyRecord, (each) => {
      const { fedMm2, goodMm2, nestMm2, leadMm2, faultMm2, spoiledMm2 } = mediaParts(each);
      expect(goodMm2 + nestMm2 + leadMm2 + faultMm2 + spoiledMm2).toBe(fedMm2);
      for (const part of [goodMm2, nestMm2, leadMm2, faultMm2, spoiledMm2]) expect(part).toBeGreaterThanOrEqual(0);
      const facts = attemptFacts(each);
      const total = (name: Quantity): number => facts.reduce((sum, { amounts }) => sum + (amounts[name] ?? 0), 0);
      expect(total('fedMm2')).toBe(fedMm2);
      expect(total('goodMm2') + total('nestMm2') + total('leadMm2') + total('faultMm2') + total('spoiledMm2')).toBe(
        fedMm2,
      );
      expect(total('runs')).toBe(1);
      expect(total('runMs')).toBe(each.endedMs - each.startedMs);
      expect(total('workNl')).toBe(Math.round(each.inkMl * 1e6));
      expect(total('lostNl')).toBeLessThanOrEqual(total('workNl'));
      for (const { amounts } of facts)
        for (const name of QUANTITY_NAMES) expect(Number.isInteger(amounts[name] ?? 0)).toBe(true);
    }),
  );
});

test('hours add up to days: the parts of a fact bring exactly the fact, each at its place', () => {
  const borders = Array.from({ length: 6 * 24 + 1 }, (_, i) => i * HOUR);
  const days = borders.filter((_, i) => i % 24 === 0);
  fc.assert(
    fc.property(anyRecord, (each) => {
      for (const fact of attemptFacts(each)) {
        const hours = partsOf(fact, borders);
        const byDay = partsOf(fact, days);
        for (const name of QUANTITY_NAMES) {
          const whole = fact.amounts[name] ?? 0;
          const sum = (parts: typeof hours): number =>
            parts.reduce((all, { amounts }) => all + (amounts[name] ?? 0), 0);
          expect(sum(hours)).toBe(whole);
          expect(sum(byDay)).toBe(whole);
          for (const { at: day, amounts } of byDay) {
            const own = hours.filter(({ at: hour }) => Math.floor(hour / 24) === day);
            expect(own.reduce((all, part) => all + (part.amounts[name] ?? 0), 0)).toBe(amounts[name] ?? 0);
          }
        }
        for (const { at: hour, amounts } of hours) {
          const [from, to] = [hour * HOUR, (hour + 1) * HOUR];
          expect(fact.fromMs < to && fact.toMs >= from).toBe(true);
          if (Object.keys(amounts).some((name) => QUANTITIES[name as Quantity] === 'at its end')) {
            expect(fact.toMs >= from && fact.toMs < to).toBe(true);
          }
        }
      }
    }),
    { numRuns: 60 },
  );
});
