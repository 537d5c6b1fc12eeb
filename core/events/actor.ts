/**
 * Who acts: every use case is told, and every row of the event log keeps it.
 *
 * - a *person* at a page or with a program that acts for them,
 * - a *timer*: something that was set to happen at an instant, such as a run that goes by itself or a keep rule,
 * - a *device*: what a printer or cutter says of itself,
 * - the *program*: what follows from something else without anybody asking for it, such as routing after an arrival.
 */
export interface Actor {
  readonly kind: ActorKind;
  /** Names the person, timer or device for good; names on screens may change. */
  readonly id: string;
  /** As it is shown in the log. */
  readonly name: string;
}

export type ActorKind = 'person' | 'timer' | 'device' | 'program';

/** What the program does of its own accord. */
export const PROGRAM: Actor = { kind: 'program', id: 'yellow-spool', name: 'Yellow Spool' };

/** Whoever sits at a page of a shop without sign-in. */
export const COORDINATOR: Actor = { kind: 'person', id: 'coordinator', name: 'coordinator' };

/** The name of a person who has signed in; null for everything else, and for whoever is at a page without sign-in. */
export function signedInName({ kind, id, name }: Actor): string | null {
  return kind === 'person' && id !== COORDINATOR.id ? name : null;
}

/** What was set to happen by time: the rule or the look that is due. */
export function timer(id: string, name: string): Actor {
  return { kind: 'timer', id, name };
}

/** What a printer or cutter says of itself. */
export function device(id: string, name: string): Actor {
  return { kind: 'device', id, name };
}
