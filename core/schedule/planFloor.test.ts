import fc from 'fast-check';
import type { FloorSnapshot, Line, LineEvent, PlanPrinter, PlanRun } from './plan.ts';
import { planFloor } from './planFloor.ts';
import { plannedWork } from './planInput.ts';
import { proposeOrder } from './proposeOrder.ts';
import { seededRandom } from '../random.ts';
import { onRack, plannedPrinter, sourceWith } from '../testing/plannedPrinter.ts';
import { Attendance } from './shopHours.ts';

const HOUR = 3_600_000;
const MIN = 60_000;
const always = Attendance.always();
function run(id: string, more: Partial<PlanRun> = {}): PlanRun {
  const plain = { id, stockId: 'a', modeId: 'm', estimateMs: HOUR, needMm: 1000, outMm: 1000 };
  return { ...plannedWork({ ...plain, byHand: false, unattended: true }), ...more };
}

function plan(snapshot: Partial<FloorSnapshot> & Pick<FloorSnapshot, 'printers'>) {
  const { lines } = planFloor({ rack: [], attendance: always, nowMs: 0, ...snapshot });
  return (id: string): Line => lines.get(id) as Line;
}

const left = (spoolId: string, leftMm: number) => ({ sourceId: 'roll', spoolId, leftMm });
const starts = ({ events }: Line): Record<string, number> =>
  Object.fromEntries(events.flatMap((each) => (each.kind === 'run' ? [[each.id, each.fromMs / MIN]] : [])));
const loads = ({ events }: Line): (string | null)[] =>
  events.flatMap((each) => (each.kind === 'change-over' && each.what !== 'mode' ? [each.spoolId] : []));

test('one rack: the only roll goes to the printer that is free first, and the other lacks it', () => {
  const rack = [onRack('only', 'b', 5000)];
  const line = plan({
    printers: [
      { printer: plannedPrinter('heron'), runs: [run('long', { estimateMs: 3 * HOUR }), run('h', { stockId: 'b' })] },
      { printer: plannedPrinter('gull'), runs: [run('short', { estimateMs: HOUR }), run('g', { stockId: 'b' })] },
    ],
    rack,
  });
  expect(loads(line('gull'))).toEqual(['only']);
  expect(line('gull').shortages).toEqual([]);
  expect(loads(line('heron'))).toEqual([null]);
  expect(line('heron').shortages).toEqual([{ atMs: 3 * HOUR, runId: 'h', what: { kind: 'media', spoolId: null } }]);
});

test('a roll that one printer takes out is there for the other from then on', () => {
  const line = plan({
    printers: [
      { printer: plannedPrinter('heron'), runs: [run('h', { stockId: 'b' })] },
      {
        printer: plannedPrinter('gull', {
          sources: [sourceWith({ id: 'roll', stockId: 'c', spoolId: 'c in', leftMm: 9000 })],
        }),
        runs: [run('c', { stockId: 'c', estimateMs: 5 * HOUR }), run('g', { needMm: 8000 })],
      },
    ],
    rack: [onRack('b roll', 'b', 5000)],
  });
  expect(loads(line('gull'))).toEqual(['heron in']);
});

test('every shortage is told: each run that lacks media, and each channel where it runs dry first', () => {
  const line = plan({
    printers: [
      {
        printer: plannedPrinter('heron', { inkLeftMl: { cyan: 5, black: 30 } }),
        runs: [
          run('x', { needMm: 9500, inkMl: { cyan: 10, black: 10 } }),
          run('y', { inkMl: { cyan: 10, black: 10 } }),
          run('z', { stockId: 'd', inkMl: { black: 20 } }),
        ],
      },
    ],
  });
  expect(line('heron').shortages.map(({ runId, what }) => [runId, what.kind])).toEqual([
    ['x', 'ink'],
    ['y', 'media'],
    ['z', 'media'],
    ['z', 'ink'],
  ]);
});

