import { type Random, seededRandom } from '../../random.ts';
import { outlineBoundMm } from '../bound.ts';
import { type NestInput, usableLengthMm } from '../nestInput.ts';
import type { NestControl, NestLayout } from '../nestLayout.ts';
import { bestLattice, latticeRows } from './lattice.ts';
import { boxesOf, placementOf, shapesOf } from './nestShapes.ts';
import type { ShapeBook } from './noFit.ts';
import { kindsOf, makesRows } from './shapeKinds.ts';
import { type Lying, ShapePlacer } from './shapePlacer.ts';
import type { ShapeItem } from './shapeSearch.ts';

/** The nest of the rectangles takes so many steps, and where the time is known no more than this share of it. */
const BOX_STEPS = 1500;
const BOX_SHARE = 0.2;
const LATTICES_SHARE = 0.4;

/** y counts from the first place behind the sheet's lead margin. */
interface OnSheet extends Lying {
  readonly item: number;
  readonly sheet: number;
}

interface Filled {
  readonly order: readonly number[];
  readonly laid: readonly OnSheet[];
  readonly sheets: number;
  /** How far the last sheet is used. */
  readonly end: number;
}

/**
 * Nests outlines on as few sheets as it can, the last one used as little as can be: sheet by sheet, each piece where it fits
 * nearest the leading edge, in orders by size and then in orders shaken at random; copies that fill rows begin every sheet
 * with full rows of their densest pattern where that takes no more sheets. Begins with the nest of their rectangles.
 * @param rectangles nests the rectangles of the pieces on the same sheets
 */
export function nestShapesOnSheets(
  input: NestInput,
  control: NestControl,
  rectangles: (input: NestInput, control: NestControl) => NestLayout,
): NestLayout {
  const sheetMm = input.sheetMm ?? 0;
  const { width, book, items, members } = shapesOf(input);
  const length = usableLengthMm(input);
  const random = seededRandom(control.seed);
  const area = items.reduce((sum, item) => sum + item.area, 0);
  const boundMm = outlineBoundMm(input);
  let best: Filled | undefined;
  let boxed: NestLayout | undefined;
  let steps = 0;
  const sheetsNow = (): number => Math.min(best?.sheets ?? Infinity, boxed ? boxed.lengthMm / sheetMm : Infinity);
  const layoutOf = (): NestLayout => {
    if (!best) {
      if (!boxed) throw new Error('the opening always lays everything once');
      return { ...boxed, boundMm, steps, utilisation: area / (input.widthMm * boxed.lengthMm) };
    }
    const lengthMm = best.sheets * sheetMm;
    const placements = best.laid.map((shape) => {
      const placed = placementOf(input, members[shape.item], shape);
      return { ...placed, yMm: placed.yMm + shape.sheet * sheetMm };
    });
    return { lengthMm, boundMm, utilisation: area / (input.widthMm * lengthMm), steps, placements };
  };
  const over = (): boolean => steps >= control.stepBudget || (control.shouldStop?.() ?? false);
  const spentShare = control.spentShare ?? (() => steps / control.stepBudget);
  const boxes = boxesOf(input);
  if (boxes) {
    boxed = rectangles(boxes, {
      seed: control.seed,
      stepBudget: Math.min(BOX_STEPS, control.stepBudget),
      shouldStop: () => spentShare() > BOX_SHARE || (control.shouldStop?.() ?? false),
    });
    control.onBetter?.(layoutOf());
  }
  const lattices = new Map<ShapeItem, readonly (readonly Lying[])[]>();
  const fill = new SheetFill(items, book, width, length);
  const keep = (filled: Filled | undefined): boolean => {
    if (!filled) return false;
    const fewer = filled.sheets < sheetsNow();
    const less = best && filled.sheets === best.sheets && filled.end < best.end - 1e-9;
    // As many sheets as the rectangles take are kept, too: from there on there is an order to be shaken.
    const first = !best && filled.sheets === sheetsNow();
    if (!fewer && less !== true && !first) return false;
    best = filled;
    control.onBetter?.(layoutOf());
    return true;
  };
  const hurry = (): boolean => boxed !== undefined && over();
  for (const order of openings(items)) {
    if (hurry()) return layoutOf();
    keep(fill.run(order, lattices, hurry));
    steps += 1;
  }
  for (const kind of kindsOf(items)) {
    if (!makesRows(kind, width) || hurry()) continue;
    const { item, members: own } = kind;
    const enough = (): boolean => spentShare() > LATTICES_SHARE || over();
    const lattice = bestLattice(item.orientations, book, width, own.length, enough);
    if (!lattice) continue;
    const rows: Lying[][] = [];
    for (const row of latticeRows(lattice, width)) {
      if (row.some(({ y, orientation }) => y + orientation.height > length + 1e-9)) break;
      rows.push(row);
    }
    lattices.set(item, rows);
  }
  let order = best?.order ?? openings(items)[0] ?? [];
  if (lattices.size > 0) keep(fill.run(order, lattices, hurry));
  while (!over() && items.length > 1) {
    steps += 1;
    const next = shaken(order, random);
    const usesRows = lattices.size > 0 && random() < 0.5;
    if (keep(fill.run(next, usesRows ? lattices : NONE, hurry))) order = next;
  }
  return layoutOf();
}

