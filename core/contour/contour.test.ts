import fc from 'fast-check';
import { laidOutline } from '../geometry/laidOutline.ts';
import { type Outline, areaMm2, boundsOf, distanceToSegment } from '../geometry/polygon.ts';
import { findClashes } from '../layout/checkLayout.ts';
import { nest } from '../layout/nest.ts';
import { type RunNestPiece, runNest } from '../layout/runNest.ts';
import { outlinesCloser } from '../layout/shapes/clearance.ts';
import { type CheckedPage, PLAIN_CHECKS } from '../ticket/finding.ts';
import { checkJob } from '../ticket/findings.ts';
import type { FinishedPage, SourcePage } from '../ticket/finishedPage.ts';
import { finishPage, outsideOf } from '../ticket/finish.ts';
import { PLAIN_TICKET, type TicketPart, type TicketValues } from '../ticket/ticket.ts';
import type { ContourRule, CutLine } from './contourRule.ts';
import { curvePoints } from './flatten.ts';
import { grownRings, oneOutline } from './grow.ts';
import { traceAlpha } from './traceAlpha.ts';

function disc(x: number, y: number, r: number, corners = 64): Outline {
  return Array.from({ length: corners }, (_, i) => {
    const turn = (i / corners) * 2 * Math.PI;
    return { x: x + r * Math.cos(turn), y: y + r * Math.sin(turn) };
  });
}

function flat(ring: Outline): number[] {
  return ring.flatMap(({ x, y }) => [x, y]);
}

function box(x: number, y: number, w: number, h: number): Outline {
  return [
    { x, y },
    { x: x + w, y },
    { x: x + w, y: y + h },
    { x, y: y + h },
  ];
}

/** A page of 200 × 120 mm with a disc of 30 mm about 70, 60, and a hole of 8 mm in it. */
const LINE: CutLine = { from: 'spot', name: 'Knife', rings: [flat(disc(70, 60, 30)), flat(disc(70, 60, 8))] };
const SOURCE: SourcePage = {
  widthMm: 200,
  heightMm: 120,
  bleed: { leftMm: 2, topMm: 2, rightMm: 2, bottomMm: 2 },
  cutLines: [LINE],
};
const RULE: ContourRule = { from: 'spot', name: 'Knife', offsetMm: 0, bleedMm: 2 };

function finished(values: TicketPart): FinishedPage {
  const made = finishPage(SOURCE, { ...PLAIN_TICKET, contour: RULE, ...values }, 1500);
  if (!made.ok) throw new Error(made.reason.code);
  return made.value;
}

function within(point: { x: number; y: number }, ring: Outline): boolean {
  let inside = false;
  ring.forEach((a, i) => {
    const b = ring[(i + 1) % ring.length] ?? a;
    if (a.y > point.y !== b.y > point.y && point.x < ((b.x - a.x) * (point.y - a.y)) / (b.y - a.y) + a.x)
      inside = !inside;
  });
  return inside;
}

function distanceTo(point: { x: number; y: number }, ring: Outline): number {
  return Math.min(...ring.map((a, i) => distanceToSegment(point, a, ring[(i + 1) % ring.length] ?? a)));
}

