import fc from 'fast-check';
import { seededRandom } from '../random.ts';
import {
  NO_SUMS,
  type SpellFound,
  type StrainForm,
  clogRate,
  meanRate,
  noClogChance,
  rateRange,
  strainForm,
  strainOf,
  withSpell,
} from './clogLearning.ts';
import { curveBand, openAt, openCurve } from './survivalCurve.ts';

function spell(x: number, clogs: number, open = 768): SpellFound {
  const strain = { cubic: strainOf(x), linear: strainOf(x, 'linear'), late: strainOf(x, 'late') };
  return { idleH: x * 72, strain, open, clogs };
}

test('four spells of 768 nozzles: θ 0.009079, 90 % within 0.003577 and 0.016621', () => {
  const sums = [spell(0.8, 0), spell(1.2, 1), spell(0.4, 0), spell(1.5, 2)].reduce(withSpell, NO_SUMS);
  const rate = clogRate(sums);
  expect(sums.exposure.cubic / 768).toBeCloseTo(0.456667, 6);
  expect(rate.a).toBe(5);
  expect(rate.b).toBeCloseTo(550.72, 6);
  expect(meanRate(rate)).toBeCloseTo(0.009079, 6);
  const [low, high] = rateRange(rate);
  expect(low).toBeCloseTo(0.003577, 6);
  expect(high).toBeCloseTo(0.016621, 6);
  expect(noClogChance(rate, 768, strainOf(1))).toBeCloseTo(0.754, 4);
});

test('nothing seen: the prior, mean 0.01', () => {
  expect(meanRate(clogRate(NO_SUMS))).toBe(0.01);
});

/** Log likelihood of spells under a form, written out. */
function likelihood(spells: readonly SpellFound[], form: StrainForm): number {
  const clogs = spells.reduce((sum, each) => sum + each.clogs, 0);
  const theta = clogs / spells.reduce((sum, each) => sum + each.open * each.strain[form], 0);
  return spells.reduce((sum, { open, strain, clogs: own }) => {
    const mean = theta * open * strain[form];
    return sum + (own === 0 ? 0 : own * Math.log(mean)) - mean;
  }, 0);
}

test('the form of strain is the cubic one until 30 clogs speak for another, as a full log likelihood says', () => {
  const drawn = fc.array(fc.record({ x: fc.double({ min: 0.55, max: 3, noNaN: true }), clogs: fc.nat(9) }), {
    minLength: 3,
    maxLength: 30,
  });
  fc.assert(
    fc.property(drawn, (list) => {
      const spells = list.map(({ x, clogs }) => spell(x, clogs));
      const sums = spells.reduce(withSpell, NO_SUMS);
      const form = strainForm(sums);
      if (sums.clogs < 30) {
        expect(form).toBe('cubic');
        return;
      }
      const by = (each: StrainForm): number => likelihood(spells, each);
      const best = Math.max(by('linear'), by('late'), by('cubic'));
      if (Math.abs(best - by('cubic') - 2) < 1e-6) return;
      expect(form === 'cubic').toBe(best < by('cubic') + 2);
      if (form !== 'cubic') expect(by(form)).toBeCloseTo(best, 6);
    }),
  );
});

test('clogs that grow with plain idle time are learned as such', () => {
  const random = seededRandom(4);
  const spells = Array.from({ length: 60 }, () => {
    const x = 0.1 + 2 * random();
    return spell(x, Math.round(0.002 * 768 * x));
  });
  expect(strainForm(spells.reduce(withSpell, NO_SUMS))).toBe('linear');
});

test('spells 30 clean, 50 clog, 60 clean, 72 clog, 80 clean, 96 clog: open to 50 h, half to 96 h, then none', () => {
  const spells = [
    [30, false],
    [50, true],
    [60, false],
    [72, true],
    [80, false],
    [96, true],
  ].map(([idleH, clogged]) => ({ idleH: Number(idleH), clogged: clogged === true }));
  const curve = openCurve(spells);
  expect([49.9, 50, 95.9, 96, 200].map((hours) => openAt(curve, hours))).toEqual([1, 0.5, 0.5, 0, 0]);
  const band = curveBand(spells, [40, 70, 100], seededRandom(1));
  expect(band).toEqual(curveBand(spells, [40, 70, 100], seededRandom(1)));
  expect(band.low[1]).toBeLessThanOrEqual(0.5);
  expect(band.high[1]).toBeGreaterThanOrEqual(0.5);
});

test('the curve never rises, and no other monotone curve lies nearer to what was seen', () => {
  const drawn = fc.array(fc.record({ idleH: fc.integer({ min: 1, max: 8 }), clogged: fc.boolean() }), {
    minLength: 1,
    maxLength: 7,
  });
  const levels = [0, 0.25, 0.5, 0.75, 1];
  fc.assert(
    fc.property(drawn, (spells) => {
      const curve = openCurve(spells);
      const shares = curve.map(({ open }) => open);
      expect(shares).toEqual([...shares].sort((a, b) => b - a));
      const error = (at: (hours: number) => number): number =>
        spells.reduce((sum, { idleH, clogged }) => sum + (at(idleH) - Number(!clogged)) ** 2, 0);
      const own = error((hours) => openAt(curve, hours));
      const hours = [...new Set(spells.map(({ idleH }) => idleH))].sort((a, b) => a - b);
      const walk = (i: number, most: number, chosen: readonly number[]): void => {
        if (i === hours.length) {
          expect(own).toBeLessThanOrEqual(error((h) => chosen[hours.indexOf(h)] ?? 1) + 1e-9);
          return;
        }
        for (const level of levels) if (level <= most) walk(i + 1, level, [...chosen, level]);
      };
      if (hours.length <= 4) walk(0, 1, []);
    }),
    { numRuns: 60 },
  );
});
