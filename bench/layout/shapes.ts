/*
 * Nesting by contour: used length ÷ optimum on puzzles (a full strip cut by straight, zigzag and stair lines), beside the
 * nest of their rectangles; and decals with copies, beside rectangles. Usage: npm run bench:shapes [-- milliseconds]
 */
import { type Outline, areaMm2, boundsOf } from '../../core/geometry/polygon.ts';
import { nest } from '../../core/layout/nest.ts';
import type { NestPiece } from '../../core/layout/nestPiece.ts';
import { parseNestRequest } from '../../core/layout/nestInput.ts';
import { puzzle } from '../../core/testing/puzzle.ts';
import { seededRandom } from '../../core/random.ts';

const LIMIT_MS = Number(process.argv[2] ?? 10_000);
const CUTS = ['straight', 'zigzag', 'stairs'] as const;
const WIDTH_MM = 1000;

function lengthOf(pieces: readonly NestPiece[], gapMm: number): number {
  const parsed = parseNestRequest({ widthMm: WIDTH_MM, gapMm, marginMm: 0, pieces });
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.reason));
  const start = performance.now();
  return nest(parsed.value, {
    seed: 1,
    stepBudget: Number.MAX_SAFE_INTEGER,
    shouldStop: () => performance.now() - start > LIMIT_MS,
    spentShare: () => (performance.now() - start) / LIMIT_MS,
  }).lengthMm;
}

function pieceOf(outline: Outline, i: number, quarterTurn: boolean, copies = 1): NestPiece {
  const { maxX: widthMm, maxY: heightMm } = boundsOf(outline);
  return { id: String(i), widthMm, heightMm, copies, quarterTurn, halfTurn: quarterTurn, outline };
}

function rectangle({ outline: _outline, ...piece }: NestPiece): NestPiece {
  return piece;
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length / 2;
  return ((sorted[Math.floor(middle - 0.5)] ?? 0) + (sorted[Math.floor(middle)] ?? 0)) / 2;
}

process.stdout.write(
  `Puzzles, used length ÷ optimum within ${String(LIMIT_MS)} ms: by contour (rectangles of the same); half may turn by quarters\n`,
);
for (const pieces of [12, 60]) {
  const all: number[] = [];
  for (const cut of CUTS) {
    const cells = [0, 1].map((seed) => {
      const turns = seed % 2 === 1;
      const lengthMm = pieces * 60;
      const angles = turns ? [0, 90, 180, 270] : [0];
      const outlines = puzzle({ pieces, widthMm: WIDTH_MM, lengthMm, cut, angles }, seededRandom(seed * 101 + pieces));
      const list = outlines.map((outline, i) => pieceOf(outline, i, turns));
      const ratio = lengthOf(list, 0) / lengthMm;
      all.push(ratio);
      return `${ratio.toFixed(3)} (${(lengthOf(list.map(rectangle), 0) / lengthMm).toFixed(2)})`;
    });
    process.stdout.write(`${String(pieces).padStart(3)} pieces, ${cut.padEnd(8)}  ${cells.join('   ')}\n`);
  }
  process.stdout.write(
    `${String(pieces).padStart(3)} pieces: median ${median(all).toFixed(3)}, worst ${Math.max(...all).toFixed(3)}\n`,
  );
}

/** What decals look like: a pennant, an arrow, a crescent, a star. */
function decals(): Outline[] {
  const star = Array.from({ length: 10 }, (_, i) => {
    const r = i % 2 === 0 ? 90 : 40;
    return { x: 90 + r * Math.sin((i * Math.PI) / 5), y: 90 - r * Math.cos((i * Math.PI) / 5) };
  });
  const arc = (r: number, shift: number) =>
    Array.from({ length: 13 }, (_, i) => ({
      x: shift + r * Math.sin((i * Math.PI) / 12),
      y: 100 - r * Math.cos((i * Math.PI) / 12),
    }));
  return [
    [
      { x: 0, y: 0 },
      { x: 220, y: 60 },
      { x: 0, y: 120 },
    ],
    [
      { x: 0, y: 50 },
      { x: 110, y: 50 },
      { x: 110, y: 0 },
      { x: 200, y: 80 },
      { x: 110, y: 160 },
      { x: 110, y: 110 },
      { x: 0, y: 110 },
    ],
    [...arc(100, 0), ...arc(78, 0).reverse()],
    star,
  ].map((outline) => {
    const { minX, minY } = boundsOf(outline);
    return outline.map(({ x, y }) => ({ x: x - minX, y: y - minY }));
  });
}

const list = decals().map((outline, i) => pieceOf(outline, i, true, 10));
const byContour = lengthOf(list, 3);
const byBox = lengthOf(list.map(rectangle), 3);
process.stdout.write(
  `Decals, 4 contours × 10 copies: ${byContour.toFixed(0)} mm by contour, ${byBox.toFixed(0)} mm by rectangle: ${((1 - byContour / byBox) * 100).toFixed(1)} % less\n`,
);

/** Many copies of one or two shapes: what stickers are ordered as. */
const stickers: readonly (readonly [string, readonly number[]])[] = [
  ['pennants', [0]],
  ['arrows', [1]],
  ['crescents', [2]],
  ['stars', [3]],
  ['arrows and pennants', [0, 1]],
  ['stars and arrows', [3, 1]],
];
const half = decals().map((outline) => outline.map(({ x, y }) => ({ x: x / 2, y: y / 2 })));
process.stdout.write(
  `Stickers, 120 copies of each, 3 mm apart, within ${String(LIMIT_MS)} ms ÷ their area: contour (rectangle)\n`,
);
for (const [name, kinds] of stickers) {
  const pieces = kinds.map((kind) => pieceOf(half[kind] ?? [], kind, true, 120));
  const area = kinds.reduce((sum, kind) => sum + areaMm2(half[kind] ?? []) * 120, 0) / WIDTH_MM;
  const [byShape, byRect] = [lengthOf(pieces, 3) / area, lengthOf(pieces.map(rectangle), 3) / area];
  process.stdout.write(`${name.padEnd(20)} ${byShape.toFixed(3)} (${byRect.toFixed(2)})\n`);
}
