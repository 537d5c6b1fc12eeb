import fc from 'fast-check';
import { inkMl, limitedCoverage, separatePicture } from './estimate/ink.ts';
import { cutPathOf } from './estimate/cutPath.ts';
import { costOfRun, shareOut, toMinor } from './estimate/money.ts';
import { mediaUse } from './estimate/media.ts';
import { contourCutMs, runTime, strokeCount, swathMm } from './estimate/runTime.ts';
import { strokeSeconds } from './estimate/strokes.ts';
import { feedDirection } from './layout/sheets/feedDirection.ts';
import { usableWidth } from './layout/usableWidth.ts';
import { neededExtentMm, piecesThatFit, runsForOrder } from './layout/arrange/stepAndRepeat.ts';
import { type CarriageConstants, type PrintMode, modeTrouble } from './machine/constants.ts';
import {
  PRESS_START,
  type PressPlan,
  fedLengthMm,
  finishedLengthMm,
  firedShare,
  resumeFromStop,
  pressMsLeft,
  stepPress,
} from './machine/press.ts';
import { bookedMm, neededMm } from './stock/need.ts';
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
  backFeedMmPerS: 100,
  dryOutMmPerS: 25,
  bedWidthMm: 1620,
  startUpS: 60,
  fullCutS: 10,
  perforateS: 14,
  loadS: 8,
  handS: 30,
  trailerMm: 40,
  cutter: { markReadS: 20, cutMmPerS: 200, travelMmPerS: 500, liftS: 0.2 },
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
  lineMmPerS: null,
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

describe('time beyond strokes', () => {
  const run = {
    lengthMm: 1500,
    mediaWidthMm: 1000,
    mode: MODE,
    span: 'media' as const,
    dryOut: false,
    cutOff: 'none' as const,
    pieces: [{ xMm: 0, yMm: 0, widthMm: 1000, heightMm: 1500 }],
  };
  const once = runTime(run, MACHINE);
  test('two coats: twice the strokes and one back-feed of length ÷ back-feed speed', () => {
    const two = runTime({ ...run, coats: 2 }, MACHINE);
    expect(two.printMs).toBeCloseTo(2 * once.printMs + 15_000, 6);
    expect(two.strokes).toBe(344);
    expect(two.backFeedMs).toBe(15_000);
  });
  test('a page-wide array: length ÷ line speed, whatever lies on it', () => {
    const array = runTime({ ...run, lengthMm: 1503, mode: { ...MODE, lineMmPerS: 150 } }, MACHINE);
    expect(array.printMs).toBeCloseTo(10_020, 6);
    expect(array.totalMs).toBeCloseTo(60_000 + 10_020, 6);
  });
  test('cut off in both ways, and contours by path, travel and lifts', () => {
    expect(runTime({ ...run, cutOff: 'perforated' }, MACHINE).totalMs - once.totalMs).toBe(14_000);
    // 20 s + 4,000 mm ÷ 200 + 1,500 mm ÷ 500 + 10 × 0.2 s
    expect(contourCutMs({ rings: 10, pathMm: 4000, travelMm: 1500 }, MACHINE)).toBeCloseTo(45_000, 6);
    expect(contourCutMs({ rings: 10, pathMm: 4000, travelMm: 1500 }, { cutter: null })).toBe(0);
    const square = [10, 10, 10, 10].map((_, i) => ({ x: i === 1 || i === 2 ? 50 : 0, y: i > 1 ? 50 : 0 }));
    const piece = (xMm: number) => ({ xMm, yMm: 0, widthMm: 100, heightMm: 100, cut: [square] });
    expect(cutPathOf([piece(200), piece(0)])).toEqual({ rings: 2, pathMm: 400, travelMm: Math.hypot(50, 50) + 200 });
  });
  test('sheets are taken in one by one; by hand, a person takes time between them', () => {
    const sheets = { lengthMm: 500, byHand: false };
    const tray = runTime({ ...run, sheets }, MACHINE);
    expect(tray.block).toEqual({ lengthMm: 500, strokes: 61, coats: 1, byHand: false });
    expect(tray.strokes).toBe(3 * 61);
    expect(tray.loadMs).toBe(24_000);
    expect(tray.printMs).toBeCloseTo(3 * 61 * strokeSeconds(1000, MACHINE, false) * 1000 + 24_000, 4);
    expect(runTime({ ...run, sheets: { ...sheets, byHand: true } }, MACHINE).totalMs - tray.totalMs).toBe(60_000);
  });
  test('a mode is told off for a profile of other passes, and for passes that leave lines open', () => {
    expect(modeTrouble(MODE, 360)).toBeNull();
    expect(modeTrouble({ ...MODE, passes: 4 }, 360)).toBe('4 passes, but its profile p was made for 6');
    expect(modeTrouble({ ...MODE, passes: 3, profilePasses: 3, dpiY: 1440 }, 360)).toMatch(/take at least 4$/);
  });
});