test('of several loaded rolls the one with the least that is enough feeds a run; a narrow one feeds none', () => {
  const sources = [
    sourceWith({ id: '1', stockId: 'a', spoolId: 'long', leftMm: 9000 }),
    sourceWith({ id: '2', stockId: 'a', spoolId: 'part', leftMm: 2000 }),
    { id: '3', stockId: 'a', spoolId: 'narrow', leftMm: 1200, widthMm: 1590, sheetMm: null, takeUp: null },
  ];
  const line = plan({
    printers: [
      {
        printer: plannedPrinter('heron', { sources }),
        runs: ['u', 'v', 'w'].map((id) => run(id, { leastWidthMm: 1600, needMm: 1500 })),
      },
    ],
  });
  // 1.5 of the 2 m, then 1.5 and 1.5 of the 9 m: nothing is loaded anew.
  expect(loads(line('heron'))).toEqual([]);
  expect(line('heron').shortages).toEqual([]);
  const wide = run('x', { leastWidthMm: 1604, needMm: 500 });
  expect(
    plan({ printers: [{ printer: plannedPrinter('heron'), runs: [wide] }], rack: [onRack('wide', 'a', 5000, 1610)] })(
      'heron',
    ),
  ).toMatchObject({ shortages: [], events: [{ kind: 'change-over', what: 'stock', spoolId: 'wide' }, { id: 'x' }] });
});

test('a full basket is emptied while somebody is there; what is taken up does not fill it', () => {
  const there = new Attendance([
    { fromMs: 0, toMs: 2.5 * HOUR },
    { fromMs: 10 * HOUR, toMs: 20 * HOUR },
  ]);
  const runs = ['a', 'b', 'c', 'd'].map((id) => run(id, { outMm: 4000 }));
  const full = plannedPrinter('heron', { collectsMm: 10_000, collectedMm: 1000 });
  const line = plan({ printers: [{ printer: full, runs }], attendance: there })('heron');
  // 1 + 4 + 4 m are in it after two hours; the third run would make 13.
  expect(starts(line)).toEqual({ a: 0, b: 60, c: 120, d: 180 });
  expect(line.events.find(({ kind }) => kind === 'hand')).toEqual({
    kind: 'hand',
    what: 'empty',
    runId: 'c',
    fromMs: 2 * HOUR,
    toMs: 2 * HOUR,
  });
  const later = plan({
    printers: [{ printer: full, runs }],
    attendance: new Attendance([{ fromMs: 10 * HOUR, toMs: 20 * HOUR }]),
  });
  expect(starts(later('heron'))).toEqual({ a: 0, b: 60, c: 600, d: 660 });
  const wound = {
    ...full,
    takeUp: true,
    sources: full.sources.map((source) => ({
      ...source,
      takeUp: { winding: 'printed side in', tension: 'light' } as const,
    })),
  };
  expect(plan({ printers: [{ printer: wound, runs }] })('heron').events.every(({ kind }) => kind === 'run')).toBe(true);
});

test('a back waits until somebody has turned its media', () => {
  const there = new Attendance([{ fromMs: 5 * HOUR, toMs: 9 * HOUR }]);
  const pair = [run('front'), run('back', { needMm: 0, turn: true })];
  const line = plan({ printers: [{ printer: plannedPrinter('heron'), runs: pair }], attendance: there })('heron');
  expect(line.events.map((each) => [each.kind, each.fromMs / MIN, each.toMs / MIN])).toEqual([
    ['run', 0, 60],
    ['wait', 60, 300],
    ['hand', 300, 310],
    ['run', 310, 370],
  ]);
});

