import { type Result, ok, refuse } from '../result.ts';

export const RUN_STATES = ['draft', 'queued', 'sent', 'printing', 'paused', 'printed', 'failed', 'cancelled'] as const;
export type RunState = (typeof RUN_STATES)[number];
export type RunAction = 'queue' | 'send' | 'start' | 'pause' | 'resume' | 'finish' | 'fail' | 'cancel' | 'dissolve';

/** A live run holds its pieces: none of them can be in another live run. */
export const LIVE_RUN_STATES: readonly RunState[] = ['draft', 'queued', 'sent', 'printing', 'paused'];
/** At most one run of a printer is in one of these. */
export const RUN_STATES_ON_PRINTER: readonly RunState[] = ['sent', 'printing', 'paused'];

const NEXT: Record<RunAction, { readonly from: readonly RunState[]; readonly to: RunState }> = {
  queue: { from: ['draft'], to: 'queued' },
  send: { from: ['queued'], to: 'sent' },
  start: { from: ['sent'], to: 'printing' },
  pause: { from: ['sent', 'printing'], to: 'paused' },
  resume: { from: ['paused'], to: 'printing' },
  finish: { from: ['sent', 'printing', 'paused'], to: 'printed' },
  fail: { from: ['sent', 'printing', 'paused'], to: 'failed' },
  cancel: { from: ['queued', 'sent', 'printing', 'paused'], to: 'cancelled' },
  dissolve: { from: ['draft'], to: 'cancelled' },
};

/** The states from which an action may be taken, for the guard of the database statement. */
export function runStatesBefore(action: RunAction): readonly RunState[] {
  return NEXT[action].from;
}

/** The state after an action, or why it can't be taken. */
export function nextRunState(
  state: RunState,
  action: RunAction,
): Result<RunState, { readonly code: 'wrong-state'; readonly action: RunAction; readonly state: RunState }> {
  const { from, to } = NEXT[action];
  return from.includes(state) ? ok(to) : refuse({ code: 'wrong-state', action, state });
}
