import type { Printer } from '../../api/data.ts';

/** What a printer does, or what it waits for. */
export function stateText({ state, reason, held }: Pick<Printer, 'state' | 'reason' | 'held'>): string {
  // Where the device itself waits it says why; else its next run does.
  if (state === 'waiting' && held?.brief === reason) return `waits: ${held.brief}`;
  return reason ?? state;
}
