/** A stream of numbers in [0, 1), the only kind of chance that core accepts: handed in, never taken. */
export type Random = () => number;

/**
 * Seeded generator (32-bit state, splitmix finaliser). The same seed gives the same stream on every machine.
 * @param seed any finite number; only its lower 32 bits count
 */
export function seededRandom(seed: number): Random {
  let state = seed | 0;
  return () => {
    state = (state + 0x9e3779b9) | 0;
    let z = state;
    z = Math.imul(z ^ (z >>> 16), 0x21f0aaad);
    z = Math.imul(z ^ (z >>> 15), 0x735a2d97);
    return ((z ^ (z >>> 15)) >>> 0) / 4294967296;
  };
}
