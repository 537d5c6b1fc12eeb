import {
  PDFArray,
  PDFDict,
  type PDFDocument,
  PDFName,
  PDFNumber,
  type PDFPage,
  PDFRawStream,
  PDFRef,
} from '@cantoo/pdf-lib';
import { type ImagePacking, packingOf } from '../../pdf/colours/imageSamples.ts';
import { numberOf } from '../../pdf/colours/pdfFunction.ts';
import { type Matrix, multiply } from '../../pdf/matrix.ts';
import { decodedContents, formMatrix } from '../../pdf/pdfContents.ts';
import { type Operand, walkContent } from '../../pdf/pdfTokens.ts';

/** One side of a picture, along the dots of a run. */
export interface PlacedSide {
  /** Where it begins and ends (dots, fractions of them). */
  readonly from: number;
  readonly to: number;
  /** Its last pixel comes first. */
  readonly isTurned: boolean;
  /** Dots that it covers: the first, and the one behind the last. */
  readonly first: number;
  readonly end: number;
}

/** A picture that lies straight on a page, under everything else there. */
export interface FoundPicture {
  readonly ref: PDFRef;
  readonly packing: Exclude<ImagePacking, 'other'>;
  readonly widthPx: number;
  readonly heightPx: number;
  /** Its columns lie along the run: rows and columns change places. */
  readonly isTransposed: boolean;
  readonly across: PlacedSide;
  readonly along: PlacedSide;
}

/** Where a page lies among the dots of its run. */
export interface PageDots {
  readonly width: number;
  readonly top: number;
  readonly bottom: number;
}

interface Box {
  readonly left: number;
  readonly bottom: number;
  readonly right: number;
  readonly top: number;
}

const MOST_BYTES = 256 * 1024 * 1024;
const FLAT = 1e-6;
const name = (text: string): PDFName => PDFName.of(text);

/**
 * Takes pictures off a page that can be laid under it as inks: those that lie straight, are enlarged, and cover nothing that is drawn
 * before them. What is left of the page is drawn over them.
 * @param page is changed: it draws them no more
 * @param isWanted asked of each that could be taken
 */
export function findPictures(
  document: PDFDocument,
  page: PDFPage,
  dots: PageDots,
  isWanted: (picture: FoundPicture) => boolean,
): FoundPicture[] {
  const bytes = decodedContents(page, MOST_BYTES);
  const look = new PageLook(document, page);
  const found: FoundPicture[] = [];
  const kept: Uint8Array[] = [];
  let from = 0;
  walkContent(bytes, (operator, operands, start, end) => {
    const drawn = look.take(operator, operands);
    const picture = drawn && placed(drawn, page, dots);
    if (!drawn) return;
    if (!picture || look.isCovered(drawn.box) || !isWanted(picture)) {
      look.cover(drawn.box);
      return;
    }
    found.push(picture);
    kept.push(bytes.subarray(from, start));
    from = end;
  });
  if (found.length === 0) return [];
  kept.push(bytes.subarray(from));
  page.node.set(name('Contents'), document.context.register(document.context.flateStream(Buffer.concat(kept))));
  return found;
}

interface Drawn {
  /** What of the page it may cover. */
  readonly box: Box;
  /** Null: no plain picture. */
  readonly picture: { readonly ref: PDFRef; readonly stream: PDFRawStream } | null;
  readonly matrix: Matrix;
}

interface State {
  readonly matrix: Matrix;
  /** What may be drawn on; null: a shape that is no rectangle lies around it. */
  readonly clip: Box | null;
  /** Nothing is set that changes how a picture is laid down. */
  readonly isPlain: boolean;
}

const EVERYWHERE: Box = { left: -1e9, bottom: -1e9, right: 1e9, top: 1e9 };
const UNIT: Box = { left: 0, bottom: 0, right: 1, top: 1 };
const PATHS = new Set(['m', 'l', 'c', 'v', 'y', 'h']);
const PAINTS = new Set(['f', 'F', 'f*', 'S', 's', 'B', 'B*', 'b', 'b*', 'sh', 'Tj', 'TJ', "'", '"', 'ID']);

