import { constants, createInflate, inflateSync } from 'node:zlib';
import { PDFArray, PDFDict, PDFName, type PDFObject, PDFRawStream } from '@cantoo/pdf-lib';
import sharp, { type Sharp } from 'sharp';
import { storageFault } from '../../../files/storageFault.ts';
import { Unreadable } from '../../facts.ts';
import { streamBytes } from '../pdfContents.ts';
import { numberOf } from './pdfFunction.ts';

/** How a picture of a PDF is packed, as far as that decides who unpacks it. */
export type ImagePacking = 'samples' | 'jpeg' | 'other';

const UNPACKED = [
  'FlateDecode',
  'Fl',
  'LZWDecode',
  'LZW',
  'ASCII85Decode',
  'A85',
  'ASCIIHexDecode',
  'AHx',
  'RunLengthDecode',
  'RL',
];

export function packingOf({ dict }: PDFRawStream): ImagePacking {
  const names = filtersOf(dict);
  const last = names[names.length - 1];
  if (names.slice(0, -1).some((each) => !UNPACKED.includes(each))) return 'other';
  if (last === undefined || UNPACKED.includes(last)) return 'samples';
  return last === 'DCTDecode' || last === 'DCT' ? 'jpeg' : 'other';
}

function filtersOf(dict: PDFDict): string[] {
  const filter = dict.lookup(PDFName.of('Filter'));
  const names = filter instanceof PDFArray ? filter.asArray().map((_, i) => filter.lookup(i)) : [filter];
  return names.flatMap((each) => (each instanceof PDFName ? [each.decodeText()] : []));
}

/** A JPEG of a PDF, to be decoded: its own numbers, whatever profile lies in it. @param bytes see {@link jpegOf} */
export function openJpeg(bytes: Uint8Array): Sharp {
  return sharp(bytes, { limitInputPixels: false, ignoreIcc: true, unlimited: true, failOn: 'error' });
}

/** What it means that a JPEG could not be decoded; a disk that is full is no fault of it. */
export function jpegFault(error: unknown): unknown {
  if (error instanceof Unreadable || storageFault(error) !== undefined) return error;
  return new Unreadable('A JPEG in the artwork is damaged and cannot be decoded. Export it again.');
}

/** The JPEG file within a picture that is packed as one. */
export function jpegOf(stream: PDFRawStream): Uint8Array {
  const names = filtersOf(stream.dict);
  if (names.length === 1) return stream.contents;
  const dict = stream.dict.clone();
  dict.set(PDFName.of('Filter'), dict.context.obj(names.slice(0, -1)));
  dict.delete(PDFName.of('DecodeParms'));
  return streamBytes(PDFRawStream.of(dict, stream.contents));
}

/**
 * Samples of a picture that is packed without loss, as they come: one that was packed here is never held whole.
 * @throws Unreadable where it can't be unpacked
 */
export async function* samplesAsTheyCome(stream: PDFRawStream): AsyncGenerator<Uint8Array> {
  const parms = lastParms(stream.dict);
  const [filter, ...more] = filtersOf(stream.dict);
  const isPredicted = parms !== undefined && numberOf(parms, 'Predictor', 1) !== 1;
  if ((filter !== 'FlateDecode' && filter !== 'Fl') || more.length > 0 || isPredicted) {
    yield samplesOfImage(stream);
    return;
  }
  // What is cut short gives its upper rows.
  const unpacked = createInflate({ finishFlush: constants.Z_SYNC_FLUSH });
  unpacked.end(stream.contents);
  try {
    yield* unpacked as AsyncIterable<Buffer>;
  } catch {
    // What is damaged has given what comes before the damage by now.
  }
}

/**
 * Samples of a picture that is packed without loss: rows of whole bytes, as the picture has them.
 * @throws Unreadable where it can't be unpacked
 */
export function samplesOfImage(stream: PDFRawStream): Uint8Array {
  const { dict } = stream;
  const names = filtersOf(dict);
  const plain = names.length === 1 && (names[0] === 'FlateDecode' || names[0] === 'Fl');
  let bytes: Uint8Array;
  try {
    bytes = plain ? inflateSync(stream.contents) : streamBytes(stream);
  } catch {
    // What is cut short still has its upper rows: the reader of streams gives what is there.
    bytes = streamBytes(stream);
  }
  const parms = lastParms(dict);
  const predictor = parms ? numberOf(parms, 'Predictor', 1) : 1;
  if (!parms || predictor === 1) return bytes;
  const colours = numberOf(parms, 'Colors', 1);
  const bits = numberOf(parms, 'BitsPerComponent', 8);
  const columns = numberOf(parms, 'Columns', 1);
  const rowBytes = Math.ceil((colours * bits * columns) / 8);
  if (predictor >= 10) return withoutPngPrediction(bytes, rowBytes, Math.max(1, (colours * bits) / 8));
  if (predictor === 2 && bits === 8) return withoutTiffPrediction(bytes, rowBytes, colours);
  throw new Unreadable('A picture of the artwork is packed in a way that is not supported.');
}

function lastParms(dict: PDFDict): PDFDict | undefined {
  const parms: PDFObject | undefined = dict.lookup(PDFName.of('DecodeParms'));
  const last = parms instanceof PDFArray ? parms.lookup(parms.size() - 1) : parms;
  return last instanceof PDFDict ? last : undefined;
}

/** Each row begins with how it was predicted: by the pixel before, the row above, or both. Source: ISO 15948, 9. */
function withoutPngPrediction(bytes: Uint8Array, rowBytes: number, pixelBytes: number): Uint8Array {
  const rows = Math.floor((bytes.length + rowBytes) / (rowBytes + 1));
  const out = new Uint8Array(rows * rowBytes);
  for (let row = 0; row < rows; row += 1) {
    const from = row * (rowBytes + 1);
    const at = row * rowBytes;
    const kind = bytes[from] ?? 0;
    for (let i = 0; i < rowBytes; i += 1) {
      const left = i >= pixelBytes ? (out[at + i - pixelBytes] ?? 0) : 0;
      const above = row > 0 ? (out[at + i - rowBytes] ?? 0) : 0;
      const corner = row > 0 && i >= pixelBytes ? (out[at + i - rowBytes - pixelBytes] ?? 0) : 0;
      out[at + i] = (bytes[from + 1 + i] ?? 0) + predicted(kind, left, above, corner);
    }
  }
  return out;
}

function predicted(kind: number, left: number, above: number, corner: number): number {
  switch (kind) {
    case 1:
      return left;
    case 2:
      return above;
    case 3:
      return (left + above) >> 1;
    case 4: {
      const whole = left + above - corner;
      const [a, b, c] = [Math.abs(whole - left), Math.abs(whole - above), Math.abs(whole - corner)];
      return a <= b && a <= c ? left : b <= c ? above : corner;
    }
    default:
      return 0;
  }
}

function withoutTiffPrediction(bytes: Uint8Array, rowBytes: number, colours: number): Uint8Array {
  const out = Uint8Array.from(bytes);
  for (let i = 0; i < out.length; i += 1) {
    if (i % rowBytes >= colours) out[i] = (out[i] ?? 0) + (out[i - colours] ?? 0);
  }
  return out;
}
