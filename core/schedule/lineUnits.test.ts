import fc from 'fast-check';
import { lineUnits, movedTogether, steppedTogether, togetherOf } from './lineUnits.ts';

const line = (text: string): { id: string; together: string | null }[] =>
  text.split(' ').map((each) => {
    const [id = '', together = null] = each.split(':');
    return { id, together };
  });

test('front and back stay together, so do segments; a pair counts before a series', () => {
  expect(togetherOf({ pair: { id: 'p' }, series: { id: 's' } })).toBe('p');
  expect(togetherOf({ pair: null, series: { id: 's' } })).toBe('s');
  const units = lineUnits(line('a f:p b k:p s1:s s2:s'));
  expect(units.map((unit) => unit.map(({ id }) => id))).toEqual([['a'], ['f', 'k'], ['b'], ['s1', 's2']]);
});

test('the front is moved five places on: its back comes with it', () => {
  const runs = line('f:p k:p a b c d e');
  expect(movedTogether(runs, 'f', 'e')).toEqual(['a', 'b', 'c', 'd', 'f', 'k', 'e']);
  expect(movedTogether(runs, 'k', null)).toEqual(['a', 'b', 'c', 'd', 'e', 'f', 'k']);
  // Before its own back means where it stands.
  expect(movedTogether(runs, 'f', 'k')).toEqual(runs.map(({ id }) => id));
  expect(movedTogether(line('a f:p b k:p c'), 'c', 'b')).toEqual(['a', 'f', 'c', 'b', 'k']);
});

test('one step is one unit', () => {
  const runs = line('a s1:s s2:s b');
  expect(steppedTogether(runs, 'b', -1)).toEqual(['a', 'b', 's1', 's2']);
  expect(steppedTogether(runs, 's2', -1)).toEqual(['s1', 's2', 'a', 'b']);
  expect(steppedTogether(runs, 'a', -1)).toEqual(['a', 's1', 's2', 'b']);
  expect(steppedTogether(runs, 'b', 1)).toEqual(['a', 's1', 's2', 'b']);
});

test('whatever is moved where: every run once, and what belongs together in its order and without others between', () => {
  const runs = fc
    .array(fc.constantFrom(null, 'p', 's'), { minLength: 1, maxLength: 8 })
    .map((groups) => groups.map((together, i) => ({ id: String(i), together })));
  fc.assert(
    fc.property(runs, fc.nat(), fc.option(fc.nat()), (all, what, where) => {
      const moved = all[what % all.length];
      const before = where === null ? null : (all[where % all.length]?.id ?? null);
      const ids = movedTogether(all, moved?.id ?? '', before);
      expect([...ids].sort()).toEqual(all.map(({ id }) => id).sort());
      const unit = all.filter((run) => run === moved || (run.together !== null && run.together === moved?.together));
      const from = ids.indexOf(unit[0]?.id ?? '');
      expect(ids.slice(from, from + unit.length)).toEqual(unit.map(({ id }) => id));
    }),
    { seed: 3 },
  );
});
