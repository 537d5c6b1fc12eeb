/*
 * Printing what is still being rendered: bands are printed in the order in which they become ready. Source: rendering while printing.
 */

/** Bands that must be in hand before printing begins, or goes on after it had to wait. */
export const BANDS_IN_HAND = 4;
/** Rendering must be so much faster than printing for both to go on at once: a machine has other things to do, too. */
const MARGIN = 1.5;

/**
 * Whether a run may be printed while it is rendered.
 * @param renderMs that a band takes to be rendered, as the machine is loaded now (real time)
 * @param printMs that it takes to be printed (shop time)
 * @param rate of the shop clock: how many times as fast as real time it runs
 */
export function mayPrintWhileRendering(renderMs: number, printMs: number, rate: number): boolean {
  return renderMs > 0 && rate > 0 && printMs / rate >= MARGIN * renderMs;
}

/** Who renders what a printer prints, and when: the printer itself from the PDF, or we, before it prints or meanwhile. */
export const RENDERING_WAYS = ['by the printer', 'render first', 'while printing'] as const;
export type RenderingWay = (typeof RENDERING_WAYS)[number];

/** What a printer says that waits until what it prints next is rendered. */
export const WAITS_FOR_RENDERING = 'waiting for rendering';
