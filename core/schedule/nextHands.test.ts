import { WAITS_FOR_RENDERING } from '../raster/whilePrinting.ts';
import { type HandsPrinter, nextHands } from './nextHands.ts';
import type { Line } from './plan.ts';

const MIN = 60_000;
const EMPTY: Line = { events: [], freeMs: 0, shortages: [], changeOverMin: 0, lateMinor: 0, heldOut: [] };
const PRINTER: HandsPrinter = {
  id: 'bittern',
  name: 'Bittern',
  state: 'idle',
  reason: null,
  sources: [{ id: 'roll-2', name: 'roll 2' }],
  channels: [{ id: 'grey', name: 'Grey' }],
  loaded: [],
  takesUp: false,
  present: null,
  held: null,
  line: EMPTY,
  checkToRead: null,
  overdue: [],
  offered: null,
};
const NAMES = {
  runs: new Map([
    ['r1', { name: 'Run 1', stockId: 'satin', byHand: false, pieceCount: 2, inkMl: { grey: 3 } }],
    ['r2', { name: 'Run 2', stockId: 'shirt', byHand: true, pieceCount: 12, inkMl: { white: 9 } }],
  ]),
  stocks: new Map([['satin', 'Satin photo 914']]),
  spools: new Map([['s1', 'SP-45']]),
};
const hands = (...printers: readonly Partial<HandsPrinter>[]) =>
  nextHands(
    printers.map((change) => ({ ...PRINTER, ...change })),
    NAMES,
    0,
  );
const change = (fromMs: number, spoolId: string | null) =>
  ({
    kind: 'change-over',
    what: 'stock',
    runId: 'r1',
    fromMs,
    toMs: fromMs + 6 * MIN,
    sourceId: 'roll-2',
    spoolId,
  }) as const;

test('what stands now comes first, then what the plans will ask for, in the order of time', () => {
  const later = { ...EMPTY, events: [change(90 * MIN, 's1')] };
  const soon = {
    ...EMPTY,
    events: [{ kind: 'run' as const, id: 'r2', fromMs: 20 * MIN, toMs: 40 * MIN, lateMs: 0, fed: null }],
  };
  const list = hands(
    { id: 'a', line: later },
    { id: 'b', name: 'Puffin', line: soon },
    { id: 'c', name: 'Heron', state: 'faulted', reason: 'head strike' },
  );
  expect(list.map(({ when, kind, text }) => [when, kind, text])).toEqual([
    ['now', 'fault', 'Heron: head strike'],
    [20 * MIN, 'piece', 'Puffin: 12 pieces of Run 2 to load by hand'],
    [90 * MIN, 'load', 'Load SP-45, Satin photo 914, on Bittern roll 2'],
  ]);
});

test('a paused run, a dead line and a run that is held back each say what is to be done', () => {
  const present = { id: 'r1', name: 'Run 1', state: 'paused', reason: 'media out' };
  expect(hands({ state: 'waiting', reason: 'media out', present })[0]).toMatchObject({
    kind: 'go-on',
    text: 'Bittern waits: media out',
    way: 'Then let Run 1 go on.',
  });
  // One that waits until its rows are rendered goes on by itself.
  const rows = { ...present, reason: WAITS_FOR_RENDERING };
  expect(hands({ state: 'waiting', reason: WAITS_FOR_RENDERING, present: rows })).toEqual([]);
  expect(hands({ state: 'off' })[0]).toMatchObject({ kind: 'look', text: 'Bittern does not answer' });
  const held = {
    runId: 'r1',
    code: 'basket',
    text: 'The basket is full',
    way: 'Empty it, and confirm that it is empty.',
    hand: true,
  };
  expect(hands({ held })[0]).toMatchObject({ kind: 'empty', text: 'The basket is full' });
  // What time alone will do needs no hand.
  expect(hands({ held: { ...held, code: 'nobody', hand: false } })).toEqual([]);
});

test('what is said now is not said again by the plan; a mode change needs no hand; nothing on the rack is said', () => {
  const line = { ...EMPTY, events: [change(5 * MIN, null)] };
  expect(hands({ line })[0]?.text).toBe('Bittern roll 2: Satin photo 914 is wanted and none is on the rack');
  const held = { runId: 'r1', code: 'wrong-stock', text: 'Bittern holds cotton', way: 'Load satin.', hand: true };
  expect(hands({ line, held }).map(({ text }) => text)).toEqual(['Bittern holds cotton']);
  const mode = { ...change(5 * MIN, null), what: 'mode' as const, sourceId: null };
  expect(hands({ line: { ...EMPTY, events: [mode] } })).toEqual([]);
  const far = { ...EMPTY, events: [change(48 * 60 * MIN, 's1')] };
  expect(hands({ line: far })).toEqual([]);
});

test('ink that will run out is said with its run', () => {
  const shortage = { atMs: 30 * MIN, runId: 'r1', what: { kind: 'ink', channelId: 'grey' } } as const;
  expect(hands({ line: { ...EMPTY, shortages: [shortage] } })[0]).toMatchObject({
    kind: 'ink',
    when: 30 * MIN,
    text: 'Grey of Bittern runs out in Run 1',
  });
});