test('a printer with a fault, and one that stands paused, go on when somebody is there to see to it', () => {
  const there = new Attendance([{ fromMs: 5 * HOUR, toMs: 9 * HOUR }]);
  const of = (stopped: PlanPrinter['stopped'], runs: readonly PlanRun[]) =>
    plan({ printers: [{ printer: plannedPrinter('heron', { stopped }), runs }], attendance: there })('heron');
  expect(of('fault', [run('x')]).events).toEqual([
    { kind: 'wait', why: 'fault', runId: 'x', fromMs: 0, toMs: 5 * HOUR },
    { kind: 'run', id: 'x', fromMs: 5 * HOUR, toMs: 6 * HOUR, lateMs: 0, fed: left('heron in', 9000) },
  ]);
  const paused = run('p', { state: 'paused', startedMs: -HOUR, msLeft: HOUR / 2, saidAtMs: -MIN });
  expect(of(null, [paused]).freeMs).toBe(5.5 * HOUR);
  // One that waits for its rows goes on without anybody, with all that it still needs in front of it.
  expect(of(null, [{ ...paused, goesOnByItself: true }]).freeMs).toBe(0.5 * HOUR);
  expect(of('off', []).events).toEqual([]);
});

const TAKES = { durationMs: 15 * MIN, inkMl: {}, fedMm: 0, stockId: null };
const PURGE = { ...TAKES, id: 't@1', timerId: 't' };

test('care comes before the run that would start then', () => {
  const care = [{ ...PURGE, id: 'purge', fromMs: 1.5 * HOUR, latestMs: 1.5 * HOUR, timerId: null }];
  const runs = [run('a'), run('b'), run('c')];
  const line = plan({ printers: [{ printer: plannedPrinter('heron', { care }), runs }] })('heron');
  expect(starts(line)).toEqual({ a: 0, b: 60, c: 135 });
});

const cares = ({ events }: Line): Record<string, number> =>
  Object.fromEntries(events.flatMap((each) => (each.kind === 'care' ? [[each.id, each.fromMs / MIN]] : [])));

test('a run that would keep care beyond its latest start lets it go first; one that ends in time does not', () => {
  // Due after 45 min with 30 min of slack: a run of 2 h would keep it until 2 h, one of 1 h lets it begin in time.
  const care = [{ ...PURGE, fromMs: 45 * MIN, latestMs: 75 * MIN }];
  const of = (estimateMs: number): Line =>
    plan({ printers: [{ printer: plannedPrinter('heron', { care }), runs: [run('a', { estimateMs })] }] })('heron');
  expect([starts(of(2 * HOUR)), cares(of(2 * HOUR))]).toEqual([{ a: 15 }, { 't@1': 0 }]);
  expect([starts(of(HOUR)), cares(of(HOUR))]).toEqual([{ a: 0 }, { 't@1': 60 }]);
  // Exactly at its latest start it is in time.
  expect(starts(of(75 * MIN))).toEqual({ a: 0 });
});

test('of a timer that comes round within a run only the next goes first, and care by hand never', () => {
  const care = [
    { ...PURGE, fromMs: 30 * MIN, latestMs: 30 * MIN },
    { ...PURGE, id: 't@2', fromMs: 60 * MIN, latestMs: 60 * MIN },
    { ...PURGE, id: 'hand', timerId: null, fromMs: 65 * MIN, latestMs: 65 * MIN },
  ];
  const runs = [run('a', { estimateMs: 3 * HOUR }), run('b')];
  const line = plan({ printers: [{ printer: plannedPrinter('heron', { care }), runs }] })('heron');
  expect(cares(line)).toEqual({ 't@1': 0, 't@2': 195, hand: 210 });
  expect(starts(line)).toEqual({ a: 15, b: 225 });
});

