/** What a draw is of: which night, what kind of luck, and whose. */
export interface DrawKey {
  readonly night: number;
  /** Such as *fault* or *flaw*. */
  readonly kind: string;
  /** A printer, stock or run. */
  readonly of: string;
}

/**
 * Chance that goes by names, not by the order in which it is asked: the same draw of the same night is the same number whatever
 * else was drawn before. So a run keeps its luck when it moves, and the difference of two plans is one of the plans.
 * (Common random numbers; calculations for odds, “One simulated night”.)
 * @param seed any finite number; its lower 32 bits count
 * @returns a number in (0, 1), never 0 or 1: each can be turned into a quantile
 */
export function keyedChance(seed: number): (key: DrawKey, index?: number) => number {
  const names = new Map<string, number>();
  const hashOf = (text: string): number => {
    const known = names.get(text);
    if (known !== undefined) return known;
    const hash = hashed(text);
    names.set(text, hash);
    return hash;
  };
  return ({ night, kind, of }, index = 0) => {
    let z = mixed((seed | 0) ^ 0x9e3779b9);
    z = mixed(z ^ Math.imul(night + 1, 0x85ebca6b));
    z = mixed(z ^ hashOf(kind));
    z = mixed(z ^ hashOf(of));
    z = mixed(z ^ Math.imul(index + 1, 0xc2b2ae35));
    const high = z >>> 0;
    const low = mixed(z ^ 0x27d4eb2f) >>> 0;
    // 53 bits, and half a step away from both ends.
    return (high * 2 ** 21 + (low >>> 11) + 0.5) / 2 ** 53;
  };
}

/** The finaliser of splitmix32: every bit of the word touches every bit of the result. */
function mixed(word: number): number {
  let z = (word + 0x9e3779b9) | 0;
  z = Math.imul(z ^ (z >>> 16), 0x21f0aaad);
  z = Math.imul(z ^ (z >>> 15), 0x735a2d97);
  return z ^ (z >>> 15);
}

/** FNV-1a, 32 bits. */
function hashed(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i += 1) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return hash;
}
