import fc from 'fast-check';
import { inkMl, separatePicture } from './estimate/ink.ts';
import { mediaUse } from './estimate/media.ts';
import { runTime, strokeCount, strokeSeconds, swathMm } from './estimate/runTime.ts';
import { feedDirection } from './layout/feedDirection.ts';
import { usableWidth } from './layout/usableWidth.ts';
import { neededExtentMm, piecesThatFit, runsForOrder } from './layout/stepAndRepeat.ts';
import type { CarriageConstants, PrintMode } from './machine/constants.ts';
import { PRESS_START, type PressPlan, fedLengthMm, finishedLengthMm, pressMsLeft, stepPress } from './machine/press.ts';
import { lengthLeftMm, rollDiameterMm, rollLengthMm } from './stock/roll.ts';
import { formatLength, parseLength } from './units/length.ts';

const MACHINE: CarriageConstants = {
  nozzlesPerChannel: 768,
  nozzlesPerInch: 360,
  carriageMmPerS: 900,
  carriageMmPerS2: 9000,
  dwellS: 0.15,
  returnMmPerS: 1200,
  feedMmPerS: 50,
  dryOutMmPerS: 25,
  bedWidthMm: 1620,
  startUpS: 60,
  fullCutS: 10,
  trailerMm: 40,
};
const MODE: PrintMode = {
  id: 'm',
  name: 'M',
  dpiX: 720,
  dpiY: 720,
  passes: 6,
  oneDirectional: false,
  dropPl: 7,
  profile: 'p',
  profilePasses: 6,
};

describe('step and repeat', () => {
  test('n pieces have n − 1 gaps', () => {
    expect(neededExtentMm(7, 182.5, 6)).toBe(1313.5);
    expect(neededExtentMm(1, 100, 6, 20, 10)).toBe(130);
  });
  test.each([
    [838.8, 69.9, 0, 12],
    [201, 50.1, 0.2, 4],
    [100.4, 33.4, 0.1, 3],
    [99, 100, 0, 0],
  ])('in %s fit %s with gap %s: %s', (room, size, gap, count) => {
    expect(piecesThatFit(room, size, gap)).toBe(count);
  });
  test('what fits is what its needed extent says', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 500 }),
        fc.integer({ min: 1, max: 9000 }),
        fc.integer({ min: 0, max: 300 }),
        (n, size10, gap10) => {
          expect(piecesThatFit(neededExtentMm(n, size10 / 10, gap10 / 10), size10 / 10, gap10 / 10)).toBe(n);
        },
      ),
      { seed: 7 },
    );
  });
  test('an order of 430 in runs of 12', () => {
    expect(runsForOrder(430, 12)).toEqual({ runs: 36, last: 10 });
    expect(runsForOrder(24, 12)).toEqual({ runs: 2, last: 12 });
  });
});

describe('feed direction', () => {
  test('long edge, short edge, equal, turned, refused', () => {
    expect(feedDirection(900, 600, 1000, true)).toEqual({
      ok: true,
      value: { leadingEdge: 'long', turned: false, leadingMm: 900 },
    });
    expect(feedDirection(600, 900, 1000, true)).toMatchObject({ value: { leadingEdge: 'short' } });
    expect(feedDirection(500, 500, 1000, true)).toMatchObject({ value: { leadingEdge: 'short' } });
    expect(feedDirection(1200, 800, 1000, true)).toEqual({
      ok: true,
      value: { leadingEdge: 'short', turned: true, leadingMm: 800 },
    });
    expect(feedDirection(1200, 800, 1000, false)).toEqual({
      ok: false,
      reason: { code: 'too-wide', leastMm: 1200, usableWidthMm: 1000 },
    });
  });
});

describe('usable width', () => {
  test.each([
    ['left', 10],
    ['centre', 16],
    ['right', 22],
  ] as const)('1,340 printable on 1,372 with 10 mm margins, registered %s: starts at %s', (registeredEdge, from) => {
    expect(usableWidth({ printableWidthMm: 1340, registeredEdge }, 1372, 10, 10)).toEqual({
      usableWidthMm: 1340,
      usableFromMm: from,
    });
  });
  test('narrow media: what the margins leave', () => {
    expect(usableWidth({ printableWidthMm: 1615, registeredEdge: 'right' }, 1600, 5, 5)).toEqual({
      usableWidthMm: 1590,
      usableFromMm: 5,
    });
  });
});

