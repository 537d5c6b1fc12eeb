import { PLAIN_FITNESS } from '../heads/printerHeads.ts';
import { EXERCISE_DROPS } from './exercise.ts';

/** What care of a printer is made of: minutes, and ink of each head that it is done to (ml). */
export interface CareFigures {
  /** Drops per nozzle that exercise a channel. */
  readonly exerciseDrops: number;
  readonly check: { readonly minutes: number; readonly mlPerHead: number };
  readonly light: { readonly minutes: number; readonly mlPerHead: number };
  readonly deep: { readonly minutes: number; readonly mlPerHead: number };
  readonly stirMinutes: number;
  /** Of a channel's nozzles so many must print. */
  readonly channelShare: number;
  /** Heads rest so long before a clean is repeated, and what it costs to call service (minor units). */
  readonly restMinutes: number;
  readonly serviceMinor: number;
}

/** Where nobody has said anything else of a printer. */
export const PLAIN_CARE: CareFigures = {
  exerciseDrops: EXERCISE_DROPS,
  check: { minutes: 2, mlPerHead: 0.05 },
  light: { minutes: 4, mlPerHead: 0.9 },
  deep: { minutes: 7, mlPerHead: 2.4 },
  stirMinutes: 3,
  channelShare: PLAIN_FITNESS.channelShare,
  restMinutes: 60,
  serviceMinor: 18_000,
};

/** Of care that falls due at the same instant: what comes first. */
export const CARE_ORDER = ['stir', 'clean', 'purge', 'check', 'feed', 'release'] as const;

export type CleanStrength = 'light' | 'deep';

/** What a timer does, or a person by hand. */
export type CareWhat =
  | { readonly kind: 'purge'; readonly designId: string }
  | { readonly kind: 'check' }
  | {
      readonly kind: 'clean';
      readonly strength: CleanStrength;
      readonly channelIds: readonly string[];
      /** It repeats a clean after the heads have rested. */
      readonly rested?: boolean;
    }
  | { readonly kind: 'stir' }
  /** Two bars are printed on a stock and measured: how far the printer feeds it. */
  | { readonly kind: 'feed'; readonly stockId: string }
  | { readonly kind: 'release'; readonly runId: string };