describe('money', () => {
  test('exact inside, rounded once, half up', () => {
    const cost = costOfRun({
      inkMl: { cyan: 1.0124, white: 2 },
      pricePerMlMicro: { cyan: 110_000, white: 160_000 },
      fedMm: 2000,
      mediaWidthMm: 1600,
      mediaPerM2Minor: 420,
      timeMs: 1_800_000,
      ratePerHourMinor: 3800,
      extraMinor: 500,
    });
    expect(cost.inkMicro).toBeCloseTo(431_364, 6);
    // 0.431364 + 13.44 + 19 + 5 = 37.871364
    expect(cost.totalMinor).toBe(3787);
    expect(toMinor(5_000)).toBe(1);
    expect(toMinor(4_999)).toBe(0);
  });
  test('shares bring exactly the total: 10000 in three equal ones are 3334, 3333, 3333', () => {
    const equal = ['c', 'a', 'b'].map((id) => ({ id, weight: 1 }));
    expect([...shareOut(10_000, equal)].sort()).toEqual([
      ['a', 3334],
      ['b', 3333],
      ['c', 3333],
    ]);
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1e6 }),
        fc.array(fc.integer({ min: 0, max: 999 }), { minLength: 1, maxLength: 12 }),
        (total, list) => {
          const shares = shareOut(
            total,
            list.map((weight, i) => ({ id: String(i), weight })),
          );
          expect([...shares.values()].reduce((sum, share) => sum + share, 0)).toBe(total);
        },
      ),
    );
  });
});

describe('what a spool gives', () => {
  const roll = { lengthMm: 1400, sheetMm: null, packSheetMm: null, trailerMm: 40, isBack: false };
  test('from a roll with its trailer; from a pack whole sheets, as the pack counts them; a back takes nothing', () => {
    expect(neededMm(roll)).toBe(1440);
    expect(neededMm({ ...roll, isBack: true })).toBe(0);
    const shirts = { ...roll, sheetMm: 350, packSheetMm: 500 };
    expect(neededMm(shirts)).toBe(2000);
    expect(bookedMm(700, shirts)).toBe(1000);
    expect(bookedMm(701, shirts)).toBe(1500);
    expect(bookedMm(701, roll)).toBe(701);
  });
});

describe('the stepped press', () => {
  const time = runTime(
    {
      ...{ lengthMm: 1500, mediaWidthMm: 1000, mode: MODE, span: 'media', pieces: [] },
      ...{ dryOut: true, dryMin: 1.5, cutOff: 'full' },
    },
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
  test('it rests before it is cut off: so many minutes, whatever its length', () => {
    const without = runTime(
      { lengthMm: 1500, mediaWidthMm: 1000, mode: MODE, span: 'media', dryOut: true, cutOff: 'full', pieces: [] },
      MACHINE,
    );
    expect(time.totalMs - without.totalMs).toBe(90_000);
    const resting = stepPress(plan, PRESS_START, time.totalMs - time.cutMs - 45_000);
    expect([resting.phase, fedLengthMm(plan, resting)]).toEqual(['drying', 1540]);
    expect(pressMsLeft(plan, resting)).toBeCloseTo(45_000 + time.cutMs, 6);
  });
  test('an ink limit takes the same share off all channels, and nothing below it', () => {
    const dense = { cyan: 1, magenta: 0.9, yellow: 0.6, black: 0.5 };
    const limited = limitedCoverage(dense, 2.4);
    expect(Object.values(limited).reduce((sum, share) => sum + share, 0)).toBeCloseTo(2.4, 12);
    expect(limited['magenta']).toBeCloseTo(0.72, 12);
    expect([limitedCoverage(dense, null), limitedCoverage(dense, 3)]).toEqual([dense, dense]);
  });
  test('time left counts down to nothing', () => {
    expect(pressMsLeft(plan, PRESS_START)).toBeCloseTo(time.totalMs, 6);
    expect(pressMsLeft(plan, stepPress(plan, PRESS_START, 100_000))).toBeCloseTo(time.totalMs - 100_000, 6);
    expect(pressMsLeft(plan, stepPress(plan, PRESS_START, 1e9))).toBe(0);
  });

  describe('a press with a bed', () => {
    const shirts = runTime(
      {
        lengthMm: 1000,
        mediaWidthMm: 400,
        mode: MODE,
        span: 'media',
        dryOut: false,
        cutOff: 'none',
        pieces: [],
        coats: 2,
        sheets: { lengthMm: 500, byHand: true },
      },
      MACHINE,
    );
    const plan: PressPlan = { ...shirts, lengthMm: 1000, trailerMm: 0, passes: 6 };
    test('stands at each piece until a person goes on; the first is whole then, the second not begun', () => {
      const stopped = stepPress(plan, PRESS_START, 1e9);
      expect(stopped).toMatchObject({ phase: 'stop', strokes: 122 });
      expect(stepPress(plan, stopped, 1e9)).toEqual(stopped);
      expect([finishedLengthMm(plan, stopped), fedLengthMm(plan, stopped), firedShare(plan, stopped)]).toEqual([
        500, 500, 0.5,
      ]);
      const second = stepPress(plan, resumeFromStop(stopped), 1000);
      expect([finishedLengthMm(plan, second), fedLengthMm(plan, second)]).toEqual([500, 1000]);
      expect(stepPress(plan, second, 1e9)).toMatchObject({ phase: 'done', strokes: 244 });
    });
    test('a piece is finished only by its last coat', () => {
      const firstCoat = { ...PRESS_START, phase: 'print' as const, strokes: 61 };
      expect(finishedLengthMm(plan, firstCoat)).toBe(0);
      expect(finishedLengthMm(plan, { ...firstCoat, strokes: 61 + 30 })).toBeCloseTo(25 * plan.advanceMm, 6);
    });
    test('ink is fired stroke by stroke, and the time left falls as time goes by', () => {
      const state = stepPress(plan, PRESS_START, plan.startUpMs + 10_000);
      expect(firedShare(plan, state)).toBeCloseTo(state.strokes / 244, 9);
      expect(pressMsLeft(plan, PRESS_START) - pressMsLeft(plan, state)).toBeCloseTo(plan.startUpMs + 10_000, 6);
    });
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
