import { TILE } from './dotLines.ts';

/*
 * Channel files: what a device fires, dot by dot. A BigTIFF with one page for each channel, named by it (PageName), two bits a
 * dot (0: none … 3: a full drop), white is zero, in tiles that are packed by Deflate. Tiles that are alike may lie at one place.
 */

/** Tags of a page, by the numbers of the standard. */
const TAG = {
  width: 256,
  height: 257,
  bits: 258,
  compression: 259,
  photometric: 262,
  samples: 277,
  xResolution: 282,
  yResolution: 283,
  pageName: 285,
  resolutionUnit: 296,
  pageNumber: 297,
  tileWidth: 322,
  tileHeight: 323,
  tileOffsets: 324,
  tileBytes: 325,
} as const;
const SHORT = 3;
const LONG = 4;
const RATIONAL = 5;
const ASCII = 2;
const LONG8 = 16;
const SIZES: Readonly<Record<number, number>> = { [ASCII]: 1, [SHORT]: 2, [LONG]: 4, [RATIONAL]: 8, [LONG8]: 8 };
const DEFLATE = 8;
const INCH = 2;
const HEADER_BYTES = 16;
const BIG_TIFF = 43;
const ENTRY_BYTES = 20;

/** One channel of a file. */
export interface ChannelPage {
  /** Letters of the standard's seven bits. */
  readonly name: string;
  readonly width: number;
  readonly height: number;
  readonly dpiX: number;
  readonly dpiY: number;
  /** Row by row: where each tile lies in the file, and how long it is. */
  readonly tiles: readonly { readonly offset: number; readonly bytes: number }[];
}

/** How many tiles lie side by side, and how many rows of them there are. */
export function tileGrid(width: number, height: number): { readonly across: number; readonly down: number } {
  return { across: Math.ceil(width / TILE.width), down: Math.ceil(height / TILE.height) };
}

/** Bytes that a file of this standard begins with. @param directoryOffset where its first page is described */
export function channelHeader(directoryOffset: number): Uint8Array {
  const bytes = new Uint8Array(HEADER_BYTES);
  const view = new DataView(bytes.buffer);
  view.setUint16(0, 0x4949, true);
  view.setUint16(2, BIG_TIFF, true);
  view.setUint16(4, 8, true);
  view.setBigUint64(8, BigInt(directoryOffset), true);
  return bytes;
}

/** The directories of all pages, as they stand at the end of a file. @param at where they begin */
export function channelDirectories(pages: readonly ChannelPage[], at: number): Uint8Array {
  const parts: Uint8Array[] = [];
  let from = at;
  pages.forEach((page, i) => {
    const part = directory(page, i, pages.length, from);
    parts.push(part);
    from += part.length;
  });
  const all = new Uint8Array(from - at);
  let to = 0;
  for (const part of parts) {
    all.set(part, to);
    to += part.length;
  }
  return all;
}

type Value = readonly [tag: number, type: number, values: readonly number[]];

/** One page: its entries, then what does not fit into them, then the next page. */
function directory(page: ChannelPage, index: number, count: number, at: number): Uint8Array {
  const name = [...Array.from(page.name, (letter) => letter.charCodeAt(0) & 0x7f), 0];
  const values: readonly Value[] = [
    [TAG.width, LONG, [page.width]],
    [TAG.height, LONG, [page.height]],
    [TAG.bits, SHORT, [2]],
    [TAG.compression, SHORT, [DEFLATE]],
    [TAG.photometric, SHORT, [0]],
    [TAG.samples, SHORT, [1]],
    [TAG.xResolution, RATIONAL, [page.dpiX, 1]],
    [TAG.yResolution, RATIONAL, [page.dpiY, 1]],
    [TAG.pageName, ASCII, name],
    [TAG.resolutionUnit, SHORT, [INCH]],
    [TAG.pageNumber, SHORT, [index, count]],
    [TAG.tileWidth, LONG, [TILE.width]],
    [TAG.tileHeight, LONG, [TILE.height]],
    [TAG.tileOffsets, LONG8, page.tiles.map(({ offset }) => offset)],
    [TAG.tileBytes, LONG8, page.tiles.map(({ bytes }) => bytes)],
  ];
  const entriesEnd = 8 + values.length * ENTRY_BYTES + 8;
  const extra = values.map(([, type, list]) => {
    const bytes = byteCount(type, list);
    return bytes > 8 ? Math.ceil(bytes / 8) * 8 : 0;
  });
  const bytes = new Uint8Array(entriesEnd + extra.reduce((sum, each) => sum + each, 0));
  const view = new DataView(bytes.buffer);
  view.setBigUint64(0, BigInt(values.length), true);
  let beyond = entriesEnd;
  values.forEach(([tag, type, list], i) => {
    const entry = 8 + i * ENTRY_BYTES;
    const room = extra[i] ?? 0;
    view.setUint16(entry, tag, true);
    view.setUint16(entry + 2, type, true);
    view.setBigUint64(entry + 4, BigInt(type === RATIONAL ? list.length / 2 : list.length), true);
    if (room > 0) view.setBigUint64(entry + 12, BigInt(at + beyond), true);
    put(view, room > 0 ? beyond : entry + 12, type, list);
    beyond += room;
  });
  const next = index + 1 < count ? at + bytes.length : 0;
  view.setBigUint64(8 + values.length * ENTRY_BYTES, BigInt(next), true);
  return bytes;
}

