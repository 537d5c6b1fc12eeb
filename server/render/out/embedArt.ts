import { readFile, stat } from 'node:fs/promises';
import { type PDFDocument, PDFName, type PDFPage, type PDFRef } from '@cantoo/pdf-lib';
import sharp, { type Sharp } from 'sharp';
import type { DataPaths } from '../../files/paths.ts';
import type { Limits } from '../../limits.ts';
import type { Matrix } from '../pdf/matrix.ts';
import { type PageGeometry, pageGeometry } from '../pdf/pdfBoxes.ts';
import { dropCutLine } from '../pdf/dropCutLine.ts';
import { LayBudget } from './layBudget.ts';
import { type OutputIntent, keepOutputIntent, sayingMore, tagPicture, takeOutputIntent } from './ownProfile.ts';
import { imageStream, packedStream } from './imageStream.ts';
import { keepChannels, packPixels } from '../picture/packedPixels.ts';
import { loadPdf } from '../pdf/readPdf.ts';
import { tiffIndex } from '../picture/readPicture.ts';
import { svgAsPdf } from '../svg/readSvg.ts';
import { separatePart } from '../picture/separatePart.ts';
import { separatePage } from '../pdf/colours/separatePdf.ts';
import { toned, tonesOf } from '../picture/pngTones.ts';
import { readSamples } from '../picture/spotPicture.ts';
import { readTiff, spotNames, type TiffPage } from '../picture/tiffTags.ts';
import type { Source } from '../art.ts';

/** A page or picture that is embedded once, however often it is placed; `fit` maps it into the unit square, upright. */
export interface Embedded {
  readonly ref: PDFRef;
  readonly fit: Matrix;
}

const UNIT: Matrix = [1, 0, 0, 1, 0, 0];

/** Names what is embedded once: a page of a file, or one of its inks, with or without its cut line. */
export function embeddedKey({ sha256, page, part, without }: Source): string {
  return `${sha256}/${String(page)}/${part ?? ''}/${without ? `${without.from} ${without.name ?? ''}` : ''}`;
}

/** Embeds every source that is needed, each page and each part of it once. */
export async function embedAll(
  out: PDFDocument,
  art: readonly Source[],
  paths: DataPaths,
  limits: Limits,
  tell: (share: number) => void,
): Promise<Map<string, Embedded>> {
  const embedded = new Map<string, Embedded>();
  const budget = new LayBudget(limits.layBytes);
  /** Read whole, as they go in as they are. */
  const read = async (file: string): Promise<Buffer> => {
    budget.take((await stat(file)).size);
    return readFile(file);
  };
  const wanted = new Map(art.map((item) => [embeddedKey(item), item]));
  const documents = new Map<string, PDFDocument>();
  const intents = new Map<string, OutputIntent | null>();
  /** One for all pages of a file. */
  const intentOf = (sha256: string, document: PDFDocument): OutputIntent | null => {
    const known = intents.get(sha256);
    if (known !== undefined) return known;
    const taken = takeOutputIntent(out, document);
    intents.set(sha256, taken);
    return taken;
  };
  for (const [key, item] of wanted) {
    tell(embedded.size / wanted.size);
    const { sha256, format, page, part, without } = item;
    const path = paths.source(sha256);
    const paged = format === 'pdf' || format === 'svg';
    const load = async () =>
      loadPdf(
        await read(format === 'svg' ? await svgAsPdf(path, sha256, paths, limits, without?.name ?? undefined) : path),
      );
    if ((part !== null || without) && paged) {
      // Taking apart changes the document, so each part has one of its own.
      const document = await load();
      if (without) dropCutLine(document, document.getPage(page), without);
      if (part !== null) separatePage(document, document.getPage(page), part);
      const form = await embedPage(out, document.getPage(page));
      if (part === null) keepOutputIntent(out, form.ref, intentOf(sha256, document));
      embedded.set(key, form);
    } else if (part !== null) {
      const grey = await separatePart(item, paths, limits);
      embedded.set(key, { ref: out.context.register(imageStream(out, grey.data, grey, 'DeviceGray')), fit: UNIT });
    } else if (paged) {
      const source = documents.get(sha256) ?? (await load());
      documents.set(sha256, source);
      const form = await embedPage(out, source.getPage(page));
      keepOutputIntent(out, form.ref, intentOf(sha256, source));
      embedded.set(key, form);
    } else embedded.set(key, await embedPicture(out, { path, format, page }, paths, limits, budget, read));
  }
  return embedded;
}

