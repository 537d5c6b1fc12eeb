import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { deflateSync } from 'node:zlib';
import {
  type PDFArray,
  PDFDocument,
  PDFName,
  PDFNumber,
  type PDFPage,
  PDFRawStream,
  type PDFRef,
} from '@cantoo/pdf-lib';
import sharp, { type Sharp } from 'sharp';
import { writeWhole } from '../files/atomic.ts';
import type { DataPaths } from '../files/paths.ts';
import type { FileFormat } from './facts.ts';
import { type PageGeometry, pageGeometry } from './pdfBoxes.ts';
import { loadPdf } from './readPdf.ts';

export interface LaidArt {
  readonly sha256: string;
  readonly format: FileFormat;
  readonly page: number;
  readonly xMm: number;
  readonly yMm: number;
  /** As it lies, turning included. */
  readonly widthMm: number;
  readonly heightMm: number;
  readonly turned: boolean;
}

export interface LayPdfInput {
  /** Names the file (see DataPaths.laidOut). */
  readonly key: string;
  readonly title: string;
  readonly widthMm: number;
  readonly lengthMm: number;
  readonly art: readonly LaidArt[];
}

export interface LaidPdf {
  readonly sha256: string;
  readonly bytes: number;
}

const PT_PER_MM = 72 / 25.4;
/** Longest side that a page may have without a user unit (pt). */
const LONGEST_PT = 14_400;

type Matrix = readonly [number, number, number, number, number, number];

/** A page or picture that is embedded once, however often it is placed; `fit` maps it into the unit square, upright. */
interface Embedded {
  readonly ref: PDFRef;
  readonly fit: Matrix;
}

/**
 * Lays a run out as one PDF page: x to the right, the leading edge at the top. Pages go in as vectors, each source once.
 * Long runs get a UserUnit, so that MediaBox × UserUnit is exact. The same run gives the same bytes.
 */
export async function layPdf(input: LayPdfInput, paths: DataPaths): Promise<LaidPdf> {
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

  const embedded = await embedAll(out, input.art, paths);
  const names = new Map<Embedded, string>();
  const xObjects = out.context.obj({});
  const lines: string[] = [];
  for (const art of input.art) {
    const item = embedded.get(key(art));
    if (!item) throw new Error(`source ${art.sha256} was not embedded`);
    let name = names.get(item);
    if (name === undefined) {
      name = `Art${String(names.size + 1)}`;
      names.set(item, name);
      xObjects.set(PDFName.of(name), item.ref);
    }
    const place = placeMatrix(art, k, pageHeight);
    lines.push(`q ${matrixText(multiply(item.fit, place))} cm /${name} Do Q`);
  }
  const resources = out.context.obj({});
  resources.set(PDFName.of('XObject'), xObjects);
  page.node.set(PDFName.of('Resources'), resources);
  const content = out.context.flateStream(lines.join('\n'));
  page.node.set(PDFName.of('Contents'), out.context.register(content));
  const bytes = await out.save({ useObjectStreams: true, updateFieldAppearances: false, addDefaultPage: false });
  await writeWhole(paths.laidOut(input.key), bytes);
  return { sha256: createHash('sha256').update(bytes).digest('hex'), bytes: bytes.length };
}

function key(art: LaidArt): string {
  return `${art.sha256}/${String(art.page)}`;
}

function box(out: PDFDocument, width: number, height: number): PDFArray {
  return out.context.obj([0, 0, Number(width.toFixed(6)), Number(height.toFixed(6))]);
}

/** Unit square → the piece's place on the page. Turned: a quarter turn counter-clockwise. */
function placeMatrix(art: LaidArt, k: number, pageHeight: number): Matrix {
  const x = art.xMm * k;
  const w = art.widthMm * k;
  const h = art.heightMm * k;
  const y = pageHeight - art.yMm * k - h;
  return art.turned ? [0, h, -w, 0, x + w, y] : [w, 0, 0, h, x, y];
}

function multiply(a: Matrix, b: Matrix): Matrix {
  return [
    a[0] * b[0] + a[1] * b[2],
    a[0] * b[1] + a[1] * b[3],
    a[2] * b[0] + a[3] * b[2],
    a[2] * b[1] + a[3] * b[3],
    a[4] * b[0] + a[5] * b[2] + b[4],
    a[4] * b[1] + a[5] * b[3] + b[5],
  ];
}

function matrixText(m: Matrix): string {
  return m.map((v) => Number(v.toFixed(8)).toString()).join(' ');
}

