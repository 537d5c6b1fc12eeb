import { type Result, ok, refuse } from '../result.ts';

/** Why something can't be done with what is in this state. */
export interface WrongState<S, A> {
  readonly code: 'wrong-state';
  readonly action: A;
  readonly state: S;
}

/** How states follow each other. */
export interface Transitions<S, A> {
  /** The states from which an action may be taken, for the guard of the database statement. */
  readonly before: (action: A) => readonly S[];
  /** The state after an action, or why it can't be taken. */
  readonly next: (state: S, action: A) => Result<S, WrongState<S, A>>;
}

/** @param table of each action: from which states it leads to which */
export function transitions<S extends string, A extends string>(
  table: Readonly<Record<A, { readonly from: readonly S[]; readonly to: S }>>,
): Transitions<S, A> {
  return {
    before: (action) => table[action].from,
    next: (state, action) => {
      const { from, to } = table[action];
      return from.includes(state) ? ok(to) : refuse({ code: 'wrong-state', action, state });
    },
  };
}
