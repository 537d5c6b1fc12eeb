import { offcutOffer } from './offcutOffer.ts';

const stock = { pricePerM2Minor: 1000, usableMm: 3000, partDiscount: 0.15 };
const spool = (id: string, leftMm: number, more: object = {}) => ({
  ...{ id, label: id, stockId: 'a', lot: '', kind: 'roll' as const, widthMm: 1000, leftMm, takenMm: 0 },
  ...{ receivedMm: 50_000, printerId: null },
  ...more,
});
const run = { printerId: 'heron', leastWidthMm: 1000, needMm: 4000 };
const offcut = (id: string, leftMm: number, more: object = {}) =>
  spool(id, leftMm, { kind: 'offcut', receivedMm: leftMm, ...more });
const load = () => 400;

test('beside an opened roll that is in the printer an offcut saves nothing, beside one that would be left as a stub it does', () => {
  const inPrinter = (leftMm: number) => spool('in', leftMm, { printerId: 'heron' });
  // Of the roll 4 m cost 15 % less than they are worth; of the offcut 0.2 m are lost besides.
  expect(offcutOffer([inPrinter(30_000), offcut('o', 4200)], run, stock, () => 0)).toBeNull();
  // A stub of 2.5 m would be lost of the roll: 0.85 × 6,500 − 4,000 against 0.85 × 4,200 − 4,000 and a load.
  expect(offcutOffer([inPrinter(6500), offcut('o', 4200)], run, stock, load)).toEqual({
    ...{ spoolId: 'o', label: 'o', leftMm: 200 },
    savedMinor: 0.85 * 2300 - 400,
  });
});

test('the best of several is offered: worked against opening a new roll', () => {
  const opened = 50_000 - 0.85 * 46_000 - 4000;
  const used = 0.85 * 4200 - 4000;
  const offer = offcutOffer([spool('new', 50_000), offcut('o', 4200), offcut('long', 9000)], run, stock, load);
  // Both are loaded: the load is the same.
  expect(offer).toEqual({ spoolId: 'long', label: 'long', leftMm: 5000, savedMinor: Math.round(opened - -600) });
  const only = offcutOffer([spool('new', 50_000), offcut('o', 4200)], run, stock, load);
  expect(only).toEqual({ spoolId: 'o', label: 'o', leftMm: 200, savedMinor: Math.round(opened - used) });
});

test('what is too short, too narrow, taken, loaded elsewhere, or without anything to compare with is not offered', () => {
  const rack = spool('new', 50_000);
  for (const other of [
    offcut('o', 3999),
    offcut('o', 9000, { widthMm: 900 }),
    offcut('o', 9000, { takenMm: 6000 }),
    offcut('o', 9000, { printerId: 'wren' }),
  ]) {
    expect(offcutOffer([rack, other], run, stock, load)).toBeNull();
  }
  expect(offcutOffer([offcut('o', 9000)], run, stock, load)).toBeNull();
  expect(offcutOffer([rack, offcut('o', 9000)], { ...run, needMm: 0 }, stock, load)).toBeNull();
});