test('care is done while a run waits for people or its time, not behind that run', () => {
  const there = new Attendance([{ fromMs: 8 * HOUR, toMs: 18 * HOUR }]);
  const care = [{ ...PURGE, fromMs: 4 * HOUR, latestMs: 5 * HOUR }];
  const of = (more: Partial<PlanRun>): Line =>
    plan({
      printers: [{ printer: plannedPrinter('heron', { care }), runs: [run('a', more)] }],
      attendance: there,
    })('heron');
  const byHand = of({ unattended: false });
  expect([cares(byHand), starts(byHand)]).toEqual([{ 't@1': 240 }, { a: 480 }]);
  expect(byHand.events.map(({ kind, fromMs, toMs }) => [kind, fromMs / HOUR, toMs / HOUR])).toEqual([
    ['wait', 0, 4],
    ['care', 4, 4.25],
    ['wait', 4.25, 8],
    ['run', 8, 9],
  ]);
  const fixed = of({ fixedStartMs: 4 * HOUR + 5 * MIN });
  // Care that is under way at its fixed start holds it up until it has ended.
  expect([cares(fixed), starts(fixed)]).toEqual([{ 't@1': 240 }, { a: 255 }]);
});

test('what care takes of media and ink is not there for the runs behind it', () => {
  const printer = (more: Partial<PlanPrinter>) =>
    plannedPrinter('heron', {
      sources: [
        sourceWith({ id: 'wide', stockId: 'a', spoolId: 'wide in', leftMm: 1000, widthMm: 1600 }),
        sourceWith({ id: 'narrow', stockId: 'b', spoolId: 'narrow in', leftMm: 5000, widthMm: 1000 }),
      ],
      inkLeftMl: { c: 10 },
      ...more,
    });
  const check = { ...PURGE, fromMs: 0, latestMs: HOUR, fedMm: 300, inkMl: { c: 4 } };
  const of = (care: PlanPrinter['care']) =>
    plan({ printers: [{ printer: printer({ care }), runs: [run('x', { needMm: 900, inkMl: { c: 8 } })] }] })('heron');
  expect(of([]).shortages).toEqual([]);
  // A check takes the widest: 700 mm of 900 and 6 ml of 8 are left for the run.
  expect(
    of([check])
      .shortages.map(({ what }) => what.kind)
      .sort(),
  ).toEqual(['ink', 'media']);
  expect(of([{ ...check, stockId: 'b', inkMl: {} }]).shortages).toEqual([]);
  // Care that empties the tank: the run behind it runs dry as it begins.
  const dry = of([{ ...check, fedMm: 0, inkMl: { c: 12 } }]).shortages;
  expect(dry).toEqual([{ atMs: 15 * MIN, runId: 'x', what: { kind: 'ink', channelId: 'c' } }]);
});

test('a rule puts its care before the runs that it names, once before each', () => {
  const rule = {
    id: 'r',
    what: { kind: 'check' as const },
    overMm: 20_000,
    onlyImportant: false,
    ...TAKES,
    durationMs: 2 * MIN,
  };
  const important = {
    ...rule,
    id: 'i',
    what: { kind: 'clean', strength: 'light' } as const,
    overMm: null,
    onlyImportant: true,
  };
  const careRules = [
    { ...rule, doneFor: ['done'] },
    { ...important, durationMs: 4 * MIN, doneFor: [] },
  ];
  const runs = [
    run('long', { outMm: 20_001, needMm: 1 }),
    run('exact', { outMm: 20_000, needMm: 1 }),
    run('done', { outMm: 30_000, needMm: 1 }),
    run('both', { outMm: 30_000, needMm: 1, important: true }),
  ];
  const line = plan({ printers: [{ printer: plannedPrinter('heron', { careRules }), runs }] })('heron');
  expect(cares(line)).toEqual({ 'r@long': 0, 'r@both': 182, 'i@both': 184 });
  expect(starts(line)).toEqual({ long: 2, exact: 62, done: 122, both: 188 });
  // What would come behind the line is asked the same, and told without the care.
  const { behind } = planFloor({
    rack: [],
    attendance: always,
    nowMs: 0,
    printers: [{ printer: plannedPrinter('heron', { careRules }), runs: [] }],
  });
  expect(behind('heron', [run('new', { outMm: 25_000, needMm: 1 })]).events).toEqual([
    { kind: 'run', id: 'new', fromMs: 2 * MIN, toMs: HOUR + 2 * MIN, lateMs: 0, fed: left('heron in', 9999) },
  ]);
});

