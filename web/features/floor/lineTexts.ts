import type { Shortage, WaitReason } from '../../../core/schedule/plan.ts';
import type { Printer } from '../../api/data.ts';

/** Why nothing happens for a while. */
export const WAITS: Record<WaitReason, string> = {
  'nobody there': 'Waits until somebody is there',
  'fixed start': 'Waits for its fixed start',
  off: 'Does not answer: nothing before somebody is there to see to it',
  fault: 'Has a fault: nothing before somebody is there to clear it',
};

/** What is done between two runs. */
export const BETWEEN = {
  stock: 'Change-over: another stock',
  spool: 'Change-over: another spool',
  mode: 'Change-over: another mode',
  empty: 'The basket is emptied',
  turn: 'The media is turned for the back',
  clean: 'The heads are cleaned',
} as const;

/**
 * What ends at a shortage: an ink, the media of what follows, or a spool by its label.
 * @param spools all of the shop: what ends may be one that is loaded by then
 */
export function shortageText(
  { what }: Shortage,
  { config }: Printer,
  spools: readonly { readonly id: string; readonly label: string }[],
): string {
  if (what.kind === 'ink') {
    return `${config.channels.find(({ id }) => id === what.channelId)?.name ?? 'Ink'} runs out here`;
  }
  if (what.spoolId === null) return 'No media for what follows';
  return `${spools.find(({ id }) => id === what.spoolId)?.label ?? 'The spool'} ends here`;
}
