import { PDFDict, PDFDocument, PDFName, type PDFPage } from '@cantoo/pdf-lib';
import { DEEPEST, FormRewriter, decodedContents, formIn, formMatrix, streamBytes } from '../pdf/pdfContents.ts';
import { type Matrix, multiply } from '../pdf/matrix.ts';
import { PaintState, nameIn } from '../pdf/colours/paintState.ts';
import { type Operand, walkContent } from '../pdf/pdfTokens.ts';

/*
 * The page library pulls points of a path that lie more than 50,000 dots beside what it draws to 50,000: a line across a long run is bent
 * there. So long lines and curves are cut into pieces that lie on them, before a run is drawn at its dots.
 */

/** Longest piece of a path (dots): with its ends it stays well within what the page library can reach from any window. */
export const LONGEST_PIECE = 20_000;
const MOST_PIECES = 1000;
const MOST_BYTES = 256 * 1024 * 1024;
/** What fills a path closes it; what strokes it as well must not get a line that was not there. */
const CLOSING_FILLS = new Set(['f', 'F', 'f*']);

interface Point {
  readonly x: number;
  readonly y: number;
}

/**
 * A laid-out run whose paths have no piece that is too long to be drawn right. Undefined: it had none.
 * @param width of all of its pages, one below the other, and their height (dots)
 */
export async function withShortPaths(pdf: Uint8Array, width: number, height: number): Promise<Uint8Array | undefined> {
  const document = await PDFDocument.load(pdf, { updateMetadata: false });
  const cutter = new PathCutter(document);
  const pages = document.getPages();
  const dotsPerUnit = (page: PDFPage): number => {
    const { width: wide, height: high } = page.getSize();
    // The finer of the two resolutions.
    return Math.max(width / wide, height / pages.length / high);
  };
  for (const page of pages) cutter.measure(page, dotsPerUnit(page));
  for (const page of pages) cutter.page(page, dotsPerUnit(page));
  if (cutter.cuts === 0) return undefined;
  return document.save({ useObjectStreams: true, updateFieldAppearances: false, addDefaultPage: false });
}

class PathCutter {
  private readonly forms: FormRewriter;
  /** Of each form, the matrix from its space to dots of where it is drawn largest: what is short enough there is so everywhere. */
  private readonly largest = new Map<string, Matrix>();
  /** Lines and curves that were cut. */
  cuts = 0;

  constructor(private readonly document: PDFDocument) {
    this.forms = new FormRewriter(document, (bytes, resources, depth, ref) =>
      this.content(bytes, resources, depth, this.largest.get(ref) ?? scaled(1)),
    );
  }

  /** Notes how large the forms of a page are drawn: of all pages, before any is cut. */
  measure(page: PDFPage, dotsPerUnit: number): void {
    this.measureForms(decodedContents(page, MOST_BYTES), page.node.Resources(), 0, scaled(dotsPerUnit));
  }

  page(page: PDFPage, dotsPerUnit: number): void {
    const before = this.cuts;
    const content = this.content(decodedContents(page, MOST_BYTES), page.node.Resources(), 0, scaled(dotsPerUnit));
    if (this.cuts > before)
      page.node.set(PDFName.of('Contents'), this.document.context.register(this.document.context.flateStream(content)));
  }

  private measureForms(bytes: Uint8Array, resources: PDFDict | undefined, depth: number, outer: Matrix): void {
    if (depth >= DEEPEST) return;
    const state = new PaintState(this.document, resources);
    walkPlaced(bytes, outer, (operator, operands, now) => {
      if (operator !== 'Do') return;
      const ref = state.entry('XObject', nameIn(operands, 0));
      const form = formIn(this.document, ref);
      if (!ref || !form || form === 'picture') return;
      const matrix = multiply(formMatrix(form), now);
      const known = this.largest.get(ref.toString());
      if (known && scaleOf(known) >= scaleOf(matrix)) return;
      this.largest.set(ref.toString(), matrix);
      const own = form.dict.lookup(PDFName.of('Resources'));
      this.measureForms(streamBytes(form), own instanceof PDFDict ? own : resources, depth + 1, matrix);
    });
  }

  private content(bytes: Uint8Array, resources: PDFDict | undefined, depth: number, outer: Matrix): Uint8Array {
    const state = new PaintState(this.document, resources);
    const path = new CutPath();
    const out: Uint8Array[] = [];
    let kept = 0;
    walkPlaced(bytes, outer, (operator, operands, now, from, to) => {
      if (operator === 'Do') this.forms.form(state.entry('XObject', nameIn(operands, 0)), resources, depth);
      const instead = path.take(operator, numbers(operands), now);
      if (instead === null) return;
      this.cuts += 1;
      out.push(bytes.subarray(kept, from), Buffer.from(instead, 'latin1'));
      kept = to;
    });
    out.push(bytes.subarray(kept));
    return Buffer.concat(out);
  }
}

