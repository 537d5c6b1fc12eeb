import { itemAt } from '../elementAt.ts';

/** Tiles of channel files, in dots. */
export const TILE = { width: 1024, height: 256 } as const;
/** The pattern comes round after so many dots, so that every whole tile of a channel is the same. */
const PERIOD = 256;
/** Lines of one channel, from the start of one to the start of the next, in dots. */
export const LINE_PITCH = 32;
const LINES = PERIOD / LINE_PITCH;
/** Two bits a dot: none, and a full drop. */
const FULL = 3;
const DOTS_PER_BYTE = 4;

/** Bits of a number in reverse: steps through a range evenly, however early it is left. */
function reversed(value: number, bits: number): number {
  let turned = 0;
  for (let i = 0; i < bits; i += 1) turned |= ((value >> i) & 1) << (bits - 1 - i);
  return turned;
}

/** When each place along a row is taken as lines grow thicker: all lines grow by one dot before any grows by the next. */
const RANK: readonly number[] = Array.from(
  { length: PERIOD },
  (_, t) => (t % LINE_PITCH) * LINES + reversed(Math.floor(t / LINE_PITCH), Math.log2(LINES)),
);

/** How many of {@link PERIOD} dots of a row are fired; rows differ by one, so that all of them together make up the share. */
function firedInRow(share: number, row: number): number {
  return Math.floor(share * PERIOD + reversed(row % PERIOD, Math.log2(PERIOD)) / PERIOD);
}

/**
 * Whether a dot is fired: slanted lines, as thick as the share of dots wants them. They run across all rows alike, so that every
 * nozzle fires as much as any other.
 * @param share of all dots, 0 … 1
 * @param offset of the lines along the row (dots): lines of several channels lie beside one another
 */
export function isFired(share: number, x: number, y: number, offset: number): boolean {
  return isWithin(firedInRow(share, y), x + y + offset);
}

/** Whether a place along the lines is among so many that are taken. */
function isWithin(fired: number, place: number): boolean {
  return itemAt(RANK, ((place % PERIOD) + PERIOD) % PERIOD) < fired;
}

/** A whole tile of such lines: two bits a dot, the leftmost in the highest bits, row by row. */
export function lineTile(share: number, offset: number): Uint8Array {
  const tile = new Uint8Array((TILE.width * TILE.height) / DOTS_PER_BYTE);
  const row = new Uint8Array(PERIOD / DOTS_PER_BYTE);
  for (let y = 0; y < TILE.height; y += 1) {
    row.fill(0);
    const fired = firedInRow(share, y);
    for (let x = 0; x < PERIOD; x += 1) {
      if (isWithin(fired, x + y + offset)) row[x >> 2] = (row[x >> 2] ?? 0) | (FULL << (6 - 2 * (x & 3)));
    }
    for (let at = 0; at < TILE.width / PERIOD; at += 1)
      tile.set(row, y * (TILE.width / DOTS_PER_BYTE) + at * row.length);
  }
  return tile;
}
