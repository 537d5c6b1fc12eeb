import { changedFloor } from './awayChange.ts';
import { awayEvents } from './awayEvents.ts';
import { type AwayWorld, planAway } from './awayWorld.ts';
import type { AwayAction } from './beforeYouGo.ts';
import type { NightChance } from './nightChance.ts';
import { type Nights, type Odds, gainOf, simulateNights } from './nights.ts';

/** What an action would do for the odds. */
export interface Driver {
  readonly key: string;
  readonly text: string;
  readonly minutes: number;
  /** Gain of the chance that the plan finishes. */
  readonly gain: Odds;
}

/** Candidates are judged by so many nights, the best of them again by so many fresh ones. */
const FIRST_NIGHTS = 200;
const FRESH_NIGHTS = 2000;
const BEST = 4;
const SHOWN = 2;
/** What is told has to be beyond chance by so many standard errors. */
const ERRORS = 2;

/** Nights of a world by its plan: what the plan without chance says is done has to be printed. */
export function nightsOf(
  world: AwayWorld,
  chance: NightChance,
  which: { readonly from: number; readonly count: number; readonly seed: number },
  options: { readonly wanted?: readonly string[]; readonly told?: (share: number) => void } = {},
): Nights {
  const planned = planAway(world);
  const wanted = options.wanted ?? wantedRuns(world, planned);
  return simulateNights(
    { floor: planned.floor, period: world.period, wanted, chance, worth: world, before: printedBefore(world, planned) },
    which,
    options.told,
  );
}

/** Runs that are printed before the time away begins. */
function printedBefore({ period }: AwayWorld, { plan }: ReturnType<typeof planAway>): ReadonlySet<string> {
  const before = new Set<string>();
  for (const { events } of plan.lines.values()) {
    for (const event of events) if (event.kind === 'run' && event.toMs <= period.fromMs) before.add(event.id);
  }
  return before;
}

/** Runs that a plan without chance says are done. */
export function wantedRuns(world: AwayWorld, planned: ReturnType<typeof planAway>): string[] {
  return awayEvents(world, planned)
    .filter(({ kind, outcome }) => kind === 'run' && outcome === 'done')
    .map(({ id }) => id);
}

/**
 * The two actions that raise the chance of the plan most. All are judged by 200 nights, the four best again by 2,000 fresh ones: figures
 * are never taken from the nights that chose. Every world has the same luck, and is asked for the same runs. (Odds, “Which actions help
 * most”.)
 * @returns none: nothing would change the odds beyond chance
 */
export function driversOf(
  world: AwayWorld,
  chance: NightChance,
  actions: readonly AwayAction[],
  seed: number,
  told: (share: number) => void = () => undefined,
): Driver[] {
  const wanted = wantedRuns(world, planAway(world));
  if (wanted.length === 0) return [];
  const ways = actions.flatMap((action) => (action.change ? [{ action, change: action.change }] : []));
  const steps = (ways.length + 1) * FIRST_NIGHTS + (Math.min(BEST, ways.length) + 1) * FRESH_NIGHTS;
  let done = 0;
  const plans = (change: (typeof ways)[number]['change'] | null, from: number, count: number): Uint8Array => {
    const changed = change ? { ...world, floor: changedFloor(world.floor, [change]) } : world;
    const { plan } = nightsOf(changed, chance, { from, count, seed }, { wanted });
    done += count;
    told(done / steps);
    return plan;
  };
  const first = plans(null, 0, FIRST_NIGHTS);
  const best = ways
    .map((way) => ({ way, gain: gainOf(first, plans(way.change, 0, FIRST_NIGHTS)).chance }))
    .sort((a, b) => b.gain - a.gain)
    .slice(0, BEST);
  if (best.length === 0) return [];
  const fresh = plans(null, FIRST_NIGHTS, FRESH_NIGHTS);
  const judged = best.map(({ way: { action, change } }) => {
    const plan = plans(change, FIRST_NIGHTS, FRESH_NIGHTS);
    return { action, plan, gain: gainOf(fresh, plan) };
  });
  return judged
    .filter(({ gain }) => gain.chance > 0 && gain.chance >= ERRORS * gain.error)
    .sort((a, b) => {
      const apart = gainOf(b.plan, a.plan);
      const alike = Math.abs(apart.chance) < ERRORS * apart.error || apart.chance === 0;
      return (alike ? a.action.minutes - b.action.minutes : 0) || b.gain.chance - a.gain.chance;
    })
    .slice(0, SHOWN)
    .map(({ action: { key, text, minutes }, gain }) => ({ key, text, minutes, gain }));
}
