import fc from 'fast-check';
import { bestChanges } from './bestChanges.ts';
import { type WhatIfRun, whatIf } from './whatIf.ts';

const MIN = 60_000;
const HERON = {
  ...{ nozzlesPerChannel: 768, nozzlesPerInch: 360, carriageMmPerS: 900, carriageMmPerS2: 9000, dwellS: 0.15 },
  ...{ returnMmPerS: 900, feedMmPerS: 100, backFeedMmPerS: 60, dryOutMmPerS: 25, bedWidthMm: 1620, startUpS: 60 },
  ...{ fullCutS: 10, perforateS: 5, loadS: 0, handS: 0, trailerMm: 60, cutter: null },
} as const;
const MACHINES = { heron: HERON };

/** 1,500 mm long in 6 passes over the whole bed, artwork 460 wide: 429.8 s. */
function run(id: string, more: Partial<WhatIfRun> = {}): WhatIfRun {
  return {
    ...{
      id,
      printerId: 'heron',
      stockId: 'banner',
      startedMs: 0,
      endedMs: 452_000,
      stoodMs: 0,
      readyMs: 0,
      handsMs: 0,
    },
    timed: {
      ...{ lengthMm: 1500, mediaWidthMm: 1000, span: 'whole bed', dryOut: false, cutOff: 'none' },
      mode: { passes: 6, oneDirectional: false, lineMmPerS: null },
      pieces: [{ xMm: 0, yMm: 0, widthMm: 460, heightMm: 1500 }],
    },
    ...{ jobs: [], fedMm: 1600, mediaWidthMm: 1000, inkMl: 20, costMicro: 5_000_000, variance: 0.01 },
    ...{ ratePerHourMinor: 3800, mediaPerM2Minor: 420 },
    ...more,
  };
}

test('the worked figures: 452 s over the whole bed would have been 218.86 over the artwork', () => {
  const { rows, was, would } = whatIf([run('a')], MACHINES, { span: 'artwork' });
  expect(rows[0]?.wouldMs).toBeCloseTo(218_860, -1.5);
  expect(was.runMs - would.runMs).toBeCloseTo(452_000 - 218_860, -1.5);
  // 233.14 s at 38.00 an hour: 2.46 of 5.00.
  expect([was.costMinor, would.costMinor]).toEqual([500, 254]);
});

test('what a run stood stays, and what nothing changes on stays to the last ms', () => {
  const stood = run('a', { endedMs: 452_000 + 30 * MIN, stoodMs: 30 * MIN });
  expect(whatIf([stood], MACHINES, { span: 'artwork' }).rows[0]?.wouldMs).toBeCloseTo(218_860 + 30 * MIN, -1.5);
  const same = whatIf([run('a'), run('b', { startedMs: 500_000, endedMs: 900_000 })], MACHINES, { span: 'whole bed' });
  expect(same.would).toEqual(same.was);
  expect([same.savedLowMs, same.savedHighMs]).toEqual([0, 0]);
});

test('media that would be laid out shorter is saved with its time and its money', () => {
  const shorter = { lengthMm: 1000, pieces: [{ xMm: 0, yMm: 0, widthMm: 460, heightMm: 1000 }] };
  const { rows, was, would } = whatIf([run('a', { relaid: shorter })], MACHINES, {});
  expect(rows[0]?.wouldFedMm).toBe(1100);
  expect((was.fedMm2 - would.fedMm2) / 1e6).toBeCloseTo(0.5, 9);
  // 60 s + 116 strokes of 2.15 s in place of 172; half a m² at 4.20.
  const wouldMs = (452_000 * (60 + 116 * 2.15)) / (60 + 172 * 2.15);
  expect(rows[0]?.wouldMs).toBeCloseTo(wouldMs, 3);
  expect(was.costMinor - would.costMinor).toBe(Math.round(((452_000 - wouldMs) / 3_600_000) * 3800 + 210));
});

test('lines are walked again: a run follows sooner, but not before its job was there, and waits for hands as it did', () => {
  const jobs = (id: string, dueMs: number) => [{ id, dueMs }];
  const line = [
    run('a', { jobs: jobs('ja', 450_000) }),
    // Ten minutes after the first had ended, its job there long before: it waited for hands.
    run('b', { startedMs: 452_000 + 10 * MIN, endedMs: 904_000 + 10 * MIN, jobs: jobs('jb', 1_300_000) }),
    // Its job came one minute before it began.
    run('c', { startedMs: 40 * MIN, endedMs: 40 * MIN + 452_000, readyMs: 39 * MIN, jobs: jobs('jc', 44 * MIN) }),
  ];
  const { was, would } = whatIf(line, MACHINES, { span: 'artwork' });
  // a ended 2 s late and b 204 s; c ended 3.5 min late, and would 0.35 min too early.
  expect([was.lateJobs, Math.round(was.lateMs / 1000)]).toEqual([3, 2 + 204 + 212]);
  expect(would).toMatchObject({ lateJobs: 0, lateMs: 0 });
});

