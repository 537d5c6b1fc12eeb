import type { Printer } from '../../api/data.ts';

/** What a printer does, or what it waits for. */
export function stateText({ state, reason, held }: Pick<Printer, 'state' | 'reason' | 'held'>): string {
  if (state === 'waiting' && held !== null) return `waits: ${held.brief}`;
  return reason ?? state;
}