function byteCount(type: number, list: readonly number[]): number {
  return type === RATIONAL ? list.length * 4 : list.length * (SIZES[type] ?? 1);
}

function put(view: DataView, at: number, type: number, list: readonly number[]): void {
  list.forEach((value, i) => {
    if (type === ASCII) view.setUint8(at + i, value);
    else if (type === SHORT) view.setUint16(at + i * 2, value, true);
    else if (type === LONG8) view.setBigUint64(at + i * 8, BigInt(value), true);
    else view.setUint32(at + i * 4, value, true);
  });
}

/**
 * The pages of a channel file, as a device reads them.
 * @throws where it is no such file
 */
export function readChannelFile(file: Uint8Array): ChannelPage[] {
  const view = new DataView(file.buffer, file.byteOffset, file.byteLength);
  if (file.length < HEADER_BYTES || view.getUint16(0, true) !== 0x4949 || view.getUint16(2, true) !== BIG_TIFF) {
    throw new Error('no channel file');
  }
  const pages: ChannelPage[] = [];
  let at = Number(view.getBigUint64(8, true));
  while (at !== 0) {
    if (at + 8 > file.length || pages.length > 64) throw new Error('a channel file that is cut off');
    const { page, next } = readDirectory(view, at);
    pages.push(page);
    at = next;
  }
  return pages;
}

function readDirectory(view: DataView, at: number): { readonly page: ChannelPage; readonly next: number } {
  const count = Number(view.getBigUint64(at, true));
  const values = new Map<number, number[]>();
  for (let i = 0; i < count; i += 1) {
    const entry = at + 8 + i * ENTRY_BYTES;
    const type = view.getUint16(entry + 2, true);
    const n = Number(view.getBigUint64(entry + 4, true));
    const size = SIZES[type] ?? 1;
    const from = n * size > 8 ? Number(view.getBigUint64(entry + 12, true)) : entry + 12;
    values.set(
      view.getUint16(entry, true),
      Array.from({ length: n }, (_, k) => numberAt(view, from + k * size, type)),
    );
  }
  const one = (tag: number): number => values.get(tag)?.[0] ?? 0;
  if (one(TAG.bits) !== 2 || one(TAG.compression) !== DEFLATE || one(TAG.tileWidth) !== TILE.width) {
    throw new Error('a channel file of another kind');
  }
  const sizes = values.get(TAG.tileBytes) ?? [];
  const name = String.fromCharCode(...(values.get(TAG.pageName) ?? []).filter((code) => code > 0));
  return {
    page: {
      name,
      width: one(TAG.width),
      height: one(TAG.height),
      dpiX: one(TAG.xResolution),
      dpiY: one(TAG.yResolution),
      tiles: (values.get(TAG.tileOffsets) ?? []).map((offset, i) => ({ offset, bytes: sizes[i] ?? 0 })),
    },
    next: Number(view.getBigUint64(at + 8 + count * ENTRY_BYTES, true)),
  };
}

function numberAt(view: DataView, at: number, type: number): number {
  if (type === SHORT) return view.getUint16(at, true);
  if (type === LONG8) return Number(view.getBigUint64(at, true));
  return type === ASCII ? view.getUint8(at) : view.getUint32(at, true);
}

/**
 * Dots of each size that each channel of a file fires: [0] none … [3] full.
 * @param unpack Deflate
 * @throws where it is no such file
 */
export function dotsOfFile(file: Uint8Array, unpack: (packed: Uint8Array) => Uint8Array): Map<string, number[]> {
  const tileAt = (offset: number, bytes: number): Uint8Array => unpack(file.subarray(offset, offset + bytes));
  return new Map(readChannelFile(file).map((page) => [page.name, countDots(page, tileAt)]));
}

/** Dots of each size that a page fires: [0] none … [3] full. @param tileAt an unpacked tile by its place in the file */
export function countDots(page: ChannelPage, tileAt: (offset: number, bytes: number) => Uint8Array): number[] {
  const { across, down } = tileGrid(page.width, page.height);
  const counts = [0, 0, 0, 0];
  // Tiles at one place are alike: each is unpacked once, and counted once for each size that shows of it.
  const known = new Map<string, readonly number[]>();
  for (let row = 0; row < down; row += 1) {
    for (let column = 0; column < across; column += 1) {
      const tile = page.tiles[row * across + column];
      if (!tile) throw new Error('a channel file without all of its tiles');
      const width = Math.min(TILE.width, page.width - column * TILE.width);
      const height = Math.min(TILE.height, page.height - row * TILE.height);
      const key = `${String(tile.offset)} ${String(width)} ${String(height)}`;
      const own = known.get(key) ?? countTile(tileAt(tile.offset, tile.bytes), width, height);
      known.set(key, own);
      own.forEach((n, size) => {
        counts[size] = (counts[size] ?? 0) + n;
      });
    }
  }
  return counts;
}

function countTile(tile: Uint8Array, width: number, height: number): number[] {
  const counts = [0, 0, 0, 0];
  for (let y = 0; y < height; y += 1) {
    for (let x = 0; x < width; x += 1) {
      const size = ((tile[(y * TILE.width + x) >> 2] ?? 0) >> (6 - 2 * (x & 3))) & 3;
      counts[size] = (counts[size] ?? 0) + 1;
    }
  }
  return counts;
}
