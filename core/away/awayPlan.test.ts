import { awayRun, awayShop } from '../testing/awayShop.ts';
import { onRack, plannedPrinter, sourceWith } from '../testing/plannedPrinter.ts';
import type { PlanCare } from '../schedule/plan.ts';
import { type AwayChange, ChangeRefused, changedFloor } from './awayChange.ts';
import { awayEvents, awayFigures } from './awayEvents.ts';
import { awaySupplies } from './awaySupplies.ts';
import { type AwayWorld, planAway } from './awayWorld.ts';
import { beforeYouGo, figuresWith } from './beforeYouGo.ts';

const HOUR = 3_600_000;
const MIN = 60_000;
const DAY = 24 * HOUR;

function look(world: AwayWorld) {
  const planned = planAway(world);
  const events = awayEvents(world, planned);
  return {
    events,
    figures: awayFigures(world, planned, events),
    supplies: awaySupplies(world, planned),
    before: beforeYouGo(world, planned, events),
  };
}

const ends = (world: AwayWorld): string[] =>
  look(world).events.map(({ what, outcome, why }) => `${what} ${outcome}${why === '' ? '' : `: ${why}`}`);

const purge = (day: number, more: Partial<PlanCare> = {}): PlanCare => ({
  ...{ id: `daily@${String(day)}`, fromMs: day * DAY + 4 * HOUR, latestMs: day * DAY + 5 * HOUR, timerId: 'daily' },
  ...{ durationMs: 121_000, inkMl: { white: 0.2 }, fedMm: 450, stockId: 'sheet' },
  ...more,
});

/** A tray with five sheets. */
const TRAY = sourceWith({ id: 'tray', stockId: 'sheet', spoolId: 'pack', leftMm: 2250, sheetMm: 450, widthMm: 320 });

describe('away for nine days with five sheets in the tray', () => {
  const care = Array.from({ length: 9 }, (_, day) => purge(day));
  const printer = plannedPrinter('wren', { sources: [TRAY], care, inkLeftMl: { white: 90 } });
  const world = awayShop({ toH: 9 * 24, printers: [{ printer, runs: [] }] });

  test('five purges are done, and days six to nine have no sheet', () => {
    const { events, figures, supplies } = look(world);
    expect(events.map(({ outcome }) => outcome)).toEqual([
      ...Array.from({ length: 5 }, () => 'done'),
      ...Array.from({ length: 4 }, () => 'impossible'),
    ]);
    expect(events[5]).toMatchObject({ atMs: 5 * DAY + 4 * HOUR, why: 'no Film sheet left' });
    expect([figures.careDone, figures.careLost]).toEqual([5, 4]);
    // The fifth takes the last sheet.
    expect(supplies.find(({ kind }) => kind === 'spool')).toMatchObject({ endsMs: 4 * DAY + 4 * HOUR + 121_000 });
  });

  test('four more sheets are asked for, and make it nine', () => {
    const [action] = look(world).before;
    expect(action).toMatchObject({
      text: 'Put 4 sheets of Film sheet in wren tray',
      change: { kind: 'add', spoolId: 'pack', mm: 1800 },
      gain: { care: 4 },
    });
    expect(figuresWith(world, action?.change ? [action.change] : [])).toMatchObject({ careDone: 9, careLost: 0 });
  });
});

test('a basket that fills at 03:10 holds the next run out; emptied before, all three are printed', () => {
  const printer = plannedPrinter('heron', { collectsMm: 10_000, collectedMm: 5000 });
  const runs = [
    awayRun('one', { outMm: 3000, estimateMs: 70 * MIN }),
    awayRun('two', { outMm: 1500, estimateMs: 2 * HOUR }),
    awayRun('three', { outMm: 1000 }),
  ];
  // The night begins at midnight.
  const world = awayShop({ toH: 8, printers: [{ printer, runs }] });
  const { events, supplies, before } = look(world);
  expect(events.map(({ what, outcome, atMs }) => [what, outcome, atMs / MIN])).toEqual([
    ['one', 'done', 0],
    ['two', 'done', 70],
    ['three', 'hand', 190],
  ]);
  expect(events[2]).toMatchObject({ why: 'the basket has to be emptied', lacks: 'basket' });
  expect(supplies.find(({ kind }) => kind === 'basket')).toMatchObject({ full: 10_000, endsMs: 190 * MIN });
  expect(before[0]).toMatchObject({ text: 'Empty the basket of heron', gain: { pieces: 4, worthMinor: 600 } });
  expect(figuresWith(world, [{ kind: 'empty', printerId: 'heron' }]).runs).toBe(3);
});

