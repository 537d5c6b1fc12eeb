import { float64At, int32At } from '../../elementAt.ts';

/** States remembered at most; later ones are not looked for any more, which costs time and nothing else. */
const MOST_STATES = 1 << 21;
const FIRST_SLOTS = 1 << 12;

/**
 * Remembers which skylines were met with which pieces left. Of each state 64 bits are kept in place of the whole: two of a
 * million states are taken for one with a chance of some 1 in 30 million.
 */
export class StateSet {
  private one = new Int32Array(FIRST_SLOTS);
  private two = new Int32Array(FIRST_SLOTS);
  private size = 0;

  /** Whether this state was met before; it is remembered from now on. */
  has(rest: number, arrays: readonly Float64Array[], base: number, length: number): boolean {
    let a = mixed(0x9e3779b9 | 0, rest);
    let b = mixed(0x85ebca6b | 0, rest + 0x2545f491);
    for (const array of arrays) {
      for (let i = base; i < base + length; i++) {
        const value = float64At(array, i);
        a = mixed(a, value);
        b = mixed(b, value);
      }
    }
    // An empty slot is two zeros.
    if (a === 0 && b === 0) b = 1;
    const mask = this.one.length - 1;
    let at = a & mask;
    while (int32At(this.one, at) !== 0 || int32At(this.two, at) !== 0) {
      if (this.one[at] === a && this.two[at] === b) return true;
      at = (at + 1) & mask;
    }
    if (this.size >= MOST_STATES) return false;
    this.one[at] = a;
    this.two[at] = b;
    this.size += 1;
    if (this.size * 2 > this.one.length) this.grow();
    return false;
  }

  private grow(): void {
    const { one, two } = this;
    this.one = new Int32Array(one.length * 2);
    this.two = new Int32Array(one.length * 2);
    const mask = this.one.length - 1;
    for (let i = 0; i < one.length; i++) {
      const [a, b] = [int32At(one, i), int32At(two, i)];
      if (a === 0 && b === 0) continue;
      let at = a & mask;
      while (int32At(this.one, at) !== 0 || int32At(this.two, at) !== 0) at = (at + 1) & mask;
      this.one[at] = a;
      this.two[at] = b;
    }
  }
}

/** Both halves of a whole number up to 2^53 go in; the multipliers are those of MurmurHash3 (public domain). */
function mixed(hash: number, value: number): number {
  let h = Math.imul(hash ^ (value | 0), 0xcc9e2d51);
  h ^= h >>> 15;
  h = Math.imul(h ^ ((value / 4294967296) | 0), 0x1b873593);
  h ^= h >>> 13;
  h = Math.imul(h + 0x7ed55d16, 0x85ebca6b);
  return h ^ (h >>> 16);
}