test('a job is late by its last run, and what the change does not touch moves with its line', () => {
  const job = [{ id: 'j', dueMs: 600_000 }];
  const line = [run('a', { jobs: job }), run('b', { timed: null, startedMs: 452_000, endedMs: 652_000, jobs: job })];
  const { was, would, rows } = whatIf(line, MACHINES, { span: 'artwork' });
  expect(rows.map(({ runId }) => runId)).toEqual(['a']);
  expect([was.lateJobs, was.lateMs]).toEqual([1, 52_000]);
  expect(would.lateJobs).toBe(0);
  expect(would.runMs).toBeCloseTo(218_860 + 200_000, -1.5);
});

test('runs printed as one: time by the closed form of all of them, media once, waits of each as they were', () => {
  const jobs = (id: string, dueMs: number) => [{ id, dueMs }];
  const stoodMs = 5 * MIN;
  const line = [
    run('a', { jobs: jobs('ja', 500_000), stoodMs, endedMs: 452_000 + stoodMs }),
    run('b', { startedMs: 900_000, endedMs: 1_352_000, jobs: jobs('jb', 3_000_000) }),
    run('c', { startedMs: 1_352_000, endedMs: 1_452_000, timed: null }),
  ];
  const [a, b, c] = line;
  if (!a || !b || !c) throw new Error('three runs');
  const pieces = [0, 1500].map((yMm) => ({ xMm: 0, yMm, widthMm: 460, heightMm: 1500 }));
  const together = { takesIn: ['a'], relaid: { lengthMm: 3000, pieces } };
  const { rows, lines, was, would } = whatIf([a, { ...b, ...together }, c], MACHINES, {});
  // Each 429.8 s = 60 + 172 strokes of 2.15; as one 60 + 338 of them.
  const eachMs = 1000 * (60 + 172 * 2.15);
  const bothMs = 1000 * (60 + 338 * 2.15);
  const printedMs = (904_000 * bothMs) / (2 * eachMs);
  expect(rows.map(({ wouldMs, wouldFedMm }) => [wouldMs, wouldFedMm])).toEqual([
    [0, 0],
    [expect.closeTo(stoodMs + printedMs, 3), 3100],
  ]);
  expect(lines).toMatchObject([
    { lineId: 'heron', wasRuns: 3, wouldRuns: 2, wouldMs: expect.closeTo(would.runMs, 3) as number },
  ]);
  expect(would.runMs).toBeCloseTo(100_000 + stoodMs + printedMs, 3);
  // 100 mm of 1 m wide media are fed once in place of twice.
  expect((was.fedMm2 - would.fedMm2) / 1e6).toBeCloseTo(0.1, 9);
  const savedMs = was.runMs - would.runMs;
  expect(was.costMinor - would.costMinor).toBe(Math.round((savedMs / 3_600_000) * 3800 + 42));
  // a was there 257 s after its date, and would only be with the end of b.
  expect(was.lateMs).toBe(252_000);
  expect(would.lateMs).toBeCloseTo(900_000 + stoodMs + printedMs - 500_000, 3);
});

test('on another printer: time, media and money by the fits of both; what nobody can take counts on neither side', () => {
  const there = {
    lineId: 'magpie',
    timeRatio: 1.5,
    moreFedMm: -100,
    moreInkMl: 1.5,
    moreMicro: 250_000,
    variance: 0.04,
  };
  const stood = run('a', { stoodMs: MIN, endedMs: 452_000 + MIN, elsewhere: [there] });
  const lost = run('b', { startedMs: 600_000, endedMs: 900_000, elsewhere: [] });
  const { rows, lines, nowhere, was, would, savedLowMs, savedHighMs } = whatIf([stood, lost], {}, {});
  expect(nowhere).toEqual(['b']);
  expect(lines).toEqual([
    { lineId: 'heron', wasMs: 452_000 + MIN, wasRuns: 1, wouldMs: 0, wouldRuns: 0 },
    { lineId: 'magpie', wasMs: 0, wasRuns: 0, wouldMs: 452_000 * 1.5 + MIN, wouldRuns: 1 },
  ]);
  expect(rows).toMatchObject([{ toLineId: 'magpie', wouldMs: 452_000 * 1.5 + MIN, wouldFedMm: 1500 }]);
  expect([was.costMinor, would.costMinor]).toEqual([500, 525]);
  expect([was.inkMl, would.inkMl]).toEqual([20, 21.5]);
  expect(was.runMs).toBe(452_000 + MIN);
  const spreadMs = 1.2815515655446004 * Math.sqrt(0.01 * (452_000 + MIN) ** 2 + 0.04 * (452_000 * 1.5 + MIN) ** 2);
  expect(savedHighMs - savedLowMs).toBeCloseTo(2 * spreadMs, 3);
});

