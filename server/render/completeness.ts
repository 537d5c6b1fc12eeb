import { type FileHandle, open } from 'node:fs/promises';
import type { FileFormat } from '../../core/ticket/fileFormat.ts';
import { Unreadable } from './facts.ts';
import { readTiff } from './picture/tiffTags.ts';

/** What a look at a file's structure says, without reading all of it. */
export type Completeness =
  | { readonly kind: 'whole'; readonly format: FileFormat }
  | { readonly kind: 'incomplete'; readonly format: FileFormat | undefined; readonly lacks: string }
  | { readonly kind: 'empty' }
  | { readonly kind: 'unsupported'; readonly looksLike: string };

/** Mail programs and download tools append to PDFs; the end mark is looked for this far back. */
const TAIL_BYTES = 16 * 1024;

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
    if (
      /<svg[\s>]/i.test(head.toString('utf8')) ||
      (/^\s*(<\?xml|<!--|<!DOCTYPE svg)/i.test(head.toString('utf8')) && (await mentionsSvg(file, size)))
    ) {
      return await svg(file, size);
    }
    // Some copiers lay out the whole length first and fill it in later.
    if (head.every((byte) => byte === 0)) return { kind: 'incomplete', format: undefined, lacks: 'its beginning' };
    return { kind: 'unsupported', looksLike: nameOf(head) };
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
  if (!tail.includes('%%EOF')) return incomplete('its end mark (%%EOF)');
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
  return { kind: 'incomplete', format: 'jpeg', lacks: 'its end mark' };
}

/** Its data must lie within it: the tags say where they end. */
async function tiff(path: string, size: number): Promise<Completeness> {
  try {
    const pages = await readTiff(path, 2000);
    const end = Math.max(0, ...pages.map((page) => page.dataEnd));
    if (pages.length === 0) return { kind: 'incomplete', format: 'tiff', lacks: 'its tags' };
    if (end <= size) return { kind: 'whole', format: 'tiff' };
    return { kind: 'incomplete', format: 'tiff', lacks: `${String(end - size)} of ${String(end)} bytes` };
  } catch (error) {
    if (error instanceof Unreadable || error instanceof RangeError)
      return { kind: 'incomplete', format: 'tiff', lacks: 'its tags' };
    throw error;
  }
}

/** A long comment may stand before the first tag. */
async function mentionsSvg(file: FileHandle, size: number): Promise<boolean> {
  return /<svg[\s>]/i.test((await read(file, 0, Math.min(64 * 1024, size))).toString('utf8'));
}

async function svg(file: FileHandle, size: number): Promise<Completeness> {
  const tail = (await read(file, Math.max(0, size - 4096), Math.min(4096, size))).toString('utf8');
  if (/<\/(?:\w+:)?svg\s*>\s*(?:<!--[\s\S]*?-->\s*)*$/i.test(tail) || /<svg[^>]*\/>\s*$/i.test(tail)) {
    return { kind: 'whole', format: 'svg' };
  }
  return { kind: 'incomplete', format: 'svg', lacks: 'its end tag' };
}

function nameOf(head: Buffer): string {
  const text = head.toString('latin1');
  if (text.startsWith('PK')) return 'a ZIP archive or office document';
  if (text.startsWith('GIF8')) return 'a GIF';
  if (text.startsWith('8BPS')) return 'a layered picture document';
  if (text.startsWith('%!PS')) return 'a PostScript file';
  return 'no format that can be printed';
}
