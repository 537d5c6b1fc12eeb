import { MessageChannel } from 'node:worker_threads';
import Piscina from 'piscina';
import type { Limits } from '../limits.ts';
import { TELLS_PROGRESS, type WorkerTask } from './kinds.ts';

/** Whatever does tasks: threads of this machine, or later a program on another one. */
export interface Executor {
  /** How many tasks it takes at once. */
  readonly slots: number;
  /**
   * @param progress told now and then which share of it is done
   * @throws an AbortError where the signal fired; the task's thread is lost then, not the server
   */
  execute(kind: string, input: unknown, signal: AbortSignal, progress: (share: number) => void): Promise<unknown>;
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

  async execute(
    kind: string,
    input: unknown,
    signal: AbortSignal,
    progress: (share: number) => void,
  ): Promise<unknown> {
    const task = { kind, input, root: this.root, limits: this.limits };
    if (!TELLS_PROGRESS.has(kind)) return this.pool.run(task, { signal });
    const { port1: own, port2: told } = new MessageChannel();
    own.on('message', progress);
    try {
      return await this.pool.run({ ...task, told }, { signal, transferList: [told] });
    } finally {
      own.close();
    }
  }

  async close(): Promise<void> {
    // A thread that is ended while it still loads its modules takes the whole process down.
    await this.loaded;
    await this.pool.destroy();
  }
}
