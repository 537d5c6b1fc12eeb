import type { WaitReason } from '../../../core/schedule/plan.ts';

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
} as const;