test('each job of a run is late by its own date and its own price', () => {
  const dues = [
    { dueMs: 0, latePerHMinor: 100 },
    { dueMs: 90 * MIN, latePerHMinor: 5000 },
    { dueMs: 3 * HOUR, latePerHMinor: 70_000 },
  ];
  const line = plan({ printers: [{ printer: plannedPrinter('heron'), runs: [run('a'), run('b', { dues })] }] })(
    'heron',
  );
  // Done after 2 h: 2 h × 1.00 + ½ h × 50.00; the third is in time. By the earliest date alone it would be 1,502.00.
  expect(line.lateMinor).toBeCloseTo(200 + 2500, 9);
  expect(line.events.at(-1)).toMatchObject({ id: 'b', lateMs: 2 * HOUR });
});

test('beyond the hours that are known their last week repeats', () => {
  const day = 24 * HOUR;
  const spans = Array.from({ length: 14 }, (_, i) => ({ fromMs: i * day, toMs: i * day + 8 * HOUR }));
  const known = new Attendance(spans);
  expect(known.startFor(20 * day + 9 * HOUR, HOUR)).toBe(21 * day);
  expect(known.startFor(30 * day + HOUR, HOUR)).toBe(30 * day + HOUR);
});

const stocks = fc.constantFrom('a', 'b', 'c');
const runArb = fc.record({
  stockId: stocks,
  modeId: fc.constantFrom('m', 'n'),
  estimateMs: fc.integer({ min: 5, max: 300 }).map((min) => min * MIN),
  needMm: fc.integer({ min: 0, max: 6000 }),
  byHand: fc.boolean(),
  fixedStartMs: fc.option(fc.integer({ min: 0, max: 30 }).map((h) => h * HOUR)),
  turn: fc.boolean(),
});
const floorArb = fc
  .record({
    printers: fc.array(
      fc.record({
        runs: fc.array(runArb, { maxLength: 6 }),
        sources: fc.array(fc.record({ stockId: fc.option(stocks), leftMm: fc.integer({ min: 0, max: 9000 }) }), {
          minLength: 1,
          maxLength: 3,
        }),
        collectsMm: fc.option(fc.integer({ min: 2000, max: 20_000 })),
        stopped: fc.constantFrom(null, null, 'off', 'fault'),
        unattended: fc.boolean(),
      }),
      { minLength: 1, maxLength: 4 },
    ),
    rack: fc.array(fc.record({ stockId: stocks, leftMm: fc.integer({ min: 1, max: 12_000 }) }), { maxLength: 6 }),
  })
  .map(({ printers, rack }): FloorSnapshot => {
    return {
      printers: printers.map(({ runs, sources, ...more }, p) => ({
        printer: plannedPrinter(`p${String(p)}`, {
          ...more,
          sources: sources.map(({ stockId, leftMm }, i) => ({
            id: String(i),
            stockId,
            spoolId: stockId === null ? null : `in ${String(p)} ${String(i)}`,
            leftMm,
            widthMm: 1600,
            sheetMm: null,
            takeUp: null,
          })),
        }),
        runs: runs.map((one, i) => run(`r${String(p)}.${String(i)}`, one)),
      })),
      rack: rack.map(({ stockId, leftMm }, i) => onRack(`rack ${String(i)}`, stockId, leftMm)),
      attendance: new Attendance(
        Array.from({ length: 60 }, (_, i) => ({ fromMs: i * 24 * HOUR, toMs: (i * 24 + 9) * HOUR })),
      ),
      nowMs: 3 * HOUR,
    };
  });

const idOf = (event: LineEvent): string => ('runId' in event ? event.runId : event.id);

