import type { CutLine } from '../../../core/contour/contourRule.ts';
import type { Outline } from '../../../core/geometry/polygon.ts';
import type { FileFormat } from '../../../core/ticket/fileFormat.ts';
import { cosSin, turnedSize } from '../../../core/geometry/turn.ts';
import type { PanelOf } from '../../../contract/api/run.ts';
import { type Matrix, multiply } from '../pdf/matrix.ts';
import type { Appearance } from '../picture/pictures.ts';
import type { Embedded } from './embedArt.ts';

/** One piece of a run as it is placed; on the page of the run, from its leading edge (mm). */
export interface LaidArt {
  readonly sha256: string;
  readonly format: FileFormat;
  /** Page of the file. */
  readonly page: number;
  readonly appearance: Appearance | null;
  /** One ink or spot alone, as black. */
  readonly part: string | null;
  readonly without?: Pick<CutLine, 'from' | 'name'>;
  readonly xMm: number;
  readonly yMm: number;
  /** As it was made, before it was turned; the corner is that of the turned piece. */
  readonly widthMm: number;
  readonly heightMm: number;
  /** Counter-clockwise. */
  readonly angleDeg: number;
  /** Left to right, before it is turned: the back that shows through. */
  readonly mirrored?: boolean;
  /** Which panel of the whole artwork this is, from its upper left corner. */
  readonly panel?: PanelOf | null;
  /** It is printed within this, where that is not its rectangle: on the run's page (mm). */
  readonly within?: Outline | null;
  /** Rings that it is cut along, on the run's page. */
  readonly cut?: readonly Outline[] | null;
}

/** Draws one piece: clipped to its own place where the artwork reaches beyond. */
export function drawing({ appearance, panel, ...art }: LaidArt, item: Embedded, place: Matrix, name: string): string {
  if (panel) {
    const whole = multiply(appearance ? appearanceMatrix(appearance) : UNIT, multiply(panelMatrix(art, panel), place));
    return `q ${matrixText(place)} cm 0 0 1 1 re W n ${matrixText(inverse(place))} cm ${matrixText(multiply(item.fit, whole))} cm /${name} Do Q`;
  }
  if (!appearance) return `q ${matrixText(multiply(item.fit, place))} cm /${name} Do Q`;
  const shown = multiply(appearanceMatrix(appearance), place);
  const whole =
    appearance.window.x <= 1e-9 &&
    appearance.window.y <= 1e-9 &&
    appearance.window.width >= 1 - 1e-9 &&
    appearance.window.height >= 1 - 1e-9;
  const clip = whole ? '' : `${matrixText(place)} cm 0 0 1 1 re W n ${matrixText(inverse(place))} cm `;
  return `q ${clip}${matrixText(multiply(item.fit, shown))} cm /${name} Do Q`;
}

const UNIT: Matrix = [1, 0, 0, 1, 0, 0];

/** Unit square of the whole finished page → unit square of one panel of it. */
function panelMatrix(
  { widthMm, heightMm }: { readonly widthMm: number; readonly heightMm: number },
  { xMm, yMm, wholeWidthMm, wholeHeightMm }: PanelOf,
): Matrix {
  // Panels count from the top, PDF from the bottom.
  const below = wholeHeightMm - yMm - heightMm;
  return [wholeWidthMm / widthMm, 0, 0, wholeHeightMm / heightMm, -xMm / widthMm, -below / heightMm];
}

/** Unit square of the whole artwork → unit square of the piece: the window fills it, then it is turned and mirrored. */
function appearanceMatrix({ window, turn, mirror }: Appearance): Matrix {
  const { x, y, width, height } = window;
  // Windows count from the top, PDF from the bottom.
  const cut: Matrix = [1 / width, 0, 0, 1 / height, -x / width, -(1 - y - height) / height];
  const turns: Record<Appearance['turn'], Matrix> = {
    0: [1, 0, 0, 1, 0, 0],
    90: [0, 1, -1, 0, 1, 0],
    180: [-1, 0, 0, -1, 1, 1],
    270: [0, -1, 1, 0, 0, 1],
  };
  const turned = multiply(cut, turns[turn]);
  return mirror ? multiply(turned, [-1, 0, 0, 1, 1, 0]) : turned;
}

function inverse([a, b, c, d, e, f]: Matrix): Matrix {
  const det = a * d - b * c;
  return [d / det, -b / det, -c / det, a / det, (c * f - d * e) / det, (b * e - a * f) / det];
}

/** Unit square → the piece's place on the page, turned about its middle. */
export function placeMatrix(art: LaidArt, k: number, pageHeight: number): Matrix {
  const { xMm, yMm, angleDeg } = art;
  const laid = turnedSize(art.widthMm, art.heightMm, angleDeg);
  const middle = { x: (xMm + laid.widthMm / 2) * k, y: pageHeight - (yMm + laid.heightMm / 2) * k };
  const w = art.widthMm * k;
  const h = art.heightMm * k;
  const [c, s] = cosSin(angleDeg);
  const turn: Matrix = [c * w, s * w, -s * h, c * h, middle.x, middle.y];
  return multiply(art.mirrored === true ? [-1, 0, 0, 1, 0.5, -0.5] : [1, 0, 0, 1, -0.5, -0.5], turn);
}

function matrixText(m: Matrix): string {
  return m.map((v) => Number(v.toFixed(8)).toString()).join(' ');
}
