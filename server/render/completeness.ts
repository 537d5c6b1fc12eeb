import { type FileHandle, open } from 'node:fs/promises';
import type { FileFormat } from '../../core/ticket/fileFormat.ts';
import { Unreadable } from './facts.ts';
import { textEncoding } from '../files/textEncoding.ts';
import { type TiffPage, readTiff } from './picture/tiffTags.ts';

/** What a look at a file's structure says, without reading all of it. */
export type Completeness =
  | { readonly kind: 'whole'; readonly format: FileFormat }
  | { readonly kind: 'incomplete'; readonly format: FileFormat | undefined; readonly lacks: string }
  /** It may be whole, or have been laid out in its full length and not been filled in yet: only time tells. */
  | { readonly kind: 'doubtful'; readonly format: FileFormat }
  | { readonly kind: 'empty' }
  | { readonly kind: 'unsupported'; readonly looksLike: string; readonly instead: string };

/** Mail programs and download tools append to PDFs; the end mark is looked for this far back. */
const TAIL_BYTES = 16 * 1024;
const LONG_TAIL_BYTES = 4 * 1024 * 1024;

const SVG_TAG = /<(?:[\w.-]+:)?svg[\s>]/i;
const PNG_SIGNATURE = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
const TIFF_SIGNATURES = ['II*\0', 'MM\0*', 'II+\0', 'MM\0+'].map((text) => Buffer.from(text, 'latin1'));
const PNG_END = Buffer.from([0, 0, 0, 0, 0x49, 0x45, 0x4e, 0x44, 0xae, 0x42, 0x60, 0x82]);

/**
 * Tells whether a file has its end. A slow copy that pauses looks finished by its size alone; its structure doesn't.
 */
export async function inspectFile(path: string): Promise<Completeness> {
  const file = await open(path, 'r');
  try {
    const { size } = await file.stat();
    if (size === 0) return { kind: 'empty' };
    const head = await read(file, 0, Math.min(1024, size));
    if (head.includes('%PDF-')) return await pdf(file, size);
    if (startsLike(head, PNG_SIGNATURE)) return await png(file, size);
    if (startsLike(head, Buffer.from([0xff, 0xd8, 0xff]))) return await jpeg(file, size);
    if (TIFF_SIGNATURES.some((signature) => startsLike(head, signature) && head.length >= 8))
      return await tiff(path, size);
    const encoding = textEncoding(head);
    const text = new TextDecoder(encoding).decode(head);
    if (
      SVG_TAG.test(text) ||
      (/^\s*(<\?xml|<!--|<!DOCTYPE svg)/i.test(text) && (await mentionsSvg(file, size, encoding)))
    ) {
      return await svg(file, size, encoding);
    }
    // Some copiers lay out the whole length first and fill it in later.
    if (head.every((byte) => byte === 0)) return { kind: 'incomplete', format: undefined, lacks: 'its beginning' };
    return { kind: 'unsupported', ...unread(head) };
  } finally {
    await file.close();
  }
}

/** True where what is there so far agrees with the signature, also when it is shorter. */
function startsLike(head: Buffer, signature: Buffer): boolean {
  const n = Math.min(head.length, signature.length);
  return head.subarray(0, n).equals(signature.subarray(0, n));
}

async function read(file: FileHandle, from: number, length: number): Promise<Buffer> {
  const buffer = Buffer.alloc(Math.max(0, length));
  const { bytesRead } = await file.read(buffer, 0, buffer.length, from);
  return buffer.subarray(0, bytesRead);
}

/** A PDF is whole when its end mark is there and points into it; one made for the web says how long it is besides. */
async function pdf(file: FileHandle, size: number): Promise<Completeness> {
  const incomplete = (lacks: string): Completeness => ({ kind: 'incomplete', format: 'pdf', lacks });
  const tail = (await read(file, Math.max(0, size - TAIL_BYTES), Math.min(TAIL_BYTES, size))).toString('latin1');
  if (!tail.includes('%%EOF')) {
    // Much may have been appended; or it is an old end, and what was added to the file is not all here.
    const from = Math.max(0, size - LONG_TAIL_BYTES);
    const long = (await read(file, from, size - from)).toString('latin1');
    if (/startxref\s+[1-9]\d*\s+%%EOF/.test(long)) return { kind: 'doubtful', format: 'pdf' };
    return incomplete('its end mark (%%EOF)');
  }
  const start = /startxref\s+(\d+)\s+%%EOF/.exec(tail.slice(tail.lastIndexOf('startxref')));
  // A file laid out for the web has an end mark near its beginning, with nothing behind startxref.
  if (!start || Number(start[1]) === 0 || Number(start[1]) >= size) return incomplete('its table of contents');
  const head = (await read(file, 0, Math.min(2048, size))).toString('latin1');
  const linear = /\/Linearized[^>]*?\/L\s+(\d+)/.exec(head);
  if (linear && Number(linear[1]) > size) {
    return incomplete(`${String(Number(linear[1]) - size)} of ${linear[1] ?? ''} bytes`);
  }
  return { kind: 'whole', format: 'pdf' };
}