test('a roll that ends in run 4 holds it out and lets the short one behind it go; a longer roll prints all', () => {
  const printer = plannedPrinter('heron', { sources: [sourceWith({ spoolId: 'short', leftMm: 3500 })] });
  const runs = ['one', 'two', 'three', 'four'].map((id) => awayRun(id));
  const last = awayRun('five', { needMm: 400, outMm: 400, estimateMs: 20 * MIN });
  const rack = [onRack('long', 'a', 30_000)];
  const world = awayShop({ toH: 8, printers: [{ printer, runs: [...runs, last] }], rack });
  expect(ends(world)).toEqual(['one done', 'two done', 'three done', 'five done', 'four hand: Mesh has to be loaded']);
  const { before, events, supplies } = look(world);
  expect(events.at(-1)).toMatchObject({ what: 'four', lacks: 'media' });
  expect(supplies.find(({ kind }) => kind === 'spool')).toMatchObject({ name: 'media', endsMs: 3 * HOUR });
  expect(before[0]).toMatchObject({
    text: 'Load long, Mesh, on heron roll',
    change: { kind: 'load', printerId: 'heron', sourceId: 'roll', spoolId: 'long' },
    gain: { pieces: 4 },
    minutes: 10,
  });
  // 3 × 1 m and 0.4 m were printed before; now 4 × 1 m and 0.4 m.
  expect(figuresWith(world, before[0]?.change ? [before[0].change] : []).metres).toBeCloseTo(4.4, 9);
});

test('an ink that runs out stands the printer; filled, the rest is printed', () => {
  const printer = plannedPrinter('heron', { inkLeftMl: { cyan: 5 } });
  const runs = [awayRun('one', { inkMl: { cyan: 4 } }), awayRun('two', { inkMl: { cyan: 4 } }), awayRun('three')];
  const world = awayShop({ toH: 8, printers: [{ printer, runs }], there: [[9, 18]] });
  expect(ends(world)).toEqual([
    'one done',
    'two impossible: cyan of heron runs out after 25 % of it',
    'three impossible: heron stands: cyan ran out',
  ]);
  const { before, events, figures, supplies } = look(world);
  expect(events.map(({ lacks }) => lacks)).toEqual([null, 'ink', 'ink']);
  // A quarter of four pieces is one piece.
  expect(figures).toMatchObject({ runs: 1, pieces: 5 });
  expect(supplies.find(({ kind }) => kind === 'ink')).toMatchObject({ full: 100, endsMs: 75 * MIN });
  expect(before[0]).toMatchObject({ key: 'fill heron cyan', gain: { pieces: 7 } });
});

test('what does not fit into the night says by how much, and what goes first instead is offered', () => {
  const runs = [
    awayRun('small', { estimateMs: 2 * HOUR }),
    awayRun('big', { estimateMs: 6 * HOUR }),
    awayRun('last', { estimateMs: HOUR }),
  ];
  const worth = { big: { valueMinor: 9000 } };
  const world = awayShop({ toH: 7, printers: [{ printer: plannedPrinter('heron'), runs }], worth });
  expect(ends(world)).toEqual([
    'small done',
    'big impossible: it would end 1 h 00 min after the time away',
    'last impossible: no time left: it would begin 1 h 00 min after the time away',
  ]);
  const { before } = look(world);
  expect(before.map(({ key, kind }) => [key, kind])).toContainEqual(['first big', 'plan']);
  // Its last quarter is printed too then, and the small one does not fit in any more: 9,000 instead of 7 ÷ 8 of it.
  expect(figuresWith(world, [{ kind: 'leave', runId: 'big' }]).runs).toBe(2);
});

test('a run that another printer could take is offered there, with what that brings', () => {
  const heron = plannedPrinter('heron', { sources: [sourceWith({ spoolId: 'short', leftMm: 500 })] });
  const gull = plannedPrinter('gull');
  const printers = [
    { printer: heron, runs: [awayRun('big', { needMm: 4000 })] },
    { printer: gull, runs: [] },
  ];
  const move = { runId: 'big', printerId: 'gull', modeId: 'm', estimateMs: 2 * HOUR, needMm: 4200, outMm: 4000 };
  const world = { ...awayShop({ toH: 8, printers, there: [[9, 18]] }), moves: [move] };
  const [action] = look(world).before.filter(({ kind }) => kind === 'plan');
  expect(action).toMatchObject({ text: 'Print big on gull', change: { kind: 'move', ...move }, gain: { pieces: 4 } });
});

test('a purge that work exercises is skipped and leaves its sheet to the next', () => {
  const care = [purge(0), purge(1)];
  const tray = { ...TRAY, leftMm: 450 };
  const printer = plannedPrinter('wren', { sources: [sourceWith(), tray], care, inkLeftMl: { white: 90 } });
  // White fires enough at the end of the run, an hour before the first purge, and again by the second within its limit.
  const runs = [awayRun('white', { inkMl: { white: 1 }, estimateMs: 3 * HOUR })];
  const world = awayShop({ toH: 48, printers: [{ printer, runs }], limitH: 72 });
  expect(ends(world)).toEqual(['white done', 'White, daily skipped: exercised by work', 'White, daily done']);
});

