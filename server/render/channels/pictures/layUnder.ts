import { type FileHandle, mkdir, open, readFile, rename, rm } from 'node:fs/promises';
import { PDFDict, PDFDocument, PDFName, PDFRawStream, type PDFRef } from '@cantoo/pdf-lib';
import sharp, { type Sharp } from 'sharp';
import { type InkTable, LANES } from '../../../../core/coats/inkTable.ts';
import { writeWhole } from '../../../files/atomic.ts';
import type { DataPaths } from '../../../files/paths.ts';
import { jpegFault, jpegOf, openJpeg, samplesAsTheyCome } from '../../pdf/colours/imageSamples.ts';
import { streamPixels, wholePixels } from '../../picture/packedPixels.ts';
import { TableReader } from '../tableReader.ts';
import { type FoundPicture, type PlacedSide, findPictures } from './findPictures.ts';

/*
 * Pictures of a run that are laid down as inks: converted once, at their own pixels, and enlarged row by row while dots are made of them. The
 * page library would unpack them for each window anew, and the table be read for each dot of them.
 */

/** A picture of inks, and where it lies among the dots of its run. */
export interface UnderPicture {
  /** Its file (see {@link DataPaths.coatPicture}); one picture may lie in many places. */
  readonly file: number;
  readonly pixels: number;
  readonly rows: number;
  readonly across: PlacedSide;
  readonly along: PlacedSide;
}

/** What a coat is drawn from. */
export interface Under {
  /** Whether what is left of the pages is a file of its own; else nothing was taken off them. */
  readonly isApart: boolean;
  readonly pictures: readonly UnderPicture[];
}

const NOTHING: Under = { isApart: false, pictures: [] };
/** All of them together on the disk; what is beyond is drawn by the page library. */
const MOST_BYTES = 2 * 1024 ** 3;
/** Whose rows and columns change places is held whole meanwhile, in three bytes a pixel. */
const MOST_TURNED = 40_000_000;
const SLICE = 1 << 16;

export interface UnderOrder {
  /** Of the rendering. */
  readonly key: string;
  /** The laid-out run, its colours as they are to be drawn. */
  readonly from: string;
  readonly width: number;
  readonly height: number;
}

/** What was found for a coat before; undefined: nobody has looked yet. */
export async function readUnder(paths: DataPaths, key: string): Promise<Under | undefined> {
  const text = await readFile(paths.coatUnder(key, 'json'), 'utf8').catch(() => undefined);
  return text === undefined ? undefined : (JSON.parse(text) as Under);
}

/** Finds the pictures of a run that can be laid under its pages, and converts them. It is done when its list is there. */
export async function layUnder(order: UnderOrder, table: InkTable, paths: DataPaths): Promise<Under> {
  const { key, from, width, height } = order;
  const document = await PDFDocument.load(await readFile(from), { updateMetadata: false });
  const pages = document.getPages();
  const edge = (page: number): number => Math.round((page / pages.length) * height);
  const files = new Map<string, FoundPicture>();
  let bytes = 0;
  const isWanted = (picture: FoundPicture): boolean => {
    if (files.has(fileKey(picture))) return true;
    const pixels = picture.widthPx * picture.heightPx;
    if (bytes + pixels * LANES > MOST_BYTES || (picture.isTransposed && pixels > MOST_TURNED)) return false;
    bytes += pixels * LANES;
    files.set(fileKey(picture), picture);
    return true;
  };
  const found = pages.flatMap((page, i) =>
    findPictures(document, page, { width, top: edge(i), bottom: edge(i + 1) }, isWanted),
  );
  if (found.length === 0) return keep(NOTHING, key, paths);
  await mkdir(paths.coat(key), { recursive: true });
  const keys = [...files.keys()];
  for (const [i, picture] of [...files.values()].entries()) await convert(document, picture, table, i, order, paths);
  dropPictures(document, new Set(found.map(({ ref }) => ref)));
  const rest = await document.save({ updateFieldAppearances: false, addDefaultPage: false });
  await writeWhole(paths.coatUnder(key, 'pdf'), rest);
  const pictures = found.map(({ across, along, isTransposed, widthPx, heightPx, ...more }) => ({
    file: keys.indexOf(fileKey({ isTransposed, ...more })),
    pixels: isTransposed ? heightPx : widthPx,
    rows: isTransposed ? widthPx : heightPx,
    across,
    along,
  }));
  return keep({ isApart: true, pictures }, key, paths);
}

function fileKey({ ref, isTransposed }: Pick<FoundPicture, 'ref' | 'isTransposed'>): string {
  return `${ref.toString()} ${String(isTransposed)}`;
}

