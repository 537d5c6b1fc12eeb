import { readRanges } from './numberRanges.ts';

test.each([
  ['3, 7, 12–15', [3, 7, 12, 13, 14, 15]],
  ['15 12-14;3', [3, 12, 13, 14, 15]],
  ['2 - 4, 3', [2, 3, 4]],
  ['', []],
])('%s', (text, numbers) => {
  expect(readRanges(text, 20)).toEqual({ ok: true, value: numbers });
});

test.each([
  ['3, 21', '21'],
  ['0', '0'],
  ['5-2', '5-2'],
  ['three', 'three'],
  ['1-2-3', '1-2-3'],
  ['18–25', '18-25'],
])('%s names what can’t be read or lies outside', (text, part) => {
  expect(readRanges(text, 20)).toEqual({ ok: false, reason: part });
});
