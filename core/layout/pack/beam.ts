import { float64At, int32At } from '../../elementAt.ts';
import type { Random } from '../../random.ts';
import { nextEnd } from './grid.ts';
import { type SizeClass, leastArea, type BeamStart } from './types.ts';

export interface BeamSettings {
  /** States kept at each level. */
  readonly breadth: number;
  /** Nothing may reach above this (grid units). */
  readonly ceiling: number;
  /** Weight of having packed much area against having lost little; around 0.1. */
  readonly greed: number;
  /** Relative noise on the guide, for variety between attempts. */
  readonly noise: number;
  /** Penalty for each step of the skyline, in shares of the mean piece. */
  readonly rough: number;
}

/** The placements after the start, in order; grid units. */
export interface BeamResult {
  readonly top: number;
  readonly entries: Int32Array;
  readonly x: Float64Array;
  readonly y: Float64Array;
}

/** States of one level, side by side in flat arrays: a level is copied from its parent level, never changed again. */
class Level {
  readonly left: Int32Array;
  readonly sx: Float64Array;
  readonly sy: Float64Array;
  readonly segments: Int32Array;
  readonly waste: Float64Array;
  readonly packed: Float64Array;
  readonly top: Float64Array;
  readonly hash: Int32Array;
  readonly narrow: Int32Array;
  size = 0;

  constructor(
    breadth: number,
    readonly n: number,
    readonly cap: number,
  ) {
    this.left = new Int32Array(breadth * n);
    this.sx = new Float64Array(breadth * cap);
    this.sy = new Float64Array(breadth * cap);
    this.segments = new Int32Array(breadth);
    this.waste = new Float64Array(breadth);
    this.packed = new Float64Array(breadth);
    this.top = new Float64Array(breadth);
    this.hash = new Int32Array(breadth);
    this.narrow = new Int32Array(breadth);
  }

  copyState(from: Level, source: number, to: number): void {
    const { n, cap } = this;
    this.left.set(from.left.subarray(source * n, source * n + n), to * n);
    const used = int32At(from.segments, source) + 1;
    this.sx.set(from.sx.subarray(source * cap, source * cap + used), to * cap);
    this.sy.set(from.sy.subarray(source * cap, source * cap + used), to * cap);
    this.segments[to] = int32At(from.segments, source);
    this.waste[to] = float64At(from.waste, source);
    this.packed[to] = float64At(from.packed, source);
    this.top[to] = float64At(from.top, source);
    this.hash[to] = int32At(from.hash, source);
    this.narrow[to] = int32At(from.narrow, source);
  }
}

/**
 * Beam search over skylines: at each level every kept state tries each piece in its lowest gap, and the best `breadth`
 * children go on. The guide is (greed + share lost) ÷ area packed: little lost, and the awkward large pieces first.
 */
export class BeamPacker {
  readonly entryCount: number;
  private readonly classOf: Int32Array;
  private readonly turnedOf: Uint8Array;
  private readonly w: Float64Array;
  private readonly h: Float64Array;
  private readonly zobrist: Int32Array;
  private readonly total: number;
  private readonly area: number;
  private readonly cap: number;
  private levels: [Level, Level] | undefined;
  private childScore = new Float64Array(0);
  private childState = new Int32Array(0);
  private childEntry = new Int32Array(0);
  private children = 0;

  constructor(
    classes: readonly SizeClass[],
    private readonly width: number,
    private readonly random: Random,
    /** No piece may cross a multiple of this: the ends of the sheets. */
    private readonly period = Infinity,
  ) {
    const entries = classes.flatMap((c, index) => [
      { index, turned: 0, w: c.w, h: c.h },
      ...(c.turnable ? [{ index, turned: 1, w: c.turnedW, h: c.turnedH }] : []),
    ]);
    entries.sort((a, b) => a.w - b.w || b.h - a.h || a.index - b.index);
    this.entryCount = entries.length;
    this.classOf = Int32Array.from(entries, (e) => e.index);
    this.turnedOf = Uint8Array.from(entries, (e) => e.turned);
    this.w = Float64Array.from(entries, (e) => e.w);
    this.h = Float64Array.from(entries, (e) => e.h);
    this.zobrist = Int32Array.from(classes, () => (random() * 4294967296) | 0);
    this.n = classes.length;
    this.total = classes.reduce((sum, c) => sum + c.count, 0);
    this.area = leastArea(classes);
    this.cap = Math.min(this.total, Math.floor(width / (entries[0]?.w ?? width))) + 4;
  }
  private readonly n: number;

