/*
 * Printing what is still being rendered: bands are printed in the order in which they become ready. Source: rendering while printing.
 */

/** Bands that must be in hand before printing begins, or goes on after it had to wait. */
export const BANDS_IN_HAND = 4;
/** Rendering must be so much faster than printing for both to go on at once: a machine has other things to do, too. */
const MARGIN = 1.5;

/**
 * How long after rendering has begun printing may begin, so that it never waits (in the unit of what is given): the most by which any band
 * is ready later than it is needed, and no sooner than the first bands are in hand.
 * @param ready when each band is ready, from the start of rendering
 * @param need when each band is needed, from the start of printing; as many
 */
export function headStart(ready: readonly number[], need: readonly number[], leastBands = BANDS_IN_HAND): number {
  const inHand = ready[Math.min(leastBands, ready.length) - 1] ?? 0;
  return ready.reduce((most, at, i) => Math.max(most, at - (need[i] ?? 0)), inHand);
}

/**
 * Whether a run may be printed while it is rendered.
 * @param renderMs that a band takes to be rendered, as the machine is loaded now (real time)
 * @param printMs that it takes to be printed (shop time)
 * @param rate of the shop clock: how many times as fast as real time it runs
 */
export function mayPrintWhileRendering(renderMs: number, printMs: number, rate: number): boolean {
  return renderMs > 0 && rate > 0 && printMs / rate >= MARGIN * renderMs;
}

/**
 * When printing ends that waits wherever a band is not there yet, and goes on with {@link BANDS_IN_HAND} in hand, or all the rest.
 * @param begun when it begins, from the start of rendering @param printTime of each band
 */
export function endOfPrinting(
  ready: readonly number[],
  printTime: number,
  begun: number,
  leastBands = BANDS_IN_HAND,
): { readonly end: number; readonly waits: readonly number[] } {
  const waits: number[] = [];
  let now = begun;
  ready.forEach((at, band) => {
    if (at > now) {
      waits.push(band);
      now = ready[Math.min(ready.length, band + leastBands) - 1] ?? at;
    }
    now += printTime;
  });
  return { end: now, waits };
}

/** Who renders what a printer prints, and when: the printer itself from the PDF, or we, before it prints or meanwhile. */
export const RENDERING_WAYS = ['by the printer', 'render first', 'while printing'] as const;
export type RenderingWay = (typeof RENDERING_WAYS)[number];

/** What a printer says that waits until what it prints next is rendered. */
export const WAITS_FOR_RENDERING = 'waiting for rendering';
