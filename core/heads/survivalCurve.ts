import type { Random } from '../random.ts';

/** What one check says of the idle spell before it. */
export interface SpellEvent {
  readonly idleH: number;
  readonly clogged: boolean;
}

/** From `fromH` idle hours on a channel stays open with this chance, up to the next step. */
export interface CurveStep {
  readonly fromH: number;
  readonly open: number;
}

/**
 * How likely a channel stays open, by idle hours. A check only tells whether clogs came before it, so the share of spells with new
 * clogs is made monotone (pool adjacent violators) and its complement is drawn. Source: clogs learned from the log, second sheet.
 * @returns steps in the order of time; before the first it is 1
 */
export function openCurve(spells: readonly SpellEvent[]): CurveStep[] {
  const byHour = new Map<number, { clogged: number; of: number }>();
  for (const { idleH, clogged } of spells) {
    const own = byHour.get(idleH) ?? { clogged: 0, of: 0 };
    byHour.set(idleH, { clogged: own.clogged + Number(clogged), of: own.of + 1 });
  }
  const pools: { fromH: number; clogged: number; of: number }[] = [];
  for (const [fromH, own] of [...byHour].sort(([a], [b]) => a - b)) {
    pools.push({ fromH, ...own });
    for (;;) {
      const last = pools.at(-1);
      const before = pools.at(-2);
      if (!last || !before || before.clogged / before.of < last.clogged / last.of) break;
      pools.splice(-2, 2, { fromH: before.fromH, clogged: before.clogged + last.clogged, of: before.of + last.of });
    }
  }
  return pools.map(({ fromH, clogged, of }) => ({ fromH, open: 1 - clogged / of })).filter(({ open }) => open < 1);
}

/** Chance on a curve of being open after so many idle hours. */
export function openAt(curve: readonly CurveStep[], idleH: number): number {
  return curve.findLast(({ fromH }) => fromH <= idleH)?.open ?? 1;
}

const DRAWS = 500;
const BAND = 0.9;

/** A curve with where it would lie had other spells been seen. */
export interface CurveBand {
  readonly hours: readonly number[];
  readonly low: readonly number[];
  readonly high: readonly number[];
}

/**
 * The band in which nine of ten curves lie that are drawn from the same spells again and again (bootstrap).
 * @param hours where it is asked for
 */
export function curveBand(spells: readonly SpellEvent[], hours: readonly number[], random: Random): CurveBand {
  const draws: number[][] = hours.map(() => []);
  for (let draw = 0; draw < DRAWS; draw += 1) {
    const drawn = spells.map(() => spells[Math.floor(random() * spells.length)]).filter((each) => each !== undefined);
    const curve = openCurve(drawn);
    for (const [i, hour] of hours.entries()) draws[i]?.push(openAt(curve, hour));
  }
  const at = (values: number[], share: number): number =>
    [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(share * values.length))] ?? 1;
  return {
    hours,
    low: draws.map((values) => at(values, (1 - BAND) / 2)),
    high: draws.map((values) => at(values, (1 + BAND) / 2)),
  };
}
