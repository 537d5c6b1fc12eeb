import { float64At } from '../../elementAt.ts';
import type { SizeClass } from './types.ts';

/** Distinct sides in rising order, each with the entries (class · 2 + turned) that have it. */
export interface SideIndex {
  readonly sides: Float64Array;
  readonly from: Int32Array;
  readonly entries: Int32Array;
  /** The side number of each entry, −1 where the class can't lie that way. */
  readonly of: Int32Array;
}

/** Sorts the classes of pieces by one of their sides, each upright and, where it may, turned. */
export function sideIndex(
  classes: readonly SizeClass[],
  upright: (c: SizeClass) => number,
  turned: (c: SizeClass) => number,
): SideIndex {
  const bySide = new Map<number, number[]>();
  classes.forEach((c, index) => {
    push(bySide, upright(c), index * 2);
    if (c.turnable) push(bySide, turned(c), index * 2 + 1);
  });
  const sides = Float64Array.from(bySide.keys()).sort();
  const from = new Int32Array(sides.length + 1);
  const entries: number[] = [];
  const of = new Int32Array(classes.length * 2).fill(-1);
  sides.forEach((side, s) => {
    for (const entry of bySide.get(side) ?? []) {
      entries.push(entry);
      of[entry] = s;
    }
    from[s + 1] = entries.length;
  });
  return { sides, from, entries: Int32Array.from(entries), of };
}

/** Binary search in a rising array; −1 where absent. */
export function find(sorted: Float64Array, value: number): number {
  let lo = 0;
  let hi = sorted.length - 1;
  while (lo <= hi) {
    const mid = (lo + hi) >> 1;
    if (float64At(sorted, mid) < value) lo = mid + 1;
    else if (float64At(sorted, mid) > value) hi = mid - 1;
    else return mid;
  }
  return -1;
}

function push(map: Map<number, number[]>, key: number, value: number): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}
