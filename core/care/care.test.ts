import { seededRandom } from '../random.ts';
import { type Firing, barExerciseMm, doseOf, exerciseMl, lastExercised, stripExerciseMm } from './exercise.ts';
import { type PurgeSheet, type PurgedPrinter, purgeFigures } from './purge.ts';
import {
  type PurgedChannel,
  channelsToPurge,
  isExercised,
  isLate,
  latestStartMs,
  missedOccurrences,
} from './purgeRule.ts';

const HOUR = 3_600_000;

const WREN: PurgedPrinter = {
  printableWidthMm: 430,
  leadMm: 15,
  trailMm: 15,
  mediaMarginMm: { leftMm: 5, rightMm: 5 },
  channels: [
    { id: 'cyan', heads: 1 },
    { id: 'magenta', heads: 1 },
    { id: 'white', heads: 4 },
  ],
  machine: {
    nozzlesPerChannel: 360,
    nozzlesPerInch: 180,
    carriageMmPerS: 800,
    carriageMmPerS2: 8000,
    dwellS: 0.12,
    returnMmPerS: 1000,
    feedMmPerS: 40,
    backFeedMmPerS: 60,
    dryOutMmPerS: 15,
    bedWidthMm: 520,
    startUpS: 60,
    fullCutS: 0,
    perforateS: 0,
    loadS: 9,
    handS: 0,
    trailerMm: 30,
    cutter: null,
  },
};
const DRAFT = {
  dpiX: 720,
  dpiY: 720,
  dropPl: 5,
  passes: 4,
  oneDirectional: false,
  whiteOneDirectional: true,
  lineMmPerS: null,
};
const SHEET: PurgeSheet = { form: 'sheet', widthMm: 320, lengthMm: 450, density: 0.1, levels: { white: 1, cyan: 0.3 } };

function figures(change: Partial<PurgeSheet> = {}) {
  const answer = purgeFigures({ ...SHEET, ...change }, DRAFT, WREN);
  if (!answer.ok) throw new Error(answer.reason.code);
  return answer.value;
}

describe('a purge', () => {
  test('Wren, a sheet of 320 × 450 at a tenth: ink of four white heads and one cyan, one sheet, 37 strokes', () => {
    const { inkMl, widthMm, lengthMm, sheets, fedMm, durationMs } = figures();
    expect([widthMm, lengthMm, sheets, fedMm]).toEqual([310, 420, 1, 450]);
    expect(inkMl.white).toBeCloseTo(0.209237, 6);
    expect(inkMl.cyan).toBeCloseTo(0.015693, 6);
    expect(Object.keys(inkMl)).toEqual(['cyan', 'white']);
    expect(figures({ levels: { white: 0.6 } }).inkMl.white).toBeCloseTo(0.125542, 6);
    expect(durationMs / 1000).toBeCloseTo(121.17, 2);
    expect(figures({ levels: { cyan: 0.3 } }).durationMs / 1000).toBeCloseTo(95.64, 2);
  });

  test('on a roll: lead, length, trail and trailer are fed', () => {
    const heron = {
      ...WREN,
      printableWidthMm: 1600,
      leadMm: 20,
      trailMm: 20,
      machine: { ...WREN.machine, trailerMm: 60 },
    };
    const answer = purgeFigures({ ...SHEET, form: 'roll', widthMm: 1000, lengthMm: 420 }, DRAFT, heron);
    expect(answer).toMatchObject({ ok: true, value: { fedMm: 520, sheets: 0 } });
  });

  test('what can not be printed is refused with its figures', () => {
    const refused = (change: Partial<PurgeSheet>) => purgeFigures({ ...SHEET, ...change }, DRAFT, WREN);
    expect(refused({ widthMm: 10 })).toMatchObject({ reason: { code: 'no-area', widthMm: 0 } });
    expect(refused({ form: 'roll', widthMm: 500 })).toMatchObject({
      reason: { code: 'too-wide', widthMm: 500, mostMm: 430 },
    });
    expect(refused({ levels: { white: 0, violet: 1 } })).toMatchObject({ reason: { code: 'nothing-fired' } });
  });
});

