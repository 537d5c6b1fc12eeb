import { open, readFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import { deflateSync, inflate } from 'node:zlib';
import { PART_ROWS, partCount, partRows, partTileRows } from '../../../core/raster/bands.ts';
import { type ChannelPage, channelDirectories, channelHeader, tileGrid } from '../../../core/raster/channelFile.ts';
import { TILE } from '../../../core/raster/dotLines.ts';
import type { FilePlaces } from '../../ports/files.ts';
import type { CoatOrder, PartIndex } from './renderPart.ts';

/*
 * A coat is kept part by part. Read one behind the other, after a beginning and before the directories of its channels, the parts are the
 * channel file of the whole: nothing of it is written twice.
 */

type CoatSize = Pick<CoatOrder, 'key' | 'width' | 'height' | 'dpiX' | 'dpiY' | 'channels'>;

const HEADER_BYTES = 16;
const TILE_BYTES = (TILE.width * TILE.height) / 4;
const inflated = promisify<Uint8Array, Uint8Array>(inflate);

/** All bare tiles of a file lie at one place, behind its header. */
function bareTile(): Uint8Array {
  const packed = deflateSync(new Uint8Array(TILE_BYTES), { level: 1 });
  return Buffer.concat([packed, Buffer.alloc((8 - (packed.length % 8)) % 8)]);
}

/** Where each tile of a part lies in its file, by {@link tileNo}; −1: it is bare. */
interface PartTiles {
  readonly at: Float64Array;
  readonly bytes: readonly number[];
}

function tilesOf({ tiles }: PartIndex): PartTiles {
  const at = new Float64Array(tiles.length);
  let next = 0;
  tiles.forEach((bytes, i) => {
    at[i] = bytes === 0 ? -1 : next;
    next += bytes;
  });
  return { at, bytes: tiles };
}

function tileNo(row: number, channel: number, column: number, channels: number, across: number): number {
  return (row * channels + channel) * across + column;
}

/** What is written down of a part; undefined where it is not there. */
export async function readPartIndex(paths: FilePlaces, key: string, part: number): Promise<PartIndex | undefined> {
  try {
    return JSON.parse(await readFile(paths.coatPart(key, part, 'json'), 'utf8')) as PartIndex;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return undefined;
    throw error;
  }
}

/** The channel file of a coat as pieces that follow each other, and how long all of it is. */
export interface CoatFile {
  readonly head: Uint8Array;
  readonly parts: readonly string[];
  readonly directories: Uint8Array;
  readonly bytes: number;
}

/**
 * The channel file of a coat: one page for each channel.
 * @throws where a part is missing
 */
export function coatFile(paths: FilePlaces, coat: CoatSize): Promise<CoatFile> {
  return fileOfParts(paths, coat, 0, partCount(coat.height));
}

/** One part of a coat as a channel file of its own: what a printer takes that prints while the rest is rendered. Undefined: it is not there. */
export async function partFile(paths: FilePlaces, coat: CoatSize, part: number): Promise<CoatFile | undefined> {
  if (!(await readPartIndex(paths, coat.key, part))) return undefined;
  return fileOfParts(paths, coat, part, part + 1);
}

/** Parts from one up to, but without, another as one channel file. */
async function fileOfParts(paths: FilePlaces, coat: CoatSize, from: number, to: number): Promise<CoatFile> {
  const { key, width, dpiX, dpiY, channels } = coat;
  const height = partRows(coat.height, to - 1).to - partRows(coat.height, from).from;
  const { across, down } = tileGrid(width, height);
  const bare = bareTile();
  const pages = channels.map((name) => ({ name, tiles: new Array<ChannelPage['tiles'][number]>(across * down) }));
  const bareAt = { offset: HEADER_BYTES, bytes: bare.length };
  let partAt = HEADER_BYTES + bare.length;
  const parts: string[] = [];
  for (let part = from; part < to; part += 1) {
    const index = await readPartIndex(paths, key, part);
    if (!index) throw new Error(`part ${String(part)} of a coat is missing`);
    const { at, bytes } = tilesOf(index);
    const firstRow = ((part - from) * PART_ROWS) / TILE.height;
    for (let row = 0; row < partTileRows(coat.height, part); row += 1) {
      pages.forEach(({ tiles }, channel) => {
        for (let column = 0; column < across; column += 1) {
          const no = tileNo(row, channel, column, channels.length, across);
          const start = at[no] ?? -1;
          tiles[(firstRow + row) * across + column] =
            start < 0 ? bareAt : { offset: partAt + start, bytes: bytes[no] ?? 0 };
        }
      });
    }
    parts.push(paths.coatPart(key, part, 'dots'));
    partAt += bytes.reduce((sum, each) => sum + each, 0);
  }
  const gap = (8 - (partAt % 8)) % 8;
  const at = partAt + gap;
  const directories = Buffer.concat([
    Buffer.alloc(gap),
    channelDirectories(
      pages.map(({ name, tiles }) => ({ name, tiles, width, height, dpiX, dpiY })),
      at,
    ),
  ]);
  const head = Buffer.concat([channelHeader(at), bare]);
  return { head, parts, directories, bytes: partAt + directories.length };
}

/** Reads tiles and coarse pictures of one coat; what it has read of a part's index it keeps. */
export class CoatReader {
  private readonly indexes = new Map<number, Promise<{ readonly tiles: PartTiles; readonly index: PartIndex }>>();

  constructor(
    private readonly paths: FilePlaces,
    private readonly coat: CoatSize,
  ) {}

  /** Dots of a tile, two bits each, row by row; null: it is bare. */
  async tile(channel: number, column: number, tileRow: number): Promise<Uint8Array | null> {
    const rowsOfPart = PART_ROWS / TILE.height;
    const part = Math.floor(tileRow / rowsOfPart);
    const { tiles } = await this.part(part);
    const { across } = tileGrid(this.coat.width, this.coat.height);
    const no = tileNo(tileRow % rowsOfPart, channel, column, this.coat.channels.length, across);
    const at = tiles.at[no] ?? -1;
    if (at < 0) return null;
    return inflated(await this.bytes(this.paths.coatPart(this.coat.key, part, 'dots'), at, tiles.bytes[no] ?? 0));
  }

  /** Coarse picture of a channel within a part, 0 … 255 a cell, row by row. @param level of the sizes of cells */
  async cells(part: number, level: number, channel: number): Promise<Uint8Array> {
    const { index } = await this.part(part);
    const { cells } = index;
    const before = cells.slice(0, level).flat();
    const own = cells[level] ?? [];
    const at = [...before, ...own.slice(0, channel)].reduce((sum, bytes) => sum + bytes, 0);
    return inflated(await this.bytes(this.paths.coatPart(this.coat.key, part, 'cells'), at, own[channel] ?? 0));
  }

  private part(part: number): Promise<{ readonly tiles: PartTiles; readonly index: PartIndex }> {
    const known = this.indexes.get(part);
    if (known) return known;
    const read = readPartIndex(this.paths, this.coat.key, part).then((index) => {
      if (!index) throw new Error(`part ${String(part)} of a coat is missing`);
      return { index, tiles: tilesOf(index) };
    });
    this.indexes.set(part, read);
    read.catch(() => this.indexes.delete(part));
    return read;
  }

  private async bytes(file: string, at: number, length: number): Promise<Uint8Array> {
    const handle = await open(file, 'r');
    try {
      const bytes = Buffer.alloc(length);
      const { bytesRead } = await handle.read(bytes, 0, length, at);
      if (bytesRead !== length) throw new Error('a part of a coat is cut off');
      return bytes;
    } finally {
      await handle.close();
    }
  }
}
