/** @jest-environment jsdom */
import { parseLength } from '../../../core/units/length.ts';
import { acrossText, alongText, fieldText, fieldUnit, lengthFigure, sizeText } from './lengths.ts';
import { number } from './number.ts';
import { UNITS } from '../../../core/people/preferences.ts';
import { setPreferences } from '../preferences.ts';

beforeEach(() => {
  setPreferences({ units: 'metric', locale: 'en-GB' });
});

test('as long as nothing is chosen: metres along the media, millimetres across it', () => {
  expect([alongText(4210), alongText(61_900, 1), acrossText(1600), acrossText(12.34, 1)]).toEqual([
    '4.21 m',
    '61.9 m',
    '1,600 mm',
    '12.3 mm',
  ]);
  expect([lengthFigure(999), lengthFigure(1000)]).toEqual([
    { value: '999', unit: 'mm' },
    { value: '1.00', unit: 'm' },
  ]);
  expect([sizeText(1590, 795.25), sizeText(1590, 795, false)]).toEqual(['1,590 × 795.3 mm', '1,590 × 795']);
});

test('in the unit that is chosen, and written as the locale has it', () => {
  setPreferences({ units: 'in' });
  expect([alongText(2540), acrossText(1016), sizeText(508, 254)]).toEqual(['100.0 in', '40.00 in', '20 × 10 in']);
  setPreferences({ units: 'ft', locale: 'de-DE' });
  expect(alongText(3048)).toBe('10,00 ft');
  setPreferences({ units: 'm' });
  expect(acrossText(1600)).toBe('1,600 m');
  expect(number(-0.0004, 2)).toBe('0,00');
});

test('what stands in a field is read back as the length that it was, in every unit', () => {
  for (const units of UNITS) {
    setPreferences({ units });
    for (const mm of [0, 2, 10.5, 297, 1016, 1590, 18_000]) {
      const read = parseLength(fieldText(mm), fieldUnit());
      expect(read.ok && Math.abs(read.value - mm)).toBeLessThan(0.06);
    }
  }
});
