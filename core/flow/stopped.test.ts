import { isStopped } from './stopped.ts';

test('a printer is stopped while something has to be put right; waiting as it is meant to is not', () => {
  const cases: [string, string | null][] = [
    ['faulted', 'head strike'],
    ['off', null],
    ['waiting', 'media out'],
    ['waiting', 'ink out'],
    ['waiting', 'stops for the next piece'],
    ['waiting', 'paused by hand'],
    ['printing', 'ink low: cyan'],
    ['idle', null],
  ];
  expect(cases.filter(([state, reason]) => isStopped(state, reason)).map(([state, reason]) => reason ?? state)).toEqual(
    ['head strike', 'off', 'media out', 'ink out'],
  );
});