async function png(file: FileHandle, size: number): Promise<Completeness> {
  const tail = await read(file, Math.max(0, size - 12), 12);
  if (tail.equals(PNG_END)) return { kind: 'whole', format: 'png' };
  // Something may follow the end chunk: walk the chunks.
  let at = 8;
  while (at + 12 <= size) {
    const chunk = await read(file, at, 8);
    if (chunk.toString('latin1', 4, 8) === 'IEND') return { kind: 'whole', format: 'png' };
    at += 12 + chunk.readUInt32BE(0);
  }
  return { kind: 'incomplete', format: 'png', lacks: 'its end chunk' };
}

async function jpeg(file: FileHandle, size: number): Promise<Completeness> {
  const tail = await read(file, Math.max(0, size - 4096), Math.min(4096, size));
  const end = tail.lastIndexOf(Buffer.from([0xff, 0xd9]));
  // Cameras pad behind the end mark; data that goes on behind a preview's end mark is not padding.
  const rest = end < 0 ? undefined : tail.subarray(end + 2);
  if (rest?.every((byte) => byte === 0 || byte === 0xff || byte === 0x0a || byte === 0x0d || byte === 0x20)) {
    return { kind: 'whole', format: 'jpeg' };
  }
  // Something else may follow: then the end is looked for from the beginning.
  if (await jpegEnds(file, size)) return { kind: 'whole', format: 'jpeg' };
  return { kind: 'incomplete', format: 'jpeg', lacks: 'its end mark' };
}

/** So much of a file is read at a time. */
const STEP_BYTES = 1024 * 1024;

/**
 * Walks a JPEG from segment to segment, and through the data of each scan: what lies within a segment, a preview for instance, is
 * stepped over.
 */
async function jpegEnds(file: FileHandle, size: number): Promise<boolean> {
  let at = 2;
  for (;;) {
    const head = await read(file, at, Math.min(4, size - at));
    if (head.length < 2 || head[0] !== 0xff) return false;
    const marker = head[1] ?? 0;
    if (marker === 0xd9) return true;
    if (marker === 0xff) {
      at += 1;
      continue;
    }
    if (head.length < 4) return false;
    at += 2 + head.readUInt16BE(2);
    // The picture's own data follow; they hold no other markers than those that restart it.
    if (marker === 0xda) at = await nextMarker(file, size, at);
  }
}

async function nextMarker(file: FileHandle, size: number, from: number): Promise<number> {
  for (let start = from; start < size; start += STEP_BYTES) {
    // One byte more, so that a marker may lie across two steps.
    const part = await read(file, start, Math.min(STEP_BYTES + 1, size - start));
    for (let i = part.indexOf(0xff); i >= 0 && i + 1 < part.length; i = part.indexOf(0xff, i + 1)) {
      const next = part[i + 1] ?? 0;
      if (next !== 0 && next !== 0xff && !(next >= 0xd0 && next <= 0xd7)) return start + i;
    }
  }
  return size;
}

/** Its data must lie within it: the tags say where they end. */
async function tiff(path: string, size: number): Promise<Completeness> {
  try {
    const pages = await readTiff(path, 2000);
    const end = Math.max(0, ...pages.map((page) => page.dataEnd));
    if (pages.length === 0) return { kind: 'incomplete', format: 'tiff', lacks: 'its tags' };
    if (end <= size) return await tiffEnd(path, pages);
    return { kind: 'incomplete', format: 'tiff', lacks: `${String(end - size)} of ${String(end)} bytes` };
  } catch (error) {
    if (error instanceof Unreadable || error instanceof RangeError)
      return { kind: 'incomplete', format: 'tiff', lacks: 'its tags' };
    throw error;
  }
}

/** So much of the end of each picture is looked at. */
const END_BYTES = 4096;
/** Shorter data may end in zeros however they are packed. */
const MIN_ZEROS = 64;

