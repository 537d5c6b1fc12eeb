/** How printed media is taken up behind the printer. */
export interface TakeUp {
  readonly winding: 'printed side in' | 'printed side out';
  readonly tension: 'light' | 'medium' | 'firm';
}

/** What a person looks at before the take-up runs by itself, in the order of the media's path. */
export const TAKE_UP_CHECKS = [
  'The leading edge is taped straight onto the core',
  'The media hangs in an even loop with the tension bar in it',
  'The core turns the way that was chosen',
  'Nothing stands in the path',
] as const;

/**
 * Why a run can't be sent for what comes out of the printer, or null.
 * @param lengthMm of the run, trailer included
 */
export function outputTrouble(
  printer: { readonly takeUp: boolean; readonly freeHangMm: number | null; readonly collectsMm: number | null },
  takeUp: TakeUp | null,
  lengthMm: number,
  collectedMm: number,
): { readonly code: 'free-hang' | 'basket'; readonly haveMm: number; readonly needMm: number } | null {
  if (takeUp !== null && printer.takeUp) return null;
  if (printer.freeHangMm !== null && lengthMm > printer.freeHangMm + 1e-6) {
    return { code: 'free-hang', haveMm: printer.freeHangMm, needMm: lengthMm };
  }
  if (printer.collectsMm !== null && collectedMm + lengthMm > printer.collectsMm + 1e-6) {
    return { code: 'basket', haveMm: Math.max(0, printer.collectsMm - collectedMm), needMm: lengthMm };
  }
  return null;
}
