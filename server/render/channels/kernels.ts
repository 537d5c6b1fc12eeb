import { CELLS } from '../../../core/raster/bands.ts';
import { TILE } from '../../../core/raster/dotLines.ts';
import type { DropSizes } from '../../../core/coats/dropSizes.ts';
import { type InkTable, LANES } from '../../../core/coats/inkTable.ts';
import {
  FULL_DOT,
  FULL_ORDERED,
  MASK_SIZE,
  type Screening,
  diffusionMask,
  levelsOf,
  orderedMask,
} from '../../../core/coats/screening.ts';
import type { Step } from '../../../core/coats/enlarge.ts';
import { Arena, type KernelExports, STEP_BYTES, VECTOR_BYTES, edgesOf, kernelsOver, stepsOf } from './kernelModule.ts';

/** How a coat is rendered from the pixels of its page. */
export interface KernelSettings {
  /** Dots of a row. */
  readonly width: number;
  readonly table: InkTable;
  readonly screening: Screening;
  readonly drops: DropSizes;
  /** Of a blue-noise mask of {@link MASK_SIZE}. */
  readonly ranks: Uint16Array;
  /** Of the pictures that are laid under its pages, the most pixels in a row; left out: there are none. */
  readonly mostPixels?: number;
}

const BYTES_PER_TILE_ROW = TILE.width / 4;
/** Bytes of where a dot lies in a picture. */
const STEP_OF_DOT = 8;

/** Places of dots in a row of a picture, as {@link InkKernels.layPicture} takes them. */
export function dotSteps(steps: readonly Step[]): Int32Array {
  const places = new Int32Array(steps.length * 2);
  steps.forEach(({ pixel, fraction }, i) => {
    places[i * 2] = pixel * VECTOR_BYTES;
    places[i * 2 + 1] = fraction;
  });
  return places;
}

/**
 * Pixels to dots, row by row: inks by the table, then the screen, packed into strips as high as a tile. It holds one strip of dots for
 * eight channels, and nothing that grows with the page.
 */
export class InkKernels {
  private readonly exports: KernelExports;
  private readonly memory: WebAssembly.Memory;
  private readonly at: Readonly<
    Record<
      | 'table'
      | 'steps'
      | 'mask'
      | 'screen'
      | 'errors'
      | 'rgba'
      | 'inks'
      | 'counts'
      | 'cells'
      | 'strip'
      | 'above'
      | 'below'
      | 'row'
      | 'dots',
      number
    >
  >;
  private stepsAtHand: Int32Array | undefined;
  private readonly rowBytes: number;
  private readonly planeBytes: number;
  /** Of eight pixels each in a row. */
  private readonly words: number;

  constructor(private readonly settings: KernelSettings) {
    const { width, table, screening, drops, ranks, mostPixels = 0 } = settings;
    this.rowBytes = Math.ceil(width / TILE.width) * BYTES_PER_TILE_ROW;
    this.planeBytes = this.rowBytes * TILE.height;
    this.words = Math.ceil(width / 8);
    const arena = new Arena();
    this.at = {
      table: arena.take(table.values.byteLength),
      steps: arena.take(STEP_BYTES),
      mask: arena.take(MASK_SIZE * MASK_SIZE * VECTOR_BYTES),
      screen: arena.take(VECTOR_BYTES),
      errors: arena.take((this.words * 8 + 2) * VECTOR_BYTES),
      rgba: arena.take(width * 4),
      // Whole words: what lies behind the end of a row stays 0.
      inks: arena.take(this.words * 8 * LANES),
      counts: arena.take(3 * LANES * 4),
      cells: arena.take(Math.ceil(width / CELLS[0]) * LANES * 4),
      strip: arena.take(LANES * this.planeBytes),
      above: arena.take(mostPixels * LANES),
      below: arena.take(mostPixels * LANES),
      row: arena.take((mostPixels + 1) * VECTOR_BYTES),
      dots: arena.take(mostPixels > 0 ? width * STEP_OF_DOT : 0),
    };
    this.memory = arena.memory();
    this.exports = kernelsOver(this.memory);
    this.view(Int16Array, this.at.table, table.values.length).set(table.values);
    this.view(Int32Array, this.at.steps, STEP_BYTES / 4).set(stepsOf(table.nodes));
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

  /** Nothing is in hand, as if it were new: another part, or one that was broken off before. */
  restart(): void {
    const across = Math.ceil(this.settings.width / CELLS[0]);
    this.begin();
    this.clearStrip();
    this.view(Uint32Array, this.at.counts, 3 * LANES).fill(0);
    this.view(Uint32Array, this.at.cells, across * LANES).fill(0);
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

  /** Pixels of the row to inks. @param over they lie over the inks that the row has already */
  convert(over = false): void {
    const { width, table } = this.settings;
    const { rgba, table: from, steps, inks } = this.at;
    this.exports.convert(rgba, width, from, steps, ...edgesOf(table.nodes), inks, over ? 1 : 0);
  }

  /** The row has no ink yet: pictures are laid into it. */
  clearInks(): void {
    this.view(Uint8Array, this.at.inks, this.words * 8 * LANES).fill(0);
  }

  /**
   * Lays a row of a picture into the inks of the row.
   * @param above and `below`: rows of the picture, in lanes @param down share of the way from one to the other, 0 … 32,767
   * @param dots of the row that it reaches: the first, and where each of them lies in it (see {@link dotSteps})
   */
  layPicture(
    above: Uint8Array,
    below: Uint8Array,
    down: number,
    dots: { readonly first: number; readonly steps: Int32Array },
  ): void {
    const count = above.length / LANES;
    const { at } = this;
    this.view(Uint8Array, at.above, above.length).set(above);
    this.view(Uint8Array, at.below, below.length).set(below);
    this.exports.between(at.above, at.below, down, count, at.row);
    // The last pixel once more behind the end.
    const row = this.view(Uint8Array, at.row, (count + 1) * VECTOR_BYTES);
    row.copyWithin(count * VECTOR_BYTES, (count - 1) * VECTOR_BYTES, count * VECTOR_BYTES);
    if (this.stepsAtHand !== dots.steps) {
      this.view(Int32Array, at.dots, dots.steps.length).set(dots.steps);
      this.stepsAtHand = dots.steps;
    }
    this.exports.enlarge(at.row, at.dots, dots.steps.length / 2, at.inks + dots.first * LANES);
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

  private view<T>(kind: new (buffer: ArrayBuffer, at: number, length: number) => T, at: number, length: number): T {
    return new kind(this.memory.buffer, at, length);
  }
}
