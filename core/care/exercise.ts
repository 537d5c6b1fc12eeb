/** One firing of a channel, spread evenly over its time (instants in ms, ink in ml). */
export interface Firing {
  readonly fromMs: number;
  readonly toMs: number;
  readonly ml: number;
}

/** What a dose depends on. */
export interface DoseBuild {
  readonly heads: number;
  /** Of one head. */
  readonly nozzles: number;
  /** Volume of a full drop. */
  readonly dropPl: number;
}

/** Drops per nozzle that exercise a channel, where a printer says nothing else. */
export const EXERCISE_DROPS = 2000;
/** Doses count together within this share of the idle limit. */
export const DOSE_WINDOW = 0.1;

/** Drops per nozzle: screening spreads dots over all nozzles of a head, so that the mean stands for each. */
export function doseOf(ml: number, { heads, nozzles, dropPl }: DoseBuild): number {
  return ml / (heads * nozzles * dropPl * 1e-9);
}

/** Ink that exercises a channel (ml). */
export function exerciseMl({ heads, nozzles, dropPl }: DoseBuild, drops = EXERCISE_DROPS): number {
  return drops * heads * nozzles * dropPl * 1e-9;
}

/**
 * The latest instant of its firing at which a channel was exercised: what it fired within a tenth of its idle limit up to then
 * adds up to its exercise dose.
 * @param firings in any order; those that end within a tenth of the limit before the earliest that is asked for must be among them
 * @param needMl by {@link exerciseMl}
 * @returns undefined: never
 */
export function lastExercised(firings: readonly Firing[], limitMs: number, needMl: number): number | undefined {
  const windowMs = limitMs * DOSE_WINDOW;
  const sorted = firings.filter(({ ml }) => ml > 0).sort((a, b) => b.toMs - a.toMs);
  let best: number | undefined;
  for (const firing of sorted) {
    if (best !== undefined && firing.toMs <= best) break;
    const near = sorted.filter((other) => other.fromMs <= firing.toMs && other.toMs > firing.fromMs - windowMs);
    const at = lastWithin(firing, near, windowMs, needMl - 1e-12);
    if (at !== undefined && (best === undefined || at > best)) best = at;
  }
  return best;
}

/** The latest instant of one firing at which what was fired within the window before it is enough. */
function lastWithin(
  { fromMs, toMs }: Firing,
  near: readonly Firing[],
  windowMs: number,
  needMl: number,
): number | undefined {
  /** Fired up to an instant; just before it, where that makes a difference. */
  const upTo = (ms: number, before: boolean): number => {
    let sum = 0;
    for (const each of near) {
      if (each.toMs < ms || (each.toMs === ms && !(before && each.fromMs === ms))) sum += each.ml;
      else if (each.fromMs < ms) sum += (each.ml * (ms - each.fromMs)) / (each.toMs - each.fromMs);
    }
    return sum;
  };
  const within = (ms: number, before: boolean): number => upTo(ms, before) - upTo(ms - windowMs, before);
  const ends = near.flatMap((other) => [other.fromMs, other.toMs, other.fromMs + windowMs, other.toMs + windowMs]);
  const knots = [...new Set([fromMs, toMs, ...ends])].filter((ms) => ms >= fromMs && ms <= toMs).sort((a, b) => b - a);
  for (const [i, late] of knots.entries()) {
    if (within(late, false) >= needMl) return late;
    const early = knots[i + 1];
    if (early === undefined) return undefined;
    // Between two knots it is a straight line.
    const [from, to] = [within(early, false), within(late, true)];
    if (to >= needMl) return late;
    if (from >= needMl) return early + ((late - early) * (from - needMl)) / (from - to);
  }
  return undefined;
}

/**
 * Length of an edge strip after which a channel of a carriage is exercised (mm).
 * @param widthMm of the strip @param coverage 0 … 1
 */
export function stripExerciseMm(
  strip: { readonly widthMm: number; readonly coverage: number; readonly dpiX: number; readonly dpiY: number },
  nozzles: number,
  drops = EXERCISE_DROPS,
): number {
  const { widthMm, coverage, dpiX, dpiY } = strip;
  return drops / (((widthMm / 25.4) * dpiX * (dpiY / 25.4) * coverage) / nozzles);
}

/** Length in the feed of a full bar by which every nozzle of a page-wide array is exercised (mm). */
export function barExerciseMm(
  bar: { readonly coverage: number; readonly dpiX: number; readonly dpiY: number },
  nozzlesPerInch: number,
  drops = EXERCISE_DROPS,
): number {
  return drops / ((bar.dpiY / 25.4) * (bar.dpiX / nozzlesPerInch) * bar.coverage);
}
