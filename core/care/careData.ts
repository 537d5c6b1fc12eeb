import { EXERCISE_DROPS } from './exercise.ts';

/** What care of a printer is made of: minutes, and ink of each head that it is done to (ml). */
export interface CareFigures {
  /** Drops per nozzle that exercise a channel. */
  readonly exerciseDrops: number;
  readonly check: { readonly minutes: number; readonly mlPerHead: number; readonly lengthMm: number };
  readonly light: { readonly minutes: number; readonly mlPerHead: number };
  readonly deep: { readonly minutes: number; readonly mlPerHead: number };
  readonly stirMinutes: number;
}

/** Where nobody has said anything else of a printer. */
export const PLAIN_CARE: CareFigures = {
  exerciseDrops: EXERCISE_DROPS,
  check: { minutes: 2, mlPerHead: 0.05, lengthMm: 120 },
  light: { minutes: 4, mlPerHead: 0.9 },
  deep: { minutes: 7, mlPerHead: 2.4 },
  stirMinutes: 3,
};

/** Of care that falls due at the same instant: what comes first. */
export const CARE_ORDER = ['stir', 'clean', 'purge', 'check', 'release'] as const;

export type CleanStrength = 'light' | 'deep';

/** What a timer does, or a person by hand. */
export type CareWhat =
  | { readonly kind: 'purge'; readonly designId: string }
  | { readonly kind: 'check' }
  | { readonly kind: 'clean'; readonly strength: CleanStrength; readonly channelIds: readonly string[] }
  | { readonly kind: 'stir' }
  | { readonly kind: 'release'; readonly runId: string };
