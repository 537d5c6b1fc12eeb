import fc from 'fast-check';
import { type Cause, type Subscription, type Told, afterQuiet, dueFor } from './messageRules.ts';
import { nextTryMs } from './retry.ts';

const ZONE = 'Europe/Copenhagen';
const MIN = 60_000;
const at = (text: string): number => Date.parse(`2027-01-14T${text}:00+01:00`);
const NIGHT = { from: '22:00', to: '06:30' };

describe('quiet hours', () => {
  test.each([
    ['21:59', NIGHT, '21:59'],
    ['22:00', NIGHT, '30:30'],
    ['03:10', NIGHT, '06:30'],
    ['06:30', NIGHT, '06:30'],
    ['12:10', { from: '12:00', to: '13:00' }, '13:00'],
    ['13:00', { from: '12:00', to: '13:00' }, '13:00'],
  ])('told at %s within %j: at %s', (when, quiet, told) => {
    const [hours = 0, minutes = 0] = told.split(':').map(Number);
    expect(afterQuiet(at(when), quiet, ZONE)).toBe(at('00:00') + (hours * 60 + minutes) * MIN);
  });

  test('on the night on which clocks go on an hour they end by the clock on the wall', () => {
    // 28 March 2027, 01:00 +01:00; 06:30 is in four and a half hours.
    const before = Date.parse('2027-03-28T00:00:00Z');
    expect(afterQuiet(before, NIGHT, ZONE) - before).toBe(4.5 * 60 * MIN);
  });

  test('nobody is told within them, and nobody later than their end', () => {
    const time = fc
      .integer({ min: 0, max: 1439 })
      .map((m) => `${String(Math.floor(m / 60)).padStart(2, '0')}:${String(m % 60).padStart(2, '0')}`);
    fc.assert(
      fc.property(time, time, fc.integer({ min: 0, max: 3 * 1440 }), (from, to, minute) => {
        const ms = at('00:00') + minute * MIN;
        const told = afterQuiet(ms, { from, to }, ZONE);
        expect(afterQuiet(told, { from, to }, ZONE)).toBe(told);
        expect(told - ms).toBeGreaterThanOrEqual(0);
        expect(told - ms).toBeLessThan(24 * 60 * MIN);
      }),
    );
  });
});

const CAUSE: Cause = { id: 'c', kind: 'fault', openedMs: at('03:00'), closedMs: null, seenMs: null };
const ida: Subscription = {
  personId: 'ida',
  kinds: ['fault'],
  repeatMin: 15,
  escalate: { afterMin: 30, personId: 'bo' },
};

function due(when: string, told: readonly Told[] = [], change: Partial<Cause> = {}, quiet: readonly string[] = []) {
  const quietOf = (id: string) => (quiet.includes(id) ? NIGHT : null);
  return dueFor({ ...CAUSE, ...change }, [ida], quietOf, told, at(when), ZONE).map(({ personId, escalated }) =>
    escalated ? `${personId} as well` : personId,
  );
}

test('a cause is told once to whoever wants to know of it, and again until somebody has seen it', () => {
  expect(due('03:00')).toEqual(['ida']);
  const told = [{ personId: 'ida', atMs: at('03:00') }];
  expect(due('03:14', told)).toEqual([]);
  expect(due('03:15', told)).toEqual(['ida']);
  expect(due('03:15', told, { seenMs: at('03:10') })).toEqual([]);
  expect(due('03:15', told, { closedMs: at('03:10') })).toEqual([]);
  expect(due('03:00', [], { kind: 'supply' })).toEqual([]);
});

test('where nobody has seen it after half an hour, the second person is told as well', () => {
  const told = [{ personId: 'ida', atMs: at('03:15') }];
  expect(due('03:29', told)).toEqual([]);
  expect(due('03:30', told)).toEqual(['ida', 'bo as well']);
  expect(due('03:40', [...told, { personId: 'bo', atMs: at('03:30') }])).toEqual(['ida']);
});

test('quiet hours put a message off, and leave the second person’s alone', () => {
  expect(due('03:00', [], {}, ['ida'])).toEqual([]);
  expect(due('03:30', [], {}, ['ida'])).toEqual(['bo as well']);
  expect(due('06:30', [{ personId: 'bo', atMs: at('06:20') }], {}, ['ida'])).toEqual(['ida']);
});

test('that a plan has ended is said once', () => {
  const told = [{ personId: 'ida', atMs: at('03:00') }];
  const all = [{ ...ida, kinds: ['finished' as const] }];
  const done = { ...CAUSE, kind: 'finished' as const };
  expect(dueFor(done, all, () => null, [], at('03:00'), ZONE)).toHaveLength(1);
  expect(dueFor(done, all, () => null, told, at('03:20'), ZONE)).toEqual([]);
});

test('what can’t be sent is tried again five times within an hour and a half, and then given up', () => {
  const waits = [1, 2, 3, 4, 5, 6].map((tries) => nextTryMs(tries, 0));
  expect(waits).toEqual([15_000, 60_000, 300_000, 900_000, 3_600_000, null]);
});
