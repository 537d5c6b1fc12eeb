import { counted } from './counted.ts';

test('a count has its noun: one is one, thousands are apart, odd plurals are said', () => {
  expect(counted(1, 'piece')).toBe('1 piece');
  expect(counted(0, 'piece')).toBe('0 pieces');
  expect(counted(12_500, 'copy', 'copies')).toBe('12,500 copies');
});
