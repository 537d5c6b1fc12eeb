import type { NightUnit } from '../../../core/night/nightUnits.ts';
import { type NightAnswer, proposeNight } from '../../../core/night/proposeNight.ts';
import { seededRandom } from '../../../core/random.ts';
import { type AwayOrder, worldOf } from './awayOrder.ts';

/** A night to be proposed: plain data. */
export interface NightOrder {
  readonly order: AwayOrder;
  readonly units: readonly NightUnit[];
  readonly promised: readonly string[];
  readonly confidence: number;
  readonly seed: number;
  /** For the search; the nights that judge come behind it. */
  readonly timeLimitMs: number;
}

const EVALUATIONS = 200_000;
/** The search is so much of the whole. */
const SEARCH_SHARE = 0.6;

export function nightOf(
  { order, units, promised, confidence, seed, timeLimitMs }: NightOrder,
  tell: (share: number) => void,
  clock: () => number,
): NightAnswer {
  const world = worldOf(order);
  // What is queued comes as units; what is on the printers stays.
  const printers = world.floor.printers.map(({ printer, runs }) => ({
    printer,
    runs: runs.filter(({ state }) => state !== 'queued'),
  }));
  const start = clock();
  const question = { world: { ...world, floor: { ...world.floor, printers } }, units, promised, confidence };
  return proposeNight(
    { ...question, chance: order.chance },
    {
      ...{ seed, random: seededRandom(seed), evaluations: EVALUATIONS },
      shouldStop: () => {
        tell(Math.min(1, (clock() - start) / timeLimitMs) * SEARCH_SHARE);
        return clock() - start > timeLimitMs;
      },
    },
  );
}
