/** What care is made of, where a printer says nothing else: minutes, and ink of each head that it is done to (ml). */
export const CARE_DATA = {
  check: { minutes: 2, mlPerHead: 0.05, lengthMm: 120 },
  clean: { light: { minutes: 4, mlPerHead: 0.9 }, deep: { minutes: 7, mlPerHead: 2.4 } },
  stir: { minutes: 3 },
} as const;

/** Of care that falls due at the same instant: what comes first. */
export const CARE_ORDER = ['stir', 'clean', 'purge', 'check', 'release'] as const;

export type CleanStrength = keyof typeof CARE_DATA.clean;

/** What a timer does, or a person by hand. */
export type CareWhat =
  | { readonly kind: 'purge'; readonly designId: string }
  | { readonly kind: 'check' }
  | { readonly kind: 'clean'; readonly strength: CleanStrength; readonly channelIds: readonly string[] }
  | { readonly kind: 'stir' }
  | { readonly kind: 'release'; readonly runId: string };
