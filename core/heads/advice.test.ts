import fc from 'fast-check';
import { type CareAction, advise, bestLadder, helpChance, ladderCost } from './advice.ts';

const CLEAN: CareAction = { id: 'clean', costMinor: 450, prior: [3, 2], helped: 7, tried: 10, failedInRow: 0 };
const DEEP: CareAction = { id: 'deep', costMinor: 1031, prior: [4, 1], helped: 2, tried: 2, failedInRow: 0 };
const REST: CareAction = { id: 'rest', costMinor: 1396, prior: [1, 2], helped: 1, tried: 3, failedInRow: 0 };
const SERVICE = 18_000;

test('the ladder of the worked figures: clean, deep clean, rest; 14.316', () => {
  expect([CLEAN, DEEP, REST].map((each) => Number(helpChance(each).toFixed(4)))).toEqual([0.6667, 0.8571, 0.3333]);
  const { rungs, costMinor } = bestLadder([REST, DEEP, CLEAN], SERVICE);
  expect(rungs.map(({ id }) => id)).toEqual(['clean', 'deep', 'rest']);
  expect(rungs.map(({ perSuccessMinor }) => (perSuccessMinor / 100).toFixed(2))).toEqual(['6.75', '12.03', '41.88']);
  expect(costMinor / 100).toBeCloseTo(14.316, 3);
});

/** Every order of every choice of actions. */
function ladders<T>(all: readonly T[]): T[][] {
  return [[], ...all.flatMap((first) => ladders(all.filter((each) => each !== first)).map((rest) => [first, ...rest]))];
}

test('of all 16 ladders none is cheaper', () => {
  const all = ladders([CLEAN, DEEP, REST]);
  expect(all).toHaveLength(16);
  const costs = all.map((ladder) =>
    ladderCost(
      ladder.map((action) => ({ costMinor: action.costMinor, chance: helpChance(action) })),
      SERVICE,
    ),
  );
  expect(Math.min(...costs)).toBeCloseTo(bestLadder([CLEAN, DEEP, REST], SERVICE).costMinor, 9);
});

test('no ladder of any actions is cheaper than the one that is advised', () => {
  const action = fc.record({
    costMinor: fc.integer({ min: 1, max: 5000 }),
    prior: fc.tuple(fc.integer({ min: 1, max: 5 }), fc.integer({ min: 1, max: 5 })),
    helped: fc.nat(5),
    missed: fc.nat(5),
  });
  fc.assert(
    fc.property(fc.array(action, { maxLength: 4 }), fc.integer({ min: 100, max: 20_000 }), (drawn, lastWayOut) => {
      const actions = drawn.map(({ missed, helped, ...rest }, i) => ({
        ...rest,
        id: String(i),
        helped,
        tried: helped + missed,
        failedInRow: 0,
      }));
      const cheapest = Math.min(
        ...ladders(actions).map((ladder) =>
          ladderCost(
            ladder.map((each) => ({ costMinor: each.costMinor, chance: helpChance(each) })),
            lastWayOut,
          ),
        ),
      );
      expect(bestLadder(actions, lastWayOut).costMinor).toBeCloseTo(cheapest, 6);
    }),
  );
});

test('a run of 96.00: at a chance of 0.35 to be spoiled clean, at 0.1 leave it', () => {
  const all = [CLEAN, DEEP, REST];
  expect(advise(all, [{ spoiled: 0.35, costMinor: 9600 }], SERVICE)).toMatchObject({
    what: 'ladder',
    nothingMinor: 3360,
  });
  expect(advise(all, [{ spoiled: 0.1, costMinor: 9600 }], SERVICE)).toMatchObject({
    what: 'nothing',
    nothingMinor: 960,
  });
});

test('an action that failed three times in a row is not offered a fourth time; with none left it is service', () => {
  const failed = { ...CLEAN, failedInRow: 3 };
  expect(bestLadder([failed, DEEP], SERVICE).rungs.map(({ id }) => id)).toEqual(['deep']);
  expect(bestLadder([{ ...CLEAN, failedInRow: 2 }], SERVICE).rungs.map(({ id }) => id)).toEqual(['clean']);
  expect(advise([failed], [{ spoiled: 1, costMinor: 90_000 }], SERVICE).what).toBe('service');
});