describe('rolls', () => {
  test('length from diameter and back', () => {
    expect(Math.round(rollLengthMm(180, 76, 0.16))).toBe(130_690);
    expect(rollDiameterMm(rollLengthMm(180, 76, 0.16) - 30_000, 76, 0.16)).toBeCloseTo(162.14, 2);
    expect(rollDiameterMm(0, 76, 0.16)).toBe(76);
  });
  test('what is left is the sum of the ledger', () => {
    expect(
      lengthLeftMm([
        { kind: 'received', mm: 50_000 },
        { kind: 'leader', mm: -300 },
        { kind: 'run', mm: -5730 },
        { kind: 'correction', mm: 30 },
      ]),
    ).toBe(44_000);
  });
});

describe('time of a run', () => {
  test('swath, advance and strokes', () => {
    expect(swathMm(MACHINE)).toBeCloseTo(54.187, 3);
    expect(swathMm(MACHINE) / 6).toBeCloseTo(9.0311, 4);
    expect(strokeCount(1500, swathMm(MACHINE) / 6, 6)).toBe(172);
  });
  test.each([
    [1620, 2.15, 369.8],
    [1000, 1.4611, 251.3],
    [460, 0.8611, 148.1],
  ])('over %s mm a stroke takes %s s and the run %s s', (span, stroke, total) => {
    expect(strokeSeconds(span, MACHINE, false)).toBeCloseTo(stroke, 4);
    expect(172 * strokeSeconds(span, MACHINE, false)).toBeCloseTo(total, 1);
  });
  test('the three spans of one run, and the empty return of a one-directional one', () => {
    const art = { xMm: 100, yMm: 0, widthMm: 460, heightMm: 1500 };
    const run = {
      lengthMm: 1500,
      mediaWidthMm: 1000,
      mode: MODE,
      dryOut: true,
      cutOff: 'full' as const,
      pieces: [art],
    };
    const of = (span: 'whole bed' | 'media' | 'artwork') => runTime({ ...run, span }, MACHINE);
    expect(of('whole bed').printMs / 1000).toBeCloseTo(369.8, 1);
    expect(of('media').printMs / 1000).toBeCloseTo(251.3, 1);
    expect(of('artwork').printMs / 1000).toBeCloseTo(148.1, 1);
    expect(of('media').totalMs).toBeCloseTo(of('media').printMs + 60_000 + 60_000 + 10_000, 6);
    expect(strokeSeconds(1200, MACHINE, true)).toBeCloseTo(
      strokeSeconds(1200, MACHINE, false) + 1 + 2400 / 9000 + 0.15,
      9,
    );
  });
  test('blank length is fed through, not printed', () => {
    const at = (yMm: number) => ({ xMm: 0, yMm, widthMm: 500, heightMm: 200 });
    const run = {
      lengthMm: 5200,
      mediaWidthMm: 1000,
      mode: MODE,
      span: 'media' as const,
      dryOut: false,
      cutOff: 'none' as const,
      pieces: [at(0), at(5000)],
    };
    const time = runTime(run, MACHINE);
    const feed = (time.advanceMm / 50) * 1000;
    expect(time.strokesMs[300]).toBeCloseTo(feed, 6);
    expect(time.strokesMs[5]).toBeCloseTo(1461.1, 1);
    expect(time.printMs).toBeLessThan(
      runTime({ ...run, pieces: [at(0), { ...at(200), heightMm: 5000 }] }, MACHINE).printMs / 2,
    );
  });
});

