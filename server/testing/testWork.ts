import type { TaskView } from '../../contract/api/task.ts';
import type { Limits } from '../limits.ts';
import type { Followed, FollowedHow, Work } from '../ports/work.ts';
import type { TaskKind, TaskKinds, WorkerTask } from '../work/kinds.ts';

type Does<K extends TaskKind> = (input: TaskKinds[K]['input']) => Promise<TaskKinds[K]['output']>;

/** Heavy work done at once, in this thread. A test may say what is to be done in place of it. */
export class TestWork implements Work<TaskKinds> {
  private readonly instead = new Map<string, (input: never) => Promise<unknown>>();

  constructor(
    private readonly root: string,
    private readonly limits: Limits,
  ) {}

  /**
   * Puts something in the place of a kind of task.
   * @param act what is done; it gets the way in which it was done until now
   * @returns puts that back
   */
  replace<K extends TaskKind>(
    kind: K,
    act: (input: TaskKinds[K]['input'], before: Does<K>) => Promise<unknown>,
  ): () => void {
    const was = this.instead.get(kind);
    const before: Does<K> = (input) => (was ? was(input as never) : this.really(kind, input)) as ReturnType<Does<K>>;
    this.instead.set(kind, (input: never) => act(input, before));
    return () => {
      if (was) this.instead.set(kind, was);
      else this.instead.delete(kind);
    };
  }

  async run<K extends keyof TaskKinds>(kind: K, input: TaskKinds[K]['input']): Promise<TaskKinds[K]['output']> {
    const act = this.instead.get(kind);
    return (act ? await act(input as never) : await this.really(kind, input)) as TaskKinds[K]['output'];
  }

  follow<T>(_kind: string, act: (how: FollowedHow) => Promise<T>): Followed<T> {
    return {
      answer: act({ signal: new AbortController().signal, progress: () => undefined }),
      publish: () => 'task-test',
    };
  }
  view(): TaskView | undefined {
    return undefined;
  }
  cancel(): TaskView | undefined {
    return undefined;
  }

  private async really<K extends TaskKind>(kind: K, input: TaskKinds[K]['input']): Promise<unknown> {
    // Most tests never draw: what reads and draws files is loaded by those that do.
    const { runTask } = await import('../work/runTask.ts');
    return runTask({ kind, input, root: this.root, limits: this.limits } as WorkerTask);
  }
}
