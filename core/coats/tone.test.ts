import fc from 'fast-check';
import { type ChannelCurve, checkCurves, curveOf } from './curves.ts';
import { type SRgb, okLabOf, sRgbOf } from './okLab.ts';
import { PLAIN_TONE, type Tone, saturated, shadeOf } from './tone.ts';

const share = fc.double({ min: 0, max: 1, noNaN: true });
const colour: fc.Arbitrary<SRgb> = fc.tuple(share, share, share);
const percent = fc.double({ min: -100, max: 100, noNaN: true });
const anyTone: fc.Arbitrary<Tone> = fc.record({
  ...{ brightness: percent, contrast: percent, saturation: percent },
  gamma: fc.double({ min: 0.2, max: 5, noNaN: true }),
});
const of255 = (...values: readonly [number, number, number]): SRgb => [
  values[0] / 255,
  values[1] / 255,
  values[2] / 255,
];

/** As a table is baked: each value by its shade, then all three by the saturation. */
function toned([red, green, blue]: SRgb, tone: Tone): SRgb {
  return saturated([shadeOf(red, tone), shadeOf(green, tone), shadeOf(blue, tone)], tone);
}

describe('OKLab', () => {
  test('figures: distances from black and white, and the lightness of a dark grey', () => {
    const from = (picked: SRgb, seen: SRgb): number => {
      const [one, other] = [okLabOf(picked), okLabOf(seen)];
      return Math.hypot(one.l - other.l, one.a - other.a, one.b - other.b);
    };
    expect(from([0, 0, 0], of255(30, 30, 30))).toBeCloseTo(0.23503, 4);
    expect(from([0, 0, 0], of255(40, 10, 10))).toBeCloseTo(0.20287, 4);
    expect(from([0, 0, 0], of255(96, 64, 0))).toBeCloseTo(0.40662, 4);
    expect(from([1, 1, 1], of255(240, 240, 240))).toBeCloseTo(0.04486, 4);
    expect(from([1, 1, 1], of255(255, 160, 160))).toBeCloseTo(0.22863, 4);
    expect(okLabOf(of255(64, 64, 64)).l).toBeCloseTo(0.37149, 4);
  });

  test('there and back is the same colour', () => {
    fc.assert(
      fc.property(colour, (rgb) => {
        sRgbOf(okLabOf(rgb)).forEach((value, band) => {
          expect(value).toBeCloseTo(rgb[band] ?? NaN, 4);
        });
      }),
    );
  });
});

describe('tone', () => {
  test('figures: a middle grey by each of its four', () => {
    const grey = (change: Partial<Tone>, value = 0.5): number =>
      toned([value, value, value], { ...PLAIN_TONE, ...change })[0];
    expect(grey({ gamma: 2 })).toBeCloseTo(0.70711, 5);
    expect(grey({ brightness: 20 })).toBeCloseTo(0.6, 9);
    expect(grey({ brightness: -50 })).toBeCloseTo(0.25, 9);
    expect(grey({ contrast: 50 }, 0.25)).toBeCloseTo(0.125, 9);
    expect(grey({ contrast: 50 }, 0.75)).toBeCloseTo(0.875, 9);
    expect(grey({ contrast: -50 }, 0.125)).toBeCloseTo(0.25, 9);
    const red = of255(200, 80, 80);
    const before = okLabOf(red);
    const after = okLabOf(toned(red, { ...PLAIN_TONE, saturation: -50 }));
    expect(after.l).toBeCloseTo(before.l, 4);
    expect(Math.hypot(after.a, after.b)).toBeCloseTo(Math.hypot(before.a, before.b) / 2, 4);
    const colourless = toned(red, { ...PLAIN_TONE, saturation: -100 });
    expect(colourless[0]).toBeCloseTo(colourless[1], 4);
  });

  test('whatever it is: white stays white, greys stay grey, and what was darker does not become lighter', () => {
    fc.assert(
      fc.property(anyTone, share, share, (tone, one, other) => {
        expect(toned([1, 1, 1], tone)).toEqual([1, 1, 1]);
        const [dark, light] = [Math.min(one, other), Math.max(one, other)].map((v) => toned([v, v, v], tone));
        expect(dark?.[0]).toBe(dark?.[2]);
        expect((dark?.[1] ?? 2) - (light?.[1] ?? -1)).toBeLessThanOrEqual(1e-12);
      }),
    );
  });

  test('a plain tone changes nothing', () => {
    fc.assert(
      fc.property(colour, (rgb) => {
        toned(rgb, PLAIN_TONE).forEach((value, band) => {
          expect(value).toBeCloseTo(rgb[band] ?? NaN, 12);
        });
      }),
    );
  });
});

