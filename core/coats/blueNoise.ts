import { float64At } from '../elementAt.ts';

/** How wide the bell is by which places disturb each other, in places. */
const SIGMA = 1.9;
const REACH = 9;

/**
 * Ranks of a blue-noise mask on a torus by void-and-cluster: places of low rank lie as far from each other as they can, and so do
 * those of any range of ranks. Source: R. Ulichney, The void-and-cluster method for dither array generation, 1993.
 * @param size places along each side, a power of two is not needed
 * @param random 0 … 1, of the places that it begins with
 * @returns ranks 0 … size² − 1, row by row
 */
export function blueNoise(size: number, random: () => number): Uint16Array {
  const field = new Field(size);
  const count = size * size;
  const first = Math.max(1, Math.round(count / 10));
  while (field.set < first) field.put(Math.min(count - 1, Math.floor(random() * count)));
  // The tightest cluster goes into the largest void until that is where it came from.
  for (;;) {
    const cluster = field.extreme(true);
    field.take(cluster);
    const empty = field.extreme(false);
    field.put(empty);
    if (empty === cluster) break;
  }
  const ranks = new Uint16Array(count);
  const begun = field.places();
  for (let rank = first - 1; rank >= 0; rank -= 1) {
    const cluster = field.extreme(true);
    field.take(cluster);
    ranks[cluster] = rank;
  }
  for (const place of begun) field.put(place);
  for (let rank = first; rank < count; rank += 1) {
    const empty = field.extreme(false);
    field.put(empty);
    ranks[empty] = rank;
  }
  return ranks;
}

/** Places that are taken, and how crowded each place is by them. Each row knows its own extremes, and is looked at again only where it changed. */
class Field {
  private readonly taken: Uint8Array;
  private readonly crowd: Float64Array;
  private readonly bell: Float64Array;
  private readonly reach: number;
  private readonly extremes: { full: number; empty: number; stale: boolean }[];
  set = 0;

  constructor(private readonly size: number) {
    this.taken = new Uint8Array(size * size);
    this.crowd = new Float64Array(size * size);
    this.reach = Math.min(REACH, Math.floor((size - 1) / 2));
    const across = 2 * this.reach + 1;
    this.bell = Float64Array.from({ length: across * across }, (_, i) => {
      const dx = (i % across) - this.reach;
      const dy = Math.floor(i / across) - this.reach;
      return Math.exp(-(dx * dx + dy * dy) / (2 * SIGMA * SIGMA));
    });
    this.extremes = Array.from({ length: size }, () => ({ full: -1, empty: -1, stale: true }));
  }

  put(place: number): void {
    if (this.taken[place] === 1) return;
    this.taken[place] = 1;
    this.set += 1;
    this.spread(place, 1);
  }

  take(place: number): void {
    this.taken[place] = 0;
    this.set -= 1;
    this.spread(place, -1);
  }

  places(): number[] {
    return Array.from(this.taken.keys()).filter((place) => this.taken[place] === 1);
  }

  /** The most crowded place of those that are taken, or the emptiest of the others; the first of equal ones. */
  extreme(full: boolean): number {
    let best = -1;
    for (let y = 0; y < this.size; y += 1) {
      const row = this.rowAt(y);
      const place = full ? row.full : row.empty;
      if (place >= 0 && (best < 0 || this.isMore(place, best, full))) best = place;
    }
    return best;
  }

  private rowAt(y: number): { readonly full: number; readonly empty: number } {
    const row = this.extremes[y];
    if (!row) throw new RangeError('no such row');
    if (!row.stale) return row;
    row.full = -1;
    row.empty = -1;
    for (let place = y * this.size; place < (y + 1) * this.size; place += 1) {
      const isTaken = this.taken[place] === 1;
      const best = isTaken ? row.full : row.empty;
      if (best >= 0 && !this.isMore(place, best, isTaken)) continue;
      if (isTaken) row.full = place;
      else row.empty = place;
    }
    row.stale = false;
    return row;
  }

  private isMore(place: number, than: number, full: boolean): boolean {
    const difference = float64At(this.crowd, place) - float64At(this.crowd, than);
    return full ? difference > 1e-12 : difference < -1e-12;
  }

  private spread(place: number, sign: number): void {
    const { size, reach } = this;
    const x0 = place % size;
    const y0 = Math.floor(place / size);
    for (let dy = -reach; dy <= reach; dy += 1) {
      const y = (y0 + dy + size) % size;
      const row = this.extremes[y];
      if (row) row.stale = true;
      for (let dx = -reach; dx <= reach; dx += 1) {
        const at = y * size + ((x0 + dx + size) % size);
        const weight = float64At(this.bell, (dy + reach) * (2 * reach + 1) + dx + reach);
        this.crowd[at] = float64At(this.crowd, at) + sign * weight;
      }
    }
  }
}
