import type { KeepRule } from './ticket.ts';

const DAY_MS = 86_400_000;
/** So long a printed job stands among today's work before it goes to the Shelf. */
const FRESH_MS = DAY_MS / 2;

/** When a printed job is put on the Shelf, and when it is dropped; null: never. */
export function keepUntilMs(
  rule: KeepRule,
  printedMs: number,
): { readonly shelveMs: number; readonly dropMs: number | null } {
  const shelveMs = printedMs + FRESH_MS;
  switch (rule.kind) {
    case 'job and data':
    case 'job only':
      return { shelveMs, dropMs: null };
    case 'days':
      return { shelveMs, dropMs: printedMs + rule.days * DAY_MS };
    case 'drop':
      return { shelveMs, dropMs: printedMs };
  }
}
