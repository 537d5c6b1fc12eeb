import { useSyncExternalStore } from 'react';

/** Something that this page has asked for and that the server is still at. */
export interface LongTask {
  readonly taskId: string;
  /** What is being done, as it is told to people. */
  readonly title: string;
  /** Which share of it is done, 0 … 1; null: not known. */
  readonly progress: number | null;
  /** It is to end before its time; the server has not said yet that it has. */
  readonly cancelling: boolean;
}

let tasks: readonly LongTask[] = [];
const listeners = new Set<() => void>();

function put(next: readonly LongTask[]): void {
  tasks = next;
  for (const listener of listeners) listener();
}

/** Says how a task stands now; the first time it is put behind the others. */
export function showTask(task: Omit<LongTask, 'cancelling'>): void {
  const known = tasks.find(({ taskId }) => taskId === task.taskId);
  if (!known) put([...tasks, { ...task, cancelling: false }]);
  else put(tasks.map((each) => (each === known ? { ...known, ...task } : each)));
}

/** A task is over, however it ended. */
export function dropTask(taskId: string): void {
  put(tasks.filter((each) => each.taskId !== taskId));
}

/** A person no longer wants it; it stays shown until the server has ended it. */
export function markCancelling(taskId: string, cancelling: boolean): void {
  put(tasks.map((each) => (each.taskId === taskId ? { ...each, cancelling } : each)));
}

/** What the server is at for this page, the oldest first. */
export function useLongTasks(): readonly LongTask[] {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => tasks,
  );
}
