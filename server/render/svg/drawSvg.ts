import { createWriteStream } from 'node:fs';
import { readFile, rename, rm, writeFile } from 'node:fs/promises';
import { PDFDocument as EditedPdf, PDFName, PDFNumber } from '@cantoo/pdf-lib';
import { Resvg } from '@resvg/resvg-js';
import PDFDocument from 'pdfkit';
import svgToPdf from 'svg-to-pdfkit';
import { Unreadable } from '../facts.ts';
import { imageStream } from '../out/imageStream.ts';
import { drawFirstPage } from '../pdf/readPdf.ts';
import { type Pixels, alike } from '../picture/alike.ts';
import { FAMILIES, fontFiles, fontFor } from './svgFonts.ts';

interface SizeMm {
  readonly widthMm: number;
  readonly heightMm: number;
}

export interface Drawn {
  /** It is printed as a picture of this resolution; null: as vectors. */
  readonly rasterDpi: number | null;
}

const PT_PER_MM = 72 / 25.4;
/** Pages beyond so many points need a user unit. */
const LONGEST_PT = 14_400;
/** Both drawings are compared in this size. */
const COMPARED_PX = 1200;
/** A picture is made in this resolution, or in the one that takes so many pixels. */
const RASTER_DPI = 300;
const MOST_PIXELS = 40e6;

/**
 * Draws an SVG as a PDF of one page. Its vectors are kept where their drawing is that of a complete renderer, pixel by pixel; else
 * it becomes a picture by that renderer: nothing of it is left out without a word.
 * @param text with its size in its first element
 * @param target is written whole or not at all
 */
export async function drawSvg(text: string, size: SizeMm, target: string): Promise<Drawn> {
  const temporary = `${target}.${crypto.randomUUID()}.part`;
  try {
    const wanted = pixelsOf(text, Math.min(COMPARED_PX, COMPARED_PX * (size.widthMm / size.heightMm)));
    if (await asVectors(text, size, temporary)) {
      const drawn = await drawFirstPage(await readFile(temporary), wanted);
      if (alike(drawn, wanted)) {
        await rename(temporary, target);
        return { rasterDpi: null };
      }
    }
    const dpi = rasterDpi(size);
    await writeFile(temporary, await asPicture(pixelsOf(text, (size.widthMm / 25.4) * dpi), size));
    await rename(temporary, target);
    return { rasterDpi: dpi };
  } finally {
    await rm(temporary, { force: true });
  }
}

/** As fine as it is wanted, or as there is room for. */
export function rasterDpi({ widthMm, heightMm }: SizeMm): number {
  const squareInches = (widthMm / 25.4) * (heightMm / 25.4);
  return Math.max(1, Math.min(RASTER_DPI, Math.floor(Math.sqrt(MOST_PIXELS / squareInches))));
}

/** Points of a page, and how many of them are a unit of it. */
function pageSize({ widthMm, heightMm }: SizeMm): {
  readonly unit: number;
  readonly width: number;
  readonly height: number;
} {
  const unit = Math.max(1, Math.ceil((Math.max(widthMm, heightMm) * PT_PER_MM) / LONGEST_PT));
  return { unit, width: (widthMm * PT_PER_MM) / unit, height: (heightMm * PT_PER_MM) / unit };
}

/** @returns false where it can't be drawn at all */
async function asVectors(text: string, size: SizeMm, file: string): Promise<boolean> {
  const { unit, width, height } = pageSize(size);
  const document = new PDFDocument({
    size: [width, height],
    margin: 0,
    info: { CreationDate: new Date(0) },
    compress: true,
  });
  if (unit > 1) (document.page.dictionary.data as Record<string, unknown>).UserUnit = unit;
  const out = createWriteStream(file);
  const written = new Promise<void>((done, failed) => {
    out.on('finish', done).on('error', failed);
  });
  document.pipe(out);
  let drawn = true;
  try {
    svgToPdf(document, text, 0, 0, {
      width,
      height,
      // Only what the file itself brings: no path and no address is ever opened.
      imageCallback: (link: string) => (link.startsWith('data:') ? link : ''),
      documentCallback: () => '',
      fontCallback: fontFor,
      // What it can't draw shows when the drawings are compared.
      warningCallback: () => undefined,
    });
  } catch {
    drawn = false;
  }
  document.end();
  await written;
  return drawn;
}

/** Draws an SVG in so many pixels across. @throws Unreadable where it can't be drawn */
function pixelsOf(text: string, widthPx: number): Pixels {
  try {
    const drawing = new Resvg(text, {
      fitTo: { mode: 'width', value: Math.max(1, Math.round(widthPx)) },
      font: {
        loadSystemFonts: false,
        fontFiles: fontFiles(),
        defaultFontFamily: FAMILIES.sans,
        sansSerifFamily: FAMILIES.sans,
        serifFamily: FAMILIES.serif,
        monospaceFamily: FAMILIES.mono,
      },
    }).render();
    return { data: straight(drawing.pixels), width: drawing.width, height: drawing.height };
  } catch (error) {
    const why = error instanceof Error ? ` (${error.message.slice(0, 100)})` : '';
    throw new Unreadable(`The SVG cannot be drawn${why}. Save it as PDF.`);
  }
}

/** Colours as they are where something lies, not mixed with how much of it does. */
function straight(pixels: Uint8Array): Uint8Array {
  for (let i = 0; i < pixels.length; i += 4) {
    const alpha = pixels[i + 3] ?? 0;
    if (alpha === 0 || alpha === 255) continue;
    for (let c = 0; c < 3; c++) pixels[i + c] = Math.min(255, Math.round(((pixels[i + c] ?? 0) * 255) / alpha));
  }
  return pixels;
}

/** One page that is filled by a picture. */
async function asPicture({ data, width, height }: Pixels, size: SizeMm): Promise<Uint8Array> {
  const page = pageSize(size);
  const out = await EditedPdf.create({ updateMetadata: false });
  const pixels = data.length / 4;
  const colours = new Uint8Array(pixels * 3);
  const alpha = new Uint8Array(pixels);
  for (let i = 0; i < pixels; i++) {
    for (let c = 0; c < 3; c++) colours[i * 3 + c] = data[i * 4 + c] ?? 0;
    alpha[i] = data[i * 4 + 3] ?? 0;
  }
  const picture = imageStream(out, colours, { width, height }, 'DeviceRGB');
  if (alpha.some((value) => value < 255)) {
    const mask = imageStream(out, alpha, { width, height }, 'DeviceGray');
    picture.dict.set(PDFName.of('SMask'), out.context.register(mask));
  }
  const sheet = out.addPage([page.width, page.height]);
  if (page.unit > 1) sheet.node.set(PDFName.of('UserUnit'), PDFNumber.of(page.unit));
  const name = sheet.node.newXObject('Picture', out.context.register(picture)).toString();
  const content = `q ${String(page.width)} 0 0 ${String(page.height)} 0 0 cm ${name} Do Q`;
  sheet.node.addContentStream(out.context.register(out.context.flateStream(content)));
  return out.save();
}
