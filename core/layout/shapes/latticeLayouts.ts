import { bestLattice, latticeRows } from './lattice.ts';
import type { ShapeBook } from './noFit.ts';
import { ShapePlacer } from './shapePlacer.ts';
import { kindsOf, makesRows } from './shapeKinds.ts';
import type { LaidShape, ShapeItem } from './shapeSearch.ts';

/** Beyond so many, what is left of full rows is not laid one by one: that would take the time that pressing needs. */
const MOST_LOOSE = 60;
/** So much of the time after the patterns what is loose must lie. */
const LOOSE_SHARE = 0.3;

export interface LatticeTime {
  /** Whether more than this share of the time is spent. */
  readonly beyond: (share: number) => boolean;
  /** When patterns are no longer looked for. */
  readonly share: number;
  /** Laying what is loose one by one would take too long. */
  readonly intricate: boolean;
}

/**
 * Layouts that begin with patterns: the copies of each shape in full rows of its densest lattice, those of another behind
 * them; what no full row is left for in part of a row, then, where there is time, each where it fits nearest the leading
 * edge. What comes of it is for pressing to begin with.
 */
export function* latticeLayouts(
  items: readonly ShapeItem[],
  book: ShapeBook,
  width: number,
  { beyond, share: wholeShare, intricate }: LatticeTime,
): Generator<LaidShape[]> {
  const kinds = kindsOf(items).sort((a, b) => b.item.area * b.members.length - a.item.area * a.members.length);
  if (!kinds.some((kind) => makesRows(kind, width))) return;
  const whole: LaidShape[] = [];
  const fullRows: LaidShape[] = [];
  const loose: number[] = [];
  let topOfWhole = 0;
  let topOfRows = 0;
  for (const [i, kind] of kinds.entries()) {
    const { item, members } = kind;
    const share = (wholeShare * (i + 1)) / kinds.length;
    const lattice = makesRows(kind, width)
      ? bestLattice(item.orientations, book, width, members.length, () => beyond(share))
      : undefined;
    if (beyond(1)) return;
    if (!lattice) {
      loose.push(...members);
      continue;
    }
    let at = 0;
    const [fromWhole, fromRows] = [topOfWhole, topOfRows];
    for (const row of latticeRows(lattice, width)) {
      const full = row.length <= members.length - at;
      for (const { orientation, x, y } of row) {
        const member = members[at];
        if (member === undefined) break;
        at += 1;
        whole.push({ item: member, orientation, x, y: y + fromWhole });
        topOfWhole = Math.max(topOfWhole, y + fromWhole + orientation.height + book.clearance);
        if (!full) {
          loose.push(member);
          continue;
        }
        fullRows.push({ item: member, orientation, x, y: y + fromRows });
        topOfRows = Math.max(topOfRows, y + fromRows + orientation.height + book.clearance);
      }
      if (at === members.length) break;
    }
    // Not one shape fits across: the caller has refused that before.
    if (at < members.length) return;
  }
  const inRows = new Set(whole.map(({ item }) => item));
  const rest = loose.filter((item) => !inRows.has(item));
  const over = (): boolean => beyond(wholeShare + LOOSE_SHARE);
  const first = laidLoose(items, rest, whole, book, width, over);
  if (first) yield first;
  if (intricate || loose.length === rest.length) return;
  const second = laidLoose(items, loose, fullRows, book, width, over);
  if (second) yield second;
}

/** Lays what is loose, the largest first, each where it fits nearest the leading edge. */
function laidLoose(
  items: readonly ShapeItem[],
  loose: readonly number[],
  laid: readonly LaidShape[],
  book: ShapeBook,
  width: number,
  over: () => boolean,
): LaidShape[] | undefined {
  if (loose.length > MOST_LOOSE) return undefined;
  const placer = new ShapePlacer(book, width);
  for (const { orientation, x, y } of laid) placer.lay(orientation, { x, y });
  const all = [...laid];
  const areaOf = (index: number): number => items[index]?.area ?? 0;
  for (const index of [...loose].sort((a, b) => areaOf(b) - areaOf(a) || a - b)) {
    if (over()) return undefined;
    const lying = placer.nearest(items[index]?.orientations ?? []);
    if (!lying) return undefined;
    placer.lay(lying.orientation, lying);
    all.push({ item: index, ...lying });
  }
  return all.sort((a, b) => a.item - b.item);
}
