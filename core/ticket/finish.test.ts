import { finished, page } from '../testing/finishedPage.ts';
import fc from 'fast-check';
import { parseLength } from '../units/length.ts';
import { noPrintSize } from './findings.ts';
import { finishPage, sidesAsTheyLie } from './finish.ts';
import { NAMED_SIZES, type SizeRule, sizeOf } from './sizeRule.ts';
import { PLAIN_TICKET } from './ticket.ts';

describe('sizes', () => {
  const art = { widthMm: 600, heightMm: 900 };
  const lies = { quarterTurned: false, usableWidthMm: 1590 };
  test.each<[SizeRule, number, number]>([
    [{ kind: 'as it came' }, 600, 900],
    [{ kind: 'percent', x: 50, y: 200 }, 300, 1800],
    [{ kind: 'exact', widthMm: 301.625, heightMm: null }, 301.625, 452.4375],
    [{ kind: 'exact', widthMm: null, heightMm: 300 }, 200, 300],
    [{ kind: 'exact', widthMm: 100, heightMm: 100 }, 100, 100],
    [{ kind: 'media width' }, 1590, 2385],
    [{ kind: 'length', lengthMm: 450 }, 300, 450],
    // A sheet is turned to suit the artwork: 594 × 841 holds 600 × 900 at 93.44 %.
    [{ kind: 'within', name: 'A1', widthMm: 841, heightMm: 594 }, 560.667, 841],
  ])('%j makes %s × %s', (rule, w, h) => {
    const size = sizeOf(rule, art, lies);
    expect(size.ok && size.value.widthMm).toBeCloseTo(w, 3);
    expect(size.ok && size.value.heightMm).toBeCloseTo(h, 3);
  });
  test('turned by a quarter, its height lies across the media', () => {
    expect(sizeOf({ kind: 'media width' }, art, { ...lies, quarterTurned: true })).toEqual({
      ok: true,
      value: { widthMm: 1060, heightMm: 1590 },
    });
    expect(sizeOf({ kind: 'exact', widthMm: null, heightMm: null }, art, lies).ok).toBe(false);
  });
  test('the named sizes are those of their standards', () => {
    const named = (name: string) => NAMED_SIZES.find((size) => size.name === name);
    expect(named('A4')).toEqual({ name: 'A4', widthMm: 210, heightMm: 297 });
    expect(named('A3')).toMatchObject({ widthMm: 297, heightMm: 420 });
    expect(named('B2')).toMatchObject({ widthMm: 500, heightMm: 707 });
    expect(named('ANSI D')?.widthMm).toBeCloseTo(558.8, 9);
  });
  test.each([
    ['3*18in+2mm', 1373.6],
    ['(2 m - 40) / 3', 653.3333],
    ['11 7/8 in', 301.625],
    ['38 ft', 11_582.4],
    ['6 ft 2 1/2 in', 1892.3],
    ['2 × 1,5 m', 3000],
    ['-(5-2cm)', 15],
    ['100+1in', 125.4],
  ])('%s is %s mm', (text, mm) => {
    const parsed = parseLength(text, 'mm');
    expect(parsed.ok && parsed.value).toBeCloseTo(mm, 3);
  });
  test.each([
    ['3in*2in', 'length-times-length'],
    ['3/(2-2)', 'divided-by-zero'],
    ['12 34', 'not-a-length'],
    ['2*(3+1', 'not-a-length'],
    ['5+', 'not-a-length'],
  ])('%s is refused: %s', (text, code) => {
    expect(parseLength(text, 'mm')).toMatchObject({ ok: false, reason: { code } });
  });
});