/** A page as a form, cut to what of it is printed; it keeps its vectors and its fonts. */
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

async function embedPicture(
  out: PDFDocument,
  { path, format, page }: { readonly path: string; readonly format: 'png' | 'jpeg' | 'tiff'; readonly page: number },
  paths: DataPaths,
  limits: Limits,
  budget: LayBudget,
  read: (file: string) => Promise<Buffer>,
): Promise<Embedded> {
  if (format === 'jpeg') {
    // JPEG data go in as they are, CMYK included; the orientation that EXIF asks for becomes part of the placing.
    const bytes = await read(path);
    const { orientation, icc, channels } = await sharp(bytes).metadata();
    const image = await out.embedJpg(bytes);
    await image.embed();
    if (channels > 1) tagPicture(out, image.ref, sayingMore(icc), channels);
    return { ref: image.ref, fit: orientationFit(orientation ?? 1) };
  }
  const index = format === 'tiff' ? await tiffIndex(path, page, limits) : 0;
  const tiff = format === 'tiff' ? (await readTiff(path, limits.pages))[index] : undefined;
  if (tiff && spotNames(tiff).length > 0) return { ref: await embedSpotted(out, path, limits, index, tiff), fit: UNIT };
  return { ref: await embedPixels(out, path, index, await tonesOf(path, format), paths, budget), fit: UNIT };
}

/**
 * Decoded by the image library and packed by zlib: a large picture in JavaScript would take minutes. CMYK stays CMYK, and what brings a
 * profile stays as it is; everything else comes in sRGB; transparency goes in as a soft mask.
 */
async function embedPixels(
  out: PDFDocument,
  path: string,
  page: number,
  tones: number,
  paths: DataPaths,
  budget: LayBudget,
): Promise<PDFRef> {
  const opened = (ignoreIcc: boolean): Sharp =>
    sharp(path, { limitInputPixels: false, limitInputChannels: 32, unlimited: true, page, ignoreIcc }).autoOrient();
  const { hasAlpha, space: kind, icc } = await opened(false).metadata();
  const cmyk = kind === 'cmyk';
  const inks = cmyk ? 4 : kind === 'b-w' || kind === 'grey16' ? 1 : 3;
  // What brings a profile keeps its own numbers, and the profile goes along.
  const own = inks === 1 || kind === 'lab' || kind === 'labs' ? null : sayingMore(icc);
  const open = (): Sharp => opened(own !== null);
  const whole = cmyk
    ? open().pipelineColourspace('cmyk').toColourspace('cmyk')
    : toned(open(), tones)
        .removeAlpha()
        .toColourspace(inks === 1 ? 'b-w' : 'srgb');
  const space = inks === 4 ? 'DeviceCMYK' : inks === 3 ? 'DeviceRGB' : 'DeviceGray';
  const image = packedStream(out, await packPixels(whole, inks, paths.temporary, budget), space);
  if (hasAlpha) {
    const alpha = open().extractChannel('alpha').toColourspace('b-w');
    const mask = packedStream(out, await packPixels(alpha, 1, paths.temporary, budget), 'DeviceGray');
    image.dict.set(PDFName.of('SMask'), out.context.register(mask));
  }
  const ref = out.context.register(image);
  tagPicture(out, ref, own, inks);
  return ref;
}

/** The process colours of a file with spot channels; the spots print as parts of their own. */
async function embedSpotted(
  out: PDFDocument,
  path: string,
  limits: Limits,
  page: number,
  tiff: TiffPage,
): Promise<PDFRef> {
  const { data, width, height, channels } = await readSamples(path, limits, page, tiff);
  const inks = tiff.photometric === 5 ? 4 : tiff.photometric < 2 ? 1 : 3;
  const space = inks === 4 ? 'DeviceCMYK' : inks === 3 ? 'DeviceRGB' : 'DeviceGray';
  const ref = out.context.register(imageStream(out, keepChannels(data, channels, inks), { width, height }, space));
  const { icc } = await sharp(path, { limitInputPixels: false, limitInputChannels: 32, page }).metadata();
  if (inks > 1) tagPicture(out, ref, sayingMore(icc), inks);
  return ref;
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