async function embedAll(out: PDFDocument, art: readonly LaidArt[], paths: DataPaths): Promise<Map<string, Embedded>> {
  const embedded = new Map<string, Embedded>();
  const bySource = new Map<string, LaidArt[]>();
  for (const item of art) {
    const list = bySource.get(item.sha256) ?? [];
    list.push(item);
    bySource.set(item.sha256, list);
  }
  for (const [sha256, items] of bySource) {
    const bytes = await readFile(paths.source(sha256));
    const format = items[0]?.format ?? 'pdf';
    if (format !== 'pdf') {
      embedded.set(`${sha256}/0`, await embedPicture(out, bytes, format));
      continue;
    }
    const source = await loadPdf(bytes);
    for (const pageNo of new Set(items.map((item) => item.page))) {
      embedded.set(`${sha256}/${String(pageNo)}`, await embedPage(out, source.getPage(pageNo)));
    }
  }
  return embedded;
}

async function embedPage(out: PDFDocument, page: PDFPage): Promise<Embedded> {
  const geometry = pageGeometry(page);
  const { x, y, width, height } = geometry.printed;
  const form = await out.embedPage(page, { left: x, bottom: y, right: x + width, top: y + height }, [
    1,
    0,
    0,
    1,
    -x,
    -y,
  ]);
  await form.embed();
  return { ref: form.ref, fit: uprightFit(geometry, width, height) };
}

/** Page space (0…width, 0…height) → unit square as the page is shown: /Rotate turns clockwise. */
function uprightFit(geometry: PageGeometry, width: number, height: number): Matrix {
  const a = 1 / width;
  const d = 1 / height;
  switch (geometry.rotate) {
    case 0:
      return [a, 0, 0, d, 0, 0];
    case 90:
      return [0, -a, d, 0, 0, 1];
    case 180:
      return [-a, 0, 0, -d, 1, 1];
    case 270:
      return [0, a, -d, 0, 1, 0];
  }
}

async function embedPicture(out: PDFDocument, bytes: Buffer, format: 'png' | 'jpeg'): Promise<Embedded> {
  const unit: Matrix = [1, 0, 0, 1, 0, 0];
  if (format === 'jpeg') {
    // JPEG data go in as they are, CMYK included; the orientation that EXIF asks for becomes part of the placing.
    const { orientation } = await sharp(bytes).metadata();
    const image = await out.embedJpg(bytes);
    await image.embed();
    return { ref: image.ref, fit: orientationFit(orientation ?? 1) };
  }
  return { ref: await embedPng(out, bytes), fit: unit };
}

/**
 * Decoded by the image library and packed by zlib: a large picture in JavaScript would take minutes. Colours come in sRGB,
 * transparency as a soft mask.
 */
async function embedPng(out: PDFDocument, bytes: Buffer): Promise<PDFRef> {
  const open = (): Sharp => sharp(bytes, { limitInputPixels: false, unlimited: true });
  const { hasAlpha } = await open().metadata();
  const colour = await open().removeAlpha().toColourspace('srgb').raw().toBuffer({ resolveWithObject: true });
  const mask = hasAlpha
    ? await open().extractChannel('alpha').toColourspace('b-w').raw().toBuffer({ resolveWithObject: true })
    : undefined;
  const maskRef = mask && out.context.register(imageStream(out, mask.data, mask.info, 'DeviceGray'));
  const space = colour.info.channels === 1 ? 'DeviceGray' : 'DeviceRGB';
  const image = imageStream(out, colour.data, colour.info, space);
  if (maskRef) image.dict.set(PDFName.of('SMask'), maskRef);
  return out.context.register(image);
}

function imageStream(
  out: PDFDocument,
  pixels: Buffer,
  size: { readonly width: number; readonly height: number },
  colourSpace: string,
): PDFRawStream {
  const dict = out.context.obj({
    Type: 'XObject',
    Subtype: 'Image',
    Width: size.width,
    Height: size.height,
    ColorSpace: colourSpace,
    BitsPerComponent: 8,
    Filter: 'FlateDecode',
  });
  return PDFRawStream.of(dict, deflateSync(pixels, { level: 3 }));
}

/** Unit square → unit square for the eight EXIF orientations. */
function orientationFit(orientation: number): Matrix {
  const fits: Record<number, Matrix> = {
    2: [-1, 0, 0, 1, 1, 0],
    3: [-1, 0, 0, -1, 1, 1],
    4: [1, 0, 0, -1, 0, 1],
    5: [0, -1, -1, 0, 1, 1],
    6: [0, -1, 1, 0, 0, 1],
    7: [0, 1, 1, 0, 0, 0],
    8: [0, 1, -1, 0, 1, 0],
  };
  return fits[orientation] ?? [1, 0, 0, 1, 0, 0];
}
