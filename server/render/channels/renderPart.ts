import { constants, deflateSync } from 'node:zlib';
import { readFile } from 'node:fs/promises';
import { blueNoise } from '../../../core/coats/blueNoise.ts';
import { coarser } from '../../../core/coats/cells.ts';
import type { ChannelCurve } from '../../../core/coats/curves.ts';
import type { DropSizes } from '../../../core/coats/dropSizes.ts';
import type { InkTable } from '../../../core/coats/inkTable.ts';
import type { Intent } from '../../../core/coats/intent.ts';
import type { Tone } from '../../../core/coats/tone.ts';
import { MASK_SIZE, type Screening } from '../../../core/coats/screening.ts';
import { BAND_ROWS, CELLS, WARM_UP_ROWS, partRows } from '../../../core/raster/bands.ts';
import { tileGrid } from '../../../core/raster/channelFile.ts';
import { TILE } from '../../../core/raster/dotLines.ts';
import { seededRandom } from '../../../core/random.ts';
import { writeWhole } from '../../files/atomic.ts';
import type { DataPaths } from '../../files/paths.ts';
import type { ArtworkOrder } from '../colour/wideArtwork.ts';
import { wideProfile } from '../colour/wideSpace.ts';
import { bakeBlack, bakeInks } from '../colour/bakeInks.ts';
import { InkKernels } from './kernels.ts';
import { DrawnRun } from './drawnRun.ts';
import { type Under, layUnder, readUnder } from './pictures/layUnder.ts';

/** Everything that the dots of a coat depend on. */
export interface CoatOrder {
  /** Names what is rendered; a hash of all the rest. */
  readonly key: string;
  /** Names the laid-out run. */
  readonly pdfKey: string;
  readonly width: number;
  readonly height: number;
  readonly dpiX: number;
  readonly dpiY: number;
  /** In the order of the profile. */
  readonly channels: readonly string[];
  /** Null: inks of the artwork printed each alone, in black; no colour is asked for. */
  readonly profile: { readonly name: string; readonly sha256: string } | null;
  readonly intent: Intent;
  /** How the artwork's own colours are read; null: all of it is sRGB already. */
  readonly artwork: ArtworkOrder | null;
  readonly inkLimit: number | null;
  readonly tone: Tone;
  readonly curves: readonly ChannelCurve[];
  readonly screening: Screening;
  readonly drops: DropSizes;
}

export interface PartOrder {
  readonly coat: CoatOrder;
  readonly part: number;
}

/** What is written down of a part, beside its dots. */
export interface PartIndex {
  /** Bytes of each packed tile: tile rows from the top, in each the channels, in each the columns. 0: a bare tile, which lies elsewhere. */
  readonly tiles: readonly number[];
  /** Of each channel: dots of each level, [0] none … [3] full. */
  readonly dots: readonly (readonly number[])[];
  /** Bytes of the packed coarse pictures: of each size of cells, in each the channels. */
  readonly cells: readonly (readonly number[])[];
}

// In this thread: so one task takes one processor, and two tasks two.
const packed = (bytes: Uint8Array, strategy: number): Uint8Array => deflateSync(bytes, { level: LEVEL, strategy });
const ways = [constants.Z_RLE, constants.Z_DEFAULT_STRATEGY] as const;
/** Fastest: of dots the higher ones win little and take four times as long. */
const LEVEL = 1;
const SEED = 1;

let ranks: Uint16Array | undefined;
let lastKernels: { readonly key: string; readonly kernels: InkKernels } | undefined;
let lastTable: { readonly key: string; readonly table: InkTable } | undefined;

/**
 * Renders a part of a coat, band by band, and keeps it as one file with its index beside it: the part is there as soon as its index is.
 * @param tell told which share of it is done, 0 … 1
 * @throws Unreadable where a profile can't be used
 */