/**
 * Its tags stand in front while its length is laid out first and its pixels follow: where they are not there yet, there are zeros.
 * No packed data end in so many of them; in plain ones they may be black, or paper where inks are counted.
 */
async function tiffEnd(path: string, pages: readonly TiffPage[]): Promise<Completeness> {
  const file = await open(path, 'r');
  try {
    for (const { dataEnd, compression, dataBytes } of pages) {
      const length = Math.min(END_BYTES, dataBytes);
      const end = await read(file, dataEnd - length, length);
      if (length < MIN_ZEROS || end.some((byte) => byte !== 0)) continue;
      if (compression === 1) return { kind: 'doubtful', format: 'tiff' };
      return { kind: 'incomplete', format: 'tiff', lacks: 'the last of its picture data' };
    }
    return { kind: 'whole', format: 'tiff' };
  } finally {
    await file.close();
  }
}

/** A long comment may stand before the first tag. */
async function mentionsSvg(file: FileHandle, size: number, encoding: string): Promise<boolean> {
  return SVG_TAG.test(new TextDecoder(encoding).decode(await read(file, 0, Math.min(64 * 1024, size))));
}

async function svg(file: FileHandle, size: number, encoding: string): Promise<Completeness> {
  // Letters of two bytes begin at even places.
  const from = Math.max(0, size - 4096) & ~1;
  const tail = new TextDecoder(encoding).decode(await read(file, from, size - from));
  if (/<\/(?:\w+:)?svg\s*>\s*(?:<!--[\s\S]*?-->\s*)*$/i.test(tail) || /<svg[^>]*\/>\s*$/i.test(tail)) {
    return { kind: 'whole', format: 'svg' };
  }
  return { kind: 'incomplete', format: 'svg', lacks: 'its end tag' };
}

/** Formats that are not read, by how they begin: what they are called, and what to save instead. */
const UNREAD: readonly (readonly [begins: readonly (string | RegExp)[], looksLike: string, instead: string])[] = [
  [[/^%!PS-Adobe-\d\.\d EPSF/, '\xc5\xd0\xd3\xc6'], 'an EPS file', 'Save it as PDF.'],
  [['%!PS'], 'a PostScript file', 'Save it as PDF.'],
  [['8BPS'], 'a layered picture document', 'Save it as a flat TIFF or PDF.'],
  [[/^RIFF[^]{4}WEBP/], 'a WebP picture', 'Save it as PNG or TIFF.'],
  [['GIF8'], 'a GIF', 'Save it as PNG, or better have the original.'],
  [['BM'], 'a BMP picture', 'Save it as PNG or TIFF.'],
  [[/^[^]{4}ftyp(hei|mif|msf)/], 'a HEIC picture', 'Save it as JPEG or TIFF.'],
  [[/^[^]{4}ftypavi/], 'an AVIF picture', 'Save it as PNG or TIFF.'],
  [[/^[^]{4}jP {2}/, '\xff\x4f\xff\x51'], 'a JPEG 2000 picture', 'Save it as TIFF.'],
  [[/^[^]{4}JXL /, '\xff\x0a'], 'a JPEG XL picture', 'Save it as PNG or TIFF.'],
  [['AC10'], 'a DWG drawing', 'Save it as PDF.'],
  [[/^\s*0\r?\n\s*SECTION/], 'a DXF drawing', 'Save it as PDF.'],
  [['\x1b%-12345X', '@PJL'], 'a print data stream', 'Save it as PDF instead of printing it to a file.'],
  [['\x1b%-', 'IN;'], 'a plotter file', 'Save it as PDF.'],
  [['PK\x03\x04'], 'an office document or an archive', 'Save what is in it as PDF, each file by itself.'],
  [['\xd0\xcf\x11\xe0'], 'an office document', 'Save it as PDF.'],
  [['Rar!', '7z\xbc\xaf', '\x1f\x8b'], 'an archive', 'Unpack it, and bring in the files that are in it.'],
];

function unread(head: Buffer): { readonly looksLike: string; readonly instead: string } {
  const text = head.toString('latin1');
  const [, looksLike, instead] =
    UNREAD.find(([begins]) =>
      begins.some((start) => (typeof start === 'string' ? text.startsWith(start) : start.test(text))),
    ) ?? [];
  return {
    looksLike: looksLike ?? 'no format that can be printed',
    instead: instead ?? 'PDF, PNG, JPEG, TIFF and SVG can be printed.',
  };
}
