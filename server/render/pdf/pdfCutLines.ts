import { PDFDict, type PDFDocument, PDFName, type PDFPage } from '@cantoo/pdf-lib';
import type { CutLine } from '../../../core/contour/contourRule.ts';
import { curvePoints, ringFromPoints } from '../../../core/contour/flatten.ts';
import { decodedContents, formIn, formMatrix, streamBytes } from './pdfContents.ts';
import { type Matrix, multiply } from './matrix.ts';
import { FILLS, PaintState, STROKES, nameIn } from './colours/paintState.ts';
import { pageGeometry, toTrim } from './pdfBoxes.ts';
import { walkContent } from './pdfTokens.ts';

/** What has more lines than a knife could follow is artwork, not a contour: its name is not offered. */
const MOST_RINGS = 200;
const MOST_POINTS = 6000;
const MOST_NAMES = 24;
const MOST_PAGE_BYTES = 8 * 1024 * 1024;
const DEEPEST = 12;
const PROCESS = new Set(['Cyan', 'Magenta', 'Yellow', 'Black', 'All', 'None']);

type Point = readonly [number, number];

/**
 * The closed lines of each spot colour and each layer of a page, from the upper left corner of its trim (mm, upright).
 * A name under which there is more than lines that close is left out.
 */
export function cutLinesOf(document: PDFDocument, page: PDFPage): CutLine[] {
  const geometry = pageGeometry(page);
  const found = new Found((x, y) => toTrim(geometry, x, y));
  try {
    new Gatherer(document, found).content(
      decodedContents(page, MOST_PAGE_BYTES),
      page.node.Resources(),
      [1, 0, 0, 1, 0, 0],
      [],
      0,
    );
  } catch {
    // A page that can't be taken apart has no contour to offer; it may still be printed.
    return [];
  }
  return found.lines();
}

/** Closed lines by the name under which they stand. Names with too many points are given up: they are artwork. */
class Found {
  private readonly rings = new Map<string, { line: Omit<CutLine, 'rings'>; rings: number[][]; points: number }>();
  private readonly crowded = new Set<string>();

  constructor(private readonly toMm: (x: number, y: number) => Point) {}

  add(from: 'spot' | 'layer', name: string, paths: readonly (readonly Point[])[]): void {
    const key = `${from}/${name}`;
    if (this.crowded.has(key) || PROCESS.has(name) || name.trim() === '' || name.length > 100) return;
    const known = this.rings.get(key) ?? { line: { from, name }, rings: [], points: 0 };
    if (!this.rings.has(key) && this.rings.size >= MOST_NAMES) return;
    this.rings.set(key, known);
    for (const path of paths) {
      const ring = ringFromPoints(path.map(([x, y]) => this.toMm(x, y)));
      if (!ring) continue;
      known.rings.push(ring);
      known.points += ring.length / 2;
    }
    if (known.rings.length > MOST_RINGS || known.points > MOST_POINTS) this.drop(key);
  }

  /** Text, pictures and shades are no lines: what holds them is artwork. */
  artwork(layers: readonly string[]): void {
    for (const layer of layers) this.drop(`layer/${layer}`);
  }

  private drop(key: string): void {
    this.crowded.add(key);
    this.rings.delete(key);
  }

  lines(): CutLine[] {
    return [...this.rings.values()]
      .filter(({ rings }) => rings.length > 0)
      .map(({ line, rings }) => ({ ...line, rings }));
  }
}

const ARTWORK = new Set(['Tj', 'TJ', "'", '"', 'sh', 'BI']);

/** Walks through the content of a page and of its forms, and tells of each path in which colour and layer it is drawn. */
class Gatherer {
  private bytesLeft = MOST_PAGE_BYTES;

  constructor(
    private readonly document: PDFDocument,
    private readonly found: Found,
  ) {}

