import fc from 'fast-check';
import { type Outline, boundsOf } from '../../geometry/polygon.ts';
import { laidOutline } from '../../geometry/laidOutline.ts';
import type { RectMm } from '../../geometry/frame.ts';
import { nest } from '../nest.ts';
import type { NestLayout } from '../nestLayout.ts';
import { type NestRequest, parseNestRequest } from '../nestInput.ts';
import type { NestPiece } from '../nestPiece.ts';
import { outlinesCloser } from './clearance.ts';
import { outlineOf } from './outlines.ts';

function round(diameterMm: number): Outline {
  const r = diameterMm / 2;
  return Array.from({ length: 60 }, (_, i) => ({
    x: r + r * Math.cos((i * Math.PI) / 30),
    y: r + r * Math.sin((i * Math.PI) / 30),
  }));
}

function nested(request: NestRequest, stepBudget: number): NestLayout {
  const parsed = parseNestRequest(request);
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.reason));
  return nest(parsed.value, { seed: 1, stepBudget });
}

/** The outlines as they lie on the run. */
function outlinesOf({ pieces }: NestRequest, { placements }: NestLayout): Outline[] {
  return placements.map((placement) => {
    const piece = pieces.find(({ id }) => id === placement.id);
    if (!piece) throw new Error('never given');
    return laidOutline(outlineOf(piece), piece, placement, false);
  });
}

function copiesOf(pieces: readonly NestPiece[]): string[] {
  return pieces
    .flatMap(({ id, copies }) => Array.from({ length: copies }, (_, copy) => `${id}#${String(copy)}`))
    .sort();
}

const wedge = (widthMm: number, heightMm: number): Outline => [
  { x: 0, y: 0 },
  { x: widthMm, y: heightMm * 0.3 },
  { x: widthMm * 0.4, y: heightMm },
];

describe('contours on sheets', () => {
  test('round stickers take fewer sheets than their squares', () => {
    // 7 × 10 squares a sheet: three sheets for 144. In hexagons six rows of 7 and five of 6: 72 a sheet.
    const sticker = { id: 'a', widthMm: 100, heightMm: 100, copies: 144, quarterTurn: false };
    const request = { widthMm: 700, sheetMm: 1000, gapMm: 0, marginMm: 0, pieces: [sticker] };
    expect(nested(request, 20).lengthMm).toBe(3000);
    const shaped = nested({ ...request, pieces: [{ ...sticker, outline: round(100) }] }, 20);
    expect(shaped.lengthMm).toBe(2000);
    expect(shaped.boundMm).toBe(2000);
  });

  test('every copy lies on one sheet, within its margins, apart from the others, and on no more sheets than its rectangle', () => {
    const anyOrder = fc.record({
      pieces: fc.array(
        fc.record({
          w: fc.integer({ min: 60, max: 330 }),
          h: fc.integer({ min: 60, max: 330 }),
          copies: fc.integer({ min: 1, max: 8 }),
          shaped: fc.boolean(),
        }),
        { minLength: 1, maxLength: 4 },
      ),
      gapMm: fc.constantFrom(0, 4),
    });
    fc.assert(
      fc.property(anyOrder, ({ pieces, gapMm }) => {
        const margins = { leadMm: 15, trailMm: 5, leftMm: 10, rightMm: 20 };
        const list = pieces.map(({ w, h, copies, shaped }, i): NestPiece => ({
          id: String(i),
          widthMm: w,
          heightMm: h,
          copies,
          quarterTurn: true,
          // One at least has a contour: else rectangles would be nested.
          ...(shaped || i === 0 ? { outline: wedge(w, h) } : {}),
        }));
        const request = { widthMm: 500, sheetMm: 600, gapMm, marginMm: margins, pieces: list };
        const layout = nested(request, 25);
        const keys = layout.placements.map(({ id, copy }) => `${id}#${String(copy)}`);
        expect(keys.sort()).toEqual(copiesOf(list));
        const outlines = outlinesOf(request, layout);
        for (const [i, a] of outlines.entries()) {
          const { minX, maxX, minY, maxY } = boundsOf(a);
          const sheet = Math.floor((minY + 1e-6) / 600);
          expect(minX).toBeGreaterThan(10 - 1e-4);
          expect(maxX).toBeLessThan(480 + 1e-4);
          expect(minY).toBeGreaterThan(sheet * 600 + 15 - 1e-4);
          expect(maxY).toBeLessThan((sheet + 1) * 600 - 5 + 1e-4);
          for (const b of outlines.slice(i + 1)) expect(outlinesCloser(a, b, gapMm)).toBe(false);
        }
        const boxes = nested({ ...request, pieces: list.map(({ outline: _outline, ...piece }) => piece) }, 25);
        expect(layout.lengthMm).toBeLessThanOrEqual(boxes.lengthMm);
        expect(layout.lengthMm % 600).toBe(0);
      }),
      { numRuns: 40 },
    );
  });

  test('a contour that no sheet holds is refused with its figures', () => {
    const piece = { id: 'a', widthMm: 300, heightMm: 900, copies: 1, quarterTurn: false, outline: wedge(300, 900) };
    expect(parseNestRequest({ widthMm: 500, sheetMm: 600, gapMm: 0, marginMm: 0, pieces: [piece] })).toMatchObject({
      ok: false,
      reason: { code: 'too-long', id: 'a', leastLengthMm: 900, usableLengthMm: 600 },
    });
  });
});

describe('contours around locked pieces', () => {
  const fixed: RectMm[] = [
    { xMm: 150, yMm: 100, widthMm: 200, heightMm: 150 },
    { xMm: 0, yMm: 300, widthMm: 120, heightMm: 60 },
  ];
  const pieces: NestPiece[] = [
    { id: 'a', widthMm: 90, heightMm: 90, copies: 14, quarterTurn: true, outline: round(90) },
    { id: 'b', widthMm: 160, heightMm: 110, copies: 5, quarterTurn: true, outline: wedge(160, 110) },
  ];
  const request = { widthMm: 500, gapMm: 3, marginMm: 10, pieces, fixed };

  test('none comes closer to what is locked than the gap, and it is no longer than with their rectangles', () => {
    const layout = nested(request, 1500);
    expect(layout.placements.map(({ id, copy }) => `${id}#${String(copy)}`).sort()).toEqual(copiesOf(pieces));
    const locked = fixed.map(({ xMm, yMm, widthMm, heightMm }): Outline => [
      { x: xMm, y: yMm },
      { x: xMm + widthMm, y: yMm },
      { x: xMm + widthMm, y: yMm + heightMm },
      { x: xMm, y: yMm + heightMm },
    ]);
    const outlines = outlinesOf(request, layout);
    for (const [i, a] of outlines.entries()) {
      for (const b of [...outlines.slice(i + 1), ...locked]) expect(outlinesCloser(a, b, 3)).toBe(false);
      const { minX, maxX, minY } = boundsOf(a);
      expect(Math.min(minX, minY)).toBeGreaterThan(10 - 1e-4);
      expect(maxX).toBeLessThan(490 + 1e-4);
    }
    const boxes = nested({ ...request, pieces: pieces.map(({ outline: _outline, ...piece }) => piece) }, 1500);
    expect(layout.lengthMm).toBeLessThan(boxes.lengthMm);
  });

  test('what is locked far back counts for the length', () => {
    const far = [{ xMm: 20, yMm: 3000, widthMm: 100, heightMm: 100 }];
    const layout = nested({ ...request, fixed: far }, 200);
    expect([layout.lengthMm, layout.boundMm]).toEqual([3110, 3110]);
  });
});