const NONE: ReadonlyMap<ShapeItem, readonly (readonly Lying[])[]> = new Map();

class SheetFill {
  constructor(
    private readonly items: readonly ShapeItem[],
    private readonly book: ShapeBook,
    private readonly width: number,
    private readonly length: number,
  ) {}

  /** Everything in this order, sheet by sheet; undefined where the time is over before that. */
  run(
    order: readonly number[],
    lattices: ReadonlyMap<ShapeItem, readonly (readonly Lying[])[]>,
    hurry: () => boolean,
  ): Filled | undefined {
    const laid: OnSheet[] = [];
    let left = [...order];
    let end = 0;
    let sheet = 0;
    for (; left.length > 0; sheet++) {
      const placer = new ShapePlacer(this.book, this.width);
      end = 0;
      const put = (item: number, { orientation, x, y }: Lying): void => {
        placer.lay(orientation, { x, y });
        laid.push({ item, orientation, x, y, sheet });
        end = Math.max(end, y + orientation.height);
      };
      left = this.rowsFirst(left, lattices, put);
      const rest: number[] = [];
      // What one copy has no room for, no other has either: the sheet only gets fuller.
      const full = new Set<ShapeItem>();
      for (const index of left) {
        if (hurry()) return undefined;
        const item = this.items[index];
        const spot = item && !full.has(item) ? placer.nearest(item.orientations, this.length) : undefined;
        if (item && spot) put(index, spot);
        else {
          rest.push(index);
          if (item) full.add(item);
        }
      }
      // Parsed requests have no piece that an empty sheet doesn't hold.
      if (rest.length === left.length && end === 0) throw new Error('a piece fits on no sheet');
      left = rest;
    }
    return { order, laid, sheets: sheet, end };
  }

  /** Full rows of the first kind in the order that has a pattern; @returns what is left */
  private rowsFirst(
    left: readonly number[],
    lattices: ReadonlyMap<ShapeItem, readonly (readonly Lying[])[]>,
    put: (item: number, lying: Lying) => void,
  ): number[] {
    const first = left.find((index) => lattices.has(this.items[index] ?? NO_ITEM));
    const kind = first === undefined ? undefined : this.items[first];
    if (!kind) return [...left];
    const own = left.filter((index) => this.items[index] === kind);
    let at = 0;
    for (const row of lattices.get(kind) ?? []) {
      if (row.length > own.length - at) break;
      for (const lying of row) {
        const index = own[at];
        if (index !== undefined) put(index, lying);
        at += 1;
      }
    }
    const taken = new Set(own.slice(0, at));
    return left.filter((index) => !taken.has(index));
  }
}

const NO_ITEM: ShapeItem = { orientations: [], area: 0 };

function openings(items: readonly ShapeItem[]): number[][] {
  const measures: ((item: ShapeItem) => number)[] = [
    (item) => item.area,
    (item) => Math.max(...item.orientations.map(({ height }) => height)),
    (item) => Math.min(...item.orientations.map((orientation) => orientation.width * orientation.height)),
  ];
  return measures.map((measure) => {
    const sizes = items.map(measure);
    return items.map((_, i) => i).sort((a, b) => (sizes[b] ?? 0) - (sizes[a] ?? 0) || a - b);
  });
}

function shaken(order: readonly number[], random: Random): number[] {
  const next = [...order];
  for (let n = 1 + Math.floor(random() * 3); n > 0; n--) {
    const moved = next.splice(Math.floor(random() * next.length), 1);
    next.splice(Math.floor(random() * (next.length + 1)), 0, ...moved);
  }
  return next;
}
