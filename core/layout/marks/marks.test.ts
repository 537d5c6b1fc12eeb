import fc from 'fast-check';
import { turnedSize } from '../../geometry/turn.ts';
import { laidTrim } from '../trim.ts';
import { type RectMm, closerThan } from '../../geometry/frame.ts';
import { codeShape, codeText } from './codeShape.ts';
import { MARK_AT, MARK_PER, type MarkSettings, NO_MARKS, fullMarks, layoutSpace } from './markSettings.ts';
import { straightCutsOf } from './cutMarks.ts';
import { type Mark, type MarkedRun, fillPattern } from './mark.ts';
import { markBox, marksOf, stripAreaMm2 } from './marks.ts';
import { exerciseMl, stripExerciseMm } from '../../care/exercise.ts';
import { inkMl } from '../../estimate/ink.ts';
import { nest } from '../nest.ts';
import { parseNestRequest } from '../nestInput.ts';

/** A stand-in for the encoder: bars of as many modules as the text has letters. */
const encode: MarkedRun['encode'] = (kind, text) =>
  kind === 'qr'
    ? { kind: 'square', size: 21, dark: Array.from({ length: 441 }, (_, i) => i % 3 === 0) }
    : { kind: 'bars', widths: Array.from({ length: text.length * 6 }, (_, i) => 1 + (i % 3)) };

const anySettings: fc.Arbitrary<MarkSettings> = fc.record({
  crop: fc.record({
    on: fc.boolean(),
    lengthMm: fc.integer({ min: 1, max: 8 }),
    awayMm: fc.integer({ min: 1, max: 5 }),
  }),
  cut: fc.record({ on: fc.boolean(), lengthMm: fc.integer({ min: 2, max: 12 }) }),
  label: fc.record({
    on: fc.boolean(),
    per: fc.constantFrom(...MARK_PER),
    at: fc.constantFrom(...MARK_AT),
    awayMm: fc.integer({ min: 1, max: 3 }),
    heightMm: fc.integer({ min: 2, max: 8 }),
    pattern: fc.constant('{job} {copy}'),
  }),
  pieceCode: fc.record({
    on: fc.boolean(),
    per: fc.constantFrom(...MARK_PER),
    at: fc.constantFrom(...MARK_AT),
    awayMm: fc.integer({ min: 1, max: 3 }),
    kind: fc.constant('qr' as const),
    heightMm: fc.integer({ min: 6, max: 15 }),
    pattern: fc.constant('{job} {copy}'),
    white: fc.boolean(),
  }),
  code: fc.record({
    on: fc.boolean(),
    kind: fc.constantFrom('code39' as const, 'code128' as const, 'qr' as const),
    ends: fc.constantFrom('head' as const, 'foot' as const, 'both' as const),
    heightMm: fc.integer({ min: 5, max: 25 }),
    pattern: fc.constant('{id}'),
    white: fc.boolean(),
  }),
  slug: fc.record({ on: fc.boolean(), heightMm: fc.integer({ min: 2, max: 8 }), pattern: fc.constant('{run} {date}') }),
  registration: fc.record({
    on: fc.boolean(),
    shape: fc.constantFrom('dots' as const, 'crosses' as const),
    sizeMm: fc.integer({ min: 2, max: 10 }),
    everyMm: fc.integer({ min: 100, max: 900 }),
  }),
  strip: fc.record({
    on: fc.boolean(),
    edge: fc.constantFrom('left' as const, 'right' as const, 'across' as const),
    widthMm: fc.integer({ min: 2, max: 12 }),
    awayMm: fc.integer({ min: 0, max: 10 }),
    aheadMm: fc.integer({ min: 0, max: 5 }),
  }),
});

