/** What a press has to do for one run, in its own (deviating) time. */
export interface PressPlan {
  readonly lengthMm: number;
  readonly trailerMm: number;
  readonly advanceMm: number;
  readonly passes: number;
  readonly startUpMs: number;
  readonly strokesMs: readonly number[];
  readonly dryOutMs: number;
  readonly cutMs: number;
}

export type PressPhase = 'start-up' | 'print' | 'dry-out' | 'cut' | 'done';

export interface PressState {
  readonly phase: PressPhase;
  /** Strokes completed. */
  readonly strokes: number;
  /** Time spent in the present stroke or phase. */
  readonly intoMs: number;
}

export const PRESS_START: PressState = { phase: 'start-up', strokes: 0, intoMs: 0 };

/**
 * Moves a press on by `elapsedMs`. Pure: the same plan, state and steps give the same end, however the time is sliced.
 */
export function stepPress(plan: PressPlan, state: PressState, elapsedMs: number): PressState {
  let { phase, strokes } = state;
  let into = state.intoMs + elapsedMs;
  for (;;) {
    switch (phase) {
      case 'start-up':
        if (into < plan.startUpMs) return { phase, strokes, intoMs: into };
        into -= plan.startUpMs;
        phase = 'print';
        break;
      case 'print': {
        const stroke = plan.strokesMs[strokes];
        if (stroke === undefined) {
          phase = 'dry-out';
          break;
        }
        if (into < stroke) return { phase, strokes, intoMs: into };
        into -= stroke;
        strokes += 1;
        break;
      }
      case 'dry-out':
        if (into < plan.dryOutMs) return { phase, strokes, intoMs: into };
        into -= plan.dryOutMs;
        phase = 'cut';
        break;
      case 'cut':
        if (into < plan.cutMs) return { phase, strokes, intoMs: into };
        return { phase: 'done', strokes, intoMs: 0 };
      case 'done':
        return { phase, strokes, intoMs: 0 };
    }
  }
}

/** Length that has had all its passes (mm): what could be cut off and used. */
export function finishedLengthMm(plan: PressPlan, state: PressState): number {
  if (state.phase === 'start-up') return 0;
  if (state.phase !== 'print') return plan.lengthMm;
  return Math.min(plan.lengthMm, Math.max(0, (state.strokes - plan.passes + 1) * plan.advanceMm));
}

/** Length that has left the spool (mm): every stroke feeds one advance, the trailer follows at the end. */
export function fedLengthMm(plan: PressPlan, state: PressState): number {
  if (state.phase === 'start-up') return 0;
  if (state.phase === 'print') return Math.min(plan.lengthMm, state.strokes * plan.advanceMm);
  return plan.lengthMm + plan.trailerMm;
}

/** Time a press still needs (ms). */
export function pressMsLeft(plan: PressPlan, state: PressState): number {
  const strokesLeft = plan.strokesMs.slice(state.strokes).reduce((sum, ms) => sum + ms, 0);
  const tail = plan.dryOutMs + plan.cutMs;
  switch (state.phase) {
    case 'start-up':
      return plan.startUpMs - state.intoMs + strokesLeft + tail;
    case 'print':
      return strokesLeft - state.intoMs + tail;
    case 'dry-out':
      return tail - state.intoMs;
    case 'cut':
      return plan.cutMs - state.intoMs;
    case 'done':
      return 0;
  }
}