  classAt(entry: number): number {
    return int32At(this.classOf, entry);
  }

  turnedAt(entry: number): boolean {
    return this.turnedOf[entry] === 1;
  }

  /**
   * @param tick called once for each state opened; returns true to give up
   * @returns the best complete packing under the ceiling, or undefined where none was found
   */
  run(start: BeamStart, settings: BeamSettings, tick: () => boolean): BeamResult | undefined {
    const depth = this.total - start.packedCount;
    const { breadth } = settings;
    const cap = this.cap + start.segments;
    if (!this.levels || this.levels[0].left.length < breadth * this.n || this.levels[0].cap < cap) {
      this.levels = [new Level(breadth, this.n, cap), new Level(breadth, this.n, cap)];
    }
    let [now, next] = this.levels;
    this.seed(now, start, settings.ceiling);
    const parents = new Int32Array(depth * breadth);
    const chosen = new Int32Array(depth * breadth);
    const xs = new Float64Array(depth * breadth);
    const ys = new Float64Array(depth * breadth);
    for (let level = 0; level < depth; level++) {
      this.children = 0;
      for (let s = 0; s < now.size; s++) {
        if (tick()) return undefined;
        this.expand(now, s, start.packedCount + level, settings);
      }
      const picked = this.pick(now, breadth);
      next.size = 0;
      for (const child of picked) {
        const to = next.size;
        next.copyState(now, int32At(this.childState, child), to);
        const entry = int32At(this.childEntry, child);
        const at = level * breadth + to;
        this.apply(next, to, entry, settings.ceiling, xs, ys, at);
        if (float64At(next.waste, to) > settings.ceiling * this.width - this.area + 0.5) continue;
        parents[at] = int32At(this.childState, child);
        chosen[at] = entry;
        next.size += 1;
      }
      if (next.size === 0) return undefined;
      [now, next] = [next, now];
    }
    let best = 0;
    for (let s = 1; s < now.size; s++) if (float64At(now.top, s) < float64At(now.top, best)) best = s;
    const result = {
      top: float64At(now.top, best),
      entries: new Int32Array(depth),
      x: new Float64Array(depth),
      y: new Float64Array(depth),
    };
    for (let level = depth - 1, s = best; level >= 0; level--) {
      const at = level * breadth + s;
      result.entries[level] = int32At(chosen, at);
      result.x[level] = float64At(xs, at);
      result.y[level] = float64At(ys, at);
      s = int32At(parents, at);
    }
    return result;
  }

  private seed(level: Level, start: BeamStart, ceiling: number): void {
    level.left.set(start.left);
    level.sx.set(start.sx.subarray(0, start.segments + 1));
    level.sy.set(start.sy.subarray(0, start.segments));
    level.segments[0] = start.segments;
    level.waste[0] = start.waste;
    level.packed[0] = start.packedArea;
    level.top[0] = Math.max(...start.sy.subarray(0, start.segments));
    level.hash[0] = 0;
    level.narrow[0] = 0;
    level.size = 1;
    this.settle(level, 0, ceiling);
  }