test('however a page is sized, turned and mirrored, its piece is the rectangle around all that is printed, and the cut lies the bleed within', () => {
  const rules = fc.record({
    percent: fc.integer({ min: 40, max: 300 }),
    turn: fc.constantFrom(0 as const, 90 as const, 180 as const, 270 as const),
    mirror: fc.boolean(),
    offsetMm: fc.integer({ min: -3, max: 12 }),
    bleedMm: fc.integer({ min: 0, max: 9 }),
    left: fc.integer({ min: 0, max: 30 }),
  });
  fc.assert(
    fc.property(rules, ({ percent, turn, mirror, offsetMm, bleedMm, left }) => {
      const page = finished({
        size: { kind: 'percent', x: percent, y: percent },
        ...{ turn, mirror },
        crop: { leftMm: left, topMm: 0, rightMm: 0, bottomMm: 0 },
        contour: { ...RULE, offsetMm, bleedMm },
      });
      const { widthMm, heightMm } = outsideOf(page);
      const { outline, cut } = page.contour ?? { outline: [], cut: [] };
      const around = boundsOf(outline);
      expect([around.minX, around.minY]).toEqual([0, 0]);
      expect(around.maxX).toBeCloseTo(widthMm, 3);
      expect(around.maxY).toBeCloseTo(heightMm, 3);
      // A disc stays one: its radius is scaled, then grown.
      const r = (30 * percent) / 100 + offsetMm;
      expect(page.widthMm).toBeCloseTo(2 * r, 0);
      const outer = cut.reduce((most, ring) => (areaMm2(ring) > areaMm2(most) ? ring : most), cut[0] ?? []);
      const bounds = boundsOf(outer);
      const middle = { x: (bounds.minX + bounds.maxX) / 2, y: (bounds.minY + bounds.maxY) / 2 };
      const off = outer.map(({ x, y }) => Math.abs(Math.hypot(x - middle.x, y - middle.y) - r));
      expect(Math.max(...off)).toBeLessThan(0.12);
      const away = outer.map((point) => distanceTo(point, outline));
      expect(bleedMm === 0 || outer.every((point) => within(point, outline))).toBe(true);
      expect(Math.min(...away)).toBeGreaterThan(bleedMm - 0.15);
      expect(Math.max(...away)).toBeLessThan(bleedMm + 0.5);
      // The window of the source is what the rectangle shows of it.
      const [uw, vh] = turn % 180 === 90 ? [heightMm, widthMm] : [widthMm, heightMm];
      expect(page.window.widthMm * page.scaleX).toBeCloseTo(uw, 3);
      expect(page.window.heightMm * page.scaleY).toBeCloseTo(vh, 3);
      const shown = { x: page.window.xMm + page.window.widthMm / 2, y: page.window.yMm + page.window.heightMm / 2 };
      expect(shown.x).toBeCloseTo(70, 0);
      expect(shown.y).toBeCloseTo(60, 0);
    }),
    { seed: 5, numRuns: 40 },
  );
});

test('holes are cut, but the print and the nest see one closed line; several lines are held by their hull', () => {
  expect(finished({}).contour?.cut).toHaveLength(2);
  const grown = grownRings([disc(0, 0, 10), disc(0, 0, 4)], 1);
  expect(grown.map((ring) => areaMm2(ring) / Math.PI).sort((a, b) => a - b)).toEqual([
    expect.closeTo(9, 0),
    expect.closeTo(121, 0),
  ]);
  // A shrunk ring may vanish.
  expect(grownRings([disc(0, 0, 10)], -11)).toEqual([]);
  expect(areaMm2(oneOutline([box(0, 0, 10, 10), box(20, 0, 10, 10)]))).toBeCloseTo(300, 6);
  expect(oneOutline([box(0, 0, 10, 10), box(5, 5, 10, 10)])).toHaveLength(8);
});

test('curves are followed to 0.02 mm, and the edge of an opaque disc to a quarter of a pixel', () => {
  const k = 0.5522847498 * 500;
  for (const [x, y] of curvePoints([500, 0], [500, k], [k, 500], [0, 500])) {
    // The handles themselves are off a circle by 0.03 %.
    expect(Math.abs(Math.hypot(x, y) - 500)).toBeLessThan(0.16);
  }
  const chord = curvePoints([0, 0], [0, 40], [40, 40], [40, 0]);
  const fine = (t: number): { x: number; y: number } => {
    const s = 1 - t;
    return { x: 3 * s * t * t * 40 + t * t * t * 40, y: 3 * s * s * t * 40 + 3 * s * t * t * 40 };
  };
  const ring = [{ x: 0, y: 0 }, ...chord.map(([x, y]) => ({ x, y }))];
  for (let t = 0; t <= 1; t += 0.01) expect(distanceTo(fine(t), ring)).toBeLessThan(0.02);

  const size = 120;
  const alpha = new Uint8Array(size * size);
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++) {
      const away = Math.hypot(x + 0.5 - 60, y + 0.5 - 55) - 40;
      alpha[y * size + x] = Math.round(255 * Math.min(1, Math.max(0, 0.5 - away)));
    }
  }
  const [edge = [], ...more] = traceAlpha(alpha, size, size);
  expect(more).toEqual([]);
  expect(edge.length).toBeGreaterThan(20);
  for (const { x, y } of edge) expect(Math.abs(Math.hypot(x - 60, y - 55) - 40)).toBeLessThan(0.26);
  expect(traceAlpha(new Uint8Array(size * size).fill(255), size, size)).toEqual([]);
  expect(traceAlpha(new Uint8Array(size * size), size, size)).toEqual([]);
});

