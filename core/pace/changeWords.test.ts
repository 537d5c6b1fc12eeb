import { changeWords } from './changeWords.ts';

test('a change is said as what would be, each setting once', () => {
  expect(changeWords({ span: 'artwork', dryOut: false })).toBe(
    'the carriage over the artwork only, without dry-out feed',
  );
  expect(changeWords({ span: 'whole bed', dryMin: 0, cutOff: 'none' })).toBe(
    'the carriage over the whole bed, without drying time, not cut off',
  );
  expect(changeWords({ passes: 8, oneDirectional: true, gapMm: 5, order: 'as listed' })).toBe(
    '8 passes, in one direction, 5 mm between pieces, pieces as listed',
  );
});