  private expand(level: Level, s: number, packedCount: number, settings: BeamSettings): void {
    const { w, h, classOf, n, random } = this;
    const at = lowest(level, s);
    const base = s * level.cap;
    const floor = float64At(level.sy, base + at);
    const gap = float64At(level.sx, base + at + 1) - float64At(level.sx, base + at);
    const room = Math.min(settings.ceiling, nextEnd(floor, this.period)) - floor;
    const segments = int32At(level.segments, s);
    const wallL = at > 0 ? float64At(level.sy, base + at - 1) - floor : Infinity;
    const wallR = at + 1 < segments ? float64At(level.sy, base + at + 1) - floor : Infinity;
    const least = float64At(w, int32At(level.narrow, s));
    const packed = float64At(level.packed, s);
    const waste = float64At(level.waste, s);
    const allowance = settings.ceiling * this.width - this.area;
    const mean = this.area / this.total;
    const high = wallL > wallR ? wallL : wallR;
    const low = wallL > wallR ? wallR : wallL;
    for (let e = int32At(level.narrow, s); e < this.entryCount; e++) {
      const ew = float64At(w, e);
      if (ew > gap) break;
      const eh = float64At(h, e);
      if (eh > room || level.left[s * n + int32At(classOf, e)] === 0) continue;
      const rest = gap - ew;
      // The piece stands at the wall it is level with, else at the taller one; the rest is bounded by the other wall.
      const other = eh === low && eh !== high ? high : low;
      let lost = 0;
      let steps = segments;
      if (rest > 0 && rest < least) lost = rest * (eh < other ? eh : other);
      if (rest > 0) steps += 1;
      if (eh === wallL) steps -= 1;
      if (eh === wallR && rest === 0) steps -= 1;
      else if (eh === wallR && eh !== wallL) steps -= 1;
      if (waste + lost > allowance) continue;
      const p = packed + ew * eh;
      const share = (waste + lost + settings.rough * steps * mean) / p;
      const score = ((settings.greed + share) / (p / (packedCount + 1))) * mean * (1 + settings.noise * random());
      this.addChild(score, s, e);
    }
  }

  private addChild(score: number, state: number, entry: number): void {
    if (this.children === this.childScore.length) {
      const size = Math.max(1024, this.children * 2);
      this.childScore = grown(this.childScore, new Float64Array(size));
      this.childState = grown(this.childState, new Int32Array(size));
      this.childEntry = grown(this.childEntry, new Int32Array(size));
    }
    this.childScore[this.children] = score;
    this.childState[this.children] = state;
    this.childEntry[this.children] = entry;
    this.children += 1;
  }

  /** The best children, none of which packs the same set on the same loss as another. */
  private pick(level: Level, breadth: number): number[] {
    const scores = this.childScore;
    let candidates = Array.from({ length: this.children }, (_, i) => i);
    if (this.children > breadth * 2) {
      const cut = kth(scores.slice(0, this.children), breadth * 2);
      candidates = candidates.filter((i) => float64At(scores, i) <= cut);
    }
    candidates.sort((a, b) => float64At(scores, a) - float64At(scores, b) || a - b);
    const seen = new Set<number>();
    const picked: number[] = [];
    for (const child of candidates) {
      const s = int32At(this.childState, child);
      const set =
        (int32At(level.hash, s) + int32At(this.zobrist, int32At(this.classOf, int32At(this.childEntry, child)))) | 0;
      const key =
        set * 2097152 + (int32At(level.segments, s) % 64) * 32768 + Math.floor(float64At(level.waste, s) % 32768);
      if (seen.has(key)) continue;
      seen.add(key);
      picked.push(child);
      if (picked.length === breadth) break;
    }
    return picked;
  }

  private apply(
    level: Level,
    s: number,
    e: number,
    ceiling: number,
    xs: Float64Array,
    ys: Float64Array,
    at: number,
  ): void {
    const { cap } = level;
    const base = s * cap;
    const { sx, sy } = level;
    const seg = lowest(level, s);
    const floor = float64At(sy, base + seg);
    const x0 = float64At(sx, base + seg);
    const x1 = float64At(sx, base + seg + 1);
    const w = float64At(this.w, e);
    const h = float64At(this.h, e);
    const segments = int32At(level.segments, s);
    const wallL = seg > 0 ? float64At(sy, base + seg - 1) - floor : Infinity;
    const wallR = seg + 1 < segments ? float64At(sy, base + seg + 1) - floor : Infinity;
    const right = h === wallL ? false : h === wallR ? true : wallR > wallL;
    const x = right ? x1 - w : x0;
    xs[at] = x;
    ys[at] = floor;
    if (w === x1 - x0) sy[base + seg] = floor + h;
    else if (right) insert(level, s, seg + 1, x, floor + h);
    else {
      insert(level, s, seg + 1, x0 + w, floor);
      sy[base + seg] = floor + h;
    }
    merge(level, s, seg + 1);
    merge(level, s, seg);
    if (seg > 0) merge(level, s, seg - 1);
    level.left[s * this.n + int32At(this.classOf, e)] = int32At(level.left, s * this.n + int32At(this.classOf, e)) - 1;
    level.packed[s] = float64At(level.packed, s) + w * h;
    level.top[s] = Math.max(float64At(level.top, s), floor + h);
    level.hash[s] = (int32At(level.hash, s) + int32At(this.zobrist, int32At(this.classOf, e))) | 0;
    this.settle(level, s, ceiling);
  }

