import type { Printer, Stock } from '../../../api/data.ts';
import { startFor, stocksFor, withStock } from './purgeStart.ts';

const printer = {
  id: 'wren',
  config: {
    printableWidthMm: 430,
    widestMediaMm: 450,
    mediaMarginMm: { leftMm: 5, rightMm: 5 },
    sources: [{ kind: 'roll' }, { kind: 'tray' }],
    channels: [{ id: 'cyan' }, { id: 'white' }],
    modes: [{ id: 'transfer' }, { id: 'draft' }],
  },
  spools: [{ stockId: 'sheet' }],
} as unknown as Printer;
const stock = (id: string, more: Partial<Stock>): Stock =>
  ({ id, form: 'roll', widthMm: 400, sheetMm: null, suits: null, ...more }) as Stock;
const ROLL = stock('roll', {});
const SHEET = stock('sheet', { form: 'sheet', widthMm: 320, sheetMm: 450 });
const ALL = [
  ROLL,
  SHEET,
  stock('wide', { widthMm: 900 }),
  stock('shirt', { form: 'garment' }),
  stock('other', { suits: { heron: ['fine'] } }),
];

test('only media that the printer can feed and that suits it: no shirts, nothing too wide, nothing of another printer', () => {
  expect(stocksFor(printer, ALL).map(({ id }) => id)).toEqual(['roll', 'sheet']);
  const rollsOnly = { ...printer, config: { ...printer.config, sources: [{ kind: 'roll' }] } } as unknown as Printer;
  expect(stocksFor(rollsOnly, ALL).map(({ id }) => id)).toEqual(['roll']);
});

test('a new design begins on what is loaded, in the fastest mode, with more of white; a roll is used as wide as it can be printed', () => {
  const start = startFor(printer, ALL);
  expect(start).toMatchObject({
    stockId: 'sheet',
    modeId: 'draft',
    sheet: { form: 'sheet', widthMm: 320, lengthMm: 450, levels: { cyan: 0.4, white: 1 } },
  });
  const onRoll = start && withStock(start, printer, ROLL);
  expect(onRoll?.sheet).toMatchObject({ form: 'roll', widthMm: 390, lengthMm: 150 });
  expect(
    onRoll && withStock({ ...onRoll, sheet: { ...onRoll.sheet, lengthMm: 80 } }, printer, ROLL).sheet.lengthMm,
  ).toBe(80);
  expect(startFor({ ...printer, spools: [] }, [stock('wide', { widthMm: 900 })])).toBeUndefined();
});
