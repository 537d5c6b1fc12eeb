import { turnedSize } from '../geometry/turn.ts';
import { seededRandom } from '../random.ts';
import { lowerBoundMm } from './bound.ts';
import { fromGrid, toGrid } from './grid.ts';
import { layHeld } from './heldPieces.ts';
import { packAround } from './packAround.ts';
import { type NestInput, type NestPiece, usableWidthMm } from './nestInput.ts';
import { NestSearch, type PlacedPiece } from './nestSearch.ts';
import type { SizeClass } from './skyline.ts';

/** One piece at its place: the corner nearest the origin, in the frame of the run (see geometry/frame.ts). */
export interface Placement {
  readonly id: string;
  /** 0 … copies − 1 of its piece. */
  readonly copy: number;
  readonly xMm: number;
  readonly yMm: number;
  /** Counter-clockwise; the corner is that of the turned piece. */
  readonly angleDeg: number;
}

export interface NestLayout {
  readonly lengthMm: number;
  readonly boundMm: number;
  /** Σ w·h ÷ (media width × used length). */
  readonly utilisation: number;
  /** Packings tried; the same seed and this many steps give this layout again. */
  readonly steps: number;
  readonly placements: readonly Placement[];
}

export interface NestControl {
  readonly seed: number;
  /** At most so many packings are tried. */
  readonly stepBudget: number;
  /** Asked before each step; the way in for a time limit or a person's stop. */
  readonly shouldStop?: () => boolean;
  /** Told of every better layout as it is found. */
  readonly onBetter?: (layout: NestLayout) => void;
}

interface Grouped {
  readonly classes: SizeClass[];
  /** The copies that share a class, in the order given. */
  readonly members: { readonly id: string; readonly copy: number; readonly turned: boolean }[][];
}

/**
 * Packs rectangles on a roll of fixed width, as short as it can: plain orders first, then beam searches over the whole
 * or over the tail of the best packing, each under a ceiling just below it. Anytime: the best so far is returned when
 * `shouldStop` says so, the budget is spent, or the bound is met. Pieces that are held at a place across the media lie in
 * front, the others are nested behind them.
 */
export function nestOnRoll(input: NestInput, control: NestControl): NestLayout {
  if (input.fixed.length > 0) return nestAround(input, control);
  if (!input.pieces.some((piece) => piece.held)) return nestFree(input, control);
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

/** Pieces that stay count for the length, too. */
function nestAround(input: NestInput, control: NestControl): NestLayout {
  const { fixed } = input;
  const fixedEnd = fixed.reduce((most, each) => Math.max(most, each.yMm + each.heightMm), 0);
  const boundMm = Math.max(lowerBoundMm(input), fixedEnd + input.margins.trailMm);
  const whole = (placements: readonly Placement[], steps: number): NestLayout =>
    measure(input, placements, steps, boundMm);
  const { placements, steps } = packAround(input, fixed, control, (better, at) => {
    control.onBetter?.(whole(better, at));
  });
  return whole(placements, steps);
}

function nestFree(input: NestInput, control: NestControl): NestLayout {
  const { classes, members } = group(input);
  const width = toGrid(usableWidthMm(input)) + toGrid(input.gapXMm);
  const boundMm = lowerBoundMm(input);
  const floor = Math.ceil(toGrid(boundMm - input.margins.leadMm - input.margins.trailMm) + toGrid(input.gapYMm) - 1e-6);
  let layout: NestLayout | undefined;
  const search = new NestSearch(classes, width, floor, seededRandom(control.seed), {
    spent: (steps) => steps >= control.stepBudget || (control.shouldStop?.() ?? false),
    better: (packing, steps) => {
      layout = describe(input, members, packing, steps, boundMm);
      control.onBetter?.(layout);
    },
  });
  search.run();
  if (!layout) throw new Error('the opening always packs everything once');
  return { ...layout, steps: search.steps };
}

/** Equal sizes are one class, whatever job they come from: the search then doesn't try what makes no difference. */
function group(input: NestInput): Grouped {
  const index = new Map<string, number>();
  const classes: (SizeClass & { count: number })[] = [];
  const members: Grouped['members'] = [];
  for (const piece of input.pieces) {
    const { turned, ...size } = sizeOf(piece, input);
    const key = `${size.w}|${size.h}|${size.turnedW}|${size.turnedH}|${size.turnable ? 1 : 0}`;
    const at = index.get(key) ?? classes.length;
    if (at === classes.length) {
      index.set(key, at);
      classes.push({ ...size, count: 0 });
      members.push([]);
    }
    const c = classes[at];
    if (c) c.count += piece.copies;
    for (let copy = 0; copy < piece.copies; copy++) members[at]?.push({ id: piece.id, copy, turned });
  }
  return { classes, members };
}

/** A piece's two positions with the gap; `turned` tells whether its first one is the quarter-turned one. */
function sizeOf(piece: NestPiece, input: NestInput): Omit<SizeClass, 'count'> & { readonly turned: boolean } {
  const [width, height] = [toGrid(piece.widthMm), toGrid(piece.heightMm)];
  const [gx, gy] = [toGrid(input.gapXMm), toGrid(input.gapYMm)];
  const usable = toGrid(usableWidthMm(input)) + gx;
  const upright = { w: width + gx, h: height + gy };
  const across = { w: height + gx, h: width + gy };
  const turnable = piece.quarterTurn && upright.w <= usable && across.w <= usable && width !== height;
  // The narrow position comes first where both are open: a piece and its turned twin are then one class.
  const turned = piece.quarterTurn && (upright.w > usable || (turnable && across.w < upright.w));
  const [first, second] = turned ? [across, upright] : [upright, across];
  return { ...first, turnedW: second.w, turnedH: second.h, turnable, turned };
}

function describe(
  input: NestInput,
  members: Grouped['members'],
  packing: readonly PlacedPiece[],
  steps: number,
  boundMm: number,
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
      yMm: input.margins.leadMm + fromGrid(placed.y),
      angleDeg: placed.turned !== member.turned ? 90 : 0,
    };
  });
  return measure(input, placements, steps, boundMm);
}

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
  const lengthMm = end + input.margins.trailMm;
  return { lengthMm, boundMm, utilisation: area / (input.widthMm * lengthMm), steps, placements };
}
