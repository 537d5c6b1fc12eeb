import type { TaskView } from '../../contract/api/task.ts';

/** How a task tells what becomes of it while it is under way. */
export interface TaskSteps<Input> {
  /** Fires when it is cancelled, and when the server is stopped: its reason, thrown on, leaves the rest to be done. */
  readonly signal: AbortSignal;
  /** Writes down what is left to be done, so that what has been done is not done a second time. */
  readonly keep: (input: Input) => void;
  /** Which share of it is done, 0 to 1. */
  readonly progress: (share: number) => void;
}

/**
 * Tasks of the shop itself, of several steps each. A task is written into the table of tasks by the transaction that makes it
 * necessary: whatever ends the server between then and its end, it is gone on with.
 */
export interface ShopTasks<Kinds extends object, Tx> {
  /** @param key names what it is about: while one with this key is not over, no second one is added */
  add<K extends keyof Kinds & string>(tx: Tx, kind: K, key: string, input: Kinds[K]): void;
  /**
   * Does the task with this key now; where it is under way already, waits for its end. Nothing happens where there is none.
   * @throws what the disk or the database says where it could not be written: it stays to be done
   */
  perform(kind: keyof Kinds & string, key: string): Promise<void>;
  /** Goes on with whatever is not over. */
  resume(): Promise<void>;
  /** Begins nothing more; what is under way stops where it is and stays to be done. */
  close(): Promise<void>;
  view(taskId: string): TaskView | undefined;
  /** @returns how it stands afterwards; what is over stays as it is */
  cancel(taskId: string): TaskView | undefined;
}
