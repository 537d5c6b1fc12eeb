import type { Separations } from './ticket.ts';

/** The process inks that artwork is separated into. */
export const PROCESS_INKS = ['cyan', 'magenta', 'yellow', 'black'] as const;

/**
 * The parts that a job's pieces come in: null is the whole artwork, a name is one ink or spot alone.
 * @param spots the spot colours of the file
 */
export function partsOf(rule: Separations, spots: readonly string[]): readonly (string | null)[] {
  switch (rule.kind) {
    case 'all inks':
      return [null];
    case 'black only':
      return ['black'];
    case 'each alone':
      return [...PROCESS_INKS, ...spots];
    case 'named':
      return rule.names;
  }
}