test('two outlines are too close exactly when the gap between them is less, wherever they lie', () => {
  const at = fc.record({
    turn: fc.double({ min: 0, max: 6.3, noNaN: true }),
    off: fc.integer({ min: -60, max: 60 }).filter((tenths) => Math.abs(tenths) > 2),
    gap: fc.integer({ min: 0, max: 9 }),
    r1: fc.integer({ min: 3, max: 40 }),
    r2: fc.integer({ min: 3, max: 40 }),
  });
  fc.assert(
    fc.property(at, ({ turn, off, gap, r1, r2 }) => {
      const d = Math.max(0, r1 + r2 + gap + off / 10);
      const other = disc(d * Math.cos(turn), d * Math.sin(turn), r2, 180);
      expect(outlinesCloser(disc(0, 0, r1, 180), other, gap)).toBe(d < r1 + r2 + gap - 0.05);
    }),
    { seed: 11, numRuns: 300 },
  );
  // One within the other; edges that only touch; the same edge.
  expect(outlinesCloser(disc(0, 0, 30), box(-1, -1, 2, 2), 0)).toBe(true);
  expect(outlinesCloser(box(0, 0, 10, 10), box(10, 0, 10, 10), 0)).toBe(false);
  expect(outlinesCloser(box(0, 0, 10, 10), box(9.9, 0, 10, 10), 0)).toBe(true);
});

test('a run nested by contour keeps the gap between outlines and is shorter than by rectangle; its places are those of the pieces', () => {
  // A triangle, and a crescent: much of their rectangles is empty.
  const triangle: Outline = [
    { x: 0, y: 0 },
    { x: 200, y: 0 },
    { x: 0, y: 160 },
  ];
  const arrow: Outline = [
    { x: 0, y: 0 },
    { x: 150, y: 60 },
    { x: 0, y: 120 },
    { x: 60, y: 60 },
  ];
  const piece = (i: number): RunNestPiece => {
    const outline = i % 2 ? triangle : arrow;
    const { maxX: widthMm, maxY: heightMm } = boundsOf(outline);
    return {
      ...{ pieceId: `p${String(i)}`, jobId: `job ${String(i % 2)}`, page: 0, part: null, widthMm, heightMm, outline },
      ...{ quarterTurn: true, halfTurn: true, grain: 'free', together: false, place: { kind: 'nested' } },
      ...{ dueMs: null, customer: null, orderNo: null, panel: null, turnEverySecond: false },
    };
  };
  const pieces = Array.from({ length: 12 }, (_, i) => piece(i));
  const rules = { gapMm: 4, leadMm: 10, trailMm: 0, quarterTurns: true, byContour: true };
  const used = [false, true].map((byContour) => {
    const made = runNest(pieces, { ...rules, byContour, turnStepDeg: byContour ? 45 : null }, 800, 'left');
    if (!made.ok) throw new Error(made.reason.code);
    const layout = nest(made.value.input, { seed: 3, stepBudget: 120 });
    const laid = layout.placements.map(made.value.place).map((place) => {
      const own = pieces.find((each) => each.pieceId === place.pieceId);
      if (!own?.outline) throw new Error('a piece that was never given');
      const outline = laidOutline(own.outline, own, place);
      return { key: place.pieceId, ...place, widthMm: 0, heightMm: 0, outline };
    });
    expect(new Set(laid.map(({ key }) => key)).size).toBe(12);
    const limits = { widthMm: 800, leftMm: 0, rightMm: 0, leadMm: 10, gapXMm: 4, gapYMm: 4 };
    expect(findClashes(laid, limits)).toEqual([]);
    const end = Math.max(...laid.map(({ outline }) => boundsOf(outline).maxY));
    expect(layout.lengthMm).toBeCloseTo(end, 2);
    expect(layout.lengthMm).toBeGreaterThanOrEqual(layout.boundMm);
    return layout.lengthMm;
  });
  expect(used[1]).toBeLessThan((used[0] ?? 0) * 0.85);
  // Around what is locked they are nested by contour as well; on sheets, rectangles are packed around it.
  const lock = { xMm: 300, yMm: 60, widthMm: 200, heightMm: 160 };
  const around = runNest(pieces, rules, 800, 'left', [lock]);
  if (!around.ok) throw new Error(around.reason.code);
  expect(around.value.input.pieces.every(({ outline }) => outline !== undefined)).toBe(true);
  const onSheets = runNest(pieces, { ...rules, sheetMm: 900 }, 800, 'left', [lock]);
  expect(onSheets.ok && onSheets.value.input.pieces.every(({ outline }) => outline === undefined)).toBe(true);
  const stacked = runNest(pieces, { ...rules, straightCuts: true }, 800, 'left');
  expect(stacked).toMatchObject({ ok: false, reason: { code: 'not-with-outlines', what: 'straight cuts' } });
});

