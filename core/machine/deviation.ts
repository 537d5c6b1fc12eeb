import { seededRandom } from '../random.ts';

/** How one printer differs from its data sheet, as in life: fixed for a machine, unknown to the server. */
export interface Deviation {
  readonly speed: number;
  readonly ink: number;
  readonly startUp: number;
  /** Rolls are a little longer than their label says. */
  readonly rollLength: number;
  /** It feeds so much farther than it is told. */
  readonly feed: number;
}

export const NO_DEVIATION: Deviation = { speed: 1, ink: 1, startUp: 1, rollLength: 1, feed: 1 };

/** 5 to 20 % in speed, ink and start-up, up or down; 0 to 2 % of a roll; up to 0.3 % of what it feeds. */
export function deviationOf(machineId: string): Deviation {
  const random = seededRandom(seedOf(machineId));
  const off = (): number => 1 + (random() < 0.5 ? -1 : 1) * (0.05 + random() * 0.15);
  return {
    speed: off(),
    ink: off(),
    startUp: off(),
    rollLength: 1 + random() * 0.02,
    feed: 1 + (random() * 2 - 1) * 0.003,
  };
}

/** A seed of its own for each machine, the same every time. */
export function seedOf(machineId: string): number {
  let seed = 7;
  for (const char of machineId) seed = (Math.imul(seed, 31) + (char.codePointAt(0) ?? 0)) | 0;
  return seed;
}