describe('curves', () => {
  test('through its points, straight where they lie on a line, level where they turn', () => {
    const curve = curveOf([{ at: 0.5, to: 0.4 }]);
    expect([curve(0), curve(0.5), curve(1)]).toEqual([0, 0.4, 1]);
    // Tangents 0.8, 1 and 1.2 by the mean of the slopes beside them.
    expect(curve(0.25)).toBeCloseTo(0.2 + (0.5 / 8) * (0.8 - 1), 9);
    const straight = curveOf([{ at: 0.3, to: 0.3 }]);
    for (const value of [0.1, 0.3, 0.77]) expect(straight(value)).toBeCloseTo(value, 12);
    const limited = curveOf([{ at: 1, to: 0.85 }]);
    expect([limited(0.5), limited(1), limited(2)]).toEqual([expect.closeTo(0.425, 12), 0.85, 0.85]);
  });

  test('where its points rise it rises, and it never leaves what they span', () => {
    const points = fc
      .array(fc.tuple(fc.integer({ min: 1, max: 99 }), fc.integer({ min: 0, max: 100 })), {
        minLength: 1,
        maxLength: 8,
      })
      .map((pairs) => {
        const ats = [...new Set(pairs.map(([at]) => at))].sort((a, b) => a - b);
        const tos = pairs.map(([, to]) => to).sort((a, b) => a - b);
        return ats.map((at, i) => ({ at: at / 100, to: (tos[i] ?? 0) / 100 }));
      });
    fc.assert(
      fc.property(points, share, share, (rising, one, other) => {
        const curve = curveOf(rising);
        const [low, high] = [curve(Math.min(one, other)), curve(Math.max(one, other))];
        expect(low).toBeLessThanOrEqual(high + 1e-9);
        expect(low).toBeGreaterThanOrEqual(-1e-9);
        expect(high).toBeLessThanOrEqual(1 + 1e-9);
        for (const { at, to } of rising) expect(curve(at)).toBeCloseTo(to, 9);
      }),
    );
  });

  test('what can’t be used is told: two for a channel, points out of order, ink on bare media', () => {
    const why = (...curves: readonly ChannelCurve[]): string | undefined => {
      const checked = checkCurves(curves);
      return checked.ok ? undefined : checked.reason;
    };
    const half = [{ at: 0.5, to: 0.45 }];
    expect(why({ channel: 'cyan', points: half }, { channel: 'red', points: half })).toBeUndefined();
    expect(why({ channel: 'cyan', points: half }, { channel: 'cyan', points: half })).toBe('Two curves bend cyan.');
    expect(why({ channel: 'cyan', points: [...half, ...half] })).toContain('one behind the other');
    expect(why({ channel: 'cyan', points: [{ at: 0, to: 0.1 }] })).toContain('bare media');
    expect(why({ channel: 'red', points: [{ at: 1, to: 0.9 }] })).toContain('bare media');
    // Less than full ink, and a black of the artwork that is lifted, leave the media bare.
    expect(why({ channel: 'cyan', points: [{ at: 1, to: 0.9 }] })).toBeUndefined();
    expect(why({ channel: 'red', points: [{ at: 0, to: 0.1 }] })).toBeUndefined();
  });
});
