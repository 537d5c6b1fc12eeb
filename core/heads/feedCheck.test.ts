import { correctedAdvanceMm, feedFactor } from './feedCheck.ts';

test('bars that lie 501.5 mm apart in place of 500: the advance is divided by 1.003, and what is fed is what was meant', () => {
  const factor = feedFactor(501.5);
  expect(factor).toEqual({ ok: true, value: 1.003 });
  const fed = (told: number): number => told * 1.003;
  expect(fed(correctedAdvanceMm(9.0311, 1.003))).toBeCloseTo(9.0311, 9);
});

test('a feed that is off by more than 2 % was measured wrong', () => {
  expect(feedFactor(490)).toEqual({ ok: true, value: 0.98 });
  expect(feedFactor(489)).toEqual({
    ok: false,
    reason: { code: 'too-far-off', measuredMm: 489, leastMm: 490, mostMm: 510 },
  });
});
