import { CELLS } from '../../../core/raster/bands.ts';
import { TILE } from '../../../core/raster/dotLines.ts';
import type { DropSizes } from '../../../core/coats/dropSizes.ts';
import { type InkTable, LANES, stepOf } from '../../../core/coats/inkTable.ts';
import {
  FULL_DOT,
  FULL_ORDERED,
  MASK_SIZE,
  type Screening,
  diffusionMask,
  levelsOf,
  orderedMask,
} from '../../../core/coats/screening.ts';
import { INK_KERNELS } from './inkKernels.ts';

interface Exports {
  convert(
    src: number,
    count: number,
    table: number,
    steps: number,
    e0: number,
    e1: number,
    e2: number,
    out: number,
  ): void;
  diffuse(
    inks: number,
    words: number,
    back: number,
    errors: number,
    maskRow: number,
    screen: number,
    out: number,
    plane: number,
    counts: number,
    cells: number,
  ): void;
  ordered(
    inks: number,
    words: number,
    maskRow: number,
    screen: number,
    out: number,
    plane: number,
    counts: number,
    cells: number,
  ): void;
}

/** How a coat is rendered from the pixels of its page. */
export interface KernelSettings {
  /** Dots of a row. */
  readonly width: number;
  readonly table: InkTable;
  readonly screening: Screening;
  readonly drops: DropSizes;
  /** Of a blue-noise mask of {@link MASK_SIZE}. */
  readonly ranks: Uint16Array;
}

const PAGE_BYTES = 65_536;
const VECTOR_BYTES = 16;
const BYTES_PER_TILE_ROW = TILE.width / 4;

/** Gives out memory piece by piece, each at a whole vector. */
class Arena {
  private next = 1024;

  take(bytes: number): number {
    const at = this.next;
    this.next = Math.ceil((at + bytes) / VECTOR_BYTES) * VECTOR_BYTES;
    return at;
  }

  get pages(): number {
    return Math.ceil(this.next / PAGE_BYTES);
  }
}

/**
 * Pixels to dots, row by row: inks by the table, then the screen, packed into strips as high as a tile. It holds one strip of dots for
 * eight channels, and nothing that grows with the page.
 */
export class InkKernels {
  private readonly exports: Exports;
  private readonly memory: WebAssembly.Memory;
  private readonly at: Readonly<
    Record<'table' | 'steps' | 'mask' | 'screen' | 'errors' | 'rgba' | 'inks' | 'counts' | 'cells' | 'strip', number>
  >;
  private readonly rowBytes: number;
  private readonly planeBytes: number;
  /** Of eight pixels each in a row. */
  private readonly words: number;

  constructor(private readonly settings: KernelSettings) {
    const { width, table, screening, drops, ranks } = settings;
    this.rowBytes = Math.ceil(width / TILE.width) * BYTES_PER_TILE_ROW;
    this.planeBytes = this.rowBytes * TILE.height;
    this.words = Math.ceil(width / 8);
    const arena = new Arena();
    this.at = {
      table: arena.take(table.values.byteLength),
      steps: arena.take(3 * 256 * 8),
      mask: arena.take(MASK_SIZE * MASK_SIZE * VECTOR_BYTES),
      screen: arena.take(VECTOR_BYTES),
      errors: arena.take((this.words * 8 + 2) * VECTOR_BYTES),
      rgba: arena.take(width * 4),
      // Whole words: what lies behind the end of a row stays 0.
      inks: arena.take(this.words * 8 * LANES),
      counts: arena.take(3 * LANES * 4),
      cells: arena.take(Math.ceil(width / CELLS[0]) * LANES * 4),
      strip: arena.take(LANES * this.planeBytes),
    };
    this.memory = new WebAssembly.Memory({ initial: arena.pages, maximum: 4096 });
    const module = new WebAssembly.Module(Buffer.from(INK_KERNELS, 'base64'));
    const { exports } = new WebAssembly.Instance(module, {
      env: {
        memory: this.memory,
        abort: () => {
          throw new Error('a kernel gave up');
        },
      },
    });
    this.exports = exports as unknown as Exports;
    this.view(Int16Array, this.at.table, table.values.length).set(table.values);
    this.writeSteps();
    const isDiffused = screening === 'error diffusion';
    const mask = isDiffused ? diffusionMask(ranks, drops) : orderedMask(ranks);
    this.view(Int16Array, this.at.mask, mask.length).set(mask);
    const [v1, v2, v3] = levelsOf(drops, isDiffused ? FULL_DOT : FULL_ORDERED);
    this.view(Int16Array, this.at.screen, 6).set(
      isDiffused ? [v1 >> 1, (v1 + v2) >> 1, (v2 + v3) >> 1, v1, v2 - v1, v3 - v2] : [v1, v2 - v1, v3 - v2, v2, 0, 0],
    );
  }