export async function renderPart(
  { coat, part }: PartOrder,
  paths: DataPaths,
  tell: (share: number) => void = () => undefined,
): Promise<PartIndex> {
  const { width, height, channels } = coat;
  const under = await underOf(coat, paths);
  const kernels = await kernelsOf(coat, paths, under);
  const { from, to } = partRows(height, part);
  const rows = { from: Math.max(0, from - WARM_UP_ROWS), to };
  const drawn = await DrawnRun.open(coat, artOf(coat, paths), under, paths, rows);
  try {
    const gathered = new PackedPart(channels.length, width);
    for (let top = from; top < to; top += BAND_ROWS) {
      const end = Math.min(to, top + BAND_ROWS);
      const warm = Math.max(0, top - WARM_UP_ROWS);
      drawn.load(warm, end);
      kernels.begin();
      for (let y = warm; y < end; y += 1) {
        const row = (y - top) % TILE.height;
        if (y >= top && row === 0) kernels.clearStrip();
        if (drawn.lay(kernels, y)) kernels.screen(y, y < top ? null : row);
        else kernels.begin();
        if (y < top) continue;
        if (row % CELLS[0] === CELLS[0] - 1 || y === end - 1)
          gathered.addCells(kernels.takeCells((row % CELLS[0]) + 1));
        if (row === TILE.height - 1 || y === end - 1) gathered.add(kernels);
      }
      tell((end - from) / (to - from));
    }
    return await gathered.write(kernels.takeCounts(), to - from, (file) => paths.coatPart(coat.key, part, file));
  } finally {
    drawn.close();
  }
}

/** The pictures of a coat, found and converted where that has not been done yet. */
export async function underOf(coat: CoatOrder, paths: DataPaths): Promise<Under> {
  const known = await readUnder(paths, coat.key);
  if (known) return known;
  const { table } = await tableOf(coat, paths);
  const { key, width, height } = coat;
  return layUnder({ key, from: artOf(coat, paths), width, height }, table, paths);
}

/** The kernels of a coat, with nothing in hand. Their memory is large and is given back late: one part after the other uses the same. */
async function kernelsOf(coat: CoatOrder, paths: DataPaths, { pictures }: Under): Promise<InkKernels> {
  const { width, screening, drops } = coat;
  const { key: tableKey, table } = await tableOf(coat, paths);
  const mostPixels = Math.max(0, ...pictures.map(({ pixels }) => pixels));
  const key = JSON.stringify([tableKey, width, screening, drops, mostPixels]);
  if (lastKernels?.key !== key) {
    ranks ??= blueNoise(MASK_SIZE, seededRandom(SEED));
    lastKernels = { key, kernels: new InkKernels({ width, table, screening, drops, ranks, mostPixels }) };
  }
  lastKernels.kernels.restart();
  return lastKernels.kernels;
}

/** What a coat is drawn from. */
export function artOf({ pdfKey, artwork }: CoatOrder, paths: DataPaths): string {
  return artwork === null ? paths.laidOut(pdfKey) : paths.wide(artwork.key);
}

/** Tables take a while to bake: that of the last coat stays at hand. */
export async function tableOf(coat: CoatOrder, paths: DataPaths): Promise<NonNullable<typeof lastTable>> {
  const { profile, intent, inkLimit, channels, tone, curves } = coat;
  const key = JSON.stringify([profile?.sha256, coat.artwork !== null, intent, inkLimit, channels, tone, curves]);
  if (lastTable?.key !== key) {
    lastTable = { key, table: await bakedFor(coat, paths) };
  }
  return lastTable;
}

async function bakedFor(coat: CoatOrder, paths: DataPaths): Promise<InkTable> {
  const { profile, intent, inkLimit, channels, tone, curves } = coat;
  if (profile === null) return bakeBlack({ channels, inkLimit, tone, curves });
  const output = await readFile(paths.profile(profile.sha256));
  const input = coat.artwork === null ? null : wideProfile();
  return bakeInks({ input, output, channels, intent, inkLimit, tone, curves });
}

const BLOCK_BYTES = 4 * 1024 * 1024;

