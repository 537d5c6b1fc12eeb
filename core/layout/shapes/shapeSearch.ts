import { itemAt } from '../../elementAt.ts';
import { type Outline, areaMm2 } from '../../geometry/polygon.ts';
import type { Random } from '../../random.ts';
import type { ShapeBook, Orientation } from './noFit.ts';
import { type Lying, ShapePlacer } from './shapePlacer.ts';

/** One outline to be laid; equal ones share their orientations. */
export interface ShapeItem {
  readonly orientations: readonly Orientation[];
  readonly area: number;
}

export interface LaidShape extends Lying {
  /** Number of the item. */
  readonly item: number;
}

export interface ShapeHooks {
  readonly spent: (steps: number) => boolean;
  readonly better: (laid: readonly LaidShape[], length: number, steps: number) => void;
}

type Measure = (item: ShapeItem) => number;
const least = (item: ShapeItem, of: (orientation: Orientation) => number): number =>
  Math.min(...item.orientations.map(of));
const MEASURES: readonly Measure[] = [
  (item) => item.area,
  (item) => Math.max(...item.orientations.map((s) => s.height)),
  (item) => Math.max(...item.orientations.map((s) => s.width)),
  (item) => least(item, (s) => s.width * s.height),
  (item) => least(item, (s) => s.height),
];

/** How a orientation is chosen: by where the piece begins, where it ends, or between. */
const ENDS: readonly number[] = [1, 0.5, 0];

/** Items that share an outline and the angles allowed share their orientations. */
export function shapeItems(
  book: ShapeBook,
  pieces: readonly { readonly outline: Outline; readonly angles: readonly number[]; readonly copies: number }[],
  width: number,
): ShapeItem[] {
  return pieces.flatMap(({ outline, angles, copies }) => {
    const orientations = angles
      .map((angle) => book.orientationOf(outline, angle))
      .filter((s) => s.width <= width + 1e-6);
    const item = { orientations, area: areaMm2(outline) };
    return Array.from({ length: copies }, () => item);
  });
}

interface Attempt {
  readonly order: readonly number[];
  readonly ends: number;
}

interface Outcome extends Attempt {
  readonly laid: readonly LaidShape[];
  readonly length: number;
  /** Smaller is better where two are equally long: how far all pieces reach together. */
  readonly reach: number;
}

/**
 * Nests outlines on a strip, as short as it can: orders by size first, then the best order changed a little at a time. What
 * lies before the first change is kept, only the rest is laid anew.
 */
export class ShapeSearch {
  steps = 0;
  private readonly placer: ShapePlacer;
  /** What the placer holds now, in order. */
  private held: LaidShape[] = [];
  private heldEnds = -1;

  constructor(
    private readonly items: readonly ShapeItem[],
    book: ShapeBook,
    width: number,
    private readonly floor: number,
    private readonly random: Random,
    private readonly hooks: ShapeHooks,
    /** There is a layout already: none need be found when time is short. */
    private readonly optional = false,
    /** What stays where it lies: the others go around it. */
    private readonly fixed: readonly Lying[] = [],
  ) {
    this.placer = new ShapePlacer(book, width);
    for (const shape of fixed) this.placer.lay(shape.orientation, shape);
  }

  run(): void {
    let best: Outcome | undefined;
    let now: Outcome | undefined;
    const openings = MEASURES.flatMap((measure) => ENDS.map((ends) => ({ order: this.sorted(measure), ends })));
    const must = (): boolean => !best && !this.optional;
    for (let n = 0; must() || ((best?.length ?? Infinity) > this.floor && !this.hooks.spent(this.steps)); n++) {
      const opening = openings[n];
      // The openings come first: by the time that they are over there is one to change.
      const from = now ?? best;
      const next = opening ?? (from && this.changed(from));
      if (!next) break;
      const outcome = this.lay(next, opening ? Infinity : (now?.length ?? Infinity));
      if (!outcome) continue;
      const slack = opening ? 0 : this.slack(n);
      if (!now || better(outcome, now, slack)) now = outcome;
      if (!best || better(outcome, best, 0)) {
        const shorter = !best || outcome.length < best.length - 1e-9;
        best = outcome;
        if (shorter) this.hooks.better(outcome.laid, outcome.length, this.steps);
      }
      // After a while without luck the search goes on from the best again.
      if (!opening && n % 120 === 0) now = best;
    }
  }

  /** How much longer a layout may be and still be gone on from: less and less. */
  private slack(n: number): number {
    return 0.004 * this.random() * Math.max(0, 1 - (n % 120) / 100);
  }

  private sorted(measure: Measure): number[] {
    return this.items
      .map((_, i) => i)
      .sort((a, b) => measure(itemAt(this.items, b)) - measure(itemAt(this.items, a)) || a - b);
  }

  private changed({ order, ends, laid }: Outcome): Attempt {
    const next = [...order];
    const kind = this.random();
    const any = (): number => Math.floor(this.random() * next.length);
    if (kind < 0.4) {
      const [a, b] = [any(), any()];
      [next[a], next[b]] = [itemAt(next, b), itemAt(next, a)];
    } else if (kind < 0.75) {
      const moved = next.splice(any(), 1);
      next.splice(any(), 0, ...moved);
    } else {
      // What reaches farthest comes earlier.
      let far = 0;
      laid.forEach(({ y, orientation }, i) => {
        if (y + orientation.height > itemAt(laid, far).y + itemAt(laid, far).orientation.height) far = i;
      });
      const moved = next.splice(far, 1);
      next.splice(Math.floor(this.random() * (far + 1)), 0, ...moved);
    }
    return { order: next, ends: this.random() < 0.1 ? itemAt(ENDS, Math.floor(this.random() * ENDS.length)) : ends };
  }

  private lay({ order, ends }: Attempt, most: number): Outcome | undefined {
    const { placer, items } = this;
    let kept = 0;
    if (ends === this.heldEnds)
      while (kept < this.held.length && itemAt(this.held, kept).item === order[kept]) kept += 1;
    placer.cutBack(this.fixed.length + kept);
    this.held.length = kept;
    this.heldEnds = ends;
    const limit = most === Infinity ? Infinity : most * 1.004;
    for (let k = kept; k < order.length; k++) {
      // One round of many intricate pieces can take longer than all the time there is.
      if (this.optional && this.hooks.spent(this.steps)) return undefined;
      const index = itemAt(order, k);
      let best: LaidShape | undefined;
      let bestScore = Infinity;
      for (const orientation of itemAt(items, index).orientations) {
        const reach = Math.min(limit - orientation.height, bestScore - ends * orientation.height);
        const spot = placer.lowest(orientation, reach);
        if (!spot) continue;
        const score = spot.y + ends * orientation.height;
        if (score >= bestScore - 1e-9) continue;
        bestScore = score;
        best = { item: index, orientation, ...spot };
      }
      this.steps += 1;
      if (!best) return undefined;
      placer.lay(best.orientation, best);
      this.held.push(best);
    }
    const tops = this.held.map(({ y, orientation }) => y + orientation.height);
    const fixedTops = this.fixed.map(({ y, orientation }) => y + orientation.height);
    return {
      order,
      ends,
      laid: [...this.held],
      length: Math.max(...tops, ...fixedTops),
      reach: tops.reduce((sum, top, i) => sum + top * itemAt(items, itemAt(this.held, i).item).area, 0),
    };
  }
}

function better(a: Outcome, b: Outcome, slack: number): boolean {
  const allowed = b.length * (1 + slack);
  return a.length < allowed - 1e-9 || (a.length <= allowed + 1e-9 && a.reach < b.reach - 1e-9);
}
