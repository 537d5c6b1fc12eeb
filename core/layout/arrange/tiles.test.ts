import fc from 'fast-check';
import { panelsAlong, planTiles } from './tiles.ts';

test('worked by hand: 4,000 mm on 1,340 mm with 20 mm overlap are four panels of 1,015 mm, full width or not', () => {
  expect(panelsAlong(4000, 1340, { panels: 'equal', joinMm: 20 })).toEqual({
    ok: true,
    value: [0, 995, 1990, 2985].map((fromMm) => ({ fromMm, widthMm: 1015 })),
  });
  expect(panelsAlong(4000, 1340, { panels: 'full width', joinMm: 20 })).toEqual({
    ok: true,
    // The last one would be 40 mm, 20 of them the overlap: too narrow to be mounted.
    value: [0, 995, 1990, 2985].map((fromMm) => ({ fromMm, widthMm: 1015 })),
  });
  expect(panelsAlong(3000, 1340, { panels: 'full width', joinMm: 20 })).toEqual({
    ok: true,
    value: [
      { fromMm: 0, widthMm: 1340 },
      { fromMm: 1320, widthMm: 1340 },
      { fromMm: 2640, widthMm: 360 },
    ],
  });
  // A last strip of 5 mm could not be mounted: all become equal.
  expect(panelsAlong(2685, 1340, { panels: 'full width', joinMm: 0 })).toEqual({
    ok: true,
    value: [
      { fromMm: 0, widthMm: 895 },
      { fromMm: 895, widthMm: 895 },
      { fromMm: 1790, widthMm: 895 },
    ],
  });
  expect(panelsAlong(900, 1340, { panels: 'equal', joinMm: 20 })).toEqual({
    ok: true,
    value: [{ fromMm: 0, widthMm: 900 }],
  });
  expect(panelsAlong(4000, 30, { panels: 'equal', joinMm: 30 })).toMatchObject({ ok: false });
});

test('panels cover the artwork, none is wider than the media, neighbours share exactly the join, none could be spared', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 100, max: 200_000 }).map((n) => n / 10),
      fc.integer({ min: 3000, max: 16_000 }).map((n) => n / 10),
      fc.integer({ min: -400, max: 1000 }).map((n) => n / 10),
      fc.constantFrom('equal' as const, 'full width' as const),
      fc.constantFrom('upright' as const, 'level' as const),
      (total, most, joinMm, panels, cut) => {
        const art = cut === 'upright' ? { widthMm: total, heightMm: 500 } : { widthMm: 500, heightMm: total };
        const plan = planTiles(art, most, { cut, panels, joinMm, turnEverySecond: false });
        if (!plan.ok) throw new Error(plan.reason.code);
        const along = plan.value.map((p): readonly [number, number] =>
          cut === 'upright' ? [p.xMm, p.widthMm] : [p.yMm, p.heightMm],
        );
        expect(along[0]?.[0]).toBe(0);
        const [lastFrom, lastWidth] = along[along.length - 1] ?? [0, 0];
        expect(lastFrom + lastWidth).toBeCloseTo(total, 3);
        for (const [i, [from, width]] of along.entries()) {
          expect(width).toBeLessThanOrEqual(most + 1e-3);
          expect(width).toBeGreaterThan(0);
          const before = along[i - 1];
          if (before) expect(before[0] + before[1] - from).toBeCloseTo(joinMm, 2);
        }
        // One fewer can't cover it.
        const n = along.length;
        if (n > 1) expect((n - 1) * most - (n - 2) * joinMm).toBeLessThan(total + 1e-6);
      },
    ),
    { numRuns: 400, seed: 3 },
  );
});
