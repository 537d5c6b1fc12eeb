import { type Result, ok, refuse } from '../result.ts';
import { withContour } from '../contour/contourOf.ts';
import { type TileRefusal, planTiles } from '../layout/arrange/tiles.ts';
import { type SizeRefusal, sizeOf } from './sizeRule.ts';
import type { Sides, TicketValues } from './ticket.ts';
import type { FinishedPage, SourcePage } from './finishedPage.ts';

export type FinishValues = Pick<TicketValues, 'size' | 'crop' | 'bleedMm' | 'turn' | 'mirror' | 'tiles' | 'contour'>;

/** Sizes beyond these are a slip of the finger, not a print (mm). */
const LEAST_MM = 1;
const MOST_MM = 1e6;

export type FinishRefusal =
  SizeRefusal | TileRefusal | { readonly code: 'out-of-range'; readonly widthMm: number; readonly heightMm: number };

/** Applies a ticket to a page. `usableWidthMm` is W of the stock on its printer. */
export function finishPage(
  page: SourcePage,
  values: FinishValues,
  usableWidthMm: number,
): Result<FinishedPage, FinishRefusal> {
  const whole = finishWhole(page, values, usableWidthMm);
  // A contour that the file lacks is told by the check; so is one together with panels, which have none.
  if (!whole.ok || !values.tiles) return whole;
  const panels = planTiles(outsideOf(whole.value), usableWidthMm, values.tiles);
  if (!panels.ok) return panels;
  return panels.value.length > 1 ? ok({ ...whole.value, panels: panels.value }) : whole;
}

/** Size with bleed, as it lies. */
export function outsideOf({ widthMm, heightMm, bleed }: Pick<FinishedPage, 'widthMm' | 'heightMm' | 'bleed'>): {
  readonly widthMm: number;
  readonly heightMm: number;
} {
  return { widthMm: widthMm + bleed.leftMm + bleed.rightMm, heightMm: heightMm + bleed.topMm + bleed.bottomMm };
}

function finishWhole(
  page: SourcePage,
  values: FinishValues,
  usableWidthMm: number,
): Result<FinishedPage, FinishRefusal> {
  if (values.turn !== 'best') return finishTurned(page, values, values.turn, usableWidthMm);
  const both = ([0, 90] as const).map((turn) => finishTurned(page, values, turn, usableWidthMm));
  const [upright, turned] = both;
  if (!upright?.ok || !turned?.ok) return upright ?? refuse({ code: 'no-size' });
  const across = (f: FinishedPage): number => f.widthMm + f.bleed.leftMm + f.bleed.rightMm;
  const along = (f: FinishedPage): number => f.heightMm + f.bleed.topMm + f.bleed.bottomMm;
  const fits = (f: FinishedPage): boolean => across(f) <= usableWidthMm + 1e-6;
  if (fits(upright.value) !== fits(turned.value)) return fits(upright.value) ? upright : turned;
  // What fits feeds less where it is shorter; what does not fit sticks out less where it is narrower.
  const better = fits(upright.value)
    ? along(turned.value) < along(upright.value) - 1e-6
    : across(turned.value) < across(upright.value) - 1e-6;
  return better ? turned : upright;
}

function finishTurned(
  page: SourcePage,
  values: FinishValues,
  turn: FinishedPage['turn'],
  usableWidthMm: number,
): Result<FinishedPage, FinishRefusal> {
  const made = finishRectangle(page, values, turn, usableWidthMm);
  if (!made.ok || !values.contour || values.tiles) return made;
  return ok(withContour(made.value, page.cutLines ?? [], values.contour) ?? made.value);
}

function finishRectangle(
  page: SourcePage,
  values: FinishValues,
  turn: FinishedPage['turn'],
  usableWidthMm: number,
): Result<FinishedPage, FinishRefusal> {
  const { crop } = values;
  const art = {
    widthMm: page.widthMm - crop.leftMm - crop.rightMm,
    heightMm: page.heightMm - crop.topMm - crop.bottomMm,
  };
  const size = sizeOf(values.size, art, { quarterTurned: turn % 180 === 90, usableWidthMm });
  if (!size.ok) return size;
  const { widthMm, heightMm } = size.value;
  if ([widthMm, heightMm].some((mm) => !(mm >= LEAST_MM && mm <= MOST_MM))) {
    return refuse({ code: 'out-of-range', widthMm, heightMm });
  }
  const sx = widthMm / art.widthMm;
  const sy = heightMm / art.heightMm;
  const bleed = bleedAround(page, values, sx, sy);
  // Where the artwork does not reach as far as the bleed that is wanted, it is stretched over it.
  const reach = (mm: number, side: keyof Sides, k: number): number => Math.min(mm / k, page.bleed[side] + crop[side]);
  const left = reach(bleed.leftMm, 'leftMm', sx);
  const right = reach(bleed.rightMm, 'rightMm', sx);
  const top = reach(bleed.topMm, 'topMm', sy);
  const bottom = reach(bleed.bottomMm, 'bottomMm', sy);
  const window = {
    xMm: crop.leftMm - left,
    yMm: crop.topMm - top,
    widthMm: art.widthMm + left + right,
    heightMm: art.heightMm + top + bottom,
  };
  const quarter = turn % 180 === 90;
  return ok({
    widthMm: tidy(quarter ? heightMm : widthMm),
    heightMm: tidy(quarter ? widthMm : heightMm),
    bleed: sidesAsTheyLie(bleed, turn, values.mirror),
    turn,
    mirror: values.mirror,
    window,
    scaleX: (widthMm + bleed.leftMm + bleed.rightMm) / window.widthMm,
    scaleY: (heightMm + bleed.topMm + bleed.bottomMm) / window.heightMm,
  });
}

function bleedAround(page: SourcePage, { bleedMm }: FinishValues, sx: number, sy: number): Sides {
  if (bleedMm !== null) return { leftMm: bleedMm, topMm: bleedMm, rightMm: bleedMm, bottomMm: bleedMm };
  const { leftMm, topMm, rightMm, bottomMm } = page.bleed;
  return { leftMm: leftMm * sx, topMm: topMm * sy, rightMm: rightMm * sx, bottomMm: bottomMm * sy };
}

/** A counter-clockwise quarter turn brings the right side to the top. */
export function sidesAsTheyLie(sides: Sides, turn: FinishedPage['turn'], mirror: boolean): Sides {
  const ring = [sides.topMm, sides.leftMm, sides.bottomMm, sides.rightMm];
  const at = (k: number): number => tidy(ring[(k - turn / 90 + 4) % 4] ?? 0);
  const [topMm, leftMm, bottomMm, rightMm] = [at(0), at(1), at(2), at(3)];
  return mirror ? { topMm, leftMm: rightMm, bottomMm, rightMm: leftMm } : { topMm, leftMm, bottomMm, rightMm };
}

/** To 0.0001 mm, like every size that is kept. */
function tidy(mm: number): number {
  return Math.round(mm * 1e4) / 1e4;
}
