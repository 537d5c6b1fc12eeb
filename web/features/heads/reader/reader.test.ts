import fc from 'fast-check';
import { checkPlot } from '../../../../core/heads/checkPlot.ts';
import { draftCounts, draftOf, draftOfPictures, foundOf, tapped } from './faultsDraft.ts';
import { blockView, lineAt, nozzleAt, stepped } from './plotPlaces.ts';

const PRINTER = {
  id: 'heron',
  printableWidthMm: 1615,
  nozzles: 768,
  nozzlesPerInch: 360,
  bars: 1,
  channels: [{ id: 'cyan', heads: 2, colour: '#1391C7', pale: false }],
};

test('a line that is tapped is missing, then weak, then crooked, then well again; the others stay', () => {
  let draft = draftOf(['cyan', 'black'], null);
  const seen = [];
  for (let tap = 0; tap < 4; tap += 1) {
    draft = tapped(draft, 'cyan', 7);
    seen.push(foundOf(draft).cyan);
  }
  const none = { missing: [], weak: [], crooked: [], unjudged: [] };
  expect(seen).toEqual([{ ...none, missing: [7] }, { ...none, weak: [7] }, { ...none, crooked: [7] }, none]);
  expect(tapped(draft, 'gold', 1)).toBe(draft);
});

test('what pictures show is a draft that a person puts right: a tapped nozzle is judged', () => {
  const read = { channels: [{ id: 'cyan', missing: [3, 9], weak: [4], crooked: [], unjudged: [100, 101] }] };
  const draft = draftOfPictures(read);
  expect(draftCounts(draft)).toEqual({ missing: 2, weak: 1, crooked: 0, unjudged: 2 });
  expect(foundOf(tapped(draft, 'cyan', 100))).toEqual({
    cyan: { missing: [3, 9, 100], weak: [4], crooked: [], unjudged: [101] },
  });
});

test('each line is found where it is drawn, and arrows never leave the block', () => {
  for (const head of ['carriage', 'page-wide'] as const) {
    const plot = checkPlot({ ...PRINTER, head });
    for (const block of plot.blocks) {
      const view = blockView(block);
      const any = fc.integer({ min: block.firstN, max: block.firstN + block.count - 1 });
      fc.assert(
        fc.property(
          any,
          fc.double({ min: 0.05, max: 0.95, noNaN: true }),
          fc.constantFrom('Left', 'Right', 'Up', 'Down'),
          (n, share, arrow) => {
            const { x, y, length } = lineAt(plot, block, n, view);
            const at = block.along
              ? nozzleAt(plot, block, view, x, y + length * share)
              : nozzleAt(plot, block, view, x + length * share, y);
            expect(at).toBe(n);
            const next = stepped(block, n, `Arrow${arrow}`) ?? -1;
            expect(next).toBeGreaterThanOrEqual(block.firstN);
            expect(next).toBeLessThan(block.firstN + block.count);
          },
        ),
      );
      expect(nozzleAt(plot, block, view, 1, 1)).toBeUndefined();
    }
  }
  const [block] = checkPlot({ ...PRINTER, head: 'carriage' }).blocks;
  expect(
    block && [stepped(block, 137, 'ArrowRight'), stepped(block, 137, 'ArrowDown'), stepped(block, 137, 'x')],
  ).toEqual([138, 147, undefined]);
});
