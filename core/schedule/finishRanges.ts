import { type LearnedPrinter, learnedTime, timeSeries } from '../estimate/learnedPrinter.ts';
import { type DrawnRatio, drawnRatio } from '../estimate/learnedRatio.ts';
import { keyedChance } from '../keyedChance.ts';
import { normalQuantile } from '../distributions.ts';
import { compileFloor } from './compiledFloor.ts';
import type { Luck } from './luck.ts';
import type { FloorSnapshot, PlanRun } from './plan.ts';
import { planCompiled } from './planFloor.ts';

/** When a run will be finished: one of ten times before, one of ten after. */
export interface FinishRange {
  readonly lowMs: number;
  readonly highMs: number;
}

/** So many plans are drawn, and this share of their ends lies on either side of the range. */
export const FINISH_DRAWS = 1000;
const OUTSIDE = 0.1;

/**
 * Ranges that hold eight of ten finishes, by the planner of the Floor with times as this shop's log teaches them. What is
 * not known of a printer in a mode on a stock is drawn once for a plan, since it is common to its runs; each run has luck
 * of its own as well. Faults are not in it: those are for the odds of the away plan. (Pace, “Learning estimates”.)
 * @param learned by printer; one that is left out keeps to its estimates
 * @returns by run: those on a printer and in a line
 */
export function finishRanges(
  snapshot: FloorSnapshot,
  learned: ReadonlyMap<string, LearnedPrinter>,
  { draws = FINISH_DRAWS, seed }: { readonly draws?: number; readonly seed: number },
): Map<string, FinishRange> {
  const floor = compileFloor(snapshot);
  const draw = keyedChance(seed);
  const ends = new Map<string, Float64Array>();
  for (let n = 0; n < draws; n += 1) {
    const { lines } = planCompiled(floor, new TimeLuck(learned, n, draw));
    for (const { events } of lines.values()) {
      for (const event of events) {
        if (event.kind !== 'run') continue;
        let own = ends.get(event.id);
        if (!own) ends.set(event.id, (own = new Float64Array(draws).fill(Infinity)));
        own[n] = event.toMs;
      }
    }
  }
  const at = (sorted: Float64Array, share: number): number => sorted[Math.round(share * (draws - 1))] ?? Infinity;
  return new Map(
    [...ends].flatMap(([id, own]): [string, FinishRange][] => {
      own.sort();
      const range = { lowMs: at(own, OUTSIDE), highMs: at(own, 1 - OUTSIDE) };
      // Where one plan in ten has no end there is none to tell.
      return Number.isFinite(range.highMs) ? [[id, range]] : [];
    }),
  );
}

/** Times as they may come out, and nothing else. */
class TimeLuck implements Luck {
  private readonly drawn = new Map<string, DrawnRatio>();

  constructor(
    private readonly learned: ReadonlyMap<string, LearnedPrinter>,
    private readonly night: number,
    private readonly draw: ReturnType<typeof keyedChance>,
  ) {}

  printMs(printerId: string, run: PlanRun, _fromMs: number, forMs: number): number {
    const learned = this.learned.get(printerId);
    if (!learned) return forMs;
    const series = timeSeries(printerId, run.modeId, run.stockId);
    let ratio = this.drawn.get(series);
    if (!ratio) {
      // Plans go by estimates that are corrected already: what is left to draw is how far that may be off.
      const known = { ...learnedTime(learned, run.modeId, run.stockId), m: 0 };
      ratio = drawnRatio(known, this.of('time spread', series), this.of('time', series));
      this.drawn.set(series, ratio);
    }
    return forMs * Math.exp(ratio.mean + ratio.deviation * normalQuantile(this.of('time of a run', run.id)));
  }

  cared(): void {
    // Care takes the time that is set for it.
  }

  inkFactor(): number {
    return 1;
  }

  private of(kind: string, of: string): number {
    return this.draw({ night: this.night, kind, of });
  }
}
