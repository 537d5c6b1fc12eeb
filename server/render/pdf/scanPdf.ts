import {
  PDFArray,
  PDFDict,
  type PDFDocument,
  PDFName,
  PDFNumber,
  type PDFObject,
  type PDFPage,
  PDFRawStream,
  PDFStream,
  decodePDFRawStream,
} from '@cantoo/pdf-lib';
import { type Matrix, multiply } from './matrix.ts';
import { ColourFinder } from './colours/pdfColours.ts';
import { formMatrix } from './pdfContents.ts';
import { type Operand, walkContent } from './pdfTokens.ts';

export interface PageScan {
  /** Of the coarsest picture on the page; null: none. */
  readonly dpi: number | null;
  /** Thinnest stroke on the page (mm); null: none. */
  readonly thinnestMm: number | null;
}

export interface PdfScan {
  readonly pages: readonly PageScan[];
  readonly colourSpaces: string[];
  readonly profile: string | null;
  readonly spots: string[];
  readonly missingFonts: string[];
  /** Something shows through: opacity, soft masks or blending. */
  readonly hasAlpha: boolean;
  /** Something is set to print over what lies under it instead of knocking it out. */
  readonly overprint: boolean;
}

/** Reading on beyond these would take too long; what has been found so far stands. */
const MOST_BYTES = 48 * 1024 * 1024;
const MOST_FORMS = 2000;
const DEEPEST = 12;
/** Smaller than this on the page a picture's resolution is nobody's worry (mm). */
const LEAST_PICTURE_MM = 5;

/** Walks through all pages of a PDF: pictures at their real size, stroke widths, colour spaces, spots and fonts. */
export function scanPdf(document: PDFDocument): PdfScan {
  const scanner = new Scanner(new ColourFinder(document));
  const pages = document.getPages().map((page) => scanner.page(page));
  return {
    pages,
    ...scanner.colours.found(),
    missingFonts: [...scanner.missingFonts].sort(),
    hasAlpha: scanner.hasAlpha,
    overprint: scanner.overprint,
  };
}

/** Walks through the content of pages. What it may unpack and how deep it goes is bounded: a small file can hold a great deal. */
class Scanner {
  readonly missingFonts = new Set<string>();
  hasAlpha = false;
  overprint = false;
  private bytesLeft = MOST_BYTES;
  private formsLeft = MOST_FORMS;
  private readonly fontsSeen = new Set<PDFObject>();
  private readonly patternsSeen = new Set<PDFObject>();

  constructor(readonly colours: ColourFinder) {}

  page(page: PDFPage): PageScan {
    const unit = page.node.lookupMaybe(PDFName.of('UserUnit'), PDFNumber)?.asNumber() ?? 1;
    const sheet = new PageWork((25.4 / 72) * unit);
    try {
      const contents = page.node.Contents();
      const streams =
        contents instanceof PDFArray ? contents.asArray().map((ref) => page.node.context.lookup(ref)) : [contents];
      const bytes = join(streams.map((stream) => this.decoded(stream)));
      this.content(bytes, page.node.Resources(), [1, 0, 0, 1, 0, 0], sheet, 0);
    } catch {
      // A page that can't be scanned may still be drawn; what it is made of stays unknown.
    }
    return { dpi: sheet.dpi, thinnestMm: sheet.thinnestMm };
  }

  private decoded(stream: PDFObject | undefined): Uint8Array {
    if (!(stream instanceof PDFRawStream) || this.bytesLeft <= 0) return new Uint8Array();
    const bytes = decodePDFRawStream(stream).decode();
    this.bytesLeft -= bytes.length;
    return bytes;
  }

