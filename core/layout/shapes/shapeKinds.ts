import type { ShapeItem } from './shapeSearch.ts';

/** Copies of one shape. */
export interface ShapeKind {
  readonly item: ShapeItem;
  /** Numbers of the items. */
  readonly members: readonly number[];
}

/** Copies that fill fewer rows than this make no pattern. */
const FEWEST_ROWS = 2;

/** Items that share their orientations are copies of one shape. */
export function kindsOf(items: readonly ShapeItem[]): ShapeKind[] {
  const kinds = new Map<ShapeItem, number[]>();
  for (const [index, item] of items.entries()) {
    const same = kinds.get(item);
    if (same) same.push(index);
    else kinds.set(item, [index]);
  }
  return [...kinds].map(([item, members]) => ({ item, members }));
}

/** Whether there are enough copies for a pattern to be worth looking for on media of this width (mm). */
export function makesRows({ item, members }: ShapeKind, width: number): boolean {
  const narrowest = Math.min(...item.orientations.map((orientation) => orientation.width));
  return members.length * narrowest >= FEWEST_ROWS * width;
}