describe('the stepped press', () => {
  const time = runTime(
    { lengthMm: 1500, mediaWidthMm: 1000, mode: MODE, span: 'media', dryOut: true, cutOff: 'full', pieces: [] },
    MACHINE,
  );
  const plan: PressPlan = { ...time, lengthMm: 1500, trailerMm: 40, passes: 6 };
  test('agrees with the closed form, however time is sliced, and only ever goes forward', () => {
    fc.assert(
      fc.property(fc.integer({ min: 400, max: 30_000 }), (slice) => {
        let state = PRESS_START;
        let spent = 0;
        let fed = 0;
        while (state.phase !== 'done') {
          state = stepPress(plan, state, slice);
          spent += slice;
          expect(fedLengthMm(plan, state)).toBeGreaterThanOrEqual(fed);
          fed = fedLengthMm(plan, state);
          expect(finishedLengthMm(plan, state)).toBeLessThanOrEqual(Math.min(1500, fed));
        }
        expect(spent - time.totalMs).toBeGreaterThanOrEqual(-1);
        expect(spent - time.totalMs).toBeLessThanOrEqual(slice);
        expect(fed).toBe(1540);
      }),
      { numRuns: 40, seed: 3 },
    );
  });
  test('time left counts down to nothing', () => {
    expect(pressMsLeft(plan, PRESS_START)).toBeCloseTo(time.totalMs, 6);
    expect(pressMsLeft(plan, stepPress(plan, PRESS_START, 100_000))).toBeCloseTo(time.totalMs - 100_000, 6);
    expect(pressMsLeft(plan, stepPress(plan, PRESS_START, 1e9))).toBe(0);
  });
});

describe('ink and media', () => {
  test('one square metre, and a purge sheet', () => {
    expect(inkMl(0.18, 1e6, 720, 720, 7)).toBeCloseTo(1.0124, 4);
    expect(inkMl(0.1, 297 * 420, 720, 720, 7)).toBeCloseTo(0.0702, 4);
    expect(inkMl(0.5, 1e6, 720, 720, 7, 4)).toBeCloseTo(4 * inkMl(0.5, 1e6, 720, 720, 7), 9);
  });
  test('coverage is read from the picture: transparent parts take none', () => {
    const pixels = Uint8Array.of(0, 255, 255, 255, 0, 0, 0, 255, 255, 255, 255, 255, 0, 0, 0, 0);
    expect(separatePicture(pixels)).toEqual({ cyan: 0.25, magenta: 0, yellow: 0, black: 0.25 });
  });
  test('what is fed counts', () => {
    expect(mediaUse(1960, 40, 1600, 1.2e6)).toEqual({ fedMm: 2000, fedM2: 3.2, printedM2: 1.2, wasteM2: 2 });
  });
});

describe('lengths as people write them', () => {
  test.each([
    ['297', 297],
    ['11 7/8 in', 301.625],
    ['38 ft', 11_582.4],
    ['1,5 m', 1500],
    ['6 ft 2 1/2 in', 1892.3],
    ['5′ 3″', 1600.2],
    ['2½in', 63.5],
    ['3/4"', 19.05],
    ['-2 cm', -20],
    ['.5m', 500],
  ])('%s is %s mm', (text, mm) => {
    const parsed = parseLength(text, 'mm');
    expect(parsed.ok && parsed.value).toBeCloseTo(mm, 9);
  });
  test('what is no length is said to be none', () => {
    expect(parseLength('', 'mm')).toEqual({ ok: false, reason: { code: 'empty' } });
    expect(parseLength('12 parsecs', 'mm')).toEqual({ ok: false, reason: { code: 'not-a-length', at: 'parsecs' } });
    expect(parseLength('1/0 in', 'mm')).toEqual({ ok: false, reason: { code: 'divided-by-zero' } });
  });
  test('written and read again is the same, in every unit', () => {
    expect(formatLength(301.625, { unit: 'in', fraction: 16 })).toBe('11 7/8 in');
    expect(formatLength(11_582.4, { unit: 'ft', fraction: 16 })).toBe('38 ft');
    expect(formatLength(1892.3, { unit: 'ft', fraction: 2 })).toBe('6 ft 2 1/2 in');
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 64_000 }), fc.constantFrom('in' as const, 'ft' as const), (parts, unit) => {
        const mm = (parts / 32) * 25.4;
        const parsed = parseLength(formatLength(mm, { unit, fraction: 32 }), 'mm');
        expect(parsed.ok && parsed.value).toBeCloseTo(mm, 6);
      }),
      { seed: 11 },
    );
  });
});
