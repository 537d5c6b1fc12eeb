import fc from 'fast-check';
import { type Outline, boundsOf, movedOutline, turnedOutline } from '../../geometry/polygon.ts';
import { nest } from '../nest.ts';
import { parseNestRequest } from '../nestInput.ts';
import { outlinesCloser } from './clearance.ts';
import { bestLattice, latticeRows } from './lattice.ts';
import { latticeLayouts } from './latticeLayouts.ts';
import { ShapeBook } from './noFit.ts';
import { type LaidShape, shapeItems } from './shapeSearch.ts';

const never = (): boolean => false;
const TIME = { share: 0.3, intricate: false };

function round(diameterMm: number): Outline {
  const r = diameterMm / 2;
  return Array.from({ length: 90 }, (_, i) => ({
    x: r + r * Math.cos((i * Math.PI) / 45),
    y: r + r * Math.sin((i * Math.PI) / 45),
  }));
}

const TRIANGLE: Outline = [
  { x: 0, y: 0 },
  { x: 220, y: 60 },
  { x: 0, y: 120 },
];

test('round shapes lie in hexagons: rows shifted by half, √3 ÷ 2 of a diameter behind each other', () => {
  const book = new ShapeBook(0);
  const found = bestLattice([book.orientationOf(round(100), 0)], book, 20_000, 10_000, never);
  expect(found?.cell).toHaveLength(1);
  expect(found?.pitch).toBeCloseTo(100, 0);
  expect((found?.shift ?? 0) % 100).toBeCloseTo(50, 0);
  expect(found?.rise).toBeCloseTo(50 * Math.sqrt(3), 0);
});

test('triangles lie tooth in tooth with their half turns, and leave nothing between them', () => {
  const book = new ShapeBook(0);
  const ways = [0, 180].map((angle) => book.orientationOf(TRIANGLE, angle));
  const found = bestLattice(ways, book, 20_000, 10_000, never);
  expect(found?.cell).toHaveLength(2);
  expect(((found?.pitch ?? 0) * (found?.rise ?? 0)) / 2).toBeCloseTo(220 * 60, 0);
  // Alone, two of them never interlock.
  const alone = bestLattice(ways.slice(0, 1), book, 20_000, 10_000, never);
  expect(alone?.length).toBeGreaterThan((found?.length ?? 0) * 1.05);
});

test('the width counts: teeth that fill it are shorter than those that would be denser without end', () => {
  const book = new ShapeBook(3);
  const ways = [0, 90, 180, 270].map((angle) => book.orientationOf(TRIANGLE, angle));
  const found = bestLattice(ways, book, 1300, 60, never);
  if (!found) throw new Error('one shape always makes a lattice');
  const counts: number[] = [];
  for (const row of latticeRows(found, 1300)) {
    counts.push(row.length);
    if (counts.length === 3) break;
  }
  // Three rows of twenty hold all sixty.
  expect(counts).toEqual([20, 20, 20]);
  expect(found.length).toBeLessThan(680);
});

/** A shape around its middle, reaching so far in each direction: convex or not, never crossing itself. */
function shapeAround(reaches: readonly number[]): Outline {
  const points = reaches.map((reach, i) => ({
    x: reach * Math.cos((2 * Math.PI * i) / reaches.length),
    y: reach * Math.sin((2 * Math.PI * i) / reaches.length),
  }));
  const { minX, minY } = boundsOf(points);
  return movedOutline(points, -minX, -minY);
}

const anyShape = fc.array(fc.integer({ min: 15, max: 60 }), { minLength: 5, maxLength: 9 }).map(shapeAround);

function outlineAt(outline: Outline, { orientation, x, y }: LaidShape): Outline {
  return movedOutline(turnedOutline(outline, orientation.angleDeg), x + orientation.originX, y + orientation.originY);
}

function expectLaid(outline: Outline, gap: number, copies: number): void {
  const book = new ShapeBook(gap);
  // Narrow enough that so many copies of the smallest shape fill two rows.
  const width = 300;
  const items = shapeItems(book, [{ outline, angles: [0, 90, 180, 270], copies }], width);
  let layouts = 0;
  for (const laid of latticeLayouts(items, book, width, { ...TIME, beyond: never })) {
    layouts += 1;
    expect(laid.map(({ item }) => item).sort((a, b) => a - b)).toEqual(items.map((_, i) => i));
    const outlines = laid.map((shape) => outlineAt(outline, shape));
    for (const [i, a] of outlines.entries()) {
      const { minX, maxX, minY } = boundsOf(a);
      expect(Math.min(minX, minY)).toBeGreaterThan(-1e-6);
      expect(maxX).toBeLessThan(width + 1e-6);
      for (const b of outlines.slice(i + 1)) expect(outlinesCloser(a, b, gap)).toBe(false);
    }
  }
  expect(layouts).toBeGreaterThan(0);
}

test('whatever the shapes: all copies lie, within the media, none closer to another than the gap', () => {
  fc.assert(fc.property(anyShape, fc.constantFrom(0, 2.5), fc.integer({ min: 30, max: 38 }), expectLaid), {
    numRuns: 25,
  });
});

test('a pair in teeth that would meet its neighbours when it is spread to fill the width is not spread so', () => {
  expectLaid(shapeAround([15, 50, 19, 25, 47, 17]), 0, 30);
});

test('round stickers are nested shorter by their contour than as squares, from the first steps on', () => {
  const sticker = { widthMm: 100, heightMm: 100, copies: 100, quarterTurn: true };
  const lengthOf = (outline?: Outline): number => {
    const piece = { id: 'a', ...sticker, ...(outline ? { outline } : {}) };
    const parsed = parseNestRequest({ widthMm: 1300, gapMm: 0, marginMm: 0, pieces: [piece] });
    if (!parsed.ok) throw new Error(parsed.reason.code);
    return nest(parsed.value, { seed: 1, stepBudget: 5 }).lengthMm;
  };
  // 13 across in 8 rows of 100 mm; in hexagons 8 rows of 86.6 mm.
  expect(lengthOf()).toBe(800);
  expect(lengthOf(round(100))).toBeLessThan(710);
});

test('few copies, or no time, make no pattern', () => {
  const book = new ShapeBook(0);
  const few = shapeItems(book, [{ outline: TRIANGLE, angles: [0, 180], copies: 5 }], 1300);
  expect([...latticeLayouts(few, book, 1300, { ...TIME, beyond: never })]).toEqual([]);
  const many = shapeItems(book, [{ outline: TRIANGLE, angles: [0, 180], copies: 50 }], 1300);
  expect([...latticeLayouts(many, book, 1300, { ...TIME, beyond: () => true })]).toEqual([]);
});
