import { itemAt } from '../../elementAt.ts';
import type { Random } from '../../random.ts';
import { nextEnd } from './grid.ts';
import type { PlacedPiece, SizeClass } from './types.ts';
import type { SearchHooks } from './nestSearch.ts';

interface Space {
  readonly x: number;
  readonly y: number;
  readonly w: number;
  readonly h: number;
}

/** How an attempt decides; all of it is varied from one to the next. */
interface Manner {
  /** Which way a shelf is opened where both are possible. */
  readonly shelfTurned: boolean;
  /** Which of the two cuts beside a piece goes through first: the one that leaves the larger rest in one, or its contrary. */
  readonly largerRest: boolean;
  /** Best fit by the shorter rest, else by area. */
  readonly shortRest: boolean;
}

/*
 * Straight cuts only: a piece is laid into the corner of a free rectangle, and what is left of it is parted by one cut
 * that goes right through:
 *
 *      ┌────────────┐        ┌────┬───────┐
 *      │    rest    │        │rest│       │
 *      ├────┬───────┤   or   ├────┤ rest  │
 *      │ p  │ rest  │        │ p  │       │
 *      └────┴───────┘        └────┴───────┘
 *
 * Where nothing fits, a shelf is opened across the whole width. So every piece can be cut free straight through.
 */
export class GuillotineSearch {
  steps = 0;
  private top = Infinity;

  constructor(
    private readonly classes: readonly SizeClass[],
    /** Group of each class; a later group lies on no shelf before the last one of an earlier group. */
    private readonly groups: readonly number[],
    private readonly width: number,
    private readonly floor: number,
    private readonly random: Random,
    private readonly hooks: SearchHooks,
    private readonly period = Infinity,
  ) {}

  run(): void {
    const copies = this.classes.flatMap((c, index) => Array.from({ length: c.count }, () => index));
    const orders = MEASURES.map((measure) => this.sorted(copies, (c) => measure(itemAt(this.classes, c))));
    let best = orders[0] ?? copies;
    let manner = itemAt(MANNERS, 0);
    for (let attempt = 0; this.top > this.floor; attempt++) {
      if (this.top < Infinity && this.hooks.spent(this.steps)) return;
      const fresh = orders.length * MANNERS.length;
      const order =
        attempt < fresh
          ? itemAt(orders, attempt % orders.length)
          : attempt % 4 === 0
            ? this.noisy(copies)
            : this.shaken(best);
      const tried =
        attempt < fresh
          ? itemAt(MANNERS, Math.floor(attempt / orders.length))
          : this.random() < 0.7
            ? manner
            : itemAt(MANNERS, Math.floor(this.random() * MANNERS.length));
      const { placed, top } = this.lay(order, tried);
      this.steps += 1;
      if (top >= this.top) continue;
      this.top = top;
      best = order;
      manner = tried;
      this.hooks.better(placed, this.steps);
    }
  }

  /** Larger ones first within each group; ties as they came. */
  private sorted(copies: readonly number[], key: (index: number) => number): number[] {
    return [...copies].sort((a, b) => itemAt(this.groups, a) - itemAt(this.groups, b) || key(b) - key(a));
  }

  private noisy(copies: readonly number[]): number[] {
    const measure = itemAt(MEASURES, Math.floor(this.random() * MEASURES.length));
    const keys = this.classes.map((c) => measure(c) * (0.7 + 0.6 * this.random()));
    return this.sorted(copies, (index) => itemAt(keys, index));
  }

  /** A few pieces come earlier or later; groups stay in their order. */
  private shaken(order: readonly number[]): number[] {
    const next = [...order];
    for (let n = 1 + Math.floor(this.random() * 3); n > 0; n--) {
      const from = Math.floor(this.random() * next.length);
      const to = Math.floor(this.random() * next.length);
      if (this.groups[itemAt(next, from)] !== this.groups[itemAt(next, to)]) continue;
      const [moved] = next.splice(from, 1);
      if (moved !== undefined) next.splice(to, 0, moved);
    }
    return next;
  }

