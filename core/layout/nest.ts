import { turnedSize } from '../geometry/turn.ts';
import { seededRandom } from '../random.ts';
import { lowerBoundMm } from './bound.ts';
import { fromGrid, toGrid } from './pack/grid.ts';
import { usedLengthMm } from './layoutFigures.ts';
import { layHeld } from './pack/heldPieces.ts';
import { nestBlocks } from './pack/blocks.ts';
import { fillPlaces } from './sheets/gridSheet.ts';
import type { SheetPlaces } from './sheets/sheetPlaces.ts';
import { GroupSearch } from './pack/groupSearch.ts';
import { GuillotineSearch } from './pack/guillotine.ts';
import { rowBound } from './pack/rowBound.ts';
import { rowsInOrder } from './pack/orderedRows.ts';
import { packAround } from './pack/packAround.ts';
import type { NestPiece } from './nestPiece.ts';
import { type NestInput, fittingOrientations, usableLengthMm, usableWidthMm } from './nestInput.ts';
import { type SizeClass, leastArea, type PlacedPiece } from './pack/types.ts';
import { nestShapesOnSheets } from './shapes/shapeSheets.ts';
import { nestShapes } from './shapes/nestShapes.ts';
import { NestSearch, type SearchHooks } from './pack/nestSearch.ts';
import type { Placement, NestLayout, NestControl } from './nestLayout.ts';

/** Up to so many kinds the bound by rows is found within some milliseconds; of more it is what their area says. */
const FEW_KINDS = 24;

interface Grouped {
  readonly classes: SizeClass[];
  /** The copies that share a class, in the order given. */
  readonly members: { readonly id: string; readonly copy: number; readonly angles: readonly [number, number] }[][];
  /** Of each class. */
  readonly groups: number[];
  /** Class of each copy, in the order given. */
  readonly sequence: number[];
}

/**
 * Packs rectangles on a roll of fixed width, as short as it can, or on as few sheets: plain orders first, then beam searches
 * over the whole or over the tail of the best packing, each under a ceiling just below it. Anytime: the best so far is
 * returned when `shouldStop` says so, the budget is spent, or the bound is met. Pieces that are held at a place across the
 * media lie in front, the others are nested behind them. Rules of order, of straight cuts and of copies that stay together
 * are kept by kernels of their own. Around pieces that stay, order is kept by groups only and straight cuts are not.
 */
export function nest(input: NestInput, control: NestControl): NestLayout {
  if (input.places) return nestPlaces(input, input.places, control);
  if (input.pieces.some((piece) => piece.outline)) {
    if (input.sheetMm !== null) return nestShapesOnSheets(input, control, nestLoose);
    return nestShapes(input, control, input.fixed.length > 0 ? nestAround : nestLoose);
  }
  const held = input.pieces.some((piece) => piece.held);
  if (input.fixed.length > 0 || (held && input.sheetMm !== null)) return nestAround(input, control);
  if (!held) return nestFree(input, control);
  const { placements, rest } = layHeld(input);
  const boundMm = lowerBoundMm(input);
  const whole = (free: readonly Placement[], steps: number): NestLayout =>
    measure(input, [...placements, ...free], steps, boundMm);
  if (rest.pieces.length === 0) return whole([], 0);
  const { onBetter } = control;
  const layout = nestFree(rest, {
    ...control,
    ...(onBetter
      ? {
          onBetter: (better) => {
            onBetter(whole(better.placements, better.steps));
          },
        }
      : {}),
  });
  return whole(layout.placements, layout.steps);
}

/** Nothing is searched for: the places say it all. */
function nestPlaces(input: NestInput, places: SheetPlaces, control: NestControl): NestLayout {
  const layout = measure(input, fillPlaces(input, places), 1, lowerBoundMm(input));
  control.onBetter?.(layout);
  return layout;
}