function nested(marks: MarkSettings, sizes: readonly { w: number; h: number }[]): { run: MarkedRun; lengthMm: number } {
  const space = layoutSpace({ gapMm: 3, leadMm: 20, trailMm: 15, marks });
  const { gapXMm, gapYMm, ...marginMm } = space;
  const parsed = parseNestRequest({
    widthMm: 900,
    gapMm: { x: gapXMm, y: gapYMm },
    marginMm,
    straightCuts: marks.cut.on,
    pieces: sizes.map(({ w, h }, i) => ({ id: String(i), widthMm: w, heightMm: h, copies: 2, quarterTurn: true })),
  });
  if (!parsed.ok) throw new Error(parsed.reason.code);
  const layout = nest(parsed.value, { seed: 1, stepBudget: 60 });
  const pieces = layout.placements.map(({ id, copy, xMm, yMm, angleDeg }) => {
    const { w, h } = sizes[Number(id)] ?? { w: 0, h: 0 };
    const outside = { xMm, yMm, widthMm: angleDeg === 90 ? h : w, heightMm: angleDeg === 90 ? w : h };
    return {
      ...outside,
      trim: laidTrim({ widthMm: w, heightMm: h, bleed: BLEED, cut: [] }, { xMm, yMm, angleDeg }, false),
      jobId: id,
      words: { job: `job ${id}`, copy: String(copy) },
    };
  });
  const words = { id: 'run-12ab', run: 'Run 3', date: '6 Oct' };
  const dpi = { x: 720, y: 720 };
  const run = {
    usableWidthMm: 900,
    leadMm: 20,
    sheetMm: null,
    pieces,
    words,
    dpi,
    channels: ['#00f', '#f0f', '#000'],
    encode,
  };
  return { run, lengthMm: layout.lengthMm };
}

const BLEED = { leftMm: 1, topMm: 2, rightMm: 3, bottomMm: 4 };
const touch = (a: RectMm, b: RectMm): boolean => closerThan(a, b, 0, 0, 1e-6);
/** The two strokes of a cross and the bars of a strip are one mark each. */
function belongTogether(a: Mark, b: Mark): boolean {
  if (a.kind === 'bar' && b.kind === 'bar') return true;
  if (a.kind !== 'line' || b.kind !== 'line') return false;
  const middle = (m: typeof a): string => `${((m.x1 + m.x2) / 2).toFixed(6)} ${((m.y1 + m.y2) / 2).toFixed(6)}`;
  return middle(a) === middle(b);
}

test('whatever marks are on, they touch neither art, nor the margins, nor each other', () => {
  const size = fc.record({ w: fc.integer({ min: 30, max: 300 }), h: fc.integer({ min: 30, max: 300 }) });
  fc.assert(
    fc.property(anySettings, fc.array(size, { minLength: 1, maxLength: 5 }), (settings, sizes) => {
      const { run, lengthMm } = nested(settings, sizes);
      const { marks, troubles } = marksOf(settings, run);
      expect(troubles).toEqual([]);
      const boxes = marks.map((mark) => ({ mark, box: markBox(mark) }));
      const wrong = boxes.flatMap(({ mark, box }, i) => [
        ...run.pieces.filter((piece) => touch(box, piece)).map((piece) => ({ mark, piece })),
        ...boxes
          .slice(i + 1)
          .filter((other) => touch(box, other.box) && !belongTogether(mark, other.mark))
          .map((other) => ({ mark, other: other.mark })),
        ...(box.xMm < -0.2 || box.xMm + box.widthMm > 900.2 ? [{ mark, beyond: 'the usable width' }] : []),
        ...(box.yMm < (mark.kind === 'bar' ? 0 : 19.8) ? [{ mark, beyond: 'the lead margin' }] : []),
        ...(box.yMm + box.heightMm > lengthMm - 15 + 0.2 ? [{ mark, beyond: 'the trail margin' }] : []),
      ]);
      expect(wrong).toEqual([]);
    }),
    { numRuns: 120, seed: 39 },
  );
});

