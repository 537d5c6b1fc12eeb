import Piscina from 'piscina';
import type { Limits } from '../limits.ts';
import type { WorkerTask } from './kinds.ts';

/** Whatever does tasks: threads of this machine, or later a program on another one. */
export interface Executor {
  /** How many tasks it takes at once. */
  readonly slots: number;
  /** @throws an AbortError where the signal fired; the task's thread is lost then, not the server */
  execute(kind: string, input: unknown, signal: AbortSignal): Promise<unknown>;
  close(): Promise<void>;
}

/** Threads of this machine. A task that runs out of time or memory loses its thread, not the server. */
export class ThreadPool implements Executor {
  private readonly pool: Piscina;
  private readonly loaded: Promise<unknown>;

  constructor(
    workerFile: string,
    private readonly root: string,
    private readonly limits: Limits,
    readonly slots: number,
  ) {
    this.pool = new Piscina({
      filename: workerFile,
      minThreads: 1,
      maxThreads: slots,
      idleTimeout: 30_000,
      resourceLimits: { maxOldGenerationSizeMb: limits.taskMemoryMb },
      recordTiming: false,
    });
    this.loaded = this.pool.run({ kind: 'ready', root, limits } satisfies WorkerTask).catch(() => undefined);
  }

  execute(kind: string, input: unknown, signal: AbortSignal): Promise<unknown> {
    return this.pool.run({ kind, input, root: this.root, limits: this.limits }, { signal });
  }

  async close(): Promise<void> {
    // A thread that is ended while it still loads its modules takes the whole process down.
    await this.loaded;
    await this.pool.destroy();
  }
}
