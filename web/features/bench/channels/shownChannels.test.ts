import { allShown, alone, turned } from './shownChannels.ts';

test('a channel is hidden and shown again, alone, and all of them again', () => {
  const all = allShown(4);
  const without = turned(all, 1);
  expect([...without]).toEqual([0, 2, 3]);
  expect([...turned(without, 1)].sort()).toEqual([0, 1, 2, 3]);
  expect([...alone(all, 2, 4)]).toEqual([2]);
  expect([...alone(without, 1, 4)]).toEqual([1]);
  expect(alone(alone(all, 2, 4), 2, 4)).toEqual(all);
  expect(turned(alone(all, 2, 4), 2).size).toBe(0);
  expect(all.size).toBe(4);
});
