/** @jest-environment jsdom */
import { metresText, mmSizeText, mmText } from '../../../core/units/lengthText.ts';
import { eventText, inUnits } from './inUnits.ts';
import { setPreferences } from '../preferences.ts';

beforeEach(() => {
  setPreferences({ units: 'metric', locale: 'en-GB' });
});

const said = `Wider than Heron prints: ${mmText(1710.25)} of ${mmText(1590, 0)}; laid ${mmSizeText(508, 254)}, ${metresText(12_700)} of it.`;

test('the server says metres and millimetres, with a space that keeps figure and unit on a line', () => {
  expect(said).toBe(
    'Wider than Heron prints: 1,710.3\u00a0mm of 1,590\u00a0mm; laid 508 × 254\u00a0mm, 12.70\u00a0m of it.',
  );
  expect(inUnits(said)).toBe(said.replaceAll('\u00a0', ' '));
});

test('each of its lengths is shown in the unit and with the figures of this person', () => {
  setPreferences({ units: 'in' });
  expect(inUnits(said)).toBe('Wider than Heron prints: 67.33 in of 62.6 in; laid 20 × 10 in, 500.0 in of it.');
  setPreferences({ units: 'm', locale: 'de-DE' });
  expect(inUnits(`${mmText(-4100)} left, ${metresText(1_234_500, 1)} before`)).toBe('-4,1 m left, 1.234,50 m before');
});

test('what is thin keeps its digits', () => {
  setPreferences({ units: 'in' });
  expect(inUnits(`Lines of ${mmText(0.035, 3)}`)).toBe('Lines of 0.0014 in');
});

test('what only looks like a length is left alone: names of stocks and files, codes, figures of another kind', () => {
  setPreferences({ units: 'ft' });
  const others = '{"name":"Banner 3 m","sourceName":"600 x 300 mm.pdf","dpi":720,"note":"2\u00a0min"}';
  expect(inUnits(others)).toBe(others);
});

test('a long answer is looked through once: lists of numbers without a space between them take no longer for it', () => {
  const list = JSON.stringify(Array.from({ length: 200_000 }, (_, i) => 100 + (i % 900)));
  expect(inUnits(`${list}${mmText(508)}`)).toBe(`${list}508 mm`);
});

test('a row of the log is said in the unit, too; the stored text of an old row stays', () => {
  setPreferences({ units: 'ft' });
  const data = { run: 4, lengthMm: 3048, fedMm: 3200 };
  expect(eventText({ kind: 'run.printed', data, text: '' })).toBe('Run 4 printed: 10.00 ft, 10.50 ft fed');
  expect(eventText({ kind: 'run.printed', data: null, text: 'Run 4 printed: 3.05 m' })).toBe('Run 4 printed: 3.05 m');
});
