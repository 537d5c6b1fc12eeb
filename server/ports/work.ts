import type { ErrorDetail } from '../../contract/api/common.ts';
import type { TaskView } from '../../contract/api/task.ts';

/** Who waits: a person goes first, then what the shop needs to go on, then what may be ready some time. */
export const PRIORITIES = ['a person waits', 'the shop waits', 'whenever'] as const;
export type Priority = (typeof PRIORITIES)[number];

export interface RunHow {
  readonly priority?: Priority;
  /** Whoever asked no longer wants it. A task that nobody wants is cancelled. */
  readonly signal?: AbortSignal | undefined;
  /** Told now and then which share of it is done, 0 … 1. Kinds that can't know say nothing. */
  readonly progress?: ((share: number) => void) | undefined;
}

/**
 * How one step of several is run: wanted as long as the whole, and its progress is a part of the whole's.
 * @param from which share of the whole is done when the step begins, and `to` when it has ended
 */
export function stepOf(how: RunHow, from: number, to: number): RunHow {
  const { progress } = how;
  if (!progress) return how;
  return {
    ...how,
    progress: (share) => {
      progress(from + share * (to - from));
    },
  };
}

/** Something that takes long and is followed for a request, whatever it consists of. */
export interface Followed<T> {
  readonly answer: Promise<T>;
  /**
   * Puts it into the table of tasks, where others can see and cancel it.
   * @param resultOf what of its answer is told as its result
   * @returns its id
   */
  readonly publish: (resultOf: (answer: T) => unknown) => string;
}

/** What a request that is followed is given: it ends when it is cancelled, and tells how far it is. */
export interface FollowedHow extends RunHow {
  readonly signal: AbortSignal;
  readonly progress: (share: number) => void;
}

/** Kinds of tasks, each with what goes in and what comes out: plain data, and hashes of stored files. */
type KindsOfWork = Readonly<Record<string, { readonly input: unknown; readonly output: unknown }>>;

/**
 * Everything that takes longer than a request should. The same question asked twice is worked on once. Tasks are in a table:
 * after a crash those that were waiting or under way are taken up again.
 */
export interface Work<Kinds extends KindsOfWork> {
  /** @throws TaskStopped where it took too long or was cancelled; else whatever the task throws */
  run<K extends keyof Kinds & string>(kind: K, input: Kinds[K]['input'], how?: RunHow): Promise<Kinds[K]['output']>;
  /**
   * Follows a request that may take long.
   * @param explain what is told of an error: as the request would have been refused
   */
  follow<T>(kind: string, act: (how: FollowedHow) => Promise<T>, explain: (error: unknown) => ErrorDetail): Followed<T>;
  view(taskId: string): TaskView | undefined;
  /** @returns how it stands afterwards; what is over stays as it is */
  cancel(taskId: string): TaskView | undefined;
}

/** A task that did not come to its end. */
export class TaskStopped extends Error {
  constructor(
    readonly why: 'time' | 'cancelled' | 'closing',
    message: string,
  ) {
    super(message);
  }
}

/** Whether something ended only because the server is being stopped: it is no fault, and is done after the next start. */
export function isClosing(error: unknown): boolean {
  return error instanceof TaskStopped && error.why === 'closing';
}
