import { int32At } from '../../elementAt.ts';

/** Adds to the set at `to` of `target` every element of the set at `from` of `source`, each so much larger; both have so many words. */
export function addShifted(
  target: Int32Array,
  to: number,
  source: Int32Array,
  from: number,
  words: number,
  by: number,
): void {
  const whole = by >> 5;
  const rest = by & 31;
  for (let i = words - 1; i >= whole; i--) {
    let moved = int32At(source, from + i - whole) << rest;
    if (rest > 0 && i > whole) moved |= int32At(source, from + i - whole - 1) >>> (32 - rest);
    target[to + i] = int32At(target, to + i) | moved;
  }
}