test('a channel that stood too long is looked after before the first run that fires it', () => {
  const run = (id: string, fromMs: number) => ({
    kind: 'run' as const,
    id,
    fromMs,
    toMs: fromMs + MIN,
    lateMs: 0,
    fed: null,
  });
  const overdue = [{ channelId: 'grey', text: 'grey idle for 6 d of 5 d' }];
  const heads = (events: Line['events']) =>
    hands({ overdue, line: { ...EMPTY, events } }).filter(({ kind }) => kind === 'heads');
  expect(heads([run('r1', 30 * MIN)])).toMatchObject([
    { when: 30 * MIN, text: 'Check the nozzles of Bittern: grey idle for 6 d of 5 d', runId: 'r1' },
  ]);
  // The run fires no grey; nothing is to be printed at all.
  expect(heads([run('r2', 30 * MIN)])).toEqual([]);
  expect(heads([])).toEqual([]);
});

test('work of a printer that stands is offered to others, after what is wrong with it', () => {
  const stands = { state: 'faulted', reason: 'head strike' };
  const texts = (offered: HandsPrinter['offered']) => hands({ ...stands, offered }).map(({ text }) => text);
  expect(texts({ runs: 4, able: 3 })).toEqual([
    'Bittern: head strike',
    'While Bittern stands, others can take 3 of 4 runs',
  ]);
  expect(texts({ runs: 2, able: 2 })[1]).toBe('While Bittern stands, others can take its 2 runs');
  expect(texts({ runs: 4, able: 0 })).toHaveLength(1);
  expect(texts(null)).toHaveLength(1);
});

test('while a run prints, what the next one lacks is wanted when it is over, not now', () => {
  const held = { runId: 'r1', code: 'wrong-stock', text: 'Bittern holds another', way: 'Load it.', hand: true };
  const line = { ...EMPTY, events: [change(40 * MIN, 's1')] };
  const present = { id: 'r0', name: 'Run 0', state: 'printing', reason: null };
  expect(hands({ state: 'printing', held, line, present })).toMatchObject([
    {
      when: 40 * MIN,
      kind: 'load',
      text: 'Load SP-45, Satin photo 914, on Bittern roll 2',
      way: 'Bittern holds another.',
    },
  ]);
  expect(hands({ held, line })).toMatchObject([
    { when: 'now', text: 'Load SP-45, Satin photo 914, on Bittern roll 2' },
  ]);
});

test('of what is wanted now the fault comes first, then what stands, then what is to be loaded; each names its printer', () => {
  const held = {
    runId: 'r1',
    code: 'basket',
    text: 'The basket is full',
    way: 'Empty it.',
    hand: true,
  };
  const list = hands(
    { id: 'a', name: 'Wren', held },
    { id: 'b', name: 'Magpie', held: { ...held, code: 'short', text: 'SP-1 has 1.00 m left' } },
    {
      id: 'c',
      name: 'Puffin',
      present: { id: 'r2', name: 'Run 2', state: 'paused', reason: 'stops for the next piece' },
    },
    { id: 'd', name: 'Heron', state: 'faulted', reason: 'head strike' },
  );
  expect(list.map(({ printerName, kind }) => [printerName, kind])).toEqual([
    ['Heron', 'fault'],
    ['Puffin', 'go-on'],
    ['Magpie', 'load'],
    ['Wren', 'empty'],
  ]);
  expect(list.map(({ act }) => act)).toEqual([null, { kind: 'resume', runId: 'r2' }, null, { kind: 'emptied' }]);
});

test('a load is ticked off where it is sure which spool goes where, and no take-up has to be set', () => {
  const held = { runId: 'r1', code: 'wrong-stock', text: 'Bittern holds another', way: 'Load it.', hand: true };
  const line = { ...EMPTY, events: [change(0, 's1')] };
  expect(hands({ held, line })[0]?.act).toEqual({ kind: 'load', spoolId: 's1', sourceId: 'roll-2' });
  expect(hands({ held, line, takesUp: true })[0]?.act).toBeNull();
  expect(hands({ held, line: { ...EMPTY, events: [change(0, null)] } })[0]?.act).toBeNull();
  const back = { ...held, code: 'confirm' };
  const loaded = [{ sourceId: 'roll-2', spoolId: 's1' }];
  expect(hands({ held: back, loaded })[0]?.act).toEqual({ kind: 'confirm back', runId: 'r1', spoolId: 's1' });
  expect(hands({ held: back, loaded: [...loaded, { sourceId: 'roll-1', spoolId: 's2' }] })[0]?.act).toBeNull();
});

test('a basket that will be full and a back that will be turned are told before', () => {
  const hand = (what: 'empty' | 'turn') =>
    ({ kind: 'hand', what, runId: 'r1', fromMs: 30 * MIN, toMs: 30 * MIN }) as const;
  expect(hands({ line: { ...EMPTY, events: [hand('empty')] } })).toMatchObject([
    { when: 30 * MIN, kind: 'empty', text: 'Empty the basket of Bittern' },
  ]);
  expect(hands({ line: { ...EMPTY, events: [hand('turn')] } })).toMatchObject([
    { kind: 'confirm', way: 'Take the roll out, turn it, load it, confirm.' },
  ]);
});

test('what no load helps is to be looked at, and so is a device that waits by itself', () => {
  const held = { runId: 'r1', code: 'free-hang', text: 'Run 1 may not hang so long', way: 'Cut it.', hand: true };
  expect(hands({ held })).toMatchObject([{ kind: 'look', act: null, load: null }]);
  const waits = {
    state: 'waiting',
    reason: 'warming up',
    held: { ...held, code: 'fault', text: 'Bittern: warming up' },
  };
  expect(hands(waits)).toMatchObject([{ kind: 'look', text: 'Bittern: warming up' }]);
});