/** Follows what a page draws, as far as that says where pictures lie. */
class PageLook {
  private state: State = { matrix: [1, 0, 0, 1, 0, 0], clip: EVERYWHERE, isPlain: true };
  private readonly stack: State[] = [];
  /** The path that is being made: one rectangle, in its own coordinates; null: anything else. */
  private path: Box | null | undefined;
  private clips = false;
  private readonly covered: Box[] = [];

  constructor(
    private readonly document: PDFDocument,
    private readonly page: PDFPage,
  ) {}

  isCovered(box: Box): boolean {
    return this.covered.some(
      (each) => each.left < box.right && each.right > box.left && each.bottom < box.top && each.top > box.bottom,
    );
  }

  cover(box: Box): void {
    this.covered.push(box);
  }

  /** What an operator draws that is a picture or a form. */
  take(operator: string, operands: readonly Operand[]): Drawn | undefined {
    const n = operands.filter((each) => typeof each === 'number');
    if (operator === 'q') this.stack.push(this.state);
    else if (operator === 'Q') this.state = this.stack.pop() ?? this.state;
    else if (operator === 'cm' && n.length >= 6)
      this.state = { ...this.state, matrix: multiply(n as unknown as Matrix, this.state.matrix) };
    else if (operator === 're') this.addRectangle(n);
    else if (PATHS.has(operator)) this.path = null;
    else if (operator === 'W' || operator === 'W*') this.clips = true;
    else if (operator === 'gs') this.state = { ...this.state, isPlain: false };
    else if (operator === 'n' || PAINTS.has(operator)) this.endPath(operator !== 'n');
    else if (operator === 'Do') return this.drawn(operands);
    return undefined;
  }

  private addRectangle([x = 0, y = 0, width = 0, height = 0]: readonly number[]): void {
    const box = {
      left: Math.min(x, x + width),
      right: Math.max(x, x + width),
      bottom: Math.min(y, y + height),
      top: Math.max(y, y + height),
    };
    this.path = this.path === undefined ? box : null;
  }

  private endPath(isPainted: boolean): void {
    // Whatever is painted here is little beside pictures; where exactly is not worth to be known.
    if (isPainted) this.cover(EVERYWHERE);
    if (this.clips) {
      const { clip, matrix } = this.state;
      const box = this.path && isStraight(matrix) ? mapped(this.path, matrix) : null;
      this.state = { ...this.state, clip: clip && box ? common(clip, box) : null };
    }
    this.clips = false;
    this.path = undefined;
  }

  private drawn(operands: readonly Operand[]): Drawn | undefined {
    const key = operands.find((each) => typeof each === 'string')?.slice(1);
    const all = this.page.node.Resources()?.lookup(name('XObject'));
    const ref = key !== undefined && all instanceof PDFDict ? all.get(name(key)) : undefined;
    const stream = this.document.context.lookup(ref);
    if (!(stream instanceof PDFRawStream)) return undefined;
    const { matrix, clip, isPlain } = this.state;
    const isImage = stream.dict.get(name('Subtype')) === name('Image');
    const own = isImage ? mapped(UNIT, matrix) : mapped(formBox(stream), multiply(formMatrix(stream), matrix));
    const box = clip ? common(clip, own) : own;
    const isTaken = isImage && isPlain && clip !== null && isStraight(matrix) && isPlainImage(stream);
    return { box, picture: isTaken && ref instanceof PDFRef ? { ref, stream } : null, matrix };
  }
}

function formBox({ dict }: PDFRawStream): Box {
  const box = dict.lookup(name('BBox'));
  const [a = -1e9, b = -1e9, c = 1e9, d = 1e9] =
    box instanceof PDFArray ? box.asArray().map((each) => (each instanceof PDFNumber ? each.asNumber() : 0)) : [];
  return { left: Math.min(a, c), right: Math.max(a, c), bottom: Math.min(b, d), top: Math.max(b, d) };
}

