/** What can be done for a channel that is not fit, and what is known of it on this printer. */
export interface CareAction {
  readonly id: string;
  /** Ink, minutes and the check behind it (minor units). */
  readonly costMinor: number;
  /** Its prior, beta(α, β), and how often it has helped here. */
  readonly prior: readonly [number, number];
  readonly helped: number;
  readonly tried: number;
  /** How often it has failed in a row for the state that the channel is in. */
  readonly failedInRow: number;
}

/** One rung of a ladder: the chance that it helps, and what a success costs on the average. */
export interface Rung {
  readonly id: string;
  readonly costMinor: number;
  readonly chance: number;
  readonly perSuccessMinor: number;
}

export interface Ladder {
  readonly rungs: readonly Rung[];
  /** Expected, with the last way out behind it (minor units). */
  readonly costMinor: number;
}

/** Chance that an action helps: beta(α + successes, β + failures), its mean. */
export function helpChance({ prior: [alpha, beta], helped, tried }: CareAction): number {
  return (alpha + helped) / (alpha + beta + tried);
}

/** An action that failed so often in a row is not offered again for the same state. */
const TRIED_ENOUGH = 3;

/**
 * The ladder of actions with the least expected cost: ordered by cost ÷ chance, those left out that cost more for a success than the
 * last way out. Source: advice, second sheet.
 * @param lastWayOutMinor what it costs when nothing helps
 */
export function bestLadder(actions: readonly CareAction[], lastWayOutMinor: number): Ladder {
  const rungs = actions
    .filter(({ failedInRow }) => failedInRow < TRIED_ENOUGH)
    .map((action) => {
      const chance = helpChance(action);
      return { id: action.id, costMinor: action.costMinor, chance, perSuccessMinor: action.costMinor / chance };
    })
    .filter(({ perSuccessMinor }) => perSuccessMinor < lastWayOutMinor)
    .sort((a, b) => a.perSuccessMinor - b.perSuccessMinor);
  return { rungs, costMinor: ladderCost(rungs, lastWayOutMinor) };
}

/** Expected cost of a ladder in this order: c₁ + (1 − p₁)(c₂ + (1 − p₂)(… + (1 − pₙ) z)). */
export function ladderCost(rungs: readonly Pick<Rung, 'costMinor' | 'chance'>[], lastWayOutMinor: number): number {
  return rungs.reduceRight((rest, { costMinor, chance }) => costMinor + (1 - chance) * rest, lastWayOutMinor);
}

/** A planned run as it is at stake: how likely it is spoiled in the state that the heads are in, and what printing it again costs. */
export interface RunAtStake {
  readonly spoiled: number;
  readonly costMinor: number;
}

/** What it costs to do nothing: Σ P(spoiled) · cost to print again. */
export function nothingCost(runs: readonly RunAtStake[]): number {
  return runs.reduce((sum, { spoiled, costMinor }) => sum + spoiled * costMinor, 0);
}

export type Advice =
  | { readonly what: 'nothing'; readonly nothingMinor: number; readonly ladder: Ladder }
  | { readonly what: 'ladder'; readonly nothingMinor: number; readonly ladder: Ladder }
  | { readonly what: 'service'; readonly nothingMinor: number; readonly ladder: Ladder };

/** What to do: nothing where that is cheaper than the ladder, else its first rung; where none is left, service. */
export function advise(actions: readonly CareAction[], runs: readonly RunAtStake[], lastWayOutMinor: number): Advice {
  const ladder = bestLadder(actions, lastWayOutMinor);
  const nothingMinor = nothingCost(runs);
  if (nothingMinor < ladder.costMinor) return { what: 'nothing', nothingMinor, ladder };
  return { what: ladder.rungs.length === 0 ? 'service' : 'ladder', nothingMinor, ladder };
}