test('modules are whole dots, quiet zones are kept, and what would be too fine is refused with its dots', () => {
  const bars = codeShape({ kind: 'bars', widths: [1, 2, 3] }, 8, { x: 360, y: 360 });
  if (!bars.ok) throw new Error('refused');
  const dot = 25.4 / 360;
  const module = Math.round(0.38 / dot) * dot;
  expect(bars.value.rects).toEqual([
    { xMm: 10 * module, yMm: 0, widthMm: module, heightMm: 8 },
    { xMm: 13 * module, yMm: 0, widthMm: 3 * module, heightMm: 8 },
  ]);
  expect(bars.value.widthMm).toBeCloseTo(26 * module, 9);
  const square = { kind: 'square' as const, size: 21, dark: Array.from({ length: 441 }, () => true) };
  const qr = codeShape(square, 10, { x: 720, y: 360 });
  if (!qr.ok) throw new Error('refused');
  for (const { xMm, widthMm } of qr.value.rects) {
    expect((xMm * 720) / 25.4 - Math.round((xMm * 720) / 25.4)).toBeCloseTo(0, 6);
    expect((widthMm * 720) / 25.4 - Math.round((widthMm * 720) / 25.4)).toBeCloseTo(0, 6);
  }
  expect(codeShape(square, 4, { x: 360, y: 360 })).toEqual({
    ok: false,
    reason: { code: 'code-too-fine', dots: 1, leastDots: 3 },
  });
});

test('a code that can not be drawn is told with its figures, and the other marks stay', () => {
  const code = { ...NO_MARKS.code, on: true, heightMm: 10, ends: 'head' as const };
  const marks: MarkSettings = { ...NO_MARKS, crop: { ...NO_MARKS.crop, on: true }, code };
  const { run } = nested(marks, [{ w: 100, h: 60 }]);
  expect(marksOf(marks, { ...run, encode: () => undefined }).troubles).toEqual([
    '“run-12ab” can’t be said by this kind of code. Make it shorter, or take another kind.',
  ]);
  const wide = marksOf({ ...marks, code: { ...code, pattern: '{id}'.repeat(60) } }, run);
  expect(wide.troubles[0]).toMatch(/is [\d,.]+\u00a0mm wide; 900\u00a0mm are free/);
  expect(wide.marks.every((mark) => mark.kind === 'line')).toBe(true);
  const fine = marksOf({ ...marks, code: { ...code, kind: 'qr', heightMm: 2 } }, run);
  expect(fine.troubles[0]).toMatch(/too small .* 1 dots a module, 3 are needed/);
});

test('patterns say what they know; Code 39 gets what it can carry', () => {
  expect(fillPattern('{job}  {order} {copy}/{of} {colour}', { job: 'a', order: '', copy: '2', of: '9' })).toBe(
    'a 2/9 {colour}',
  );
  expect(codeText('code39', 'run-12_ä')).toBe('RUN-12--');
  expect(codeText('code128', 'run-12')).toBe('run-12');
});

test('no marks need no space; gap and margins grow by what the marks need', () => {
  const plain = { gapMm: 3, leadMm: 20, trailMm: 15 };
  expect(layoutSpace(plain)).toEqual({ leadMm: 20, trailMm: 15, gapXMm: 3, gapYMm: 3, leftMm: 0, rightMm: 0 });
  expect(layoutSpace({ ...plain, gapAlongMm: 8 })).toMatchObject({ gapXMm: 3, gapYMm: 8 });
  const marks: MarkSettings = {
    ...NO_MARKS,
    crop: { on: true, lengthMm: 4, awayMm: 2 },
    code: { ...NO_MARKS.code, on: true, ends: 'both', heightMm: 10 },
    strip: { ...NO_MARKS.strip, on: true, edge: 'right', widthMm: 4, awayMm: 3 },
  };
  const space = { gapXMm: 12.5, gapYMm: 12.5, leadMm: 38, trailMm: 33, leftMm: 6, rightMm: 15 };
  expect(layoutSpace({ ...plain, marks })).toEqual(space);
  // A label and a code take room on their side of the piece only: two rows of labels, not two of nothing.
  const label = { ...NO_MARKS.label, on: true, at: 'behind' as const, heightMm: 4, awayMm: 1 };
  expect(layoutSpace({ ...plain, marks: { ...NO_MARKS, label } })).toEqual({
    ...{ gapXMm: 3, gapYMm: 5.5, leadMm: 20, trailMm: 20, leftMm: 0, rightMm: 0 },
  });
  const pieceCode = { ...NO_MARKS.pieceCode, on: true, at: 'before' as const, heightMm: 10, awayMm: 2 };
  expect(layoutSpace({ ...plain, marks: { ...NO_MARKS, label, pieceCode } })).toEqual({
    ...{ gapXMm: 3, gapYMm: 17.5, leadMm: 32, trailMm: 20, leftMm: 0, rightMm: 0 },
  });
});