  /** Gives up gaps that nothing left can fill, so that what is lost shows at once. */
  private settle(level: Level, s: number, ceiling: number): void {
    const { n, classOf, w } = this;
    let narrow = int32At(level.narrow, s);
    while (narrow < this.entryCount && level.left[s * n + int32At(classOf, narrow)] === 0) narrow += 1;
    level.narrow[s] = narrow;
    if (narrow === this.entryCount) return;
    const least = float64At(w, narrow);
    const base = s * level.cap;
    for (;;) {
      const segments = int32At(level.segments, s);
      if (segments === 1 && this.period === Infinity) return;
      const at = lowest(level, s);
      const floor = float64At(level.sy, base + at);
      const gap = float64At(level.sx, base + at + 1) - float64At(level.sx, base + at);
      const end = nextEnd(floor, this.period);
      if (gap >= least && this.anyFits(level, s, gap, Math.min(ceiling, end) - floor)) return;
      if (segments === 1 && end >= ceiling) return;
      const left = at > 0 ? float64At(level.sy, base + at - 1) : Infinity;
      const right = at + 1 < segments ? float64At(level.sy, base + at + 1) : Infinity;
      const to = Math.min(left, right, end);
      level.waste[s] = float64At(level.waste, s) + (to - floor) * gap;
      level.sy[base + at] = to;
      merge(level, s, at);
      if (at > 0) merge(level, s, at - 1);
    }
  }

  private anyFits(level: Level, s: number, gap: number, room: number): boolean {
    const { n, classOf, w, h } = this;
    for (let e = int32At(level.narrow, s); e < this.entryCount && float64At(w, e) <= gap; e++) {
      if (float64At(h, e) <= room && int32At(level.left, s * n + int32At(classOf, e)) > 0) return true;
    }
    return false;
  }
}

function lowest(level: Level, s: number): number {
  const base = s * level.cap;
  const segments = int32At(level.segments, s);
  let at = 0;
  let low = float64At(level.sy, base);
  for (let i = 1; i < segments; i++) {
    if (float64At(level.sy, base + i) < low) {
      low = float64At(level.sy, base + i);
      at = i;
    }
  }
  return at;
}

function insert(level: Level, s: number, at: number, x: number, y: number): void {
  const base = s * level.cap;
  const { sx, sy } = level;
  const segments = int32At(level.segments, s);
  for (let i = segments; i >= at; i--) sx[base + i + 1] = float64At(sx, base + i);
  for (let i = segments - 1; i >= at; i--) sy[base + i + 1] = float64At(sy, base + i);
  sx[base + at] = x;
  sy[base + at] = y;
  level.segments[s] = segments + 1;
}

function merge(level: Level, s: number, at: number): void {
  const base = s * level.cap;
  const { sx, sy } = level;
  const segments = int32At(level.segments, s);
  if (at + 1 >= segments || sy[base + at] !== sy[base + at + 1]) return;
  for (let i = at + 1; i < segments; i++) sx[base + i] = float64At(sx, base + i + 1);
  for (let i = at + 1; i < segments - 1; i++) sy[base + i] = float64At(sy, base + i + 1);
  level.segments[s] = segments - 1;
}

function grown<A extends Float64Array | Int32Array>(old: A, fresh: A): A {
  fresh.set(old);
  return fresh;
}

/** The k-th smallest value (quickselect; the array is reordered). */
function kth(values: Float64Array, k: number): number {
  let lo = 0;
  let hi = values.length - 1;
  while (lo < hi) {
    const pivot = float64At(values, (lo + hi) >> 1);
    let i = lo;
    let j = hi;
    while (i <= j) {
      while (float64At(values, i) < pivot) i += 1;
      while (float64At(values, j) > pivot) j -= 1;
      if (i <= j) {
        const t = float64At(values, i);
        values[i] = float64At(values, j);
        values[j] = t;
        i += 1;
        j -= 1;
      }
    }
    if (k <= j) hi = j;
    else if (k >= i) lo = i;
    else break;
  }
  return float64At(values, k);
}
