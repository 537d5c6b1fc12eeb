import { type Outline, boundsOf, movedOutline, simplified } from '../geometry/polygon.ts';
import type { FinishedPage } from '../ticket/finishedPage.ts';
import { type ContourRule, type CutLine, cutLineOf } from './contourRule.ts';
import { grownRings, oneOutline } from './grow.ts';

/** The nest's outline may lie so far outside at first; more where it has more points than the nest should bear. */
const WITHIN_MM = 0.05;
const MOST_POINTS = 120;
/** Half the width of notches into which no other piece would reach: they are filled, or a gear would be nested tooth by tooth. */
const NOTCH_SHARE = 0.04;
const LEAST_NOTCH_MM = 2;
const MOST_NOTCH_MM = 10;

/**
 * A page that is cut along a contour: what is printed is no longer its rectangle but what lies within the contour and its
 * bleed, and the rectangle of the piece is the one around that.
 * @returns undefined where the file has no such line, or nothing is left of it
 */
export function withContour(
  page: FinishedPage,
  lines: readonly CutLine[],
  rule: ContourRule,
): FinishedPage | undefined {
  const line = cutLineOf(lines, rule);
  if (!line) return undefined;
  const found = line.rings.map((ring) => laidRing(ring, page));
  const cut = rule.offsetMm === 0 ? found : grownRings(found, rule.offsetMm);
  if (cut.length === 0) return undefined;
  const outline = printedWithin(cut, rule.bleedMm);
  if (outline.length < 3) return undefined;
  const all = boundsOf(outline);
  const trim = boundsOf(cut.flat());
  const [x, y] = [all.minX, all.minY].map(tidy) as [number, number];
  return {
    ...page,
    widthMm: tidy(trim.maxX - trim.minX),
    heightMm: tidy(trim.maxY - trim.minY),
    bleed: {
      leftMm: tidy(trim.minX) - x,
      topMm: tidy(trim.minY) - y,
      rightMm: tidy(all.maxX - trim.maxX),
      bottomMm: tidy(all.maxY - trim.maxY),
    },
    window: sourceWindow(page, { x, y, width: all.maxX - all.minX, height: all.maxY - all.minY }),
    contour: {
      line: { from: line.from, name: line.name },
      cut: cut.map((ring) => tidyRing(movedOutline(ring, -x, -y))),
      outline: tidyRing(movedOutline(outline, -x, -y)),
    },
  };
}

/** Around the cut with its bleed, with few points; never inside of what it must hold. */
function printedWithin(cut: readonly Outline[], bleedMm: number): Outline {
  const { minX, minY, maxX, maxY } = boundsOf(cut.flat());
  const notch = Math.min(MOST_NOTCH_MM, Math.max(LEAST_NOTCH_MM, NOTCH_SHARE * Math.min(maxX - minX, maxY - minY)));
  for (let within = WITHIN_MM; ; within *= 2) {
    const filled = grownRings(grownRings(cut, bleedMm + within + notch), -notch);
    // A line with fewer points may cross itself where it was narrow; what is around it doesn't.
    const outline = oneOutline([simplified(oneOutline(filled), within)]);
    if (outline.length <= MOST_POINTS || within > 2) return outline;
  }
}

type Finish = Pick<FinishedPage, 'window' | 'scaleX' | 'scaleY' | 'turn' | 'mirror'>;

/** Size of what is printed, before it is turned (mm). */
function uprightSize({ window, scaleX, scaleY }: Finish): readonly [number, number] {
  return [window.widthMm * scaleX, window.heightMm * scaleY];
}

/** A ring of the source as it lies, from the upper left corner of what is printed. */
function laidRing(ring: readonly number[], page: Finish): Outline {
  const [w, h] = uprightSize(page);
  const wide = page.turn % 180 === 90 ? h : w;
  const points: { x: number; y: number }[] = [];
  for (let i = 0; i + 1 < ring.length; i += 2) {
    const u = ((ring[i] ?? 0) - page.window.xMm) * page.scaleX;
    const v = ((ring[i + 1] ?? 0) - page.window.yMm) * page.scaleY;
    const turned = { 0: { x: u, y: v }, 90: { x: v, y: w - u }, 180: { x: w - u, y: h - v }, 270: { x: h - v, y: u } };
    const { x, y } = turned[page.turn];
    points.push({ x: page.mirror ? wide - x : x, y });
  }
  return points;
}

/** What of the source lies within a rectangle of the page as it lies. */
function sourceWindow(
  page: Finish,
  { x, y, width, height }: { readonly x: number; readonly y: number; readonly width: number; readonly height: number },
): FinishedPage['window'] {
  const [w, h] = uprightSize(page);
  const wide = page.turn % 180 === 90 ? h : w;
  const left = page.mirror ? wide - x - width : x;
  const quarter = page.turn % 180 === 90;
  const [uw, vh] = quarter ? [height, width] : [width, height];
  const corner = {
    0: { u: left, v: y },
    90: { u: w - y - height, v: left },
    180: { u: w - left - width, v: h - y - height },
    270: { u: y, v: h - left - width },
  }[page.turn];
  return {
    xMm: page.window.xMm + corner.u / page.scaleX,
    yMm: page.window.yMm + corner.v / page.scaleY,
    widthMm: uw / page.scaleX,
    heightMm: vh / page.scaleY,
  };
}

function tidy(mm: number): number {
  // Nothing is minus nothing.
  return Math.round(mm * 1e4) / 1e4 + 0;
}

function tidyRing(ring: Outline): Outline {
  return ring.map(({ x, y }) => ({ x: tidy(x), y: tidy(y) }));
}