/** Pieces that stay count for the length, too. */
function nestAround(input: NestInput, control: NestControl): NestLayout {
  const { fixed } = input;
  const fixedEnd = fixed.reduce((most, each) => Math.max(most, each.yMm + each.heightMm), 0);
  const { sheetMm, margins } = input;
  const least = sheetMm === null ? fixedEnd + margins.trailMm : Math.ceil(fixedEnd / sheetMm - 1e-9) * sheetMm;
  const boundMm = Math.max(lowerBoundMm(input), least);
  const whole = (placements: readonly Placement[], steps: number): NestLayout =>
    measure(input, placements, steps, boundMm);
  const { placements, steps } = packAround(input, fixed, control, (better, at) => {
    control.onBetter?.(whole(better, at));
  });
  return whole(placements, steps);
}

function nestFree(input: NestInput, control: NestControl): NestLayout {
  if (input.pieces.some((piece) => piece.together === true && piece.copies > 1)) {
    return nestBlocks(input, control, nestLoose);
  }
  return nestLoose(input, control);
}

/** Copies go where they fit. */
function nestLoose(input: NestInput, control: NestControl): NestLayout {
  const grouped = group(input);
  const { classes, members, groups } = grouped;
  const gy = toGrid(input.gapYMm);
  const width = toGrid(usableWidthMm(input)) + toGrid(input.gapXMm);
  const period = input.sheetMm === null ? Infinity : toGrid(usableLengthMm(input)) + gy;
  const { margins, sheetMm } = input;
  let boundMm = lowerBoundMm(input);
  const floorOfRoll = (): number => Math.ceil(toGrid(boundMm - margins.leadMm - margins.trailMm) + gy - 1e-6);
  const floor =
    sheetMm === null
      ? floorOfRoll()
      : Math.max(Math.ceil(leastArea(classes) / width), (Math.round(boundMm / sheetMm) - 1) * period + 1);
  const found: { layout?: NestLayout; proven?: boolean } = {};
  const hooks: SearchHooks = {
    spent: (steps) => steps >= control.stepBudget || (control.shouldStop?.() ?? false),
    better: (packing, steps) => {
      found.layout = describe(input, members, packing, steps, boundMm, period);
      control.onBetter?.(found.layout);
    },
    sharperFloor: () => {
      if (sheetMm !== null || classes.length > FEW_KINDS) return floor;
      boundMm = Math.max(boundMm, margins.leadMm + fromGrid(rowBound(classes, width) - gy) + margins.trailMm);
      return floorOfRoll();
    },
    proven: () => {
      found.proven = true;
    },
  };
  const random = seededRandom(control.seed);
  if (input.order === 'given') {
    hooks.better(rowsInOrder(classes, grouped.sequence, width, period), 1);
    return laidOut(found.layout, 1);
  }
  const search = input.straightCuts
    ? new GuillotineSearch(classes, groups, width, floor, random, hooks, period)
    : input.order === 'groups' && new Set(groups).size > 1
      ? new GroupSearch(classes, groups, width, floor, random, hooks, period)
      : new NestSearch(classes, width, floor, random, hooks, period);
  search.run();
  const layout = laidOut(found.layout, search.steps);
  return { ...layout, boundMm: found.proven ? Math.max(boundMm, layout.lengthMm) : boundMm };
}

function laidOut(layout: NestLayout | undefined, steps: number): NestLayout {
  if (!layout) throw new Error('the opening always packs everything once');
  return { ...layout, steps };
}