/** Bytes one behind the other, in a few large blocks: what packs a tile gives it in a buffer four times its size, which is not held. */
class Appended {
  private readonly blocks: Buffer[] = [];
  private used = BLOCK_BYTES;

  /** @param bytes no more than a block holds */
  add(bytes: Uint8Array): void {
    let block = this.blocks[this.blocks.length - 1];
    if (!block || this.used + bytes.length > block.length) {
      if (block) this.blocks[this.blocks.length - 1] = block.subarray(0, this.used);
      block = Buffer.allocUnsafe(BLOCK_BYTES);
      this.blocks.push(block);
      this.used = 0;
    }
    block.set(bytes, this.used);
    this.used += bytes.length;
  }

  pieces(): Uint8Array[] {
    return this.blocks.map((block, i) => (i === this.blocks.length - 1 ? block.subarray(0, this.used) : block));
  }
}

/** Tiles and coarse pictures of a part, as they are gathered. */
class PackedPart {
  private readonly tiles = new Appended();
  private readonly sizes: number[] = [];
  /** Of each channel: the finest cells, strip by strip. */
  private readonly fine: Uint8Array[][];

  constructor(
    private readonly channels: number,
    private readonly width: number,
  ) {
    this.fine = Array.from({ length: channels }, () => []);
  }

  /** Takes a line of the finest cells of each channel. */
  addCells(lines: readonly Uint8Array[]): void {
    lines.forEach((line, channel) => this.fine[channel]?.push(line));
  }

  /** Takes what a strip of tiles holds. */
  add(kernels: InkKernels): void {
    const { across } = tileGrid(this.width, TILE.height);
    for (let channel = 0; channel < this.channels; channel += 1) {
      const tiles = Array.from({ length: across }, (_, column) => kernels.tile(channel, column));
      const first = tiles.find((tile) => !isBare(tile));
      const strategy = first === undefined ? ways[0] : shorter(first);
      for (const tile of tiles) {
        if (isBare(tile)) this.sizes.push(0);
        else {
          const bytes = packed(tile, strategy);
          this.sizes.push(bytes.length);
          this.tiles.add(bytes);
        }
      }
    }
  }

  async write(
    fired: readonly (readonly number[])[],
    rows: number,
    place: (file: 'dots' | 'cells' | 'json') => string,
  ): Promise<PartIndex> {
    const coarse = this.levels().map((level) => level.map((cells) => packed(cells, constants.Z_DEFAULT_STRATEGY)));
    const dots = fired.map((counts) => {
      const all = counts.reduce((sum, count) => sum + count, 0);
      return [rows * this.width - all, ...counts.slice(1)];
    });
    const index: PartIndex = {
      tiles: this.sizes,
      dots,
      cells: coarse.map((level) => level.map(({ length }) => length)),
    };
    // The index is written last, and each is on the disk before the next: where there is an index, there are its dots.
    await writeWhole(place('dots'), this.tiles.pieces());
    await writeWhole(place('cells'), coarse.flat());
    await writeWhole(place('json'), JSON.stringify(index));
    return index;
  }

  /** Of each size of cells, the cells of each channel. */
  private levels(): Uint8Array[][] {
    const finest = this.fine.map((strips) => Buffer.concat(strips));
    let level = finest.map((cells) => ({ cells: cells as Uint8Array, across: Math.ceil(this.width / CELLS[0]) }));
    return CELLS.map((_, i) => {
      if (i > 0) level = level.map(({ cells, across }) => coarser(cells, across));
      return level.map(({ cells }) => cells);
    });
  }
}

/** Of the two ways to pack tiles the one that makes this one shorter: runs alone are faster, and serve what is strewn. */
function shorter(tile: Uint8Array): number {
  const [runs, words] = ways.map((strategy) => packed(tile, strategy));
  return (runs?.length ?? 0) < 1.1 * (words?.length ?? 0) ? ways[0] : ways[1];
}

const BARE = Buffer.alloc((TILE.width * TILE.height) / 4);

function isBare(tile: Uint8Array): boolean {
  return BARE.equals(tile);
}
