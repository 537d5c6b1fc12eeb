import { inkOfBytes } from '../../../core/coats/cells.ts';
import { CELLS, PART_ROWS } from '../../../core/raster/bands.ts';
import { TILE } from '../../../core/raster/dotLines.ts';
import type { DropSizes } from '../../../core/coats/dropSizes.ts';
import type { CoatReader } from './coatFile.ts';

/** Pixels along each side of a tile of the channel view. */
export const VIEW_TILE = 256;

export interface ViewTile {
  /** Mean ink of each pixel, 0 … 255, row by row. */
  readonly ink: Uint8Array;
  readonly width: number;
  readonly height: number;
}

export interface TilePlace {
  readonly channel: number;
  /** A pixel is 2^zoom dots along each side; 0: each dot is one. */
  readonly zoom: number;
  readonly x: number;
  readonly y: number;
}

/** The zoom at which all of a coat is one tile. */
export function mostZoom(width: number, height: number): number {
  return Math.max(0, Math.ceil(Math.log2(Math.max(width, height) / VIEW_TILE)));
}

/** A tile of the channel view: from dots where a pixel is less than a cell, else from the coarse pictures. Null where there is nothing. */
export async function viewTile(
  reader: CoatReader,
  { width, height }: { readonly width: number; readonly height: number },
  drops: DropSizes,
  { channel, zoom, x, y }: TilePlace,
): Promise<ViewTile | null> {
  const scale = 2 ** zoom;
  const [left, top] = [x * VIEW_TILE * scale, y * VIEW_TILE * scale];
  const pixelsOf = (from: number, all: number): number => Math.min(VIEW_TILE, Math.ceil((all - from) / scale));
  const [columns, rows] = [pixelsOf(left, width), pixelsOf(top, height)];
  if (columns <= 0 || rows <= 0) return null;
  const means = new Means(columns, rows);
  const end = { x: Math.min(width, left + columns * scale), y: Math.min(height, top + rows * scale) };
  if (scale < CELLS[0]) {
    // Several dots of a byte go to one pixel: they are summed up by a table.
    const ofByte = inkOfBytes(drops, Math.min(4, scale));
    for (let row = Math.floor(top / TILE.height); row * TILE.height < end.y; row += 1) {
      for (let column = Math.floor(left / TILE.width); column * TILE.width < end.x; column += 1) {
        const dots = await reader.tile(channel, column, row);
        const place = { x: column * TILE.width - left, y: row * TILE.height - top };
        if (dots) means.dots(dots, ofByte, place, scale);
      }
    }
    means.countDots(scale, end.x - left, end.y - top);
  } else {
    const level = CELLS.findLastIndex((size) => size <= scale);
    const size = CELLS[level] ?? CELLS[0];
    const across = Math.ceil(width / size);
    for (let part = Math.floor(top / PART_ROWS); part * PART_ROWS < end.y; part += 1) {
      const cells = await reader.cells(part, level, channel);
      means.cells(cells, across, { x: -left / size, y: (part * PART_ROWS - top) / size }, scale / size);
    }
  }
  return { ink: means.take(), width: columns, height: rows };
}

/** Means of the pixels of a tile, gathered from what lies under them. */
class Means {
  private readonly sums: Float64Array;
  private readonly counts: Float64Array;

  constructor(
    private readonly columns: number,
    private readonly rows: number,
  ) {
    this.sums = new Float64Array(columns * rows);
    this.counts = new Float64Array(columns * rows);
  }

  /** @param at where the tile of dots begins, in dots from the corner of what is drawn; beyond the coat it holds none */
  dots(dots: Uint8Array, ofByte: Float64Array, at: { readonly x: number; readonly y: number }, scale: number): void {
    // Corners lie at whole bytes.
    const step = Math.min(4, scale);
    const rowBytes = TILE.width / 4;
    const { sums, columns } = this;
    const shift = Math.log2(scale);
    const from = Math.max(0, -at.x) >> 2;
    const to = Math.min(TILE.width, Math.max(0, columns * scale - at.x) + 3) >> 2;
    const [fromY, toY] = [Math.max(0, -at.y), Math.min(TILE.height, this.rows * scale - at.y)];
    const groups = 4 / step;
    for (let row = fromY; row < toY; row += 1) {
      const line = ((at.y + row) >> shift) * columns;
      const bytes = row * rowBytes;
      for (let i = from; i < to; i += 1) {
        const byte = dots[bytes + i] ?? 0;
        if (byte === 0) continue;
        const x = at.x + (i << 2);
        for (let group = 0; group < groups; group += 1) {
          const column = (x + group * step) >> shift;
          if (column < columns) sums[line + column] = (sums[line + column] ?? 0) + (ofByte[byte * groups + group] ?? 0);
        }
      }
    }
  }

  /** @param width dots that lie under the tile, and `height` rows of them */
  countDots(scale: number, width: number, height: number): void {
    for (let i = 0; i < this.counts.length; i += 1) {
      const x = (i % this.columns) * scale;
      const y = Math.floor(i / this.columns) * scale;
      this.counts[i] = Math.min(scale, width - x) * Math.min(scale, height - y);
    }
  }

  /** @param at where the cells begin, in cells. @param scale cells along each side of a pixel */
  cells(cells: Uint8Array, across: number, at: { readonly x: number; readonly y: number }, scale: number): void {
    const down = cells.length / across;
    const [toX, toY] = [this.columns * scale - at.x, this.rows * scale - at.y];
    for (let row = Math.max(0, -at.y); row < Math.min(down, toY); row += 1) {
      const line = Math.floor((at.y + row) / scale) * this.columns;
      for (let column = Math.max(0, -at.x); column < Math.min(across, toX); column += 1) {
        const pixel = line + Math.floor((at.x + column) / scale);
        this.counts[pixel] = (this.counts[pixel] ?? 0) + 1;
        this.sums[pixel] = (this.sums[pixel] ?? 0) + (cells[row * across + column] ?? 0);
      }
    }
  }

  take(): Uint8Array {
    return Uint8Array.from(this.sums, (sum, i) => Math.round(sum / Math.max(1, this.counts[i] ?? 1)));
  }
}
