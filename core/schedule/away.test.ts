import { onRack, plannedPrinter, sourceWith } from '../testing/plannedPrinter.ts';
import type { FloorSnapshot, Line, PlanCare, PlanPrinter, PlanRun } from './plan.ts';
import { planFloor } from './planFloor.ts';
import { plannedWork } from './planInput.ts';
import { Attendance } from './shopHours.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** Open until 1 h and from 13 h on; away in between. */
const night = { fromMs: HOUR, toMs: 13 * HOUR };
const attendance = new Attendance([
  { fromMs: 0, toMs: HOUR },
  { fromMs: 13 * HOUR, toMs: 22 * HOUR },
]);

function run(id: string, more: Partial<PlanRun> = {}): PlanRun {
  const plain = { id, stockId: 'a', modeId: 'm', estimateMs: HOUR, needMm: 1000, outMm: 1000 };
  return { ...plannedWork({ ...plain, byHand: false, unattended: true }), ...more };
}

function lineOf(runs: readonly PlanRun[], more: Partial<PlanPrinter> = {}, floor: Partial<FloorSnapshot> = {}): Line {
  const printers = [{ printer: plannedPrinter('heron', more), runs }];
  const { lines } = planFloor({ printers, rack: [], attendance, nowMs: HOUR, away: night, ...floor });
  return lines.get('heron') as Line;
}

const starts = ({ events }: Line): readonly (readonly [string, number])[] =>
  events.flatMap((each) => (each.kind === 'run' ? [[each.id, each.fromMs / HOUR] as const] : []));

function purges(days: number, more: Partial<PlanCare> = {}): PlanCare[] {
  return Array.from({ length: days }, (_, i) => ({
    ...{ id: `purge ${String(i + 1)}`, fromMs: i * DAY + 4 * HOUR, latestMs: i * DAY + 5 * HOUR, timerId: 'daily' },
    ...{ durationMs: 121_000, inkMl: {}, fedMm: 450, stockId: 'sheet' },
    ...more,
  }));
}

test('with nobody there what needs no hand goes before what does, and that comes first in the morning', () => {
  const runs = [run('banner', { stockId: 'b' }), run('x'), run('shirts', { byHand: true }), run('y')];
  const line = lineOf(runs, {}, { rack: [onRack('b roll', 'b', 5000)] });
  // Ten minutes to load in the morning, and ten to load back.
  expect(starts(line)).toEqual([
    ['x', 1],
    ['y', 2],
    ['banner', 13 + 1 / 6],
    ['shirts', 14 + 2 / 6],
  ]);
  expect(line.heldOut).toEqual([
    { runId: 'banner', atMs: HOUR, why: 'load' },
    { runId: 'shirts', atMs: 2 * HOUR, why: 'pieces' },
  ]);
});

test('who goes before a roll is loaded leaves it to the morning, and the next run goes as soon as they are gone', () => {
  // Five minutes to go; a roll takes ten.
  const line = lineOf(
    [run('banner', { stockId: 'b' }), run('x')],
    {},
    { rack: [onRack('b roll', 'b', 5000)], nowMs: HOUR - 300_000 },
  );
  expect(line.heldOut).toEqual([{ runId: 'banner', atMs: HOUR, why: 'load' }]);
  expect(starts(line)).toEqual([
    ['x', 1],
    ['banner', 13 + 1 / 6],
  ]);
});

test('without a period away the line waits at what needs a hand', () => {
  const line = lineOf([run('banner', { stockId: 'b' }), run('x')], {}, { away: null });
  expect(starts(line)[0]).toEqual(['banner', 13 + 1 / 6]);
  expect(line.heldOut).toEqual([]);
});

test.each([
  ['clean', run('r', { inkMl: { white: 1 } }), { unfit: { m: ['white'] } }],
  ['turn', run('r', { needMm: 0, turn: true }), {}],
  ['watch', run('r', { unattended: false }), {}],
  ['load', run('r', { needMm: 10_001 }), {}],
  ['load', run('r', { leastWidthMm: 1700 }), {}],
  ['empty', run('r', { outMm: 4001 }), { collectsMm: 10_000, collectedMm: 6000 }],
  ['cut', run('r', { outMm: 4001 }), { freeHangMm: 4000 }],
] as const)('a run is held out: %s', (why, held, more) => {
  const line = lineOf([held, run('x')], more);
  expect(line.heldOut).toEqual([{ runId: 'r', atMs: HOUR, why }]);
  expect(starts(line)[0]).toEqual(['x', 1]);
});

test('a printer that may not print alone holds all of its runs out', () => {
  const line = lineOf([run('x'), run('y')], { unattended: false });
  expect(line.heldOut.map(({ runId, why }) => [runId, why])).toEqual([
    ['x', 'watch'],
    ['y', 'watch'],
  ]);
  expect(starts(line)[0]).toEqual(['x', 13]);
});

