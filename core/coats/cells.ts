import { uint8At } from '../elementAt.ts';
import type { DropSizes } from './dropSizes.ts';

/** Ink of a full drop in the sums of cells. */
const FULL = 255;

/**
 * Mean ink of cells of 16 × 16 dots, 0 … 255, from packed dots. At the edges a cell is the mean of the dots that it has.
 * @param dots two bits a dot, the leftmost in the highest bits, `rowBytes` a row
 * @param width dots of a row that count, and `rows` of them
 */
export function cellsOfDots(
  dots: Uint8Array,
  {
    width,
    rows,
    rowBytes,
    sizes,
  }: { readonly width: number; readonly rows: number; readonly rowBytes: number; readonly sizes: DropSizes },
): { readonly cells: Uint8Array; readonly across: number } {
  const across = Math.ceil(width / 16);
  const down = Math.ceil(rows / 16);
  const ofByte = inkOfBytes(sizes, 4);
  const sums = new Float64Array(across * down);
  const bytes = Math.ceil(width / 4);
  for (let row = 0; row < rows; row += 1) {
    const line = (row >> 4) * across;
    for (let i = 0; i < bytes; i += 1) {
      const byte = uint8At(dots, row * rowBytes + i);
      if (byte !== 0) sums[line + (i >> 2)] = (sums[line + (i >> 2)] ?? 0) + (ofByte[byte] ?? 0);
    }
  }
  const cells = new Uint8Array(sums.length);
  sums.forEach((sum, i) => {
    const columns = Math.min(16, width - (i % across) * 16);
    const lines = Math.min(16, rows - Math.floor(i / across) * 16);
    cells[i] = Math.round(sum / (columns * lines));
  });
  return { cells, across };
}

/**
 * Ink of each `step` dots of each byte of dots, the leftmost first: `[byte · (4 ÷ step) + group]`, 255 a full drop.
 * @param step 1, 2 or 4
 */
export function inkOfBytes(sizes: DropSizes, step: number): Float64Array {
  const ofLevel = [0, ...sizes.map((size) => (size / sizes[2]) * FULL)];
  const groups = 4 / step;
  return Float64Array.from({ length: 256 * groups }, (_, i) => {
    const byte = Math.floor(i / groups);
    let sum = 0;
    for (let dot = 0; dot < step; dot += 1) {
      const shift = 6 - 2 * ((i % groups) * step + dot);
      sum += ofLevel[(byte >> shift) & 3] ?? 0;
    }
    return sum;
  });
}

/** Cells four times as large along each side, each the mean of those that it covers. */
export function coarser(cells: Uint8Array, across: number): { readonly cells: Uint8Array; readonly across: number } {
  const down = cells.length / across;
  const wide = Math.ceil(across / 4);
  const high = Math.ceil(down / 4);
  const means = new Uint8Array(wide * high);
  for (let y = 0; y < high; y += 1) {
    for (let x = 0; x < wide; x += 1) {
      let sum = 0;
      let count = 0;
      for (let row = y * 4; row < Math.min(down, y * 4 + 4); row += 1) {
        for (let column = x * 4; column < Math.min(across, x * 4 + 4); column += 1) {
          sum += uint8At(cells, row * across + column);
          count += 1;
        }
      }
      means[y * wide + x] = Math.round(sum / count);
    }
  }
  return { cells: means, across: wide };
}