test('a contour that the file lacks blocks the job, and says what there is instead; each mend mends', () => {
  const found = (change: TicketPart, source: SourcePage = SOURCE) => {
    const values: TicketValues = { ...PLAIN_TICKET, modeId: 'm', stockId: 's', ...change };
    const made = finishPage(source, values, 1500);
    if (!made.ok) throw new Error(made.reason.code);
    const page: CheckedPage = { source, finished: made.value, dpi: null, thinnestMm: 0.01, coverage: 0.5 };
    return checkJob({
      ...{ pages: [page], values, usableWidthMm: 1500, mediaName: 'Vinyl', printerName: 'Magpie', longestMm: 50_000 },
      nature: {
        ...{ assumedDpi: null, hasAlpha: false, colourSpaces: [], profile: null },
        ...{ spots: ['Knife'], missingFonts: [] },
      },
      ...{
        canEdgeToEdge: false,
        channels: [],
        modes: [],
        suitableModes: null,
        checks: { ...PLAIN_CHECKS, bleedMm: 3 },
      },
    });
  };
  const codes = (change: TicketPart) => found(change).map(({ code, severity }) => `${code} ${severity}`);
  // What is cut along is no thin line, no spot to print; its own bleed counts.
  expect(codes({ contour: { ...RULE, bleedMm: 3 } })).toEqual([]);
  expect(codes({ contour: RULE })).toEqual(['bleed warn']);
  expect(codes({ contour: null, bleedMm: 3 })).toEqual(['thin-lines warn', 'spots note']);
  const die = { contour: { ...RULE, name: 'Die' } };
  const [missing] = found(die);
  expect(missing).toMatchObject({ code: 'contour', severity: 'block' });
  expect(missing?.text).toContain('the spot colour Die');
  expect(missing?.mends.map(({ text }) => text)).toEqual(['Cut along the spot colour Knife', 'Cut it as a rectangle']);
  const tooFar = { contour: { ...RULE, offsetMm: -40 } };
  expect(found(tooFar)[0]?.text).toContain('40\u00a0mm');
  const tiles = { cut: 'upright', panels: 'equal', joinMm: 5, turnEverySecond: false } as const;
  for (const change of [die, tooFar, { contour: RULE, tiles }]) {
    const [finding] = found(change);
    expect(finding?.code).toBe('contour');
    for (const mend of finding?.mends ?? []) {
      expect(codes({ ...change, ...mend.change })).not.toContain('contour block');
    }
  }
});