test('whoever comes in between takes what waits first', () => {
  const noon = new Attendance([
    { fromMs: 6 * HOUR, toMs: 8 * HOUR },
    { fromMs: 13 * HOUR, toMs: 22 * HOUR },
  ]);
  const runs = [run('banner', { stockId: 'b' }), ...['t', 'u', 'v', 'w', 'x', 'y'].map((id) => run(id))];
  const line = lineOf(runs, {}, { rack: [onRack('b roll', 'b', 5000)], attendance: noon });
  expect(starts(line).map(([id]) => id)).toEqual(['t', 'u', 'v', 'w', 'x', 'banner', 'y']);
});

test('nine daily purges and five sheets: days six to nine lack sheets, and take no time', () => {
  const tray = sourceWith({
    id: 'tray',
    stockId: 'sheet',
    spoolId: 'pack',
    leftMm: 5 * 450,
    sheetMm: 450,
    widthMm: 320,
  });
  const line = lineOf([], { sources: [tray], care: purges(9) }, { away: { fromMs: 0, toMs: 9 * DAY } });
  const care = line.events.flatMap((event) => (event.kind === 'care' ? [event] : []));
  expect(care.map(({ lacks }) => lacks)).toEqual([
    ...Array.from({ length: 5 }, () => null),
    ...Array.from({ length: 4 }, () => 'media'),
  ]);
  expect(care.map(({ fed }) => fed?.leftMm ?? null)).toEqual([1800, 1350, 900, 450, 0, null, null, null, null]);
  expect(care[5]).toMatchObject({ fromMs: 5 * DAY + 4 * HOUR, toMs: 5 * DAY + 4 * HOUR });
});

test('a purge takes whole sheets of its pack', () => {
  const tray = sourceWith({ id: 'tray', stockId: 'sheet', spoolId: 'pack', leftMm: 2000, sheetMm: 700, widthMm: 320 });
  const line = lineOf([], { sources: [tray], care: purges(3) });
  const care = line.events.flatMap((event) => (event.kind === 'care' ? [event] : []));
  // 450 mm is one sheet of 700: 1,300, 600, and then no whole sheet.
  expect(care.map(({ lacks, fed }) => lacks ?? fed?.leftMm)).toEqual([1300, 600, 'media']);
});

test('care that comes between runs takes from their roll, and what is given up leaves it', () => {
  const roll = sourceWith({ leftMm: 2500 });
  const care = purges(1, { stockId: 'a', fedMm: 600 });
  const runs = [run('x', { estimateMs: 4 * HOUR }), run('y'), run('z')];
  const line = lineOf(runs, { sources: [roll], care });
  // 1,000 for x, 600 for the purge at five: y would need 1,000 of 900 and is held out as the rest is.
  expect(line.heldOut.map(({ runId, why }) => [runId, why])).toEqual([
    ['y', 'load'],
    ['z', 'load'],
  ]);
  const short = lineOf(runs, {
    sources: [sourceWith({ leftMm: 1500 })],
    care: purges(1, { stockId: 'a', fedMm: 600 }),
  });
  expect(short.events.find(({ kind }) => kind === 'care')).toMatchObject({ lacks: 'media', fed: null });
});

test('a purge that work makes needless takes nothing', () => {
  const tray = sourceWith({ id: 'tray', stockId: 'sheet', spoolId: 'pack', leftMm: 450, sheetMm: 450, widthMm: 320 });
  const [first, second] = purges(2);
  const care = first && second ? [{ ...first, skipped: true }, second] : [];
  const line = lineOf([], { sources: [tray], care });
  expect(line.events.map((event) => ('lacks' in event ? [event.lacks, event.toMs - event.fromMs] : []))).toEqual([
    [null, 0],
    [null, 121_000],
  ]);
});

test('a basket that fills keeps care from coming out with nobody there; who is there empties it', () => {
  const basket = { collectsMm: 1000, collectedMm: 700, care: purges(1, { stockId: 'a', fedMm: 600 }) };
  expect(lineOf([], basket).events).toMatchObject([{ kind: 'care', lacks: 'basket' }]);
  expect(lineOf([], basket, { attendance: Attendance.always() }).events).toMatchObject([{ kind: 'care', lacks: null }]);
});

test('a channel that runs dry stands until somebody is there, and is told once', () => {
  const runs = [run('x', { inkMl: { cyan: 10 } }), run('y', { inkMl: { cyan: 10 } })];
  const line = lineOf(runs, { inkLeftMl: { cyan: 5 } });
  expect(line.shortages).toEqual([{ atMs: 1.5 * HOUR, runId: 'x', what: { kind: 'ink', channelId: 'cyan' } }]);
  expect(line.events.map(({ fromMs, toMs }) => [fromMs / HOUR, toMs / HOUR])).toEqual([
    [1, 13.5],
    [13.5, 14.5],
  ]);
  const there = lineOf(runs, { inkLeftMl: { cyan: 5 } }, { attendance: Attendance.always() });
  expect(there.freeMs).toBe(3 * HOUR);
});
