import type { TaskView } from '../../contract/api/task.ts';
import type { Actor } from '../../core/events/actor.ts';
import type { Tx } from '../db/open.ts';
import type { ArrivalRule } from '../db/schema.ts';

/** What the shop does by itself, in several steps. Kinds, each with what it is given. */
export interface ShopTaskKinds {
  /** What follows the arrival of the jobs of one claim: they are routed, then, by the arrival rule *go*, sent on. */
  readonly arrival: {
    readonly jobIds: readonly string[];
    readonly rule: ArrivalRule | null;
    readonly step: 'route' | 'go';
  };
  /** A run that goes by itself is nested, laid out and queued. */
  readonly 'send run': { readonly runId: string; readonly actor: Actor };
}

export type ShopTaskKind = keyof ShopTaskKinds;

/** How a task tells what becomes of it while it is under way. */
export interface TaskSteps<K extends ShopTaskKind> {
  /** Fires when it is cancelled. */
  readonly signal: AbortSignal;
  /** Writes down what is left to be done, so that what has been done is not done a second time. */
  readonly keep: (input: ShopTaskKinds[K]) => void;
  /** Which share of it is done, 0 to 1. */
  readonly progress: (share: number) => void;
}

/**
 * Tasks of the shop itself. Each is written into the table of tasks by the transaction that makes it necessary, so that
 * whatever ends the server between then and its end, it is gone on with.
 */
export interface ShopTasks {
  /** @param key names what it is about: while one with this key is not over, no second one is added */
  add<K extends ShopTaskKind>(tx: Tx, kind: K, key: string, input: ShopTaskKinds[K]): void;
  /**
   * Does the task with this key now; where it is under way already, waits for its end. Nothing happens where there is none.
   * @throws what the disk or the database says where it could not be written: it stays to be done
   */
  perform(kind: ShopTaskKind, key: string): Promise<void>;
  /** Goes on with whatever is not over. */
  resume(): Promise<void>;
  view(taskId: string): TaskView | undefined;
  /** @returns how it stands afterwards; what is over stays as it is */
  cancel(taskId: string): TaskView | undefined;
}
