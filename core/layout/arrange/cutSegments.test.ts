import fc from 'fast-check';
import { turnedSize } from '../../geometry/turn.ts';
import { type SegmentPiece, cutSegments } from './cutSegments.ts';
import { planSegment, segmentPlaces } from './segments.ts';
import { stepAndRepeat } from './stepAndRepeat.ts';

const ROOM = { widthMm: 1340, lengthMm: 400, gapXMm: 5, gapYMm: 5 };
const MARGINS = { leadMm: 20, leftMm: 0 };
const decal = (i: number): SegmentPiece => ({
  pieceId: String(i),
  widthMm: 100,
  heightMm: 60,
  quarterTurn: true,
  laid: null,
});
const decals = (n: number): SegmentPiece[] => Array.from({ length: n }, (_, i) => decal(i));

test('250 decals, 12 at a time: 21 segments, the last of 10', () => {
  const cut = cutSegments(decals(250), { rows: 'anew', mostPieces: 12 }, true, ROOM, MARGINS);
  if (!cut.ok) throw new Error(cut.reason.code);
  expect(cut.value.map(({ pieces }) => pieces.length)).toEqual([...Array.from({ length: 20 }, () => 12), 10]);
  // Twelve lie side by side upright: 12 × 100 + 11 × 5 = 1255 of 1340.
  expect(cut.value[0]?.extentMm).toBe(60);
  expect(new Set(cut.value.flatMap(({ pieces }) => pieces.map(({ pieceId }) => pieceId))).size).toBe(250);
});

test('the last segment lies the way that feeds least for what it holds', () => {
  // Turned, 60 a segment in three rows of 20; the last seven fit upright in one row of 60 mm, turned they take 100.
  const plan = planSegment(decal(0), ROOM);
  if (!plan.ok) throw new Error(plan.reason.code);
  expect(plan.value).toMatchObject({ turned: true, perRun: 60 });
  const segments = segmentPlaces(67, decal(0), plan.value, ROOM, MARGINS);
  expect(segments.map((places) => [places.length, places[0]?.angleDeg])).toEqual([
    [60, 90],
    [7, 0],
  ]);
  expect(new Set(segments[1]?.map(({ yMm }) => yMm))).toEqual(new Set([20]));
  // Fifteen need two rows upright (125 mm) and one turned (100 mm).
  expect(segmentPlaces(75, decal(0), plan.value, ROOM, MARGINS)[1]?.[0]?.angleDeg).toBe(90);
});

/** Rows of ten, every second one shifted by half a pitch and farther apart than they need to be. */
function stepped(count: number): SegmentPiece[] {
  const rows = stepAndRepeat({
    piece: { widthMm: 100, heightMm: 60 },
    count,
    lengthMm: null,
    columns: 10,
    roomMm: 1340,
    gapXMm: 20,
    gapYMm: 40,
    stagger: 'rows',
    shiftMm: null,
    everySecond: 'half',
  });
  if (!rows) throw new Error('rows fit');
  return decals(count).map((piece, i) => {
    const { xMm = 0, yMm = 0, turnDeg = 0 } = rows.corners[i] ?? {};
    return { ...piece, laid: { xMm, yMm: yMm + 35, angleDeg: turnDeg } };
  });
}

