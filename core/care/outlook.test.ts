import { type PlannedFiring, purgeOutlook } from './outlook.ts';
import { recurrenceText } from './timerText.ts';

const HOUR = 3_600_000;
const DOSE = 0.0144;
const purge = (id: string, h: number, inkMl: Record<string, number>, onlyNeeded = false): PlannedFiring => ({
  id,
  atMs: h * HOUR,
  inkMl,
  purge: { dueMs: h * HOUR, onlyNeeded },
});
const white = (exercisedH: number) => ({
  id: 'white',
  limitMs: 72 * HOUR,
  doseMl: DOSE,
  exercisedMs: exercisedH * HOUR,
});

test('daily purges of a channel with 72 h: every other one is enough, one that is skipped exercises nothing', () => {
  const days = Array.from({ length: 7 }, (_, i) => purge(`p${String(i)}`, 24 * i, { white: 0.2 }));
  const found = purgeOutlook([white(-100)], days);
  // Printed at 0; at 24 h fresh, and the next comes at 48; at 48 h no longer fresh. The last has nothing behind it.
  expect(days.map(({ id }) => found.get(id)?.fires.length)).toEqual([1, 0, 1, 0, 1, 0, 1]);
  expect(found.get('p1')?.savedMl).toEqual({ white: 0.2 });
});

test('a run that fires enough before it makes a purge needless, one that fires too little does not', () => {
  const run = (ml: number): PlannedFiring => ({ id: 'run', atMs: 10 * HOUR, inkMl: { white: ml }, purge: null });
  const next = purge('next', 48, { white: 0.2 });
  const skipped = (ml: number): boolean =>
    purgeOutlook([white(-100)], [run(ml), purge('p', 20, { white: 0.2 }), next]).get('p')?.fires.length === 0;
  expect([skipped(DOSE), skipped(DOSE * 0.9)]).toEqual([true, false]);
});

test('only what needs it is fired where the design says so; what is never exercised always needs it', () => {
  const cyan = { id: 'cyan', limitMs: 96 * HOUR, doseMl: 0.01, exercisedMs: 0 };
  const inks = { white: 0.2, cyan: 0.2 };
  const list = (only: boolean) => [purge('p', 5, inks, only), purge('q', 30, inks, only)];
  const never = { ...white(0), exercisedMs: -Infinity };
  expect(purgeOutlook([never, cyan], list(true)).get('p')).toEqual({ fires: ['white'], savedMl: { cyan: 0.2 } });
  expect(purgeOutlook([never, cyan], list(false)).get('p')?.fires).toEqual(['white', 'cyan']);
});

test('recurrences as people say them', () => {
  const say = (rrule: string | null, untilLocal: string | null = null): string =>
    recurrenceText({ rrule, startLocal: '2027-03-22T04:15', untilLocal });
  expect([
    say(null),
    say('FREQ=DAILY', '2027-04-01T23:59'),
    say('FREQ=DAILY;INTERVAL=3'),
    say('FREQ=HOURLY;INTERVAL=6'),
    say('FREQ=WEEKLY;BYDAY=MO,TH'),
    say('FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR'),
    say('FREQ=WEEKLY;INTERVAL=2;BYDAY=SA'),
    say('FREQ=MONTHLY;BYMONTHDAY=1,22'),
    say('FREQ=MONTHLY;BYMONTHDAY=-1'),
    say('FREQ=MONTHLY;INTERVAL=3'),
  ]).toEqual([
    'once, on 22 Mar 2027 at 04:15',
    'every day at 04:15 until 1 Apr 2027',
    'every 3 days at 04:15',
    'every 6 hours from 22 Mar 2027 04:15',
    'every Monday and Thursday at 04:15',
    'Monday to Friday at 04:15',
    'every 2 weeks on Saturday at 04:15',
    'on the 1st and 22nd of each month at 04:15',
    'on the last day of each month at 04:15',
    'on the 22nd of every 3 months at 04:15',
  ]);
});
