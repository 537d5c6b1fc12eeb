import { readFile } from 'node:fs/promises';
import { EncryptedPDFError, PDFDocument } from '@cantoo/pdf-lib';
import { type PDFiumDocument, PDFiumLibrary } from '@hyzyla/pdfium';
import sharp from 'sharp';
import type { DataPaths } from '../files/paths.ts';
import type { Limits } from '../limits.ts';
import { type FileFacts, type PageFacts, Unreadable } from './facts.ts';
import { type PageGeometry, pageGeometry, shownPart } from './pdfBoxes.ts';
import { storePictures } from './pictures.ts';
import { PICTURE_SIZES } from './pictureSizes.ts';

let library: Promise<PDFiumLibrary> | undefined;

async function open(bytes: Uint8Array): Promise<PDFiumDocument> {
  library ??= PDFiumLibrary.init();
  return (await library).loadDocument(bytes);
}

export async function loadPdf(bytes: Uint8Array): Promise<PDFDocument> {
  try {
    return await PDFDocument.load(bytes, { updateMetadata: false });
  } catch (error) {
    if (error instanceof EncryptedPDFError)
      throw new Unreadable('The PDF is locked with a password. Save it without one.');
    throw new Unreadable('The PDF is damaged and cannot be read. Export it again.');
  }
}

/** Pages, true sizes and pictures of a PDF. Only the first page's picture is drawn now, the others when looked at. */
export async function readPdf(path: string, sha256: string, paths: DataPaths, limits: Limits): Promise<FileFacts> {
  const bytes = await readFile(path);
  const document = await loadPdf(bytes);
  const count = pageCount(document);
  if (count === 0) throw new Unreadable('The PDF has no pages.');
  if (count > limits.pages) {
    throw new Unreadable(`The PDF has ${String(count)} pages; ${String(limits.pages)} is the limit. Split it.`);
  }
  const geometries = document.getPages().map(pageGeometry);
  const odd = geometries.findIndex(
    (g) => !(g.widthMm > 0.1 && g.heightMm > 0.1 && g.widthMm < 1e6 && g.heightMm < 1e6),
  );
  if (odd >= 0) throw new Unreadable(`Page ${String(odd + 1)} of the PDF has no usable size.`);
  const first = geometries[0];
  if (!first) throw new Unreadable('The PDF has no pages.');
  const drawn = await drawPages(bytes, [{ page: 0, geometry: first }], sha256, paths);
  const coverage = drawn[0] ?? {};
  return {
    format: 'pdf',
    // Pages not drawn yet are estimated like the first; their own picture corrects that when it is drawn.
    pages: geometries.map(({ widthMm, heightMm, bleed }): PageFacts => ({ widthMm, heightMm, bleed, coverage })),
    pixelsAcross: null,
    assumedDpi: null,
    hasAlpha: false,
  };
}

function pageCount(document: PDFDocument): number {
  try {
    return document.getPageCount();
  } catch {
    throw new Unreadable('The PDF is damaged: its list of pages cannot be read. Export it again.');
  }
}

/** Draws one page's pictures that were not needed before. */
export async function drawPdfPage(path: string, sha256: string, page: number, paths: DataPaths): Promise<void> {
  const bytes = await readFile(path);
  const document = await loadPdf(bytes);
  await drawPages(bytes, [{ page, geometry: pageGeometry(document.getPage(page)) }], sha256, paths);
}

async function drawPages(
  bytes: Uint8Array,
  wanted: readonly { readonly page: number; readonly geometry: PageGeometry }[],
  sha256: string,
  paths: DataPaths,
): Promise<Record<string, number>[]> {
  let document: PDFiumDocument;
  try {
    document = await open(bytes);
  } catch {
    throw new Unreadable('The PDF is damaged and cannot be drawn. Export it again.');
  }
  try {
    const coverages: Record<string, number>[] = [];
    for (const { page, geometry } of wanted) {
      const part = shownPart(geometry, geometry.printed);
      const shown = document.getPage(page).getOriginalSize();
      const longest = Math.max(part.width * shown.originalWidth, part.height * shown.originalHeight);
      const scale = PICTURE_SIZES.view / longest;
      const drawn = await document.getPage(page).render({ scale, render: 'bitmap', transparent: true });
      const cut = {
        left: clamp(Math.round(part.left * drawn.width), 0, drawn.width - 1),
        top: clamp(Math.round(part.top * drawn.height), 0, drawn.height - 1),
        width: 1,
        height: 1,
      };
      cut.width = clamp(Math.round(part.width * drawn.width), 1, drawn.width - cut.left);
      cut.height = clamp(Math.round(part.height * drawn.height), 1, drawn.height - cut.top);
      const raw = { width: drawn.width, height: drawn.height, channels: 4 as const };
      coverages.push({ ...(await storePictures(() => sharp(drawn.data, { raw }).extract(cut), paths, sha256, page)) });
    }
    return coverages;
  } finally {
    document.destroy();
  }
}

function clamp(value: number, least: number, most: number): number {
  return Math.min(most, Math.max(least, value));
}