test('what would come behind a line is what the plan says once it stands there', () => {
  fc.assert(
    fc.property(floorArb, fc.nat(), fc.array(runArb, { minLength: 1, maxLength: 2 }), (floor, at, added) => {
      const p = at % floor.printers.length;
      const more = added.map((one, i) => run(`new ${String(i)}`, one));
      const id = `p${String(p)}`;
      const behind = planFloor(floor).behind(id, more);
      const longer = floor.printers.map((line, i) => (i === p ? { ...line, runs: [...line.runs, ...more] } : line));
      const whole = planFloor({ ...floor, printers: longer }).lines.get(id) as Line;
      expect(behind.events).toEqual(whole.events.filter((event) => idOf(event).startsWith('new')));
      expect(behind.freeMs).toBe(whole.freeMs);
    }),
    { numRuns: 300, seed: 11 },
  );
});

test('on any floor: nothing overlaps, every run has its time, no spool is in two places, hands only while somebody is there', () => {
  fc.assert(
    fc.property(floorArb, (floor) => {
      const { lines } = planFloor(floor);
      const loaded: string[] = [];
      for (const {
        printer: { id },
        runs,
      } of floor.printers) {
        const { events } = lines.get(id) as Line;
        let endMs = floor.nowMs;
        for (const event of events) {
          expect(event.fromMs).toBeGreaterThanOrEqual(endMs - 1e-6);
          endMs = event.toMs;
          if (event.kind === 'hand' || (event.kind === 'change-over' && event.what !== 'mode'))
            expect(floor.attendance.isThere(event.fromMs)).toBe(true);
          if (event.kind === 'change-over' && event.spoolId?.startsWith('rack')) loaded.push(`${event.spoolId} ${id}`);
        }
        expect(events.filter(({ kind }) => kind === 'run').map(idOf)).toEqual(runs.map((one) => one.id));
      }
      // A roll from the rack may wander to another printer only after it was taken out again; to the same one at most so, too.
      const homes = new Map(loaded.map((each) => [each.split(' p')[0], 0]));
      expect(homes.size).toBeLessThanOrEqual(floor.rack.length);
    }),
    { numRuns: 300, seed: 12 },
  );
});

test('an order that is proposed costs in the plan of the whole floor what was said of it, and parts nothing that belongs together', () => {
  fc.assert(
    fc.property(floorArb, fc.integer({ min: 1, max: 1e6 }), (floor, seed) => {
      const printers = floor.printers.map((line) => ({
        ...line,
        runs: line.runs.map((one, i) => ({
          ...one,
          together: i % 4 < 2 ? 'pair' : null,
          dues: [{ dueMs: i * HOUR, latePerHMinor: 900 }],
        })),
      }));
      const asked = { ...floor, printers };
      const answer = proposeOrder({ floor: asked, printerId: 'p0', ratePerHourMinor: 3000 }, seededRandom(seed), 150);
      const [first, ...others] = printers;
      const runs = answer.order.map((id) => first?.runs.find((one) => one.id === id) as PlanRun);
      const line = planFloor({
        ...floor,
        printers: [{ printer: plannedPrinter('p0', first?.printer), runs }, ...others],
      });
      expect(line.lines.get('p0')?.lateMinor).toBeCloseTo(answer.proposed.lateMinor, 6);
      expect(line.lines.get('p0')?.freeMs).toBeCloseTo(answer.proposed.freeMs, 6);
      expect(answer.proposed.totalMinor).toBeLessThanOrEqual(answer.today.totalMinor);
      const today = first?.runs.map(({ id }) => id);
      const pair = answer.order.filter((id) => ['r0.0', 'r0.1'].includes(id));
      expect(pair).toEqual(['r0.0', 'r0.1'].filter((id) => today?.includes(id)));
    }),
    { numRuns: 60, seed: 13 },
  );
});
