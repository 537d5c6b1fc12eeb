import { type PlotPrinter, checkPlot, linePlace, plotColumns } from './checkPlot.ts';
import { drawPlot, plotPixels } from './drawPlot.ts';
import { markInked } from './markBits.ts';

const PRINTER: PlotPrinter = {
  id: 'heron',
  head: 'carriage',
  printableWidthMm: 1615,
  nozzles: 768,
  nozzlesPerInch: 360,
  bars: 1,
  channels: [
    { id: 'cyan', heads: 1, colour: '#1391C7', pale: false },
    { id: 'white', heads: 2, colour: '#F4F1EA', pale: true },
  ],
};

test('columns and line distance by nozzles per inch; never fewer than 8 pixels at 300 dpi', () => {
  const distance = (npi: number): string => ((plotColumns(npi) * 25.4) / npi).toFixed(4);
  expect([180, 360, 600, 1200].map((npi) => [plotColumns(npi), distance(npi)])).toEqual([
    [5, '0.7056'],
    [10, '0.7056'],
    [17, '0.7197'],
    [33, '0.6985'],
  ]);
  for (let npi = 90; npi <= 2400; npi += 1) expect((((plotColumns(npi) * 25.4) / npi) * 300) / 25.4).toBeGreaterThan(8);
});

test('a block of 768 nozzles at 360 is 49 × 54.19; nozzle 137 lies at 35, 9.666', () => {
  const [block] = checkPlot(PRINTER).blocks;
  expect(block?.widthMm).toBe(49);
  expect(block?.heightMm).toBeCloseTo(54.19, 2);
  const place = block && linePlace(block, 137);
  expect((place?.xMm ?? 0) - (block?.xMm ?? 0)).toBe(35);
  expect((place?.yMm ?? 0) - (block?.yMm ?? 0)).toBeCloseTo(9.666, 3);
});

test('one block per channel and head, 6 apart, in rows as wide as is printed; nozzles are numbered over all heads', () => {
  const { blocks, widthMm } = checkPlot(PRINTER);
  expect(blocks.map(({ channelId, head, firstN }) => [channelId, head, firstN])).toEqual([
    ['cyan', 0, 0],
    ['white', 0, 0],
    ['white', 1, 768],
  ]);
  const [first, second] = blocks.map(({ outer }) => outer);
  expect((second?.xMm ?? 0) - (first?.xMm ?? 0) - (first?.widthMm ?? 0)).toBe(6);
  expect(widthMm).toBe(3 * 49 + 2 * 6 + 2 * 6);
  const narrow = checkPlot({ ...PRINTER, printableWidthMm: 130 });
  expect(narrow.blocks.map(({ outer }) => outer.yMm)).toEqual([6, 6, 6 + (first?.heightMm ?? 0) + 6]);
});

test('each block has four marks and a code of its own; no two of them touch', () => {
  const { blocks } = checkPlot(PRINTER);
  const ids = blocks.flatMap(({ marks }) => marks.map(({ id }) => id));
  expect(new Set(ids).size).toBe(12);
  expect(new Set(blocks.map(({ code }) => code.text)).size).toBe(3);
  for (const { marks, code, yMm, heightMm } of blocks) {
    for (const mark of marks) {
      expect(mark.yMm + mark.sizeMm <= yMm - 3 + 1e-9 || mark.yMm >= yMm + heightMm + 3 - 1e-9).toBe(true);
      expect(mark.xMm + mark.sizeMm <= code.xMm - 3 + 1e-9 || mark.xMm >= code.xMm + code.sizeMm + 3 - 1e-9).toBe(true);
    }
  }
});

test('an array draws each nozzle where it stands, in parts of at most 200 mm', () => {
  const plot = checkPlot({
    ...PRINTER,
    head: 'page-wide',
    nozzles: 48_000,
    nozzlesPerInch: 1200,
    bars: 6,
    channels: [{ id: 'cyan', heads: 1, colour: '#1391C7', pale: false }],
  });
  expect(plot.widthMm).toBeCloseTo(1016 + 12, 6);
  expect(Math.max(...plot.blocks.map(({ widthMm }) => widthMm))).toBeLessThanOrEqual(200);
  let next = 0;
  for (const block of plot.blocks) {
    expect(block.firstN).toBe(next);
    next += block.count;
    for (const n of [block.firstN, block.firstN + 100, block.firstN + block.count - 1]) {
      expect(linePlace(block, n).xMm).toBeCloseTo(6 + (n * 25.4) / 1200, 6);
    }
  }
  expect(next).toBe(48_000);
});

test('what is drawn is ink at each line’s place and bare media where a nozzle is missing', () => {
  const plot = checkPlot({ ...PRINTER, nozzles: 40 });
  const look = { code: () => undefined, ink: '#000000' };
  const drawn = drawPlot(plot, 600, { ...look, faults: { cyan: { missing: [12], weak: [], crooked: [] } } });
  expect([drawn.width, drawn.height]).toEqual(Object.values(plotPixels(plot, 600)));
  const scale = 600 / 25.4;
  const block = plot.blocks[0];
  if (!block) throw new Error('no block');
  const red = (n: number): number => {
    const { xMm, yMm } = linePlace(block, n);
    const x = Math.floor((xMm + 2) * scale);
    let sum = 0;
    for (let y = Math.floor((yMm - 0.1) * scale); y < (yMm + 0.2) * scale; y += 1)
      sum += 255 - (drawn.rgb[(y * drawn.width + x) * 3] ?? 0);
    return sum / scale;
  };
  expect(red(12)).toBe(0);
  // 0.085 mm of cyan: 255 − 19 of red are missing.
  for (const n of [0, 11, 13, 39]) expect(red(n)).toBeCloseTo(0.085 * (255 - 0x13), 0);
});

test('a mark has a border of ink and tells itself apart from its neighbours', () => {
  const bits = (id: number): string =>
    Array.from({ length: 64 }, (_, i) => (markInked(id, Math.floor(i / 8), i % 8) ? '#' : '.')).join('');
  expect(bits(0).slice(0, 8)).toBe('########');
  for (let id = 1; id < 250; id += 1) {
    const differ = Array.from({ length: 64 }, (_, i) => bits(id)[i] !== bits(id - 1)[i]).filter(Boolean).length;
    expect(differ).toBeGreaterThanOrEqual(12);
  }
  expect(() => markInked(250, 1, 1)).toThrow('no mark 250');
});