test('holidays leave timers out, and say so', () => {
  const printer = plannedPrinter('wren', { sources: [TRAY] });
  const world = {
    ...awayShop({ toH: 24, printers: [{ printer, runs: [] }] }),
    holidays: [
      { id: 'daily@1', printerId: 'wren', title: 'White, daily', what: 'stir' as const, atMs: 4 * HOUR },
      { id: 'daily@9', printerId: 'wren', title: 'White, daily', what: 'stir' as const, atMs: 40 * HOUR },
    ],
  };
  expect(ends(world)).toEqual(['White, daily skipped: holiday']);
  expect(look(world).events[0]?.kind).toBe('stir');
});

describe('what could be done', () => {
  const printer = plannedPrinter('heron', { inkLeftMl: { cyan: 5 }, unfit: { m: ['cyan'] } });
  const runs = [awayRun('one'), awayRun('two'), awayRun('three')];
  const { floor } = awayShop({ toH: 8, printers: [{ printer, runs }], rack: [onRack('spare', 'b', 9000)] });
  const after = (change: AwayChange) => changedFloor(floor, [change]).printers[0];

  test('is simulated on a floor of its own; what was in a source goes to the rack', () => {
    const load: AwayChange = { kind: 'load', printerId: 'heron', sourceId: 'roll', spoolId: 'spare' };
    const next = changedFloor(floor, [load]);
    expect(next.printers[0]?.printer.sources[0]).toMatchObject({ spoolId: 'spare', stockId: 'b', leftMm: 9000 });
    expect(next.rack).toMatchObject([{ id: 'heron in', stockId: 'a', leftMm: 10_000 }]);
    // Nothing is done to the floor itself.
    expect(floor.rack).toMatchObject([{ id: 'spare' }]);
    expect(after({ kind: 'add', spoolId: 'heron in', mm: 500 })?.printer.sources[0]?.leftMm).toBe(10_500);
    expect(after({ kind: 'fill', printerId: 'heron', channelId: 'cyan', ml: 100 })?.printer.inkLeftMl).toEqual({
      cyan: 100,
    });
    expect(after({ kind: 'clean', printerId: 'heron' })?.printer.unfit).toEqual({});
    expect(
      after({ kind: 'order', printerId: 'heron', runIds: ['three', 'one', 'two'] })?.runs.map(({ id }) => id),
    ).toEqual(['three', 'one', 'two']);
    const there = { printerId: 'heron', modeId: 'fast', estimateMs: 5, needMm: 900, outMm: 800 };
    expect(
      after({ kind: 'move', runId: 'one', ...there })?.runs.map(({ id, modeId, needMm }) => [id, modeId, needMm]),
    ).toEqual([
      ['two', 'm', 1000],
      ['three', 'm', 1000],
      ['one', 'fast', 900],
    ]);
    expect(after({ kind: 'split', runId: 'two' })?.runs.map(({ id, needMm }) => [id, needMm])).toEqual([
      ['one', 1000],
      ['two#1', 500],
      ['two#2', 500],
      ['three', 1000],
    ]);
  });

  test.each<[string, AwayChange]>([
    ['no-printer', { kind: 'empty', printerId: 'gull' }],
    ['no-spool', { kind: 'load', printerId: 'heron', sourceId: 'roll', spoolId: 'gone' }],
    ['no-source', { kind: 'load', printerId: 'heron', sourceId: 'third', spoolId: 'spare' }],
    ['no-channel', { kind: 'fill', printerId: 'heron', channelId: 'gold', ml: 1 }],
    ['no-run', { kind: 'leave', runId: 'ten' }],
    ['no-run', { kind: 'order', printerId: 'heron', runIds: ['one', 'two', 'ten'] }],
    ['no-run', { kind: 'move', runId: 'ten', printerId: 'heron', modeId: 'm', estimateMs: 1, needMm: 1, outMm: 1 }],
    ['no-printer', { kind: 'move', runId: 'one', printerId: 'gull', modeId: 'm', estimateMs: 1, needMm: 1, outMm: 1 }],
    ['wrong-order', { kind: 'order', printerId: 'heron', runIds: ['one', 'two'] }],
    ['no-spool', { kind: 'add', spoolId: 'gone', mm: 1 }],
  ])('names what is not there: %s', (code, change) => {
    expect(() => changedFloor(floor, [change])).toThrow(ChangeRefused);
    expect(() => changedFloor(floor, [change])).toThrow(code);
  });
});
