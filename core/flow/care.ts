import { transitions } from './transitions.ts';

/**
 * Care in a printer's line: it waits for its turn, is sent, is done by the device and ends; or it is skipped because work did the same,
 * or impossible because something was missing until its latest start.
 */
export const CARE_STATES = [
  'waiting',
  'sent',
  'caring',
  'done',
  'failed',
  'skipped',
  'impossible',
  'cancelled',
] as const;
export type CareState = (typeof CARE_STATES)[number];
export type CareAction = 'send' | 'start' | 'finish' | 'fail' | 'skip' | 'give up' | 'cancel';

/** At most one piece of care of a printer is in one of these, and then no run is on it. */
export const CARE_STATES_ON_PRINTER: readonly CareState[] = ['sent', 'caring'];

const { before, next } = transitions<CareState, CareAction>({
  send: { from: ['waiting'], to: 'sent' },
  start: { from: ['sent'], to: 'caring' },
  finish: { from: ['sent', 'caring'], to: 'done' },
  fail: { from: ['sent', 'caring'], to: 'failed' },
  skip: { from: ['waiting'], to: 'skipped' },
  'give up': { from: ['waiting'], to: 'impossible' },
  cancel: { from: ['waiting', 'sent', 'caring'], to: 'cancelled' },
});
export { before as careStatesBefore, next as nextCareState };