  private content(
    bytes: Uint8Array,
    resources: PDFDict | undefined,
    base: Matrix,
    sheet: PageWork,
    depth: number,
  ): void {
    let state = { matrix: base, widthPt: 1 };
    const stack: (typeof state)[] = [];
    const stroke = (): void => {
      sheet.stroke(state.widthPt, state.matrix);
    };
    walkContent(bytes, (operator, operands) => {
      const n = numbers(operands);
      switch (operator) {
        case 'q':
          if (stack.length < 500) stack.push(state);
          break;
        case 'Q':
          state = stack.pop() ?? state;
          break;
        case 'cm':
          if (n.length >= 6) state = { ...state, matrix: multiply(n as unknown as Matrix, state.matrix) };
          break;
        case 'w':
          state = { ...state, widthPt: n[0] ?? 1 };
          break;
        case 'S':
        case 's':
        case 'B':
        case 'B*':
        case 'b':
        case 'b*':
          stroke();
          break;
        case 'g':
        case 'G':
          this.colours.device('grey');
          break;
        case 'rg':
        case 'RG':
          this.colours.device('RGB');
          break;
        case 'k':
        case 'K':
          this.colours.device('CMYK');
          break;
        case 'cs':
        case 'CS':
          this.colours.named(nameOf(operands), resources);
          break;
        case 'scn':
        case 'SCN':
          this.pattern(patternIn(resources, nameOf(operands)), resources, depth);
          break;
        case 'ID':
          this.inlinePicture(operands, resources);
          break;
        case 'sh':
          this.colours.of(dictIn(dictIn(resources, 'Shading'), nameOf(operands))?.get(PDFName.of('ColorSpace')), 0);
          break;
        case 'gs':
          this.state(dictIn(dictIn(resources, 'ExtGState'), nameOf(operands)));
          break;
        case 'Tf':
          this.font(dictIn(dictIn(resources, 'Font'), nameOf(operands)), resources, depth);
          break;
        case 'Do':
          this.object(streamIn(dictIn(resources, 'XObject'), nameOf(operands)), resources, state.matrix, sheet, depth);
          break;
      }
    });
  }

  private object(
    stream: PDFStream | undefined,
    outer: PDFDict | undefined,
    matrix: Matrix,
    sheet: PageWork,
    depth: number,
  ): void {
    if (!stream) return;
    const { dict } = stream;
    if (dict.get(PDFName.of('Subtype')) === PDFName.of('Image')) {
      if (dict.get(PDFName.of('SMask')) !== undefined) this.hasAlpha = true;
      if (String(dict.get(PDFName.of('ImageMask'))) === 'true') return;
      this.colours.of(dict.get(PDFName.of('ColorSpace')), 0);
      sheet.picture(numberIn(dict, 'Width'), numberIn(dict, 'Height'), matrix);
      return;
    }
    this.formsLeft -= 1;
    if (depth >= DEEPEST || this.formsLeft < 0 || !(stream instanceof PDFRawStream)) return;
    const inner = multiply(formMatrix(stream), matrix);
    const resources = dict.lookupMaybe(PDFName.of('Resources'), PDFDict) ?? outer;
    this.content(this.decoded(stream), resources, inner, sheet, depth + 1);
  }

  private state(gs: PDFDict | undefined): void {
    if (!gs) return;
    const less = (key: string): boolean => {
      const value = gs.lookup(PDFName.of(key));
      return value instanceof PDFNumber && value.asNumber() < 1;
    };
    const mask = gs.lookup(PDFName.of('SMask'));
    const blend = gs.lookup(PDFName.of('BM'));
    const blends = blend !== undefined && !['/Normal', '/Compatible'].includes(String(blend));
    const on = (key: string): boolean => String(gs.lookup(PDFName.of(key))) === 'true';
    if (on('OP') || on('op')) this.overprint = true;
    if (less('ca') || less('CA') || mask instanceof PDFDict || blends) this.hasAlpha = true;
  }

  /** What a pattern paints with: a tile is content of its own, a shading has its colour space. */
  private pattern(pattern: PDFDict | PDFStream | undefined, outer: PDFDict | undefined, depth: number): void {
    if (!pattern || this.patternsSeen.has(pattern)) return;
    this.patternsSeen.add(pattern);
    if (pattern instanceof PDFDict) {
      const shading = pattern.lookup(PDFName.of('Shading'));
      const described = shading instanceof PDFStream ? shading.dict : shading;
      if (described instanceof PDFDict) this.colours.of(described.get(PDFName.of('ColorSpace')), 0);
      this.state(dictIn(pattern, 'ExtGState'));
      return;
    }
    this.within(pattern, outer, depth);
  }

  /** Content whose place on the page is not known: its colours and fonts count, its sizes don't. */
  private within(stream: PDFStream, outer: PDFDict | undefined, depth: number): void {
    this.formsLeft -= 1;
    if (depth >= DEEPEST || this.formsLeft < 0) return;
    const resources = stream.dict.lookupMaybe(PDFName.of('Resources'), PDFDict) ?? outer;
    this.content(this.decoded(stream), resources, [1, 0, 0, 1, 0, 0], new PageWork(0), depth + 1);
  }

