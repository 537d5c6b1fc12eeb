import { alertsOf } from './alerts.ts';

const PRINTER = {
  id: 'heron',
  name: 'Heron',
  state: 'idle',
  reason: null,
  held: null,
  config: { channels: [{ id: 'cyan', name: 'Cyan' }] },
  inkLeftMl: { cyan: 100 },
};
const RUN = { id: 'r1', name: 'Run 1', printerId: 'heron', state: 'queued', reason: null, inkMl: { cyan: 3 } };
type Change = Partial<Omit<Parameters<typeof alertsOf>[0][number], 'id'>>;
const alerts = (printer: Change, run: Partial<Parameters<typeof alertsOf>[1][number]> = {}) =>
  alertsOf([{ ...PRINTER, ...printer }], [{ ...RUN, ...run }]);

test('faults, stops and empty tanks are told with what to do first', () => {
  expect(alerts({ state: 'faulted', reason: 'head strike' })).toMatchObject([
    { kind: 'fault', text: 'Heron: head strike', way: 'Look at the heads before anything is printed again.' },
  ]);
  expect(alerts({ state: 'waiting', reason: 'media out' }, { state: 'paused', reason: 'media out' })).toMatchObject([
    { kind: 'stop', text: 'Heron stands in Run 1: media out', way: expect.stringMatching(/next roll/) as string },
  ]);
  expect(alerts({ state: 'printing', inkLeftMl: { cyan: 0 } }, { state: 'printing' })).toMatchObject([
    { kind: 'supply', text: 'Cyan of Heron is empty while Run 1 prints' },
  ]);
  const held = { runId: 'r1', text: 'Heron holds another', way: 'Load it.', hand: true };
  expect(alerts({ held })).toMatchObject([{ kind: 'stop', text: 'Heron holds another' }]);
  expect(alerts({ held: { ...held, text: 'The basket is full' } })[0]?.text).toBe('Heron: The basket is full');
});

test('what is as it is meant to be is no alert', () => {
  expect(alerts({})).toEqual([]);
  expect(alerts({ state: 'printing' }, { state: 'printing' })).toEqual([]);
  // A person has paused it, or loads the next piece.
  for (const reason of ['paused by hand', 'stops for the next piece'])
    expect(alerts({ state: 'waiting', reason }, { state: 'paused', reason })).toEqual([]);
  expect(alerts({ held: { runId: 'r1', text: 'Nobody is there', way: 'It waits.', hand: false } })).toEqual([]);
  // Switched off, and nothing is wanted of it.
  expect(alerts({ state: 'off' }, { state: 'printed' })).toEqual([]);
  expect(alerts({ state: 'off' })).toHaveLength(1);
});

test('the worst comes first, and the same trouble keeps its key', () => {
  const printers = [
    { ...PRINTER, id: 'a', name: 'A', state: 'printing', inkLeftMl: { cyan: 0 } },
    { ...PRINTER, id: 'b', name: 'B', state: 'waiting', reason: 'jam' },
    { ...PRINTER, id: 'c', name: 'C', state: 'faulted', reason: 'head strike' },
  ];
  const runs = [
    { ...RUN, id: 'ra', printerId: 'a', state: 'printing' },
    { ...RUN, id: 'rb', printerId: 'b', state: 'paused', reason: 'jam' },
  ];
  const list = alertsOf(printers, runs);
  expect(list.map(({ printerId }) => printerId)).toEqual(['c', 'b', 'a']);
  expect(alertsOf(printers, runs).map(({ key }) => key)).toEqual(list.map(({ key }) => key));
});
