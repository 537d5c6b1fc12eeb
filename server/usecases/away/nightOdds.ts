import type { AwaySimulation } from '../../../contract/api/away.ts';
import { shareOdds } from '../../../core/away/nights.ts';
import type { RunHow } from '../../ports/work.ts';
import type { Shop } from '../../shop.ts';
import type { AwayOrder } from './awayOrder.ts';
import type { NightsAnswer } from './awayWork.ts';

/** How many nights are simulated, and by which luck. */
export interface NightCount {
  readonly nights: number;
  readonly seed: number;
}

/** What is simulated unless somebody asks otherwise: the same question has the same answer for everybody who asks. */
export const USUAL_NIGHTS: NightCount = { nights: 2000, seed: 1 };
/** Nights are simulated in so many parts, one for each core. */
const PARTS = 2;

/** The odds of an order, its nights shared out among the workers. */
export async function oddsOfOrder(
  shop: Shop,
  order: AwayOrder,
  { nights, seed }: NightCount,
  how: RunHow,
): Promise<AwaySimulation['odds']> {
  if (nights === 0) return { nights, all: null, byRun: {}, worth: null };
  const size = Math.ceil(nights / PARTS);
  const parts = await Promise.all(
    Array.from({ length: PARTS }, (_, i) => ({ from: i * size, count: Math.min(size, nights - i * size) }))
      .filter(({ count }) => count > 0)
      .map((part) => shop.work.run('away nights', { order, seed, ...part }, how)),
  );
  return joined(parts);
}

function joined(parts: readonly NightsAnswer[]): AwaySimulation['odds'] {
  const nights = parts.reduce((sum, part) => sum + part.nights, 0);
  const total = (of: (part: NightsAnswer) => number): number => parts.reduce((sum, part) => sum + of(part), 0);
  const worth = parts.flatMap((part) => part.worth).sort((a, b) => a - b);
  const at = (share: number): number => worth[Math.min(worth.length - 1, Math.floor(share * worth.length))] ?? 0;
  const ids = Object.keys(parts[0]?.byRun ?? {});
  return {
    nights,
    // A plan in which nothing is printed has nothing to come true.
    all:
      ids.length === 0
        ? null
        : shareOdds(
            total(({ all }) => all),
            nights,
          ),
    byRun: Object.fromEntries(
      ids.map((id) => [
        id,
        shareOdds(
          total(({ byRun }) => byRun[id] ?? 0),
          nights,
        ),
      ]),
    ),
    worth: { meanMinor: worth.reduce((sum, each) => sum + each, 0) / nights, lowMinor: at(0.05), highMinor: at(0.95) },
  };
}
