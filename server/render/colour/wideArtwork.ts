import { readFile } from 'node:fs/promises';
import { PDFDocument, PDFName, PDFRawStream } from '@cantoo/pdf-lib';
import type { Intent } from '../../../core/coats/intent.ts';
import { writeWhole } from '../../files/atomic.ts';
import type { DataPaths } from '../../files/paths.ts';
import type { Limits } from '../../limits.ts';
import { LayBudget } from '../out/layBudget.ts';
import { packedStream } from '../out/imageStream.ts';
import { type ArtSpace, processSpaces } from '../pdf/colours/artSpace.ts';
import { jpegFault, jpegOf, openJpeg, packingOf, samplesAsTheyCome } from '../pdf/colours/imageSamples.ts';
import { PageColours } from '../pdf/colours/pageColours.ts';
import { numberOf, numbersOf } from '../pdf/colours/pdfFunction.ts';
import { type OwedPicture, WideTarget } from '../pdf/colours/wideTarget.ts';
import { type PackedPixels, packPixels, packSamples, wholePixels } from '../picture/packedPixels.ts';
import { ArtworkColours } from './artworkColours.ts';

/** Profiles that colours of artwork are read by; each is named by the hash of its file. */
export interface ArtworkOrder {
  /** Names the copy; a hash of all the rest. */
  readonly key: string;
  /** The laid-out run. */
  readonly pdfKey: string;
  readonly embedded: boolean;
  /** Null: sRGB. */
  readonly rgb: { readonly name: string; readonly sha256: string } | null;
  readonly cmyk: { readonly name: string; readonly sha256: string };
  readonly intent: Intent;
}

/** Pixels that are written at once where there are none. */
const SLICE = 1 << 18;

/**
 * Writes a copy of a laid-out run in which all colours are in the wide RGB: those of files by the profiles that they bring, CMYK, spots and
 * Lab by what they mean. What is drawn from it can become inks by one table.
 * @throws Unreadable where a profile or a colour of the artwork can't be used, with the reason
 */
export async function wideArtwork(
  order: ArtworkOrder,
  paths: DataPaths,
  limits: Limits,
): Promise<Record<string, never>> {
  const bytesOf = (profile: { readonly sha256: string }): Promise<Buffer> => readFile(paths.profile(profile.sha256));
  const colours = await ArtworkColours.open({
    embedded: order.embedded,
    rgb: order.rgb === null ? null : await bytesOf(order.rgb),
    cmyk: await bytesOf(order.cmyk),
    intent: order.intent,
  });
  try {
    const document = await PDFDocument.load(await readFile(paths.laidOut(order.pdfKey)), { updateMetadata: false });
    await toWide(document, colours, paths, limits);
    const bytes = await document.save({ updateFieldAppearances: false, addDefaultPage: false });
    await writeWhole(paths.wide(order.key), bytes);
    return {};
  } finally {
    colours.close();
  }
}

/** @param document is changed */
async function toWide(document: PDFDocument, colours: ArtworkColours, paths: DataPaths, limits: Limits): Promise<void> {
  const { context } = document;
  const budget = new LayBudget(limits.layBytes);
  const target = new WideTarget(context, colours, processSpaces(colours));
  const pages = new PageColours(document, limits.layBytes);
  for (const page of document.getPages()) pages.rewrite(page, target);
  for (const { ref, space } of target.owed) {
    const stream = context.lookup(ref);
    if (stream instanceof PDFRawStream) context.assign(ref, await widePicture(document, stream, space, paths, budget));
  }
}