test('the range holds eight of ten, had both been printed with luck of their own', () => {
  const random = fc.sample(fc.double({ min: 1e-6, max: 1 - 1e-6, noNaN: true }), { numRuns: 24_000, seed: 7 });
  let at = 0;
  const normal = (): number => {
    const [u = 0.5, v = 0.5] = [random[at], random[at + 1]];
    at += 2;
    return Math.sqrt(-2 * Math.log(u)) * Math.cos(2 * Math.PI * v);
  };
  let inside = 0;
  const rounds = 500;
  for (let round = 0; round < rounds; round += 1) {
    const lucks = Array.from({ length: 12 }, () => [Math.exp(0.1 * normal()), Math.exp(0.1 * normal())] as const);
    const line = lucks.map(([luck], i) => {
      const startedMs = i * 1_000_000;
      return run(String(i), { startedMs, endedMs: startedMs + 429_800 * luck });
    });
    const { was, savedLowMs, savedHighMs } = whatIf(line, MACHINES, { span: 'artwork' });
    const really = lucks.reduce((sum, [, luck]) => sum + 208_110 * luck, 0);
    const saved = was.runMs - really;
    if (saved >= savedLowMs && saved <= savedHighMs) inside += 1;
  }
  expect(inside / rounds).toBeGreaterThan(0.74);
});

test('what would have saved most goes first, each setting once with its best value; what saves nothing is not named', () => {
  const heavy = Array.from({ length: 4 }, (_, i) =>
    run(`h${String(i)}`, { startedMs: i * 5e6, endedMs: i * 5e6 + 452_000 }),
  );
  const dry = run('d', { stockId: 'film', endedMs: 512_000 });
  const film = { ...dry, timed: dry.timed && { ...dry.timed, span: 'artwork' as const, dryOut: true } };
  const found = bestChanges([...heavy, film], MACHINES, 3);
  expect(found.map(({ stockId, change, runs }) => [stockId, change, runs])).toEqual([
    ['banner', { span: 'artwork' }, 4],
    ['film', { dryOut: false }, 1],
  ]);
  expect(found[0]?.savedMs).toBeCloseTo(4 * (452_000 - 218_860), -2.5);
});

test('whatever is changed: hours and money are sums of their runs, and no run begins before its job', () => {
  const anyRun = fc.record({
    gap: fc.integer({ min: 0, max: 3e6 }),
    lasts: fc.integer({ min: 1000, max: 9e6 }),
    early: fc.integer({ min: 0, max: 5e6 }),
  });
  const change = fc.record(
    {
      span: fc.constantFrom('whole bed', 'media', 'artwork'),
      dryOut: fc.boolean(),
      passes: fc.constantFrom(4, 6, 8),
      oneDirectional: fc.boolean(),
    },
    { requiredKeys: [] },
  );
  fc.assert(
    fc.property(fc.array(anyRun, { minLength: 1, maxLength: 12 }), change, (made, asked) => {
      let atMs = 0;
      const line = made.map(({ gap, lasts, early }, i) => {
        const startedMs = atMs + gap;
        atMs = startedMs + lasts;
        const readyMs = Math.max(0, startedMs - early);
        return run(String(i), { startedMs, endedMs: atMs, readyMs, jobs: [{ id: String(i), dueMs: readyMs }] });
      });
      const { rows, was, would } = whatIf(line, MACHINES, asked);
      expect(would.runMs).toBeCloseTo(
        rows.reduce((sum, { wouldMs }) => sum + wouldMs, 0),
        3,
      );
      // Every job was due when it came: it is late by at least its run.
      expect(would.lateMs).toBeGreaterThanOrEqual(would.runMs - 1e-3);
      expect(was.lateJobs).toBe(line.length);
    }),
  );
});
