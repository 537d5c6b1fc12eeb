import type { PrintBlock } from '../estimate/runTime.ts';

/** What a press has to do for one run, in its own (deviating) time. */
export interface PressPlan {
  readonly lengthMm: number;
  readonly trailerMm: number;
  readonly advanceMm: number;
  readonly passes: number;
  readonly startUpMs: number;
  readonly strokesMs: readonly number[];
  readonly block: PrintBlock;
  readonly dryOutMs: number;
  /** It rests before it is cut off. */
  readonly dryingMs: number;
  /** Cut off and contours. */
  readonly cutMs: number;
}

/** `stop`: a person takes the printed piece off and loads the next. */
export type PressPhase = 'start-up' | 'print' | 'stop' | 'dry-out' | 'drying' | 'cut' | 'done';

export interface PressState {
  readonly phase: PressPhase;
  /** Strokes completed. */
  readonly strokes: number;
  /** Time spent in the present stroke or phase. */
  readonly intoMs: number;
  /** Stops that a person has ended. */
  readonly stopsDone: number;
}

export const PRESS_START: PressState = { phase: 'start-up', strokes: 0, intoMs: 0, stopsDone: 0 };

/**
 * Moves a press on by `elapsedMs`. Pure: the same plan, state and steps give the same end, however the time is sliced. At a
 * stop it stands, whatever time goes by, until `resumeFromStop`.
 */
export function stepPress(plan: PressPlan, state: PressState, elapsedMs: number): PressState {
  const { stopsDone } = state;
  let { phase, strokes } = state;
  let into = state.intoMs + elapsedMs;
  const now = (): PressState => ({ phase, strokes, intoMs: into, stopsDone });
  for (;;) {
    switch (phase) {
      case 'start-up':
        if (into < plan.startUpMs) return now();
        into -= plan.startUpMs;
        phase = 'print';
        break;
      case 'print': {
        const stroke = plan.strokesMs[strokes];
        if (stroke === undefined) {
          phase = 'dry-out';
          break;
        }
        if (isStop(plan, strokes, stopsDone)) return { phase: 'stop', strokes, intoMs: 0, stopsDone };
        if (into < stroke) return now();
        into -= stroke;
        strokes += 1;
        break;
      }
      case 'stop':
        return { ...state };
      case 'dry-out':
        if (into < plan.dryOutMs) return now();
        into -= plan.dryOutMs;
        phase = 'drying';
        break;
      case 'drying':
        if (into < plan.dryingMs) return now();
        into -= plan.dryingMs;
        phase = 'cut';
        break;
      case 'cut':
        if (into < plan.cutMs) return now();
        return { phase: 'done', strokes, intoMs: 0, stopsDone };
      case 'done':
        return { phase, strokes, intoMs: 0, stopsDone };
    }
  }
}

/** A person has loaded the next piece. */
export function resumeFromStop(state: PressState): PressState {
  return state.phase === 'stop' ? { ...state, phase: 'print', stopsDone: state.stopsDone + 1 } : state;
}

function strokesOfBlock({ block }: PressPlan): number {
  return Math.max(1, block.strokes * block.coats);
}

function isStop(plan: PressPlan, strokes: number, stopsDone: number): boolean {
  const each = strokesOfBlock(plan);
  return plan.block.byHand && strokes > 0 && strokes % each === 0 && strokes / each > stopsDone;
}

/** Length that has had all its passes and coats (mm): what could be cut off and used. */
export function finishedLengthMm(plan: PressPlan, state: PressState): number {
  if (state.phase === 'start-up') return 0;
  if (state.phase !== 'print' && state.phase !== 'stop') return plan.lengthMm;
  const { block } = plan;
  const whole = Math.floor(state.strokes / strokesOfBlock(plan));
  const inLastCoat = state.strokes - whole * strokesOfBlock(plan) - (block.coats - 1) * block.strokes;
  const partMm = Math.min(block.lengthMm, Math.max(0, (inLastCoat - plan.passes + 1) * plan.advanceMm));
  return Math.min(plan.lengthMm, whole * block.lengthMm + partMm);
}

/** Length that has left its source (mm): every stroke feeds one advance, the trailer follows at the end; sheets go whole. */
export function fedLengthMm(plan: PressPlan, state: PressState): number {
  if (state.phase === 'start-up') return 0;
  if (state.phase !== 'print' && state.phase !== 'stop') return plan.lengthMm + plan.trailerMm;
  const { block } = plan;
  const whole = Math.floor(state.strokes / strokesOfBlock(plan));
  const rest = state.strokes - whole * strokesOfBlock(plan);
  const onSheets = block.lengthMm < plan.lengthMm - 1e-6 || block.byHand;
  const started = rest > 0 || (state.phase === 'print' && state.intoMs > 0 && whole * block.lengthMm < plan.lengthMm);
  const partMm = onSheets
    ? started
      ? block.lengthMm
      : 0
    : rest > block.strokes
      ? block.lengthMm
      : Math.min(block.lengthMm, rest * plan.advanceMm);
  return Math.min(plan.lengthMm, whole * block.lengthMm + partMm);
}

/** Share of the ink that is fired by now, 0 … 1. */
export function firedShare(plan: PressPlan, state: PressState): number {
  if (state.phase === 'start-up') return 0;
  const all = plan.strokesMs.length;
  return all === 0 || (state.phase !== 'print' && state.phase !== 'stop') ? 1 : state.strokes / all;
}

/** Time a press still needs (ms); what people take at stops is not in it. */
export function pressMsLeft(plan: PressPlan, state: PressState): number {
  const strokesLeft = plan.strokesMs.slice(state.strokes).reduce((sum, ms) => sum + ms, 0);
  const tail = plan.dryOutMs + plan.dryingMs + plan.cutMs;
  switch (state.phase) {
    case 'start-up':
      return plan.startUpMs - state.intoMs + strokesLeft + tail;
    case 'print':
      return strokesLeft - state.intoMs + tail;
    case 'stop':
      return strokesLeft + tail;
    case 'dry-out':
      return tail - state.intoMs;
    case 'drying':
      return plan.dryingMs + plan.cutMs - state.intoMs;
    case 'cut':
      return plan.cutMs - state.intoMs;
    case 'done':
      return 0;
  }
}
