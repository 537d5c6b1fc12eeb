import { transitions } from './transitions.ts';

export const RUN_STATES = ['draft', 'queued', 'sent', 'printing', 'paused', 'printed', 'failed', 'cancelled'] as const;
export type RunState = (typeof RUN_STATES)[number];
export type RunAction = 'queue' | 'send' | 'start' | 'pause' | 'resume' | 'finish' | 'fail' | 'cancel' | 'dissolve';

/** A live run holds its pieces: none of them can be in another live run. */
export const LIVE_RUN_STATES: readonly RunState[] = ['draft', 'queued', 'sent', 'printing', 'paused'];
/** At most one run of a printer is in one of these. */
export const RUN_STATES_ON_PRINTER: readonly RunState[] = ['sent', 'printing', 'paused'];

const { before, next } = transitions<RunState, RunAction>({
  queue: { from: ['draft'], to: 'queued' },
  send: { from: ['queued'], to: 'sent' },
  start: { from: ['sent'], to: 'printing' },
  pause: { from: ['sent', 'printing'], to: 'paused' },
  resume: { from: ['paused'], to: 'printing' },
  finish: { from: ['sent', 'printing', 'paused'], to: 'printed' },
  fail: { from: ['sent', 'printing', 'paused'], to: 'failed' },
  cancel: { from: ['queued', 'sent', 'printing', 'paused'], to: 'cancelled' },
  dissolve: { from: ['draft'], to: 'cancelled' },
});
export { before as runStatesBefore, next as nextRunState };
