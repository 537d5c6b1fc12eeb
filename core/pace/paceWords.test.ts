import { measureText, shopChangeWords } from './paceWords.ts';

const style = {
  number: (value: number, digits: number) => value.toFixed(digits),
  money: (minor: number) => `€${String(minor)}`,
};

test('measures by their units; nothing to divide by is a dash, and never 0', () => {
  expect(measureText('%', 0.0825, style)).toBe('8.3 %');
  expect(measureText('m²/h', 8.456, style)).toBe('8.46 m²/h');
  expect(measureText('m²/h', 84.56, style)).toBe('84.6 m²/h');
  expect(measureText('m²', 845.6, style)).toBe('846 m²');
  expect(measureText('money/m²', 478.4, style)).toBe('€478/m²');
  expect(measureText('', 12, style)).toBe('12');
  expect([measureText('%', null, style), measureText('', undefined, style)]).toEqual(['–', '–']);
});

test('what has changed is said in either direction', () => {
  const whole = (value: number): string => value.toFixed(0);
  expect(shopChangeWords({ what: 'time', of: 'Production, Mesh', share: 0.09 }, whole)).toBe(
    'takes 9 % longer than before in Production, Mesh',
  );
  expect(shopChangeWords({ what: 'ink', of: 'Magenta', share: -0.14 }, whole)).toBe(
    'fires 14 % less Magenta than before for the same pictures',
  );
});