test('segments follow the rows that were laid: their shifts, turns and distances stay', () => {
  const pieces = stepped(65);
  const cut = cutSegments(pieces, { rows: 'as laid', mostPieces: null }, true, ROOM, MARGINS);
  if (!cut.ok) throw new Error(cut.reason.code);
  // Rows of 60 mm every 100 mm: four of them take 360 of 400.
  expect(cut.value.map(({ pieces: own, extentMm }) => [own.length, extentMm])).toEqual([
    [40, 360],
    [25, 260],
  ]);
  for (const { pieces: own, places } of cut.value) {
    expect(Math.min(...places.map(({ yMm }) => yMm))).toBe(MARGINS.leadMm);
    for (const [i, piece] of own.entries()) {
      expect(places[i]).toMatchObject({ xMm: piece.laid?.xMm, angleDeg: piece.laid?.angleDeg });
      expect((places[i]?.yMm ?? 0) - (places[0]?.yMm ?? 0)).toBeCloseTo(
        (piece.laid?.yMm ?? 0) - (own[0]?.laid?.yMm ?? 0),
        9,
      );
    }
  }
  const few = cutSegments(pieces, { rows: 'as laid', mostPieces: 12 }, true, ROOM, MARGINS);
  expect(few.ok && few.value.map(({ pieces: own }) => own.length)).toEqual([10, 10, 10, 10, 10, 10, 5]);
  const fewer = cutSegments(pieces, { rows: 'as laid', mostPieces: 4 }, true, ROOM, MARGINS);
  expect(fewer.ok && Math.max(...fewer.value.map(({ pieces: own }) => own.length))).toBe(4);
});

test('rows that are too long, and pieces that do not lie yet, are told with their figures', () => {
  const one = { ...decal(0), laid: { xMm: 0, yMm: 0, angleDeg: 0 } };
  // Each reaches into the next: no cut goes straight across.
  const linked = Array.from({ length: 8 }, (_, i) => ({
    ...decal(i),
    laid: { xMm: (i % 2) * 200, yMm: i * 50, angleDeg: 0 },
  }));
  expect(cutSegments(linked, { rows: 'as laid', mostPieces: null }, true, ROOM, MARGINS)).toMatchObject({
    ok: false,
    reason: { code: 'too-long', leastMm: 410, roomMm: 400 },
  });
  expect(cutSegments([one, decal(1)], { rows: 'as laid', mostPieces: null }, true, ROOM, MARGINS)).toEqual({
    ok: false,
    reason: { code: 'not-laid', count: 1 },
  });
});

test('whatever is asked, every piece is in one segment, and none holds more or reaches farther than it may', () => {
  const anyCut = fc.record({
    sizes: fc.array(
      fc.record({
        w: fc.integer({ min: 40, max: 900 }),
        h: fc.integer({ min: 20, max: 380 }),
        n: fc.integer({ min: 1, max: 40 }),
      }),
      { minLength: 1, maxLength: 3 },
    ),
    most: fc.option(fc.integer({ min: 1, max: 30 })),
    turns: fc.boolean(),
  });
  fc.assert(
    fc.property(anyCut, ({ sizes, most, turns }) => {
      const pieces = sizes.flatMap(({ w, h, n }, size) =>
        Array.from({ length: n }, (_, i): SegmentPiece => ({
          pieceId: `${String(size)}-${String(i)}`,
          widthMm: w,
          heightMm: h,
          quarterTurn: true,
          laid: null,
        })),
      );
      const cut = cutSegments(pieces, { rows: 'anew', mostPieces: most }, turns, ROOM, MARGINS);
      if (!cut.ok) throw new Error('each fits upright');
      expect(cut.value.flatMap((segment) => segment.pieces.map(({ pieceId }) => pieceId)).sort()).toEqual(
        pieces.map(({ pieceId }) => pieceId).sort(),
      );
      for (const { pieces: own, places, extentMm } of cut.value) {
        expect(own.length).toBeLessThanOrEqual(most ?? Infinity);
        expect(extentMm).toBeLessThanOrEqual(ROOM.lengthMm + 1e-6);
        const rights = own.map(({ widthMm, heightMm }, i) => {
          const { xMm = NaN, angleDeg = NaN } = places[i] ?? {};
          return xMm + turnedSize(widthMm, heightMm, angleDeg).widthMm;
        });
        expect(Math.max(...rights)).toBeLessThanOrEqual(ROOM.widthMm + 1e-6);
      }
    }),
    { numRuns: 80 },
  );
});
