import { createHash } from 'node:crypto';
import { type PDFArray, PDFDocument, PDFName, PDFNumber, type PDFRef, PDFString } from '@cantoo/pdf-lib';
import type { CutLine } from '../../../core/contour/contourRule.ts';
import type { Outline } from '../../../core/geometry/polygon.ts';
import { cosSin, turnedSize } from '../../../core/geometry/turn.ts';
import type { PanelOf } from '../../../contract/api/run.ts';
import type { Mark } from '../../../core/layout/marks/mark.ts';
import type { FileFormat } from '../../../core/ticket/fileFormat.ts';
import { writeWhole } from '../../files/atomic.ts';
import type { DataPaths } from '../../files/paths.ts';
import type { Limits } from '../../limits.ts';
import { drawMarks } from './drawMarks.ts';
import { type Embedded, embedAll, embeddedKey } from './embedArt.ts';
import { type Matrix, multiply } from '../pdf/matrix.ts';
import type { Appearance } from '../picture/pictures.ts';

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

export interface LayPdfInput {
  /** Names the file (see DataPaths.laidOut). */
  readonly key: string;
  readonly title: string;
  readonly widthMm: number;
  readonly lengthMm: number;
  readonly art: readonly LaidArt[];
  /** Over the artwork, in a layer of their own; x counts from `fromMm`. */
  readonly marks?: { readonly list: readonly Mark[]; readonly fromMm: number };
}

export interface LaidPdf {
  readonly sha256: string;
  readonly bytes: number;
}

/** Reading and embedding the sources is most of the work; the rest is writing the file. */
const EMBEDDED_SHARE = 0.8;

const PT_PER_MM = 72 / 25.4;
/** Longest side that a page may have without a user unit (pt). */
const LONGEST_PT = 14_400;

/**
 * Lays a run out as one PDF page: x to the right, the leading edge at the top. Pages go in as vectors, each source once.
 * Long runs get a UserUnit, so that MediaBox × UserUnit is exact. The same run gives the same bytes.
 * @param tell told which share of it is done, 0 … 1
 */
export async function layPdf(
  input: LayPdfInput,
  paths: DataPaths,
  limits: Limits,
  tell: (share: number) => void = () => undefined,
): Promise<LaidPdf> {
  const out = await PDFDocument.create({ updateMetadata: false });
  out.setTitle(input.title);
  const unit = Math.max(1, Math.ceil((Math.max(input.widthMm, input.lengthMm) * PT_PER_MM) / LONGEST_PT));
  const k = PT_PER_MM / unit;
  const pageWidth = input.widthMm * k;
  const pageHeight = input.lengthMm * k;
  const page = out.addPage([pageWidth, pageHeight]);
  if (unit > 1) page.node.set(PDFName.of('UserUnit'), PDFNumber.of(unit));
  page.node.set(PDFName.of('MediaBox'), box(out, pageWidth, pageHeight));
  page.node.set(PDFName.of('TrimBox'), box(out, pageWidth, pageHeight));

  const embedded = await embedAll(out, input.art, paths, limits, (share) => {
    tell(EMBEDDED_SHARE * share);
  });
  const names = new Map<Embedded, string>();
  const xObjects = out.context.obj({});
  const lines: string[] = [];
  for (const art of input.art) {
    const item = embedded.get(embeddedKey(art));
    if (!item) throw new Error(`source ${art.sha256} was not embedded`);
    let name = names.get(item);
    if (name === undefined) {
      name = `Art${String(names.size + 1)}`;
      names.set(item, name);
      xObjects.set(PDFName.of(name), item.ref);
    }
    const place = placeMatrix(art, k, pageHeight);
    const drawn = drawing(art, item, place, name);
    lines.push(art.within ? `q ${ringPath(art.within, k, pageHeight)} W n ${drawn} Q` : drawn);
  }
  const resources = out.context.obj({});
  resources.set(PDFName.of('XObject'), xObjects);
  page.node.set(PDFName.of('Resources'), resources);
  const layers = out.context.obj({});
  const artLayer = layer(out, 'Art');
  layers.set(PDFName.of('Art'), artLayer);
  const parts = ['/OC /Art BDC', ...lines, 'EMC'];
  const all = [artLayer];
  const unprinted: PDFRef[] = [];
  const spaces = out.context.obj({});
  const { marks } = input;
  if (marks && marks.list.length > 0) {
    const marksLayer = layer(out, 'Marks');
    layers.set(PDFName.of('Marks'), marksLayer);
    all.push(marksLayer);
    if (marks.list.some((mark) => mark.kind === 'code' && mark.white))
      spaces.set(PDFName.of('White'), spotSpace(out, 'White', [0, 0, 0, 0]));
    parts.push('/OC /Marks BDC', drawMarks(marks.list, k, pageHeight, marks.fromMm), 'EMC');
  }
  const cut = input.art.flatMap((art) => art.cut ?? []).map((ring) => ringPath(ring, k, pageHeight));
  if (cut.length > 0) {
    const cutLayer = layer(out, 'Cut', 'never printed');
    layers.set(PDFName.of('Cut'), cutLayer);
    all.push(cutLayer);
    unprinted.push(cutLayer);
    spaces.set(PDFName.of('CutInk'), spotSpace(out, CUT_SPOT, [0, 1, 0, 0]));
    const width = Number((CUT_LINE_MM * k).toFixed(6)).toString();
    parts.push(`/OC /Cut BDC q /CutInk CS 1 SCN ${width} w`, ...cut, 'S Q EMC');
  }
  if (spaces.keys().length > 0) resources.set(PDFName.of('ColorSpace'), spaces);
  resources.set(PDFName.of('Properties'), layers);
  nameLayers(out, all, unprinted);
  const content = out.context.flateStream(parts.join('\n'));
  page.node.set(PDFName.of('Contents'), out.context.register(content));
  const bytes = await out.save({ useObjectStreams: true, updateFieldAppearances: false, addDefaultPage: false });
  await writeWhole(paths.laidOut(input.key), bytes);
  return { sha256: createHash('sha256').update(bytes).digest('hex'), bytes: bytes.length };
}