async function widePicture(
  document: PDFDocument,
  stream: PDFRawStream,
  space: OwedPicture['space'],
  paths: DataPaths,
  budget: LayBudget,
): Promise<PDFRawStream> {
  const { dict } = stream;
  const size = { width: numberOf(dict, 'Width', 0), height: numberOf(dict, 'Height', 0) };
  const packed =
    packingOf(stream) === 'jpeg'
      ? await fromJpeg(stream, space, paths, budget)
      : { ...size, data: await packSamples(fromSamples(stream, size, space), budget) };
  const made = packedStream(document, packed, 'DeviceRGB');
  for (const key of ['SMask', 'Mask', 'Interpolate']) {
    const value = dict.get(PDFName.of(key));
    if (value) made.dict.set(PDFName.of(key), value);
  }
  return made;
}

async function fromJpeg(
  stream: PDFRawStream,
  space: ArtSpace,
  paths: DataPaths,
  budget: LayBudget,
): Promise<PackedPixels> {
  const bytes = jpegOf(stream);
  const isCmyk = space.components === 4;
  const image = openJpeg(bytes);
  const whole = isCmyk ? image.pipelineColourspace('cmyk').toColourspace('cmyk') : image.toColourspace('srgb');
  // The image library turns such files the right way round by itself; what the PDF says of them counts from how they are stored.
  const isTurned = isCmyk && hasAdobeMark(bytes);
  const change = changer(stream, space, isTurned);
  try {
    return await packPixels(whole, space.components, paths.temporary, budget, change);
  } catch (error) {
    throw jpegFault(error);
  }
}

/** Pixels of a picture that is packed without loss, as they come. */
async function* fromSamples(
  stream: PDFRawStream,
  { width, height }: { readonly width: number; readonly height: number },
  space: ArtSpace,
): AsyncGenerator<Uint8Array> {
  const { components } = space;
  const bytesEach = numberOf(stream.dict, 'BitsPerComponent', 8) / 8;
  const change = changer(stream, space, false);
  let left = width * height;
  for await (const part of wholePixels(samplesAsTheyCome(stream), components * bytesEach, (pixels) => pixels)) {
    // Of 16 bits the upper eight.
    const pixels = bytesEach === 1 ? part : part.filter((_, i) => i % bytesEach === 0);
    const count = Math.min(left, pixels.length / components);
    yield change(pixels.subarray(0, count * components));
    left -= count;
    if (left <= 0) return;
  }
  // What is missing of a picture that is cut short is bare.
  for (const slice = Math.min(left, SLICE); left > 0; left -= slice)
    yield new Uint8Array(Math.min(left, slice) * 3).fill(255);
}

/** Samples of 8 bits to wide RGB: first what the picture says of them, then its space. */
function changer({ dict }: PDFRawStream, space: ArtSpace, isTurned: boolean): (pixels: Uint8Array) => Uint8Array {
  const { components, fast } = space;
  if (!fast) throw new Error('a picture without a fast way to wide RGB');
  const decode = numbersOf(dict, 'Decode', space.domain);
  const ways = Array.from({ length: components }, (_, c) => {
    const [from = 0, to = 1] = [decode[c * 2], decode[c * 2 + 1]];
    return Uint8Array.from({ length: 256 }, (__, value) => {
      const stored = isTurned ? 255 - value : value;
      return Math.round(Math.min(1, Math.max(0, from + (stored / 255) * (to - from))) * 255);
    });
  });
  const isPlain = ways.every((way) => way.every((value, i) => value === i));
  if (isPlain) return fast;
  return (pixels) => {
    const changed = new Uint8Array(pixels.length);
    for (let i = 0; i < pixels.length; i += 1) changed[i] = ways[i % components]?.[pixels[i] ?? 0] ?? 0;
    return fast(changed);
  };
}

/** Whether a JPEG says who made it, in a way by which its four colours are stored the other way round. */
function hasAdobeMark(bytes: Uint8Array): boolean {
  const file = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length);
  for (let at = 2; at + 4 <= file.length && file[at] === 0xff;) {
    const kind = file[at + 1] ?? 0;
    if (kind === 0xda) return false;
    if (kind === 0xee && file.toString('latin1', at + 4, at + 9) === 'Adobe') return true;
    at += 2 + file.readUInt16BE(at + 2);
  }
  return false;
}