async function keep(under: Under, key: string, paths: DataPaths): Promise<Under> {
  await writeWhole(paths.coatUnder(key, 'json'), JSON.stringify(under));
  return under;
}

/** What was taken off the pages needs no room in what is left of them. */
function dropPictures(document: PDFDocument, taken: ReadonlySet<PDFRef>): void {
  const { context } = document;
  for (const page of document.getPages()) {
    const all = page.node.Resources()?.lookup(PDFName.of('XObject'));
    if (!(all instanceof PDFDict)) continue;
    for (const [name, value] of all.entries()) if (taken.has(value as PDFRef)) all.delete(name);
  }
  for (const ref of taken) context.delete(ref);
}

let reader: TableReader | undefined;

async function convert(
  document: PDFDocument,
  picture: FoundPicture,
  table: InkTable,
  file: number,
  { key }: UnderOrder,
  paths: DataPaths,
): Promise<void> {
  const stream = document.context.lookup(picture.ref);
  if (!(stream instanceof PDFRawStream)) throw new Error('a picture that is none');
  if (reader?.nodes !== table.nodes) reader = new TableReader(table.nodes, SLICE);
  const own = reader;
  const target = paths.coatPicture(key, file);
  const part = `${target}.${crypto.randomUUID()}.part`;
  const out = await open(part, 'w');
  const lay = async (samples: AsyncIterable<Uint8Array>, channels: number): Promise<void> => {
    for await (const pixels of wholePixels(samples, channels, (each) => each)) {
      await convertPixels(pixels, channels, (rgba) => own.read(table, rgba), out);
    }
  };
  try {
    const image = await imageOf(stream, picture);
    if (image === null) {
      await lay(whole(stream, picture), channelsOf(stream));
    } else {
      await streamPixels(image, paths.temporary, (samples, { channels }) => lay(samples, channels));
    }
    await out.close();
    await rename(part, target);
  } catch (error) {
    throw picture.packing === 'jpeg' ? jpegFault(error) : error;
  } finally {
    await out.close().catch(() => undefined);
    await rm(part, { force: true });
  }
}

/** Some pixels to inks, behind what is in the file already. */
async function convertPixels(
  pixels: Uint8Array,
  channels: number,
  read: (rgba: Uint8Array) => Uint8Array,
  out: FileHandle,
): Promise<void> {
  const count = pixels.length / channels;
  const rgba = new Uint8Array(Math.min(count, SLICE) * 4).fill(255);
  for (let from = 0; from < count; from += SLICE) {
    const length = Math.min(SLICE, count - from);
    for (let i = 0; i < length; i += 1) {
      const at = (from + i) * channels;
      rgba[i * 4] = pixels[at] ?? 0;
      rgba[i * 4 + 1] = pixels[at + (channels === 1 ? 0 : 1)] ?? 0;
      rgba[i * 4 + 2] = pixels[at + (channels === 1 ? 0 : 2)] ?? 0;
    }
    await out.write(read(rgba.subarray(0, length * 4)));
  }
}

/** A picture that the image library unpacks or turns; null: its samples can be taken as they come. */
async function imageOf(stream: PDFRawStream, picture: FoundPicture): Promise<Sharp | null> {
  const { packing, isTransposed, widthPx, heightPx } = picture;
  if (packing !== 'jpeg' && !isTransposed) return null;
  let image: Sharp;
  if (packing === 'jpeg') image = openJpeg(jpegOf(stream));
  else {
    const channels = channelsOf(stream);
    const parts: Uint8Array[] = [];
    for await (const part of whole(stream, picture)) parts.push(part);
    image = sharp(Buffer.concat(parts), {
      limitInputPixels: false,
      raw: { width: widthPx, height: heightPx, channels },
    });
  }
  const upright = image.toColourspace('srgb');
  // The image library mirrors first, whatever is said first.
  return isTransposed ? upright.flip().rotate(90) : upright;
}

function channelsOf(stream: PDFRawStream): 1 | 3 {
  return stream.dict.get(PDFName.of('ColorSpace')) === PDFName.of('DeviceGray') ? 1 : 3;
}

/** Exactly the samples that a picture says it has: what is missing of one that is cut short is bare. */
async function* whole(stream: PDFRawStream, { widthPx, heightPx }: FoundPicture): AsyncGenerator<Uint8Array> {
  let left = widthPx * heightPx * channelsOf(stream);
  for await (const part of samplesAsTheyCome(stream)) {
    yield part.subarray(0, left);
    left -= part.length;
    if (left <= 0) return;
  }
  for (; left > 0; left -= SLICE) yield new Uint8Array(Math.min(left, SLICE)).fill(255);
}