/** Equal sizes are one class, whatever job they come from: the search then doesn't try what makes no difference. */
function group(input: NestInput): Grouped {
  const index = new Map<string, number>();
  const classes: (SizeClass & { count: number })[] = [];
  const members: Grouped['members'] = [];
  const groups: number[] = [];
  const sequence: number[] = [];
  for (const piece of input.pieces) {
    const { angles, ...size } = sizeOf(piece, input);
    const own = input.order === 'groups' ? (piece.group ?? 0) : 0;
    const key = `${size.w}|${size.h}|${size.turnedW}|${size.turnedH}|${size.turnable ? 1 : 0}|${own}`;
    const at = index.get(key) ?? classes.length;
    if (at === classes.length) {
      index.set(key, at);
      classes.push({ ...size, count: 0 });
      members.push([]);
      groups.push(own);
    }
    const c = classes[at];
    if (c) c.count += piece.copies;
    for (let copy = 0; copy < piece.copies; copy++) {
      members[at]?.push({ id: piece.id, copy, angles });
      sequence.push(at);
    }
  }
  return { classes, members, groups, sequence };
}

/** A piece's two positions with the gap, and the angle of each. */
function sizeOf(
  piece: NestPiece,
  input: NestInput,
): Omit<SizeClass, 'count'> & { readonly angles: readonly [number, number] } {
  const [gx, gy] = [toGrid(input.gapXMm), toGrid(input.gapYMm)];
  const orientations = fittingOrientations(input, piece).map(({ angleDeg, widthMm, heightMm }) => ({
    angleDeg,
    w: toGrid(widthMm) + gx,
    h: toGrid(heightMm) + gy,
  }));
  // The narrow position comes first where both are open: a piece and its turned twin are then one class.
  orientations.sort((a, b) => a.w - b.w);
  const [first, second] = orientations;
  if (!first) throw new Error(`${piece.id} fits nowhere; requests are parsed before`);
  const turnable = second !== undefined && second.w !== first.w;
  const other = turnable ? second : { angleDeg: first.angleDeg, w: first.h - gy + gx, h: first.w - gx + gy };
  return {
    w: first.w,
    h: first.h,
    turnedW: other.w,
    turnedH: other.h,
    turnable,
    angles: [first.angleDeg, other.angleDeg],
  };
}

function describe(
  input: NestInput,
  members: Grouped['members'],
  packing: readonly PlacedPiece[],
  steps: number,
  boundMm: number,
  period: number,
): NestLayout {
  const byPlace = [...packing].sort((a, b) => a.y - b.y || a.x - b.x);
  const next = members.map(() => 0);
  const placements = byPlace.map((placed): Placement => {
    const at = placed.classIndex;
    const member = members[at]?.[next[at] ?? 0];
    next[at] = (next[at] ?? 0) + 1;
    if (!member) throw new Error('more pieces placed than given');
    return {
      id: member.id,
      copy: member.copy,
      xMm: input.margins.leftMm + fromGrid(placed.x),
      yMm: alongMm(input, placed.y, period),
      angleDeg: member.angles[placed.turned ? 1 : 0],
    };
  });
  return measure(input, placements, steps, boundMm);
}

/** Sheets lie end to end, each with its own margins. */
function alongMm({ margins, sheetMm }: NestInput, y: number, period: number): number {
  if (sheetMm === null) return margins.leadMm + fromGrid(y);
  const sheet = Math.floor(y / period);
  return sheet * sheetMm + margins.leadMm + fromGrid(y - sheet * period);
}

/** A layout with its figures: used length to the last piece and its trail margin, on sheets to the end of the last one. */
function measure(input: NestInput, placements: readonly Placement[], steps: number, boundMm: number): NestLayout {
  const sizes = new Map(input.pieces.map((piece) => [piece.id, piece]));
  let end = 0;
  let area = 0;
  for (const { yMm, widthMm, heightMm } of input.fixed) {
    end = Math.max(end, yMm + heightMm);
    area += widthMm * heightMm;
  }
  for (const placement of placements) {
    const piece = sizes.get(placement.id);
    if (!piece) continue;
    end = Math.max(end, placement.yMm + turnedSize(piece.widthMm, piece.heightMm, placement.angleDeg).heightMm);
    area += piece.widthMm * piece.heightMm;
  }
  const lengthMm = usedLengthMm(input, end);
  return { lengthMm, boundMm, utilisation: area / (input.widthMm * lengthMm), steps, placements };
}
