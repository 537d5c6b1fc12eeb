import fc from 'fast-check';
import { seededRandom } from '../random.ts';
import { compensated, labOf, xyzOf } from './blackPoint.ts';
import { blueNoise } from './blueNoise.ts';
import { dotsMl, dropsGrow, dropsOfMode, firedShare } from './dropSizes.ts';
import { limitInks } from './inkLimits.ts';
import { FULL_INK, LANES, bakeTable, inksOf } from './inkTable.ts';

describe('ink limits', () => {
  test('figures: without protection all shrink; black, then white stay', () => {
    const round = (list: readonly number[]): number[] => list.map((ink) => Math.round(ink * 1e5) / 1e5);
    expect(round(limitInks([0.9, 0.8, 0.7, 0.5], 2.4, [3]))).toEqual([0.7125, 0.63333, 0.55417, 0.5]);
    expect(round(limitInks([0.9, 0.8, 0.7, 0.5, 1], 2.4, [3, 4]))).toEqual([0.3375, 0.3, 0.2625, 0.5, 1]);
    expect(round(limitInks([0.1, 1, 0.9], 1.6, [1, 2]))).toEqual([0, 1, 0.6]);
  });

  test('nothing is added, no channel nor all together go over, and what fits stays as it is', () => {
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(share, { minLength: 1, maxLength: 8 }),
        fc.double({ min: 0.2, max: 4, noNaN: true }),
        fc.array(share, { minLength: 8, maxLength: 8 }),
        fc.uniqueArray(fc.nat({ max: 7 }), { maxLength: 3 }),
        (inks, total, own, kept) => {
          const known = kept.filter((i) => i < inks.length);
          const limited = limitInks(inks, total, known, own);
          const sum = limited.reduce((all, ink) => all + ink, 0);
          expect(sum).toBeLessThanOrEqual(total + 1e-9);
          limited.forEach((ink, i) => {
            expect(ink).toBeLessThanOrEqual(Math.min(inks[i] ?? 0, own[i] ?? 0) + 1e-12);
            expect(ink).toBeGreaterThanOrEqual(0);
          });
          const held = inks.map((ink, i) => Math.min(ink, own[i] ?? 1));
          if (held.reduce((all, ink) => all + ink, 0) <= total) expect(limited).toEqual(held);
        },
      ),
    );
  });
});

describe('tables', () => {
  test('nodes come out as they were baked, and what is straight stays straight between them', () => {
    const straight = bakeTable(17, 3, (r, g, b) => [r, 0.5 * g, 0.25 + 0.5 * b]);
    fc.assert(
      fc.property(fc.nat({ max: 255 }), fc.nat({ max: 255 }), fc.nat({ max: 255 }), (r, g, b) => {
        const inks = inksOf(straight, Uint8Array.of(r, g, b, 255));
        [r, g / 2, 63.75 + b / 2].forEach((ink, i) => {
          expect(Math.abs((inks[i] ?? 0) - ink)).toBeLessThanOrEqual(0.6);
        });
        expect(inks.subarray(3)).toEqual(new Uint8Array(LANES - 3));
      }),
    );
  });

  test('a limit that holds at the nodes holds between them', () => {
    const random = seededRandom(3);
    const table = bakeTable(9, 8, () => limitInks(Array.from({ length: 8 }, random), 2.4));
    fc.assert(
      fc.property(fc.nat({ max: 255 }), fc.nat({ max: 255 }), fc.nat({ max: 255 }), (r, g, b) => {
        const sum = inksOf(table, Uint8Array.of(r, g, b, 255)).reduce((all, ink) => all + ink, 0);
        expect(sum).toBeLessThanOrEqual(2.4 * 255 + LANES);
      }),
    );
  });

  test('ink follows alpha, and full ink under a clear pixel is none', () => {
    const full = bakeTable(2, 1, () => [1]);
    expect(full.values[0]).toBe(FULL_INK);
    for (const alpha of [0, 1, 64, 128, 254, 255]) {
      expect(inksOf(full, Uint8Array.of(9, 9, 9, alpha))[0]).toBe(alpha);
    }
  });

  test('more channels than lanes are refused', () => {
    expect(() => bakeTable(2, 9, () => [])).toThrow('9 channels do not fit');
  });
});