  /** Begins anew: nothing is handed on to the next row. So does a row on which nothing is printed. */
  begin(): void {
    this.view(Uint8Array, this.at.errors, (this.words * 8 + 2) * VECTOR_BYTES).fill(0);
  }

  /** The strip is bare again. */
  clearStrip(): void {
    this.view(Uint8Array, this.at.strip, LANES * this.planeBytes).fill(0);
  }

  /** Where the pixels of the next row are put, interleaved RGBA. Taken anew for each row. */
  get pixels(): Uint8Array {
    return this.view(Uint8Array, this.at.rgba, this.settings.width * 4);
  }

  /** Inks of the row that was converted last, in lanes. */
  get inks(): Uint8Array {
    return this.view(Uint8Array, this.at.inks, this.settings.width * LANES);
  }

  /** Pixels of the row to inks. */
  convert(): void {
    const { width, table } = this.settings;
    const edge = LANES * 2;
    const { nodes } = table;
    const { rgba, table: from, steps, inks } = this.at;
    this.exports.convert(rgba, width, from, steps, nodes * nodes * edge, nodes * edge, edge, inks);
  }

  /**
   * Inks of the row to dots.
   * @param y number of the row within its page
   * @param row of the strip; null: it only warms up what is handed on
   */
  screen(y: number, row: number | null): void {
    const { screening } = this.settings;
    const { words } = this;
    const { inks, errors, mask, screen, strip, counts, cells } = this.at;
    const maskRow = mask + (y % MASK_SIZE) * MASK_SIZE * VECTOR_BYTES;
    const out = row === null ? 0 : strip + row * this.rowBytes;
    if (screening === 'error diffusion') {
      this.exports.diffuse(inks, words, y % 2, errors, maskRow, screen, out, this.planeBytes, counts, cells);
    } else if (out !== 0) this.exports.ordered(inks, words, maskRow, screen, out, this.planeBytes, counts, cells);
  }

  /** Dots of a channel's strip, two bits a dot. They hold until the next row. */
  plane(channel: number): { readonly dots: Uint8Array; readonly rowBytes: number } {
    const dots = this.view(Uint8Array, this.at.strip + channel * this.planeBytes, this.planeBytes);
    return { dots, rowBytes: this.rowBytes };
  }

  /** Dots of one tile of the strip: two bits a dot, row by row. */
  tile(channel: number, column: number): Uint8Array {
    const { dots: plane } = this.plane(channel);
    const dots = new Uint8Array(TILE.height * BYTES_PER_TILE_ROW);
    for (let row = 0; row < TILE.height; row += 1) {
      const from = row * this.rowBytes + column * BYTES_PER_TILE_ROW;
      dots.set(plane.subarray(from, from + BYTES_PER_TILE_ROW), row * BYTES_PER_TILE_ROW);
    }
    return dots;
  }

  /** Dots of each level that each channel has fired since the last time this was asked, [1] small … [3] full; [0] is left at 0. */
  takeCounts(): number[][] {
    const numbers = this.view(Uint32Array, this.at.counts, 3 * LANES);
    const counts = Array.from({ length: this.settings.table.channels }, (_, channel) => {
      const atLeast = [0, 1, 2].map((level) => numbers[level * LANES + channel] ?? 0);
      const [one = 0, two = 0, three = 0] = atLeast;
      return [0, one - two, two - three, three];
    });
    numbers.fill(0);
    return counts;
  }

  /**
   * Mean ink of cells of 16 × 16 dots, 0 … 255, of the rows since the last time this was asked: a line of cells for each channel.
   * @param rows how many they were
   */
  takeCells(rows: number): Uint8Array[] {
    const { width, table } = this.settings;
    const across = Math.ceil(width / CELLS[0]);
    const sums = this.view(Uint32Array, this.at.cells, across * LANES);
    const lines = Array.from({ length: table.channels }, () => new Uint8Array(across));
    for (let cell = 0; cell < across; cell += 1) {
      const dots = Math.min(CELLS[0], width - cell * CELLS[0]) * rows;
      lines.forEach((line, channel) => {
        line[cell] = Math.round(((sums[cell * LANES + channel] ?? 0) / (dots * FULL_DOT)) * 255);
      });
    }
    sums.fill(0);
    return lines;
  }

  private writeSteps(): void {
    const { nodes } = this.settings.table;
    const steps = this.view(Int32Array, this.at.steps, 3 * 256 * 2);
    const edges = [nodes * nodes, nodes, 1].map((count) => count * LANES * 2);
    edges.forEach((edge, axis) => {
      for (let value = 0; value < 256; value += 1) {
        const { node, fraction } = stepOf(value, nodes);
        steps[(axis * 256 + value) * 2] = node * edge;
        steps[(axis * 256 + value) * 2 + 1] = fraction;
      }
    });
  }

  private view<T>(kind: new (buffer: ArrayBuffer, at: number, length: number) => T, at: number, length: number): T {
    return new kind(this.memory.buffer, at, length);
  }
}