  private inlinePicture(operands: readonly Operand[], resources: PDFDict | undefined): void {
    const at = operands.findIndex((each) => each === '/CS' || each === '/ColorSpace');
    const space = at < 0 ? undefined : operands[at + 1];
    if (typeof space !== 'string') return;
    const short = space.slice(1);
    this.colours.named(SHORT_SPACES[short] ?? short, resources);
  }

  private font(font: PDFDict | undefined, outer: PDFDict | undefined, depth: number): void {
    if (!font || this.fontsSeen.has(font)) return;
    this.fontsSeen.add(font);
    const subtype = String(font.get(PDFName.of('Subtype')));
    if (subtype === '/Type3') {
      // Its letters are drawings, which may have colours of their own.
      const letters = dictIn(font, 'CharProcs');
      const resources = dictIn(font, 'Resources') ?? outer;
      for (const name of letters?.keys() ?? []) {
        const letter = letters?.lookup(name);
        if (letter instanceof PDFStream) this.within(letter, resources, depth);
      }
      return;
    }
    const inner = font.lookupMaybe(PDFName.of('DescendantFonts'), PDFArray)?.lookup(0);
    const described = inner instanceof PDFDict ? inner : font;
    const descriptor = described.lookupMaybe(PDFName.of('FontDescriptor'), PDFDict);
    const embedded = ['FontFile', 'FontFile2', 'FontFile3'].some(
      (key) => descriptor?.get(PDFName.of(key)) !== undefined,
    );
    if (!embedded) {
      const name = font.lookup(PDFName.of('BaseFont'));
      this.missingFonts.add(name instanceof PDFName ? name.decodeText() : 'unnamed font');
    }
  }
}

/** What has been seen of one page. */
class PageWork {
  dpi: number | null = null;
  thinnestMm: number | null = null;

  /** @param mmPerPt 0: nothing is known of sizes */
  constructor(private readonly mmPerPt: number) {}

  stroke(widthPt: number, [a, b, c, d]: Matrix): void {
    if (this.mmPerPt === 0) return;
    const mm = widthPt * Math.sqrt(Math.abs(a * d - b * c)) * this.mmPerPt;
    if (Number.isFinite(mm)) this.thinnestMm = Math.min(this.thinnestMm ?? Infinity, mm);
  }

  picture(width: number, height: number, [a, b, c, d]: Matrix): void {
    const wideMm = Math.hypot(a, b) * this.mmPerPt;
    const highMm = Math.hypot(c, d) * this.mmPerPt;
    if (width < 3 || height < 3 || !(wideMm > LEAST_PICTURE_MM && highMm > LEAST_PICTURE_MM)) return;
    const dpi = Math.min(width / (wideMm / 25.4), height / (highMm / 25.4));
    this.dpi = Math.min(this.dpi ?? Infinity, dpi);
  }
}

function numbers(operands: readonly Operand[]): number[] {
  return operands.filter((each) => typeof each === 'number');
}

function nameOf(operands: readonly Operand[]): string {
  const name = operands.find((each) => typeof each === 'string');
  return typeof name === 'string' ? name.slice(1) : '';
}

function dictIn(dict: PDFDict | undefined, name: string): PDFDict | undefined {
  const value = dict?.lookup(PDFName.of(name));
  return value instanceof PDFDict ? value : undefined;
}

/** Colour spaces of inline pictures have short names. */
const SHORT_SPACES: Readonly<Record<string, string>> = { G: 'DeviceGray', RGB: 'DeviceRGB', CMYK: 'DeviceCMYK' };

function patternIn(resources: PDFDict | undefined, name: string): PDFDict | PDFStream | undefined {
  const value = name === '' ? undefined : dictIn(resources, 'Pattern')?.lookup(PDFName.of(name));
  return value instanceof PDFDict || value instanceof PDFStream ? value : undefined;
}

function streamIn(dict: PDFDict | undefined, name: string): PDFStream | undefined {
  const value = dict?.lookup(PDFName.of(name));
  return value instanceof PDFStream ? value : undefined;
}

function numberIn(dict: PDFDict, key: string): number {
  const value = dict.lookup(PDFName.of(key));
  return value instanceof PDFNumber ? value.asNumber() : 0;
}

function join(parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length + 1, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
    // Streams of one page meet between two words.
    out[at++] = 10;
  }
  return out;
}
