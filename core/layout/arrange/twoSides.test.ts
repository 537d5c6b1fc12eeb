import fc from 'fast-check';
import { turnedSize } from '../../geometry/turn.ts';
import { NO_MARKS, type MarkSettings } from '../marks/markSettings.ts';
import {
  BACK_CONTENTS,
  MEDIA_TURNS,
  PIECE_TURNS,
  type TwoSides,
  backAngle,
  backMarks,
  backRect,
  backSettings,
  turnText,
} from './twoSides.ts';

const sides = (change: Partial<TwoSides>): TwoSides => ({
  turn: 'side for side',
  content: 'readable',
  pieceTurn: 'like a book',
  offsetXMm: 0,
  offsetYMm: 0,
  ...change,
});
const ROLL = { mediaWidthMm: 1000, lengthMm: 2000, sheetMm: null };
const PIECE = { xMm: 100, yMm: 200, widthMm: 300, heightMm: 400 };

test('the worked figures: 100, 200 lies at 600, 200 side for side and at 100, 1400 end for end; offsets are added', () => {
  expect(backRect(PIECE, ROLL, sides({}))).toMatchObject({ xMm: 600, yMm: 200, widthMm: 300, heightMm: 400 });
  expect(backRect(PIECE, ROLL, sides({ turn: 'end for end' }))).toMatchObject({ xMm: 100, yMm: 1400 });
  expect(backRect(PIECE, ROLL, sides({ offsetXMm: 0.4, offsetYMm: -1.2 }))).toMatchObject({ xMm: 600.4, yMm: 198.8 });
  expect(backAngle(0, sides({ turn: 'end for end' }))).toBe(180);
  expect(backAngle(90, sides({}))).toBe(270);
  expect(backAngle(0, sides({ pieceTurn: 'like a calendar' }))).toBe(180);
});

test('turned over twice, everything is back where it was; order is kept side for side and reversed end for end', () => {
  const anySides = fc.record({
    turn: fc.constantFrom(...MEDIA_TURNS),
    content: fc.constantFrom(...BACK_CONTENTS),
    pieceTurn: fc.constantFrom(...PIECE_TURNS),
  });
  const place = fc.record({
    xMm: fc.integer({ min: 0, max: 600 }),
    yMm: fc.integer({ min: 0, max: 1500 }),
    angleDeg: fc.integer({ min: 0, max: 359 }),
  });
  fc.assert(
    fc.property(anySides, place, place, (choice, a, b) => {
      const rule = sides(choice);
      const laid = ({ xMm, yMm, angleDeg }: typeof a) => ({ xMm, yMm, ...turnedSize(300, 200, angleDeg) });
      const twice = backRect(backRect(laid(a), ROLL, rule), ROLL, rule);
      expect(twice.xMm).toBeCloseTo(a.xMm, 9);
      expect(twice.yMm).toBeCloseTo(a.yMm, 9);
      expect(backAngle(backAngle(a.angleDeg, rule), rule)).toBeCloseTo(a.angleDeg, 6);
      const before = Math.sign(laid(a).yMm + laid(a).heightMm / 2 - laid(b).yMm - laid(b).heightMm / 2);
      const [backA, backB] = [backRect(laid(a), ROLL, rule), backRect(laid(b), ROLL, rule)];
      const after = Math.sign(backA.yMm + backA.heightMm / 2 - backB.yMm - backB.heightMm / 2);
      if (before !== 0) expect(after).toBe(rule.turn === 'end for end' ? -before : before);
    }),
    { numRuns: 300, seed: 12 },
  );
});

test('what lies at one end of the media stays at that end, and registration marks lie on each other', () => {
  const marks: MarkSettings = {
    ...NO_MARKS,
    crop: { ...NO_MARKS.crop, on: true },
    code: { ...NO_MARKS.code, on: true, ends: 'head' },
    slug: { ...NO_MARKS.slug, on: true },
    strip: { ...NO_MARKS.strip, on: true, edge: 'left' },
  };
  const front = { gapMm: 5, leadMm: 30, trailMm: 12, marks };
  const over = backSettings(front, 'end for end');
  expect(over).toMatchObject({ leadMm: 12, trailMm: 30, marks: { code: { ends: 'foot' }, strip: { edge: 'left' } } });
  expect([over.marks.crop.on, over.marks.slug.on]).toEqual([false, false]);
  const aside = backSettings(front, 'side for side');
  expect(aside).toMatchObject({
    leadMm: 30,
    marks: { code: { ends: 'head' }, slug: { on: true }, strip: { edge: 'right' } },
  });
  const dot = { kind: 'dot', xMm: 40, yMm: 100, diameterMm: 5 } as const;
  const line = { kind: 'line', x1: 20, y1: 300, x2: 26, y2: 300 } as const;
  // The usable width begins 10 mm from the left edge of media 1000 mm wide.
  expect(backMarks([dot, line], ROLL, sides({}), 10)).toEqual([
    { kind: 'dot', xMm: 940, yMm: 100, diameterMm: 5 },
    { kind: 'line', x1: 954, y1: 300, x2: 960, y2: 300 },
  ]);
  expect(backMarks([dot], ROLL, sides({ turn: 'end for end' }), 10)).toEqual([
    { kind: 'dot', xMm: 40, yMm: 1900, diameterMm: 5 },
  ]);
});

describe('a stack of sheets, turned over as one', () => {
  const SHEETS = { mediaWidthMm: 1000, lengthMm: 2100, sheetMm: 700 };

  test('each sheet is turned in itself, and their order is kept', () => {
    const second = { xMm: 100, yMm: 700 + 50, widthMm: 300, heightMm: 400 };
    expect(backRect(second, SHEETS, sides({ turn: 'end for end' }))).toMatchObject({ xMm: 100, yMm: 700 + 250 });
    expect(backRect(second, SHEETS, sides({}))).toMatchObject({ xMm: 600, yMm: 750 });
    // On a roll the same piece would come out at the other end of the media.
    expect(backRect(second, ROLL, sides({ turn: 'end for end' }))).toMatchObject({ yMm: 850 });
  });

  test('whatever lies on a sheet stays on it, and turned twice lies where it was', () => {
    const place = fc.record({
      sheet: fc.integer({ min: 0, max: 2 }),
      xMm: fc.integer({ min: 0, max: 700 }),
      y: fc.integer({ min: 0, max: 300 }),
      turn: fc.constantFrom(...MEDIA_TURNS),
    });
    fc.assert(
      fc.property(place, ({ sheet, xMm, y, turn }) => {
        const rect = { xMm, yMm: sheet * 700 + y, widthMm: 300, heightMm: 400 };
        const back = backRect(rect, SHEETS, sides({ turn }));
        expect(back.yMm).toBeGreaterThanOrEqual(sheet * 700);
        expect(back.yMm + back.heightMm).toBeLessThanOrEqual((sheet + 1) * 700);
        expect(backRect(back, SHEETS, sides({ turn }))).toEqual(rect);
      }),
    );
  });

  test('the person is told which edge leads and which sheet is uppermost', () => {
    expect(turnText('end for end', 700)).toBe(
      'stack turned over as one, end for end: the trailing edge leads, sheet 1 is uppermost',
    );
    expect(turnText('side for side', 700)).toContain('the leading edge leads again');
    expect(turnText('side for side', null)).toBe('media turned side for side');
  });
});