  private lay(order: readonly number[], manner: Manner): { readonly placed: PlacedPiece[]; readonly top: number } {
    let spaces: Space[] = [];
    const placed: PlacedPiece[] = [];
    let shelfTop = 0;
    let shelfAt = 0;
    let group = this.groups[order[0] ?? 0];
    for (const classIndex of order) {
      if (this.groups[classIndex] !== group) {
        group = this.groups[classIndex];
        spaces = spaces.filter(({ y }) => y >= shelfAt);
      }
      const c = itemAt(this.classes, classIndex);
      let found = bestSpace(spaces, c, manner);
      if (!found) {
        const turned = c.turnable && (manner.shelfTurned || c.w > this.width) && c.turnedW <= this.width;
        const h = turned ? c.turnedH : c.h;
        const end = nextEnd(shelfTop, this.period);
        shelfAt = shelfTop + h > end ? end : shelfTop;
        shelfTop = shelfAt + h;
        spaces.push({ x: 0, y: shelfAt, w: this.width, h });
        found = { at: spaces.length - 1, turned };
      }
      const [space] = spaces.splice(found.at, 1);
      if (!space) throw new Error('a space that was found is there');
      const [w, h] = found.turned ? [c.turnedW, c.turnedH] : [c.w, c.h];
      placed.push({ classIndex, turned: found.turned, x: space.x, y: space.y });
      spaces.push(...rests(space, w, h, manner.largerRest));
      if (shelfTop >= this.top) return { placed, top: Infinity };
    }
    return { placed, top: shelfTop };
  }
}

const MEASURES: readonly ((c: SizeClass) => number)[] = [
  (c) => c.h,
  (c) => c.w * c.h,
  (c) => Math.max(c.w, c.h),
  (c) => c.w,
  (c) => (c.turnable ? Math.min(c.h, c.turnedH) : c.h),
];

const MANNERS: readonly Manner[] = [true, false].flatMap((shortRest) =>
  [true, false].flatMap((largerRest) => [true, false].map((shelfTurned) => ({ shelfTurned, largerRest, shortRest }))),
);

function bestSpace(
  spaces: readonly Space[],
  c: SizeClass,
  { shortRest }: Manner,
): { readonly at: number; readonly turned: boolean } | undefined {
  let at = -1;
  let turned = false;
  let best = Infinity;
  for (let i = 0; i < spaces.length; i++) {
    const space = itemAt(spaces, i);
    for (let way = 0; way < (c.turnable ? 2 : 1); way++) {
      const w = way === 1 ? c.turnedW : c.w;
      const h = way === 1 ? c.turnedH : c.h;
      if (w > space.w || h > space.h) continue;
      const score = shortRest ? Math.min(space.w - w, space.h - h) : space.w * space.h - w * h;
      if (score < best) {
        best = score;
        at = i;
        turned = way === 1;
      }
    }
  }
  return at < 0 ? undefined : { at, turned };
}

/** The two rectangles that a straight cut leaves of a space; `largerRest` says which of the two cuts. */
function rests(space: Space, w: number, h: number, largerRest: boolean): Space[] {
  const right = space.w - w;
  const above = space.h - h;
  // The cut along the piece's upper edge leaves the whole width above; the other one the whole height beside it.
  const across = Math.max(space.w * above, right * h) >= Math.max(w * above, right * space.h);
  const parts: Space[] =
    across === largerRest
      ? [
          { x: space.x, y: space.y + h, w: space.w, h: above },
          { x: space.x + w, y: space.y, w: right, h },
        ]
      : [
          { x: space.x, y: space.y + h, w, h: above },
          { x: space.x + w, y: space.y, w: right, h: space.h },
        ];
  return parts.filter((part) => part.w > 0 && part.h > 0);
}