test('the strip prints as much of each channel as its bars cover, on a roll and on sheets', () => {
  const marks: MarkSettings = { ...NO_MARKS, strip: { on: true, edge: 'left', widthMm: 4, awayMm: 2, aheadMm: 5 } };
  const { run } = nested(marks, [
    { w: 200, h: 300 },
    { w: 300, h: 250 },
    { w: 700, h: 400 },
  ]);
  const channels = ['#0aa', '#a0a', '#aa0', '#111'];
  const across: MarkSettings = { ...marks, strip: { ...marks.strip, edge: 'across', widthMm: 170 } };
  for (const [settings, each] of [
    [marks, run],
    [marks, { ...run, sheetMm: 900 }],
    [across, run],
  ] as const) {
    const bars = marksOf(settings, { ...each, channels })
      .marks.filter(({ kind }) => kind === 'bar')
      .map(markBox);
    const area = bars.reduce((sum, { widthMm, heightMm }) => sum + widthMm * heightMm, 0) / channels.length;
    expect(area).toBeGreaterThan(0);
    expect(stripAreaMm2(settings, each, channels.length)).toBeCloseTo(area, 6);
  }
  expect(stripAreaMm2(NO_MARKS, run, 4)).toBe(0);
  expect(layoutSpace({ gapMm: 3, leadMm: 20, trailMm: 15, marks: across }).leadMm).toBe(20 + 170 + 2);
});

test('a strip of all of Heron’s channels exercises each after as many times the length of one', () => {
  // Side by side, each of seven channels has a seventh of the width: the strip at a coverage of 1 ÷ 7.
  const build = { heads: 1, nozzles: 768, dropPl: 7 };
  const oneMm = stripExerciseMm({ widthMm: 4, coverage: 1 / 7, dpiX: 720, dpiY: 720 }, build.nozzles);
  expect(oneMm).toBeCloseTo(7 * 477.9, 0);
  const marks: MarkSettings = { ...NO_MARKS, strip: { on: true, edge: 'left', widthMm: 4, awayMm: 2, aheadMm: 0 } };
  const piece = { xMm: 20, yMm: 0, widthMm: 100, heightMm: oneMm };
  const area = stripAreaMm2(marks, { usableWidthMm: 1600, sheetMm: null, pieces: [piece] }, 7);
  expect(inkMl(1, area, 720, 720, build.dropPl)).toBeCloseTo(exerciseMl(build), 9);
});

test('ticks stand in line with the trim, beyond the bleed, however the piece is turned and mirrored', () => {
  const marks: MarkSettings = { ...NO_MARKS, crop: { on: true, lengthMm: 4, awayMm: 2 } };
  const ticks = (angleDeg: number, mirrored: boolean) => {
    const place = { xMm: 100, yMm: 50, angleDeg };
    const laid = turnedSize(86, 56, angleDeg);
    const trim = laidTrim({ widthMm: 86, heightMm: 56, bleed: BLEED, cut: [] }, place, mirrored);
    const piece = { xMm: 100, yMm: 50, ...laid, trim, jobId: 'a', words: {} };
    const { run } = nested(marks, [{ w: 30, h: 30 }]);
    return marksOf(marks, { ...run, pieces: [piece] }).marks.flatMap((mark) => (mark.kind === 'line' ? [mark] : []));
  };
  // 86 × 56 with 1 mm of bleed on the left, 2 above, 3 on the right, 4 below.
  for (const [angleDeg, mirrored, xs, ys] of [
    [0, false, [101, 183], [52, 102]],
    [90, false, [102, 152], [53, 135]],
    [180, false, [103, 185], [54, 104]],
    [0, true, [103, 185], [52, 102]],
  ] as const) {
    const lines = ticks(angleDeg, mirrored);
    const across = lines.filter((line) => line.y1 === line.y2);
    const along = lines.filter((line) => line.x1 === line.x2);
    const sorted = (values: number[]) =>
      [...new Set(values.map((value) => Number(value.toFixed(6))))].sort((a, b) => a - b);
    expect([lines.length, across.length, along.length]).toEqual([8, 4, 4]);
    expect(sorted(along.map((line) => line.x1))).toEqual(xs);
    expect(sorted(across.map((line) => line.y1))).toEqual(ys);
    const { widthMm, heightMm } = turnedSize(86, 56, angleDeg);
    expect(sorted(across.flatMap((line) => [line.x1, line.x2]))).toEqual([94, 98, 102 + widthMm, 106 + widthMm]);
    expect(sorted(along.flatMap((line) => [line.y1, line.y2]))).toEqual([44, 48, 52 + heightMm, 56 + heightMm]);
  }
  // A piece that is cut along its contour has its ticks around that.
  const cut = [[10, 10, 40, 20, 20, 50]].map((ring) =>
    [0, 2, 4].map((i) => ({ x: ring[i] ?? 0, y: ring[i + 1] ?? 0 })),
  );
  expect(laidTrim({ widthMm: 86, heightMm: 56, bleed: BLEED, cut }, { xMm: 0, yMm: 0, angleDeg: 0 }, false)).toEqual({
    xMm: 10,
    yMm: 10,
    widthMm: 30,
    heightMm: 40,
  });
});

