import fc from 'fast-check';
import {
  type Outline,
  type PointMm,
  areaMm2,
  boundsOf,
  distanceToSegment,
  movedOutline,
  simplified,
  turnedOutline,
} from '../../geometry/polygon.ts';
import { turnedSize } from '../../geometry/turn.ts';
import { seededRandom } from '../../random.ts';
import type { NestLayout } from '../nestLayout.ts';
import { nest } from '../nest.ts';
import { type NestInput, type NestRequest, parseNestRequest } from '../nestInput.ts';
import { convexParts } from './convex.ts';
import { puzzle } from '../../testing/puzzle.ts';

const CUTS = ['straight', 'zigzag', 'stairs'] as const;

function parsed(request: NestRequest): NestInput {
  const result = parseNestRequest(request);
  if (!result.ok) throw new Error(JSON.stringify(result.reason));
  return result.value;
}

/** Where each contour lies, worked out from the placement alone. */
function laidOutlines(input: NestInput, layout: NestLayout): Outline[] {
  return layout.placements.map(({ id, xMm, yMm, angleDeg }) => {
    const piece = input.pieces.find((each) => each.id === id);
    if (!piece?.outline) throw new Error(`${id} has no contour`);
    const { widthMm, heightMm } = piece;
    const laid = turnedSize(widthMm, heightMm, angleDeg);
    // Turned about the middle of its rectangle, as it is drawn.
    const about = movedOutline(piece.outline, -widthMm / 2, -heightMm / 2);
    return movedOutline(turnedOutline(about, angleDeg), xMm + laid.widthMm / 2, yMm + laid.heightMm / 2);
  });
}

function inside(p: PointMm, outline: Outline): boolean {
  let is = false;
  outline.forEach((a, i) => {
    const b = outline[(i + 1) % outline.length] ?? a;
    if (a.y > p.y !== b.y > p.y && p.x < ((b.x - a.x) * (p.y - a.y)) / (b.y - a.y) + a.x) is = !is;
  });
  return is;
}

function distance(p: PointMm, outline: Outline): number {
  return Math.min(...outline.map((a, i) => distanceToSegment(p, a, outline[(i + 1) % outline.length] ?? a)));
}

function alongEdges(outline: Outline): PointMm[] {
  return outline.flatMap((a, i) => {
    const b = outline[(i + 1) % outline.length] ?? a;
    const n = Math.max(1, Math.ceil(Math.hypot(b.x - a.x, b.y - a.y) / 6));
    return Array.from({ length: n }, (_, k) => ({ x: a.x + ((b.x - a.x) * k) / n, y: a.y + ((b.y - a.y) * k) / n }));
  });
}

/** Nothing lies in anything else, and all keep the clearance: judged by points along the outlines. */
function expectApart(outlines: readonly Outline[], clearance: number): void {
  for (const [i, a] of outlines.entries()) {
    const box = boundsOf(a);
    for (const [j, b] of outlines.entries()) {
      const other = boundsOf(b);
      if (i === j || other.minX > box.maxX + clearance || box.minX > other.maxX + clearance) continue;
      if (other.minY > box.maxY + clearance || box.minY > other.maxY + clearance) continue;
      for (const point of alongEdges(a)) {
        const d = distance(point, b);
        if (inside(point, b)) expect(d).toBeLessThan(0.02);
        else expect(d).toBeGreaterThan(clearance - 0.02);
      }
    }
  }
}

test('many intricate contours are never longer than their rectangles, and shorter the longer they are searched', () => {
  const star = Array.from({ length: 24 }, (_, i) => {
    const r = i % 2 ? 30 : 26;
    return { x: 30 + Math.cos((i * Math.PI) / 12) * r, y: 30 + Math.sin((i * Math.PI) / 12) * r };
  });
  const fish = [0, 4, 18, 18, 40, 4, 70, 2, 90, 22, 70, 43, 40, 41, 18, 27, 0, 41, 8, 22];
  const outline = Array.from({ length: 10 }, (_, i) => ({ x: fish[i * 2] ?? 0, y: fish[i * 2 + 1] ?? 0 }));
  const pieces = [
    { id: 'star', widthMm: 60, heightMm: 60, copies: 24, outline: star, quarterTurn: true, halfTurn: true },
    { id: 'fish', widthMm: 90, heightMm: 45, copies: 24, outline, quarterTurn: true, halfTurn: true },
  ];
  const request = { widthMm: 700, gapMm: 3, marginMm: 0, pieces };
  const lengths: number[] = [];
  const layout = nest(parsed(request), { seed: 1, stepBudget: 60, onBetter: ({ lengthMm }) => lengths.push(lengthMm) });
  expectApart(laidOutlines(parsed(request), layout), 3);
  const boxes = pieces.map((piece) => ({ ...piece, outline: undefined }));
  const rectangles = nest(parsed({ ...request, pieces: boxes }), { seed: 1, stepBudget: 20_000 });
  expect(layout.lengthMm).toBeLessThanOrEqual(rectangles.lengthMm + 1e-6);
  expect(lengths).toEqual([...lengths].sort((a, b) => b - a));
  expect(lengths.length).toBeGreaterThan(1);
  expect(nest(parsed(request), { seed: 1, stepBudget: 60 })).toEqual(layout);
});