/** An optional content group: readers can show and hide it by its name. What is never printed is seen on screens only. */
function layer(out: PDFDocument, name: string, use?: 'never printed'): PDFRef {
  const usage = use ? { Usage: { Print: { PrintState: 'OFF' }, View: { ViewState: 'ON' } } } : {};
  return out.context.register(out.context.obj({ Type: 'OCG', Name: PDFString.of(name), ...usage }));
}

/** A spot colour, and the CMYK that it is shown as on screens. */
function spotSpace(out: PDFDocument, name: string, cmyk: readonly number[]): PDFArray {
  const tint = out.context.obj({ FunctionType: 2, Domain: [0, 1], C0: [0, 0, 0, 0], C1: [...cmyk], N: 1 });
  const space = out.context.obj(['Separation', name, 'DeviceCMYK']);
  space.push(out.context.register(tint));
  return space;
}

/** Name of the spot colour in which contours are drawn, and how thin. */
const CUT_SPOT = 'Contour';
const CUT_LINE_MM = 0.1;

/** A ring of the run as a path on the page. */
function ringPath(ring: Outline, k: number, pageHeight: number): string {
  return `${ring.map(({ x, y }, i) => `${fine(x * k)} ${fine(pageHeight - y * k)} ${i === 0 ? 'm' : 'l'}`).join(' ')} h`;
}

function fine(value: number): string {
  return Number(value.toFixed(5)).toString();
}

function nameLayers(out: PDFDocument, all: readonly PDFRef[], unprinted: readonly PDFRef[]): void {
  const rule = { Event: 'Print', Category: ['Print'], OCGs: [...unprinted] };
  const config = { Order: [...all], ON: [...all], ...(unprinted.length > 0 ? { AS: [rule] } : {}) };
  const properties = out.context.obj({ OCGs: [...all], D: config });
  out.catalog.set(PDFName.of('OCProperties'), out.context.register(properties));
}

/** Draws one piece: clipped to its own place where the artwork reaches beyond. */
function drawing({ appearance, panel, ...art }: LaidArt, item: Embedded, place: Matrix, name: string): string {
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

function box(out: PDFDocument, width: number, height: number): PDFArray {
  return out.context.obj([0, 0, Number(width.toFixed(6)), Number(height.toFixed(6))]);
}

/** Unit square → the piece's place on the page, turned about its middle. */
function placeMatrix(art: LaidArt, k: number, pageHeight: number): Matrix {
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
