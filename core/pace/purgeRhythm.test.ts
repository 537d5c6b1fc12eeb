import fc from 'fast-check';
import { spellClogs } from '../care/clogs.ts';
import { type RhythmChannel, exercisingWork, purgeRhythm } from './purgeRhythm.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const WHITE: RhythmChannel = { id: 'white', limitMs: 36 * HOUR, doseMl: 1, exercisedMs: 0, nozzles: 400 };
const PERIOD = { fromMs: 0, toMs: 10 * DAY };

function every(days: number, onlyNeeded = false) {
  return Array.from({ length: Math.ceil(10 / days) }, (_, i) => ({
    ...{ key: 'bars', atMs: (i * days + 1) * DAY, inkMl: { white: 1 }, onlyNeeded },
  }));
}

test('without work each purge is printed, and clogs are those of the spells between', () => {
  const daily = purgeRhythm([WHITE], [], every(1), PERIOD);
  // The tenth comes when the period is over.
  expect(daily.printed.get('bars')).toBe(9);
  expect(daily.clogs).toBeCloseTo(10 * spellClogs(24, 36, 400), 9);
  const second = purgeRhythm([WHITE], [], every(2), PERIOD);
  expect(second.printed.get('bars')).toBe(5);
  expect(second.clogs).toBeCloseTo(2 * spellClogs(24, 36, 400) + 4 * spellClogs(48, 36, 400), 9);
  const never = purgeRhythm([WHITE], [], [], PERIOD);
  expect(never.clogs).toBeCloseTo(spellClogs(240, 36, 400), 9);
});

test('a purge that work makes needless is skipped; too little ink exercises nothing', () => {
  const work = (ml: number) =>
    Array.from({ length: 11 }, (_, i) => ({ atMs: i * DAY + 12 * HOUR, inkMl: { white: ml } }));
  const skipped = purgeRhythm([WHITE], work(1), every(1), PERIOD);
  expect(skipped.printed.size).toBe(0);
  expect(skipped.clogs).toBeCloseTo(spellClogs(12, 36, 400) * 2 + 9 * spellClogs(24, 36, 400), 9);
  expect(purgeRhythm([WHITE], work(0.5), every(1), PERIOD).printed.get('bars')).toBe(9);
});

test('of a spell that began before the period only its own part counts', () => {
  const { clogs } = purgeRhythm([WHITE], [], [], { fromMs: 4 * DAY, toMs: 6 * DAY });
  expect(clogs).toBeCloseTo(spellClogs(144, 36, 400) - spellClogs(96, 36, 400), 9);
});

test('whatever was printed: more purges never let more clog, and two halves clog as the whole', () => {
  const instants = fc.array(fc.integer({ min: 1, max: 239 }), { maxLength: 12 });
  fc.assert(
    fc.property(instants, instants, (workH, purgeH) => {
      const work = workH.map((h) => ({ atMs: h * HOUR, inkMl: { white: 1 } }));
      const purges = purgeH.map((h) => ({ key: 'bars', atMs: h * HOUR, inkMl: { white: 1 }, onlyNeeded: false }));
      const clogs = (fromMs: number, toMs: number, some = purges): number =>
        purgeRhythm([WHITE], work, some, { fromMs, toMs }).clogs;
      expect(clogs(0, 10 * DAY)).toBeLessThanOrEqual(clogs(0, 10 * DAY, []) + 1e-9);
      expect(clogs(0, 5 * DAY) + clogs(5 * DAY, 10 * DAY)).toBeCloseTo(clogs(0, 10 * DAY), 9);
    }),
  );
});

test('small jobs add up to a dose within a tenth of the idle limit, and no longer', () => {
  const at = (h: number, ml: number) => ({ atMs: h * HOUR, inkMl: { white: ml } });
  // A tenth of 36 h: the third within 3.6 h of the first makes it whole; the fourth stands alone.
  const found = exercisingWork([WHITE], [at(3, 0.4), at(1, 0.4), at(2, 0.3), at(9, 0.9), at(12, 0.2)]);
  expect(found).toEqual([
    { atMs: 3 * HOUR, inkMl: { white: 1 } },
    { atMs: 12 * HOUR, inkMl: { white: 1 } },
  ]);
  expect(exercisingWork([WHITE], [at(0, 0.6), at(4, 0.6)])).toEqual([]);
});
