import { WAITS_FOR_RENDERING } from '../raster/whilePrinting.ts';

/** What a printer says while it can't print until somebody has put it right. */
const STOPS: readonly string[] = ['media out', 'ink out', 'jam', 'cover open', 'head strike'];

/**
 * Whether a printer is stopped: it has a fault, does not answer, or waits with a run that something stopped. One that waits for
 * the next piece, or because somebody paused it, does as it is meant to.
 * @param reason as the device says it
 */
export function isStopped(state: string, reason: string | null): boolean {
  if (state === 'faulted' || state === 'off') return true;
  return state === 'waiting' && reason !== null && STOPS.includes(reason);
}

/** Whether a run that stands goes on by itself, so that nobody has to see to it: it waits for its rows. @param reason as the device says it */
export function goesOnByItself(reason: string | null): boolean {
  return reason === WAITS_FOR_RENDERING;
}