test('labels and codes at each piece, or at the first piece of each job; a code that is wider than its piece is told', () => {
  const label = { ...NO_MARKS.label, on: true, pattern: '{job} {copy}' };
  const pieceCode = { ...NO_MARKS.pieceCode, on: true, pattern: '{job} {copy}', heightMm: 10 };
  const sizes = [
    { w: 120, h: 60 },
    { w: 90, h: 40 },
  ];
  const texts = (marks: MarkSettings): string[] => {
    const { run } = nested(marks, sizes);
    return marksOf(marks, run).marks.flatMap((mark) => (mark.kind === 'line' || !('text' in mark) ? [] : [mark.text]));
  };
  const each = texts({ ...NO_MARKS, label, pieceCode });
  expect(each.sort()).toEqual(['job 0 0', 'job 0 1', 'job 1 0', 'job 1 1'].flatMap((text) => [text, text]));
  const firsts = texts({ ...NO_MARKS, label: { ...label, per: 'job' } });
  expect(firsts.map((text) => text.slice(0, 5)).sort()).toEqual(['job 0', 'job 1']);
  const wide: MarkSettings = { ...NO_MARKS, pieceCode: { ...pieceCode, kind: 'code128' } };
  const { run } = nested(wide, [{ w: 20, h: 20 }]);
  expect(marksOf(wide, run).troubles[0]).toMatch(
    /^The codes of 2 pieces are wider than the piece: [\d.]+\u00a0mm of 15\u00a0mm/,
  );
  // A run that was kept before these marks were known has none of them, and its label is where it was.
  const old = fullMarks({ label: { on: true, heightMm: 4, pattern: '{job}' } });
  expect([old.pieceCode.on, old.cut.on, old.label.per, old.label.at]).toEqual([false, false, 'piece', 'behind']);
});

test('straight cuts part a grid row by row, then piece by piece; what is locked into each other is told', () => {
  const grid = Array.from({ length: 6 }, (_, i) => ({
    ...{ xMm: (i % 3) * 105, yMm: Math.floor(i / 3) * 58 },
    ...{ widthMm: 100, heightMm: 50 },
  }));
  const { cuts, stuck } = straightCutsOf(grid);
  expect(stuck).toBe(0);
  expect(cuts).toEqual([
    { along: false, atMm: 54, fromMm: 0, toMm: 310 },
    { along: true, atMm: 102.5, fromMm: 0, toMm: 50 },
    { along: true, atMm: 207.5, fromMm: 0, toMm: 50 },
    { along: true, atMm: 102.5, fromMm: 58, toMm: 108 },
    { along: true, atMm: 207.5, fromMm: 58, toMm: 108 },
  ]);
  const pinwheel = [
    { xMm: 0, yMm: 0, widthMm: 200, heightMm: 100 },
    { xMm: 205, yMm: 0, widthMm: 100, heightMm: 200 },
    { xMm: 105, yMm: 205, widthMm: 200, heightMm: 100 },
    { xMm: 0, yMm: 105, widthMm: 100, heightMm: 200 },
  ];
  expect(straightCutsOf(pinwheel)).toEqual({ cuts: [], stuck: 4 });
});