describe('exercised', () => {
  const cyan = { heads: 1, nozzles: 768, dropPl: 7 };
  const limit = 120 * HOUR;
  const at = (h: number, ml: number): Firing => ({ fromMs: h * HOUR, toMs: h * HOUR, ml });

  test('the dose in ink: Heron cyan 0.010752 ml, Wren white 0.0144 ml; 0.009 and 0.02 ml as drops', () => {
    expect(exerciseMl(cyan)).toBeCloseTo(0.010752, 9);
    expect(exerciseMl({ heads: 4, nozzles: 360, dropPl: 5 })).toBeCloseTo(0.0144, 9);
    expect([0.009, 0.02].map((ml) => Math.round(doseOf(ml, cyan)))).toEqual([1674, 3720]);
  });

  test('two doses within twelve hours add up, at 22:00 they no longer do; one run that is enough stands alone', () => {
    const need = exerciseMl(cyan);
    expect(lastExercised([at(9, 0.009), at(16, 0.009)], limit, need)).toBe(16 * HOUR);
    expect(lastExercised([at(9, 0.009), at(22, 0.009)], limit, need)).toBeUndefined();
    expect(lastExercised([at(9, 0.02), at(40, 0.001)], limit, need)).toBe(9 * HOUR);
    expect(lastExercised([], limit, need)).toBeUndefined();
  });

  test('a long run is spread over its time: by trying every minute, on random firings', () => {
    const random = seededRandom(5);
    for (let round = 0; round < 60; round += 1) {
      const firings = Array.from({ length: 1 + Math.floor(random() * 5) }, (): Firing => {
        const fromMs = Math.floor(random() * 60) * 60_000;
        return { fromMs, toMs: fromMs + Math.floor(random() * 50) * 60_000, ml: random() };
      });
      const limitMs = 20 * 60_000 * 10;
      const need = 0.5 + random();
      const sum = (ms: number): number =>
        firings.reduce((total, { fromMs, toMs, ml }) => {
          const share = ms >= toMs ? 1 : ms <= fromMs ? 0 : (ms - fromMs) / (toMs - fromMs);
          return total + ml * share;
        }, 0);
      let latest: number | undefined;
      for (let ms = 0; ms <= 120 * 60_000; ms += 1000) {
        const fires = firings.some(({ fromMs, toMs }) => ms >= fromMs && ms <= toMs);
        if (fires && sum(ms) - sum(ms - limitMs / 10) >= need) latest = ms;
      }
      const found = lastExercised(firings, limitMs, need);
      expect(found === undefined).toBe(latest === undefined);
      if (found !== undefined && latest !== undefined) expect(Math.abs(found - latest)).toBeLessThanOrEqual(1000);
    }
  });

  test('strips and bars: 477.9 and 1,911.6 mm of Heron’s edge strip; 42.33 and 169.33 mm of a page-wide bar', () => {
    const strip = { widthMm: 4, dpiX: 720, dpiY: 720 };
    expect(stripExerciseMm({ ...strip, coverage: 1 }, 768)).toBeCloseTo(477.9, 1);
    expect(stripExerciseMm({ ...strip, coverage: 0.25 }, 768)).toBeCloseTo(1911.6, 1);
    expect(barExerciseMm({ coverage: 1, dpiX: 1200, dpiY: 1200 }, 1200)).toBeCloseTo(42.33, 2);
    expect(barExerciseMm({ coverage: 1, dpiX: 600, dpiY: 600 }, 1200)).toBeCloseTo(169.33, 2);
  });
});

describe('when a purge is skipped', () => {
  const due = 1000 * HOUR;
  const channel = (id: string, limitH: number, idleH: number, nextH: number | null, level = 1): PurgedChannel => ({
    id,
    level,
    limitMs: limitH * HOUR,
    exercisedMs: due - idleH * HOUR,
    nextMs: nextH === null ? null : due + nextH * HOUR,
  });

  test('limit 72: idle 20 and the next chance in 24 h is skipped, idle 40 is printed; limit 96: fresh, but nothing for a week', () => {
    expect(isExercised(channel('a', 72, 20, 24), due)).toBe(true);
    expect(isExercised(channel('a', 72, 40, 24), due)).toBe(false);
    expect(isExercised(channel('a', 96, 10, 168), due)).toBe(false);
    expect(isExercised(channel('a', 96, 10, null), due)).toBe(false);
  });

  test('all channels or none, unless the design fires only those that need it', () => {
    const list = [channel('cyan', 72, 20, 24), channel('white', 72, 40, 24), channel('black', 72, 70, null, 0)];
    expect(channelsToPurge(list, due, false)).toEqual(['cyan', 'white']);
    expect(channelsToPurge(list, due, true)).toEqual(['white']);
    expect(channelsToPurge(list.slice(0, 1), due, false)).toEqual([]);
  });
});

describe('instants of care', () => {
  test('due 04:15 with an hour of slack beside a run until 06:30: 05:15 is too early for it, a conflict', () => {
    const due = 4.25 * HOUR;
    const latest = latestStartMs(due, HOUR, []);
    expect(latest).toBe(5.25 * HOUR);
    expect([6.5 * HOUR, 5 * HOUR, latest + 30_000].map((start) => isLate(start, latest))).toEqual([true, false, false]);
    expect(latestStartMs(due, HOUR, [4.5 * HOUR, 9 * HOUR])).toBe(4.5 * HOUR);
    expect(latestStartMs(due, HOUR, [2 * HOUR])).toBe(due);
  });

  test('daily at 04:15, three missed: back at 09:00 the latest is made up, back at 20:00 all are reported', () => {
    const missed = [4.25, 28.25, 52.25].map((h) => h * HOUR);
    const next = 76.25 * HOUR;
    expect(missedOccurrences(missed, next, 57 * HOUR, 'catch-up')).toEqual({
      makeUpMs: 52.25 * HOUR,
      reportedMs: missed.slice(0, 2),
    });
    expect(missedOccurrences(missed, next, 68 * HOUR, 'catch-up')).toEqual({ makeUpMs: null, reportedMs: missed });
    expect(missedOccurrences(missed, next, 57 * HOUR, 'report')).toEqual({ makeUpMs: null, reportedMs: missed });
    expect(missedOccurrences(missed.slice(0, 1), null, 57 * HOUR, 'catch-up').makeUpMs).toBe(4.25 * HOUR);
  });
});
