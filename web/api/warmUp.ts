import { preload } from 'swr';
import { getJson } from './client.ts';
import { KEYS, liveJobs } from './data.ts';

/** What each view shows first, by the first part of its path. */
const FIRST: Readonly<Record<string, readonly string[]>> = {
  floor: [KEYS.printers, KEYS.runs, KEYS.spools, KEYS.shop, KEYS.stocks],
  intake: [KEYS.jobs, KEYS.queues, KEYS.printers, KEYS.stocks, KEYS.refusals],
  bench: [KEYS.runs, KEYS.printers],
  media: [KEYS.stocks, KEYS.spools, KEYS.printers, KEYS.runs],
  setup: [KEYS.printers, KEYS.queues, KEYS.presets, KEYS.stocks],
};

let warmed: readonly string[] = [];

/** What is asked for under a key. */
export function listOf(key: string): Promise<unknown> {
  return key === KEYS.jobs ? liveJobs() : getJson(key);
}

/**
 * Asks for the lists of a view while the live line is still being opened, so that they are there when it stands. What changes in
 * between must not be missed: whoever opens the line reads `warmedKeys` once more.
 */
export function warmUp(pathname: string): void {
  const view = pathname.split('/')[1] ?? '';
  warmed = FIRST[view === '' ? 'floor' : view] ?? [];
  for (const key of warmed) preload(key, () => listOf(key)).catch(() => undefined);
}

/** Lists that were asked for before the live line stood: they are read once more. */
export function warmedKeys(): readonly string[] {
  return warmed;
}