describe('blue noise', () => {
  const size = 32;
  const ranks = blueNoise(size, seededRandom(2));

  test('each rank is there once, and the same seed gives the same mask', () => {
    expect([...ranks].sort((a, b) => a - b)).toEqual(Array.from({ length: size * size }, (_, i) => i));
    expect(blueNoise(size, seededRandom(2))).toEqual(ranks);
  });

  test('dots of a tint keep away from each other; dots strewn at random lie side by side', () => {
    const nearest = (places: readonly number[]): number => {
      const near = places.map((a) =>
        Math.min(
          ...places
            .filter((b) => b !== a)
            .map((b) => {
              const off = (d: number): number => Math.min(Math.abs(d), size - Math.abs(d));
              return Math.hypot(off((a % size) - (b % size)), off(Math.floor(a / size) - Math.floor(b / size)));
            }),
        ),
      );
      return Math.min(...near);
    };
    const count = 40;
    const ours = Array.from(ranks.keys()).filter((place) => (ranks[place] ?? 0) < count);
    const random = seededRandom(9);
    const strewn = [...new Set(Array.from({ length: count }, () => Math.floor(random() * size * size)))];
    expect(ours).toHaveLength(count);
    // So many dots in a perfect lattice lie 5.4 apart.
    expect(nearest(ours)).toBeGreaterThanOrEqual(3);
    expect(nearest(strewn)).toBeLessThan(2);
  });
});

describe('dots to ml', () => {
  test('figures: a million dots that were asked for at 18 %; white on four heads, twice', () => {
    const dots = [1e6 - 120_000 - 90_000 - 64_286, 120_000, 90_000, 64_286];
    expect(dotsMl(dots, [3, 5, 7])).toBeCloseTo(0.001260002, 9);
    expect(dotsMl(dots, [3, 5, 7], 2, 4)).toBeCloseTo(0.01008, 6);
    // A mode that says nothing of its smaller drops has them at three and five sevenths.
    expect(dropsOfMode({ dropPl: 7 })).toEqual([3, 5, 7]);
    expect(dropsOfMode({ dropPl: 7, smallPl: 2, mediumPl: null })).toEqual([2, 5, 7]);
    expect([dropsGrow([2, 5, 7]), dropsGrow([5, 5, 7]), dropsGrow([2, 7.5, 7]), dropsGrow([0, 5, 7])]).toEqual([
      ...[true, false, false, false],
    ]);
    expect(firedShare(dots, [3, 5, 7])).toBeCloseTo(0.18, 5);
  });
});

describe('black point', () => {
  test('there and back through XYZ', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 100, noNaN: true }),
        fc.double({ min: -60, max: 60, noNaN: true }),
        fc.double({ min: -60, max: 60, noNaN: true }),
        (l, a, b) => {
          labOf(xyzOf([l, a, b])).forEach((value, i) => {
            expect(value).toBeCloseTo([l, a, b][i] ?? 0, 6);
          });
        },
      ),
    );
  });

  test('black comes to the printer’s black, white stays, and greys stay grey and in their order', () => {
    const grey = (l: number): number[] => [Math.round(l * 655.35), 0x8080, 0x8080];
    const moved = compensated(Uint16Array.from([0, 10, 50, 100].flatMap(grey)), { input: 0, output: 12 });
    const lightness = [0, 1, 2, 3].map((i) => (moved[i * 3] ?? 0) / 655.35);
    expect(lightness[0]).toBeCloseTo(12, 1);
    expect(lightness[3]).toBeCloseTo(100, 1);
    expect([...lightness].sort((a, b) => a - b)).toEqual(lightness);
    [1, 2, 4, 5, 7, 8].forEach((i) => {
      expect(Math.abs((moved[i] ?? 0) - 0x8080)).toBeLessThanOrEqual(2);
    });
  });
});
