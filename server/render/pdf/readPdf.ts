import { readFile } from 'node:fs/promises';
import { EncryptedPDFError, PDFDocument } from '@cantoo/pdf-lib';
import { type PDFiumDocument, PDFiumLibrary } from '@hyzyla/pdfium';
import sharp, { type Sharp } from 'sharp';
import type { CutLine } from '../../../core/contour/contourRule.ts';
import type { DataPaths } from '../../files/paths.ts';
import type { Limits } from '../../limits.ts';
import { type FileFacts, type PageFacts, Unreadable } from '../facts.ts';
import { type PageGeometry, pageGeometry, shownPart } from './pdfBoxes.ts';
import { dropCutLine } from './dropCutLine.ts';
import { cutLinesOf } from './pdfCutLines.ts';
import { FIRST_LOOK_PX, type FirstLook, type Appearance, firstLook, storePicture } from '../picture/pictures.ts';
import { PICTURE_SIZES, type PictureSize } from '../picture/pictureSizes.ts';
import { mendPageTree } from './pageTree.ts';
import { makePrintable } from './printablePdf.ts';
import { scanPdf } from './scanPdf.ts';
import type { Pixels } from '../picture/alike.ts';
import { TRACE_PX, traceEdge } from '../picture/traceEdge.ts';

/** Beyond this a PDF is likely to be slow to draw. */
const HEAVY_BYTES = 512 * 1024;
/** Pages that are drawn for the ink estimate and for blank pages. */
const LOOKED_AT = 24;
/** Pages whose edge is traced. */
const TRACED = 4;

let library: ReturnType<typeof PDFiumLibrary.init> | undefined;

async function open(bytes: Uint8Array): Promise<PDFiumDocument> {
  library ??= PDFiumLibrary.init();
  return (await library).loadDocument(bytes);
}

/** Opens a PDF as it is; one that is locked or damaged is refused with what to do about it. */
async function openPdf(bytes: Uint8Array): Promise<{ readonly document: PDFDocument; readonly mended: boolean }> {
  try {
    // Many are locked against changes only: they open with an empty password.
    const document = await PDFDocument.load(bytes, { updateMetadata: false, password: '' });
    return { document, mended: mendPageTree(document) };
  } catch (error) {
    if (error instanceof EncryptedPDFError || (error instanceof Error && /password/i.test(error.message)))
      throw new Unreadable('The PDF is locked with a password. Save it without one.');
    throw new Unreadable('The PDF is damaged and cannot be read. Export it again.');
  }
}

/** Opens what is printed of a PDF: see `makePrintable`. */
export async function loadPdf(bytes: Uint8Array): Promise<PDFDocument> {
  const { document } = await openPdf(bytes);
  makePrintable(document);
  return document;
}

/** Pages, true sizes and pictures of a PDF. Only a small picture of the first page is drawn now. */
export async function readPdf(path: string, sha256: string, paths: DataPaths, limits: Limits): Promise<FileFacts> {
  const source = await readFile(path);
  const { document, mended } = await openPdf(source);
  const count = pageCount(document);
  if (count === 0) throw new Unreadable('The PDF has no pages.');
  if (count > limits.pages) {
    throw new Unreadable(`The PDF has ${String(count)} pages; ${String(limits.pages)} is the limit. Split it.`);
  }
  // A line to cut along may lie in a layer that is not printed.
  const cutLines = document.getPages().map((page, index) => (index < LOOKED_AT ? cutLinesOf(document, page) : []));
  const printable = makePrintable(document);
  const bytes = printable.changed || mended ? await document.save({ updateFieldAppearances: false }) : source;
  const geometries = document.getPages().map(pageGeometry);
  const odd = geometries.findIndex(
    (g) => !(g.widthMm > 0.1 && g.heightMm > 0.1 && g.widthMm < 1e6 && g.heightMm < 1e6),
  );
  if (odd >= 0) throw new Unreadable(`Page ${String(odd + 1)} of the PDF has no usable size.`);
  const first = geometries[0];
  if (!first) throw new Unreadable('The PDF has no pages.');
  // What takes long to draw is drawn once, large enough for both pictures.
  const heavy = bytes.length > HEAVY_BYTES;
  const scan = scanPdf(document);
  const pages: PageFacts[] = [];
  let seen: FirstLook | undefined;
  for (const [page, geometry] of geometries.entries()) {
    // Every page of a short document is looked at; of a long one the later pages count like the seen: each costs a drawing.
    const lines = [...(cutLines[page] ?? [])];
    if (page < LOOKED_AT || seen === undefined) {
      seen = await withPage(bytes, page, geometry, heavy ? PICTURE_SIZES.view : FIRST_LOOK_PX, async (picture) => {
        if (heavy && page === 0) await storePicture(picture.clone(), paths, sha256, 0, 'view', undefined);
        return firstLook(picture, paths, sha256, page);
      });
      lines.push(...(await edgeOf(bytes, page, geometry, seen)));
    }
    const { widthMm, heightMm, bleed } = geometry;
    const { dpi = null, thinnestMm = null } = scan.pages[page] ?? {};
    pages.push({ widthMm, heightMm, bleed, coverage: { ...seen.coverage }, dpi, thinnestMm, cutLines: lines });
  }
  const { colourSpaces, profile, spots, missingFonts, hasAlpha, overprint } = scan;
  return {
    format: 'pdf',
    pages,
    nature: {
      assumedDpi: null,
      hasAlpha,
      colourSpaces,
      profile,
      spots,
      missingFonts,
      ...(overprint ? { overprint } : {}),
      ...(mended ? { mended } : {}),
      ...printable.nature,
    },
  };
}