  content(
    bytes: Uint8Array,
    resources: PDFDict | undefined,
    matrix: Matrix,
    layers: readonly string[],
    depth: number,
  ): void {
    const state = new PaintState(this.document, resources, matrix, layers);
    let path = new Path();
    walkContent(bytes, (operator, operands) => {
      state.apply(operator, operands);
      const n = operands.filter((each) => typeof each === 'number');
      if (path.take(operator, n, state.matrix)) return;
      if (STROKES.has(operator) || FILLS.has(operator)) {
        const { stroke, fill } = state.spots(operator);
        const closed = path.closed(FILLS.has(operator) || operator === 's');
        if (closed.length > 0) {
          for (const spot of new Set([stroke, fill])) if (spot !== null) this.found.add('spot', spot, closed);
          for (const layer of state.layers) this.found.add('layer', layer, closed);
        }
        path = new Path();
      } else if (operator === 'n') path = new Path();
      else if (ARTWORK.has(operator)) this.found.artwork(state.layers);
      else if (operator === 'Do') this.object(state, nameIn(operands, 0), resources, depth);
    });
  }

  private object(state: PaintState, name: string, outer: PDFDict | undefined, depth: number): void {
    const stream = formIn(this.document, state.entry('XObject', name));
    if (stream === 'picture') {
      this.found.artwork(state.layers);
      return;
    }
    if (!stream || depth >= DEEPEST || this.bytesLeft <= 0) return;
    const bytes = streamBytes(stream);
    this.bytesLeft -= bytes.length;
    const layer = state.layerOf(stream.dict.get(PDFName.of('OC')));
    const own = stream.dict.lookup(PDFName.of('Resources'));
    this.content(
      bytes,
      own instanceof PDFDict ? own : outer,
      multiply(formMatrix(stream), state.matrix),
      layer === null ? state.layers : [...state.layers, layer],
      depth + 1,
    );
  }
}

/** A path while it is built, in page space. */
class Path {
  private readonly parts: { points: Point[]; closed: boolean }[] = [];

  /** @returns whether the operator builds paths */
  take(operator: string, n: readonly number[], m: Matrix): boolean {
    const at = (i: number): Point => {
      const [x = 0, y = 0] = [n[i], n[i + 1]];
      return [m[0] * x + m[2] * y + m[4], m[1] * x + m[3] * y + m[5]];
    };
    const part = this.parts[this.parts.length - 1];
    const last = part?.points[part.points.length - 1];
    switch (operator) {
      case 'm':
        this.parts.push({ points: [at(0)], closed: false });
        return true;
      case 'l':
        part?.points.push(at(0));
        return true;
      case 'c':
        if (last) part.points.push(...curvePoints(last, at(0), at(2), at(4)));
        return true;
      case 'v':
        if (last) part.points.push(...curvePoints(last, last, at(0), at(2)));
        return true;
      case 'y':
        if (last) part.points.push(...curvePoints(last, at(0), at(2), at(2)));
        return true;
      case 'h':
        if (part && part.points[0]) {
          part.closed = true;
          this.parts.push({ points: [part.points[0]], closed: false });
        }
        return true;
      case 're': {
        const [x = 0, y = 0, w = 0, h = 0] = n;
        const corner = (px: number, py: number): Point => [m[0] * px + m[2] * py + m[4], m[1] * px + m[3] * py + m[5]];
        const points = [corner(x, y), corner(x + w, y), corner(x + w, y + h), corner(x, y + h)];
        this.parts.push({ points, closed: true });
        return true;
      }
      case 'W':
      case 'W*':
        return true;
      default:
        return false;
    }
  }

  /** The parts that close: all of them where the operator closes, else those that say so or end where they began. */
  closed(all: boolean): Point[][] {
    return this.parts
      .filter(({ points }) => points.length > 2)
      .filter(({ points, closed }) => {
        const [a, b] = [points[0], points[points.length - 1]];
        return closed || all || (a && b && Math.hypot(a[0] - b[0], a[1] - b[1]) < 0.15);
      })
      .map(({ points }) => points);
  }
}
