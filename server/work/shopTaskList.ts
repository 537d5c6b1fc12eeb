import { and, eq, inArray } from 'drizzle-orm';
import type { ErrorDetail } from '../../contract/api/common.ts';
import type { TaskView } from '../../contract/api/task.ts';
import type { Db, Tx } from '../db/open.ts';
import { tasks } from '../db/tables/records.ts';
import type { ShopTasks, TaskSteps } from '../ports/shopTasks.ts';
import { TaskStopped, isClosing } from '../ports/work.ts';
import type { ShopTaskKind, ShopTaskKinds } from './kinds.ts';
import { MOST_ATTEMPTS, givenUpAfter, viewOf } from './taskStore.ts';

type TaskRow = typeof tasks.$inferSelect;

export type ShopTaskHandlers = {
  readonly [K in ShopTaskKind]: (input: ShopTaskKinds[K], steps: TaskSteps<ShopTaskKinds[K]>) => Promise<void>;
};

interface Parts {
  readonly newId: () => string;
  /** By the clock of the machine. */
  readonly nowMs: () => number;
  /** Whether an error says that nothing can be written for now. */
  readonly isStorageFault: (error: unknown) => boolean;
  readonly failed: (error: unknown, kind: string) => void;
}

interface Live {
  readonly ended: Promise<void>;
  readonly abort: AbortController;
  progress: number | null;
}

/** Rows are handed out so many at a time after a restart. */
const RESUMED = 500;
const OVER = ['done', 'failed', 'cancelled'];

/**
 * The tasks of the shop itself, in the table of tasks. Only one process holds the data folder of a shop, so whatever this one
 * is not at is nobody's. A task that ended its process three times is given up, so that it can't keep the shop from starting.
 */
export class ShopTaskList implements ShopTasks<ShopTaskKinds, Tx> {
  /** By the id of the row. */
  private readonly live = new Map<string, Live>();
  private closed = false;

  constructor(
    private readonly db: Db,
    private readonly handlers: () => ShopTaskHandlers,
    private readonly parts: Parts,
  ) {}

  add<K extends ShopTaskKind>(tx: Tx, kind: K, key: string, input: ShopTaskKinds[K]): void {
    if (this.rowOf(tx, kind, key)) return;
    const { newId, nowMs } = this.parts;
    tx.insert(tasks).values({ id: newId(), kind, key, input, priority: 1, state: 'waiting', createdMs: nowMs() }).run();
  }

  async perform(kind: ShopTaskKind, key: string): Promise<void> {
    const row = this.rowOf(this.db, kind, key);
    if (row) await this.begin(row);
  }

  async resume(): Promise<void> {
    const rows = this.db
      .select()
      .from(tasks)
      .where(and(inArray(tasks.state, ['waiting', 'running']), inArray(tasks.kind, Object.keys(this.handlers()))))
      .orderBy(tasks.createdMs)
      .limit(RESUMED)
      .all();
    for (const row of rows) await this.begin(row);
  }

  async close(): Promise<void> {
    this.closed = true;
    const under = [...this.live.values()];
    for (const { abort } of under) abort.abort(new TaskStopped('closing', 'The server is being stopped.'));
    await Promise.allSettled(under.map(({ ended }) => ended));
  }

  view(taskId: string): TaskView | undefined {
    const row = this.db.select().from(tasks).where(eq(tasks.id, taskId)).get();
    if (!row || !(row.kind in this.handlers())) return undefined;
    return viewOf({ ...row, progress: this.live.get(taskId)?.progress ?? null });
  }

  cancel(taskId: string): TaskView | undefined {
    const view = this.view(taskId);
    if (!view || OVER.includes(view.state)) return view;
    const live = this.live.get(taskId);
    if (live) live.abort.abort(new TaskStopped('cancelled', 'It was cancelled.'));
    else this.end(taskId, 'cancelled', null);
    return this.view(taskId);
  }

  /** The one with this key that is not over. */
  private rowOf(db: Pick<Db, 'select'>, kind: string, key: string): TaskRow | undefined {
    return db
      .select()
      .from(tasks)
      .where(and(eq(tasks.kind, kind), eq(tasks.key, key), inArray(tasks.state, ['waiting', 'running'])))
      .get();
  }

  private begin(row: TaskRow): Promise<void> {
    const known = this.live.get(row.id);
    if (known) return known.ended;
    if (this.closed) return Promise.resolve();
    const abort = new AbortController();
    const ended = this.carryOut(row, abort.signal).finally(() => this.live.delete(row.id));
    // Set before the first await of what is done: nobody begins it a second time.
    this.live.set(row.id, { ended, abort, progress: null });
    return ended;
  }

  private async carryOut(row: TaskRow, signal: AbortSignal): Promise<void> {
    const { id, kind } = row;
    // A row that is running, and not here, has ended its process.
    if (row.state === 'running' && row.attempts >= MOST_ATTEMPTS) {
      this.end(id, 'failed', { code: 'given-up', message: givenUpAfter(row.attempts) });
      this.parts.failed(new Error(givenUpAfter(row.attempts)), kind);
      return;
    }
    this.update(id, { state: 'running', attempts: row.attempts + 1 });
    // What is done begins in a turn of its own: whoever added it has committed by then.
    await Promise.resolve();
    try {
      await this.handle(row, signal);
      this.end(id, 'done', null);
    } catch (error) {
      // No fault of its own: it is done when there is room again, or after the next start.
      const closing = isClosing(error);
      if (closing || this.parts.isStorageFault(error)) {
        this.update(id, { state: 'waiting', attempts: row.attempts });
        if (closing) return;
        throw error;
      }
      if (signal.aborted) {
        this.end(id, 'cancelled', null);
        return;
      }
      this.parts.failed(error, kind);
      const message = error instanceof Error ? error.message : 'It failed.';
      this.end(id, 'failed', { code: 'task-failed', message });
    }
  }

  private handle({ id, kind, input }: TaskRow, signal: AbortSignal): Promise<void> {
    const handler = this.handlers()[kind as ShopTaskKind] as (
      input: unknown,
      steps: TaskSteps<unknown>,
    ) => Promise<void>;
    return handler(input, {
      signal,
      keep: (left) => {
        this.update(id, { input: left });
      },
      progress: (share) => {
        const live = this.live.get(id);
        if (live) live.progress = share;
      },
    });
  }

  private update(id: string, change: Partial<TaskRow>): void {
    this.db.update(tasks).set(change).where(eq(tasks.id, id)).run();
  }

  private end(id: string, state: 'done' | 'failed' | 'cancelled', error: ErrorDetail | null): void {
    this.update(id, { state, error, input: null, endedMs: this.parts.nowMs() });
  }
}
