import { isStanding } from './standing.ts';

test('a printer stands while something has to be put right; waiting as it is meant to is no standing', () => {
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
  expect(
    cases.filter(([state, reason]) => isStanding(state, reason)).map(([state, reason]) => reason ?? state),
  ).toEqual(['head strike', 'off', 'media out', 'ink out']);
});