/** The edge of a page that lies on nothing: drawn large enough to be traced. Later pages are many, and seldom decals. */
async function edgeOf(
  bytes: Uint8Array,
  page: number,
  geometry: PageGeometry,
  appearance: FirstLook,
): Promise<CutLine[]> {
  if (page >= TRACED || !appearance.edge) return [];
  const { widthMm, heightMm, bleed: b } = geometry;
  const size = { widthMm: widthMm + b.leftMm + b.rightMm, heightMm: heightMm + b.topMm + b.bottomMm };
  return withPage(bytes, page, geometry, TRACE_PX, (picture) =>
    traceEdge(picture, { xMm: -b.leftMm, yMm: -b.topMm, ...size }),
  );
}

function pageCount(document: PDFDocument): number {
  try {
    return document.getPageCount();
  } catch {
    throw new Unreadable('The PDF is damaged: its list of pages cannot be read. Export it again.');
  }
}

/** Draws a picture of one page that somebody wants to see. */
export async function drawPdfPage(
  path: string,
  sha256: string,
  page: number,
  size: PictureSize,
  appearance: Appearance | undefined,
  paths: DataPaths,
): Promise<void> {
  const source = await readFile(path);
  const { document, mended } = await openPdf(source);
  let changed = makePrintable(document).changed || mended;
  const geometry = pageGeometry(document.getPage(page));
  if (appearance?.without) {
    dropCutLine(document, document.getPage(page), appearance.without);
    changed = true;
  }
  const bytes = changed ? await document.save({ updateFieldAppearances: false }) : source;
  await withPage(bytes, page, geometry, PICTURE_SIZES[size], (picture) =>
    storePicture(picture, paths, sha256, page, size, appearance),
  );
}

/** Draws what will be printed of a page, `longestPx` on its longer side, and hands it on while the document is open. */
async function withPage<T>(
  bytes: Uint8Array,
  page: number,
  geometry: PageGeometry,
  longestPx: number,
  use: (picture: Sharp) => Promise<T>,
): Promise<T> {
  let document: PDFiumDocument;
  try {
    document = await open(bytes);
  } catch {
    throw new Unreadable('The PDF is damaged and cannot be drawn. Export it again.');
  }
  try {
    const part = shownPart(geometry, geometry.printed);
    // Opened once: what draws it gives its memory back.
    const opened = document.getPage(page);
    const shown = opened.getOriginalSize();
    const longest = Math.max(part.width * shown.originalWidth, part.height * shown.originalHeight);
    const drawn = await opened.render({ scale: longestPx / longest, render: 'bitmap', transparent: true });
    const cut = {
      left: clamp(Math.round(part.left * drawn.width), 0, drawn.width - 1),
      top: clamp(Math.round(part.top * drawn.height), 0, drawn.height - 1),
      width: 1,
      height: 1,
    };
    cut.width = clamp(Math.round(part.width * drawn.width), 1, drawn.width - cut.left);
    cut.height = clamp(Math.round(part.height * drawn.height), 1, drawn.height - cut.top);
    return await use(
      sharp(drawn.data, { raw: { width: drawn.width, height: drawn.height, channels: 4 } }).extract(cut),
    );
  } finally {
    document.destroy();
  }
}

/** The first page of a PDF in exactly so many pixels, on nothing. */
export async function drawFirstPage(bytes: Uint8Array, { width, height }: Omit<Pixels, 'data'>): Promise<Pixels> {
  const document = await open(bytes);
  try {
    const drawn = await document.getPage(0).render({ width, height, render: 'bitmap', transparent: true });
    return { data: drawn.data, width: drawn.width, height: drawn.height };
  } finally {
    document.destroy();
  }
}

function clamp(value: number, least: number, most: number): number {
  return Math.min(most, Math.max(least, value));
}