describe('finished pages', () => {
  const bleed = { leftMm: 3, topMm: 4, rightMm: 5, bottomMm: 6 };
  test('cropped, sized, turned: the window on the source, and bleed that goes along', () => {
    const made = finished(page(600, 900, bleed), {
      crop: { leftMm: 100, topMm: 0, rightMm: 0, bottomMm: 50 },
      size: { kind: 'percent', x: 200, y: 200 },
      turn: 90,
    });
    expect([made.widthMm, made.heightMm]).toEqual([1700, 1000]);
    // The right side of the artwork is on top after a counter-clockwise quarter turn.
    expect(made.bleed).toEqual({ topMm: 10, leftMm: 8, bottomMm: 6, rightMm: 12 });
    expect(made.window).toEqual({ xMm: 97, yMm: -4, widthMm: 508, heightMm: 860 });
    expect(made.scaleX).toBeCloseTo(2, 12);
  });
  test('bleed that the file lacks is drawn out of the artwork; bleed that it has too much of is cut', () => {
    const drawn = finished(page(100, 50), { bleedMm: 5 });
    expect(drawn).toMatchObject({ widthMm: 100, heightMm: 50, window: { widthMm: 100, heightMm: 50 } });
    expect([drawn.scaleX, drawn.scaleY]).toEqual([1.1, 1.2]);
    const cut = finished(page(100, 50, bleed), { bleedMm: 2 });
    expect(cut.window).toEqual({ xMm: -2, yMm: -2, widthMm: 104, heightMm: 54 });
    expect(cut.scaleX).toBe(1);
  });
  test('best turn: what fits, then what feeds less', () => {
    expect(finished(page(2400, 700), { turn: 'best' }).turn).toBe(90);
    expect(finished(page(700, 1400), { turn: 'best' }).turn).toBe(90);
    expect(finished(page(1400, 700), { turn: 'best' }).turn).toBe(0);
    expect(finished(page(2450, 3100), { turn: 'best' }).turn).toBe(0);
  });
  test('too much cropped, and sizes beyond all bounds, are refused with figures', () => {
    const crop = { leftMm: 60, topMm: 0, rightMm: 60, bottomMm: 0 };
    const gone = finishPage(page(100, 50), { ...PLAIN_TICKET, crop }, 1590);
    expect(gone).toEqual({ ok: false, reason: { code: 'nothing-left', widthMm: -20, heightMm: 50 } });
    expect(
      finishPage(page(100, 50), { ...PLAIN_TICKET, size: { kind: 'percent', x: 1e5, y: 1e9 } }, 1590),
    ).toMatchObject({
      reason: { code: 'out-of-range' },
    });
    expect(noPrintSize({ code: 'nothing-left', widthMm: -20, heightMm: 50 })).toMatchObject({
      severity: 'block',
      text: 'The crop leaves nothing of it: -20 × 50\u00a0mm.',
    });
  });
  test('for any ticket the window fills the piece, and lies within the artwork that there is', () => {
    const mm = fc.integer({ min: 20, max: 3000 });
    const small = fc.integer({ min: 0, max: 9 });
    const sides = fc.record({ leftMm: small, topMm: small, rightMm: small, bottomMm: small });
    const values = fc.record({
      crop: sides,
      bleedMm: fc.option(small),
      turn: fc.constantFrom(0 as const, 90 as const, 180 as const, 270 as const, 'best' as const),
      mirror: fc.boolean(),
      size: fc.constantFrom<SizeRule>(
        { kind: 'as it came' },
        { kind: 'percent', x: 130, y: 70 },
        { kind: 'exact', widthMm: 500, heightMm: null },
        { kind: 'media width' },
      ),
    });
    fc.assert(
      fc.property(mm, mm, sides, values, (w, h, has, ticket) => {
        const made = finished(page(w, h, has), ticket);
        const upright = made.turn % 180 === 0;
        const across = made.widthMm + made.bleed.leftMm + made.bleed.rightMm;
        const along = made.heightMm + made.bleed.topMm + made.bleed.bottomMm;
        expect(made.window.widthMm * made.scaleX).toBeCloseTo(upright ? across : along, 2);
        expect(made.window.heightMm * made.scaleY).toBeCloseTo(upright ? along : across, 2);
        expect(made.window.xMm).toBeGreaterThanOrEqual(-has.leftMm - 1e-9);
        expect(made.window.yMm).toBeGreaterThanOrEqual(-has.topMm - 1e-9);
        expect(made.window.xMm + made.window.widthMm).toBeLessThanOrEqual(w + has.rightMm + 1e-9);
        expect(made.window.yMm + made.window.heightMm).toBeLessThanOrEqual(h + has.bottomMm + 1e-9);
      }),
      { seed: 8, numRuns: 300 },
    );
  });
  test('four quarter turns, and two mirrorings, bring the sides back', () => {
    let sides = { leftMm: 1, topMm: 2, rightMm: 3, bottomMm: 4 };
    for (let i = 0; i < 4; i++) sides = sidesAsTheyLie(sides, 90, false);
    expect(sidesAsTheyLie(sidesAsTheyLie(sides, 0, true), 0, true)).toEqual({
      leftMm: 1,
      topMm: 2,
      rightMm: 3,
      bottomMm: 4,
    });
  });
});