/** Opaque pixels of 8 bits in RGB or grey, as they stand in the file. */
function isPlainImage(stream: PDFRawStream): boolean {
  const { dict } = stream;
  const space = dict.get(name('ColorSpace'));
  const isKnown = space === name('DeviceRGB') || space === name('DeviceGray');
  const isWhole = !['SMask', 'Mask', 'ImageMask', 'Decode'].some((key) => dict.has(name(key)));
  return isKnown && isWhole && numberOf(dict, 'BitsPerComponent', 8) === 8 && packingOf(stream) !== 'other';
}

function placed({ picture, matrix, box }: Drawn, page: PDFPage, dots: PageDots): FoundPicture | null {
  if (!picture) return null;
  const { ref, stream } = picture;
  const packing = packingOf(stream);
  if (packing === 'other') return null;
  const [a, b, c, d] = matrix;
  const isTransposed = Math.abs(a) < Math.abs(b);
  const [widthPx, heightPx] = [numberOf(stream.dict, 'Width', 0), numberOf(stream.dict, 'Height', 0)];
  const { width: pageWidth, height: pageHeight } = page.getMediaBox();
  const whole = mapped(UNIT, matrix);
  const x = (at: number): number => (at / pageWidth) * dots.width;
  const y = (at: number): number => dots.top + ((pageHeight - at) / pageHeight) * (dots.bottom - dots.top);
  const across = side(
    { from: x(whole.left), to: x(whole.right) },
    { from: Math.max(0, x(box.left)), to: Math.min(dots.width, x(box.right)) },
    isTransposed ? c > 0 : a < 0,
  );
  const along = side(
    { from: y(whole.top), to: y(whole.bottom) },
    { from: Math.max(dots.top, y(box.top)), to: Math.min(dots.bottom, y(box.bottom)) },
    isTransposed ? b > 0 : d < 0,
  );
  const [pixelsAcross, pixelsAlong] = isTransposed ? [heightPx, widthPx] : [widthPx, heightPx];
  // What is made smaller has to be averaged: the page library does that.
  const isEnlarged = pixelsAcross <= across.to - across.from && pixelsAlong <= along.to - along.from;
  if (!isEnlarged || pixelsAcross < 1 || pixelsAlong < 1) return null;
  return { ref, packing, widthPx, heightPx, isTransposed, across, along };
}

type Stretch = Pick<PlacedSide, 'from' | 'to'>;

/** A dot is covered where its middle is. */
function side({ from, to }: Stretch, seen: Stretch, isTurned: boolean): PlacedSide {
  return { from, to, isTurned, first: Math.ceil(seen.from - 0.5), end: Math.ceil(seen.to - 0.5) };
}

/** Whether a rectangle stays one whose sides lie along the page. */
function isStraight([a, b, c, d]: Matrix): boolean {
  const size = Math.max(Math.abs(a), Math.abs(b), Math.abs(c), Math.abs(d)) * FLAT;
  return (Math.abs(b) <= size && Math.abs(c) <= size) || (Math.abs(a) <= size && Math.abs(d) <= size);
}

function mapped(box: Box, [a, b, c, d, e, f]: Matrix): Box {
  const corners = [
    [box.left, box.bottom],
    [box.right, box.bottom],
    [box.left, box.top],
    [box.right, box.top],
  ].map(([x = 0, y = 0]) => [a * x + c * y + e, b * x + d * y + f] as const);
  const xs = corners.map(([x]) => x);
  const ys = corners.map(([, y]) => y);
  return { left: Math.min(...xs), right: Math.max(...xs), bottom: Math.min(...ys), top: Math.max(...ys) };
}

function common(a: Box, b: Box): Box {
  const left = Math.max(a.left, b.left);
  const bottom = Math.max(a.bottom, b.bottom);
  return {
    left,
    bottom,
    right: Math.max(left, Math.min(a.right, b.right)),
    top: Math.max(bottom, Math.min(a.top, b.top)),
  };
}
