import { outlinedText } from './textOutlines.ts';

test('names in any Latin script are outlined with their own letters; what the typeface does not have is a question mark', () => {
  const lodz = outlinedText('Łódź, Győr, Đà Nẵng');
  const plain = outlinedText('?');
  expect(lodz.path).not.toContain(plain.path);
  expect(outlinedText('ł').path).not.toBe(outlinedText('l').path);
  // A letter and its accent are one letter.
  expect(outlinedText('e\u0301')).toEqual(outlinedText('é'));
  expect(outlinedText('Ж')).toEqual(plain);
  expect(outlinedText('aЖ').width).toBeCloseTo(outlinedText('a').width + plain.width, 2);
});