test('contours never lie on each other, keep the clearance, stay within the margins, and turn only as they may', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...CUTS),
      fc.constantFrom(0, 3.5),
      fc.record({ quarterTurn: fc.boolean(), halfTurn: fc.boolean() }),
      fc.integer({ min: 1, max: 99 }),
      (cut, gapMm, turns, seed) => {
        const outlines = puzzle({ pieces: 9, widthMm: 500, lengthMm: 400, cut, angles: [0, 90] }, seededRandom(seed));
        const pieces = outlines.map((outline, i) => {
          const { maxX: widthMm, maxY: heightMm } = boundsOf(outline);
          return { id: `p${String(i)}`, widthMm, heightMm, copies: 1, outline, ...turns };
        });
        const marginMm = { leadMm: 20, trailMm: 7, leftMm: 5, rightMm: 12 };
        const input = parsed({ widthMm: 560, gapMm, marginMm, pieces });
        const layout = nest(input, { seed, stepBudget: 130 });
        const laid = laidOutlines(input, layout);
        expectApart(laid, gapMm);
        const all = boundsOf(laid.flat());
        expect(all.minX).toBeGreaterThan(5 - 1e-3);
        expect(all.maxX).toBeLessThan(548 + 1e-3);
        expect(all.minY).toBeGreaterThan(20 - 1e-3);
        expect(layout.lengthMm).toBeCloseTo(all.maxY + 7, 3);
        expect(layout.lengthMm).toBeGreaterThan(layout.boundMm - 1e-6);
        for (const { angleDeg } of layout.placements) {
          if (!turns.quarterTurn) expect(angleDeg % 180).toBe(0);
          if (!turns.halfTurn) expect(angleDeg).toBeLessThan(180);
        }
      },
    ),
    { numRuns: 9, seed: 8 },
  );
});

test('a decal that leaves half of its rectangle free takes far less than rectangles do; the same seed gives the same layout', () => {
  const triangle = [
    { x: 0, y: 0 },
    { x: 200, y: 0 },
    { x: 0, y: 150 },
  ];
  const piece = { id: 'pennant', widthMm: 200, heightMm: 150, copies: 12, quarterTurn: true };
  const request = { widthMm: 620, gapMm: 2, marginMm: 0 };
  const shaped = parsed({ ...request, pieces: [{ ...piece, outline: triangle }] });
  const layout = nest(shaped, { seed: 3, stepBudget: 300 });
  const boxes = nest(parsed({ ...request, pieces: [piece] }), { seed: 3, stepBudget: 2500 });
  expect(layout.lengthMm).toBeLessThan(boxes.lengthMm * 0.75);
  expectApart(laidOutlines(shaped, layout), 2);
  expect(nest(shaped, { seed: 3, stepBudget: layout.steps })).toEqual(layout);
});

test('puzzles are cut without loss, and convex parts cover an outline exactly', () => {
  for (const cut of CUTS) {
    const outlines = puzzle({ pieces: 12, widthMm: 800, lengthMm: 600, cut, angles: [0, 180] }, seededRandom(5));
    expect(outlines).toHaveLength(12);
    expect(outlines.reduce((sum, outline) => sum + areaMm2(outline), 0)).toBeCloseTo(800 * 600, 2);
    for (const outline of outlines) {
      const parts = convexParts(outline);
      expect(parts.reduce((sum, part) => sum + areaMm2(part), 0)).toBeCloseTo(areaMm2(outline), 3);
    }
  }
});

test('contours that cross themselves, leave their rectangle or ask for what they can not have are refused', () => {
  const square = (points: readonly (readonly [number, number])[]) => points.map(([x, y]) => ({ x, y }));
  const base = { widthMm: 500, gapMm: 0, marginMm: 0 };
  const piece = { id: 'a', widthMm: 100, heightMm: 100, copies: 1, quarterTurn: true };
  const reason = (request: NestRequest) => {
    const result = parseNestRequest(request);
    return result.ok ? 'nested' : result.reason.code;
  };
  const bow = square([
    [0, 0],
    [100, 100],
    [100, 0],
    [0, 100],
  ]);
  const beyond = square([
    [0, 0],
    [120, 0],
    [0, 90],
  ]);
  const sound = square([
    [0, 0],
    [100, 0],
    [0, 90],
  ]);
  expect(reason({ ...base, pieces: [{ ...piece, outline: bow }] })).toBe('bad-outline');
  expect(reason({ ...base, pieces: [{ ...piece, outline: beyond }] })).toBe('bad-outline');
  expect(reason({ ...base, sheetMm: 300, straightCuts: true, pieces: [{ ...piece, outline: sound }] })).toBe(
    'not-with-outlines',
  );
  expect(reason({ ...base, widthMm: 60, pieces: [{ ...piece, outline: sound }] })).toBe('too-wide');
  expect(reason({ ...base, pieces: [{ ...piece, outline: sound }] })).toBe('nested');
});

test('an outline with fewer points stays within the distance that is allowed', () => {
  const circle = Array.from({ length: 360 }, (_, i) => ({
    x: 100 + 100 * Math.cos((i * Math.PI) / 180),
    y: 100 + 100 * Math.sin((i * Math.PI) / 180),
  }));
  const few = simplified(circle, 0.5);
  expect(few.length).toBeLessThan(50);
  expect(Math.max(...circle.map((point) => distance(point, few)))).toBeLessThanOrEqual(0.5);
});