/** Walks what a stream draws. @param visit also gets the matrix from where an operator stands to dots, and its bytes */
function walkPlaced(
  bytes: Uint8Array,
  outer: Matrix,
  visit: (operator: string, operands: readonly Operand[], now: Matrix, from: number, to: number) => void,
): void {
  const matrices: Matrix[] = [outer];
  walkContent(bytes, (operator, operands, from, to) => {
    const now = matrices[matrices.length - 1] ?? outer;
    if (operator === 'q') matrices.push(now);
    else if (operator === 'Q' && matrices.length > 1) matrices.pop();
    else if (operator === 'cm') matrices[matrices.length - 1] = multiply(numbers(operands) as unknown as Matrix, now);
    visit(operator, operands, now, from, to);
  });
}

function scaled(by: number): Matrix {
  return [by, 0, 0, by, 0, 0];
}

/** How much longer a line can become. */
function scaleOf([a, b, c, d]: Matrix): number {
  return Math.max(Math.hypot(a, b), Math.hypot(c, d));
}

function numbers(operands: readonly Operand[]): number[] {
  return operands.filter((operand) => typeof operand === 'number');
}

/** One path as it is built, with what becomes of each of its operators. */
class CutPath {
  private at: Point = { x: 0, y: 0 };
  private start: Point = { x: 0, y: 0 };

  /** What stands in place of an operator; null: it stays. @param v its numbers @param m from its space to dots */
  take(operator: string, v: readonly number[], m: Matrix): string | null {
    const [a = 0, b = 0, c = 0, d = 0, e = 0, f = 0] = v;
    switch (operator) {
      case 'm':
        this.at = { x: a, y: b };
        this.start = this.at;
        return null;
      case 'l':
        return this.line({ x: a, y: b }, m);
      case 'c':
        return this.curve([this.at, { x: a, y: b }, { x: c, y: d }, { x: e, y: f }], m);
      case 'v':
        return this.curve([this.at, this.at, { x: a, y: b }, { x: c, y: d }], m);
      case 'y':
        return this.curve([this.at, { x: a, y: b }, { x: c, y: d }, { x: c, y: d }], m);
      case 'h': {
        const back = this.line(this.start, m);
        return back && `${back} h`;
      }
      case 're':
        return this.rectangle(a, b, c, d, m);
      default: {
        if (!CLOSING_FILLS.has(operator)) return null;
        const back = this.line(this.start, m);
        return back && `${back} ${operator}`;
      }
    }
  }

  private line(to: Point, m: Matrix): string | null {
    const from = this.at;
    this.at = to;
    const pieces = piecesOf(dots(from, to, m));
    if (pieces === 1) return null;
    return Array.from({ length: pieces }, (_, i) => `${text(between(from, to, (i + 1) / pieces))} l`).join(' ');
  }

  private curve(points: readonly [Point, Point, Point, Point], m: Matrix): string | null {
    const [p0, p1, p2, p3] = points;
    this.at = p3;
    const pieces = piecesOf(dots(p0, p1, m) + dots(p1, p2, m) + dots(p2, p3, m));
    if (pieces === 1) return null;
    let rest = points;
    return Array.from({ length: pieces }, (_, i) => {
      const [first, after] = halves(rest, 1 / (pieces - i));
      rest = after;
      return `${text(first[1])} ${text(first[2])} ${text(first[3])} c`;
    }).join(' ');
  }

  private rectangle(x: number, y: number, width: number, height: number, m: Matrix): string | null {
    const corners = [
      { x, y },
      { x: x + width, y },
      { x: x + width, y: y + height },
      { x, y: y + height },
    ] as const;
    this.start = corners[0];
    this.at = corners[0];
    const sides = [corners[1], corners[2], corners[3], corners[0]].map((to) => this.line(to, m) ?? `${text(to)} l`);
    const isLong = Math.max(dots(corners[0], corners[1], m), dots(corners[1], corners[2], m)) > LONGEST_PIECE;
    return isLong ? `${text(corners[0])} m ${sides.join(' ')} h` : null;
  }
}

function piecesOf(length: number): number {
  return Math.min(MOST_PIECES, Math.max(1, Math.ceil(length / LONGEST_PIECE)));
}

/** Length of a line in dots. */
function dots(from: Point, to: Point, [a, b, c, d]: Matrix): number {
  const [x, y] = [to.x - from.x, to.y - from.y];
  return Math.hypot(a * x + c * y, b * x + d * y);
}

function between(from: Point, to: Point, share: number): Point {
  return { x: from.x + (to.x - from.x) * share, y: from.y + (to.y - from.y) * share };
}

type Curve = readonly [Point, Point, Point, Point];

/** A curve in two, by de Casteljau: both lie on it. */
function halves([p0, p1, p2, p3]: Curve, share: number): readonly [Curve, Curve] {
  const [a, b, c] = [between(p0, p1, share), between(p1, p2, share), between(p2, p3, share)];
  const [d, e] = [between(a, b, share), between(b, c, share)];
  const middle = between(d, e, share);
  return [
    [p0, a, d, middle],
    [middle, e, c, p3],
  ];
}

function text({ x, y }: Point): string {
  return `${plain(x)} ${plain(y)}`;
}

/** PDF knows no exponents. */
function plain(value: number): string {
  return value.toFixed(6).replace(/\.?0+$/, '') || '0';
}
