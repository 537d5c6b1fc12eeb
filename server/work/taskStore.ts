import { and, eq, inArray, lt, notInArray } from 'drizzle-orm';
import type { TaskView } from '../../contract/api/task.ts';
import type { Db } from '../db/open.ts';
import { tasks } from '../db/tables/records.ts';
import { SHOP_TASK_KINDS } from './kinds.ts';

type TaskRow = typeof tasks.$inferSelect;

/** Writes of many tasks are gathered for so long and committed together: each commit waits for the disk. */
const GATHER_MS = 25;
/** What is over can be asked for so long. */
const KEPT_MS = 3_600_000;
/** A task that ended its process so often is given up. */
export const MOST_ATTEMPTS = 3;
/** A holder that has not said for so long that it is still there is taken for dead. */
export const LEASE_MS = 60_000;

/**
 * The table of tasks. What happens to a task is written soon after it has happened, many at once: a task that is lost in
 * between is asked for again by whoever wanted it.
 */
export class TaskStore {
  private pending: (() => void)[] = [];
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly db: Db,
    private readonly failed: (error: unknown) => void,
  ) {}

  insert(row: typeof tasks.$inferInsert): void {
    this.later(() => this.db.insert(tasks).values(row).onConflictDoNothing().run());
  }

  update(id: string, change: Partial<TaskRow>): void {
    this.later(() => this.db.update(tasks).set(change).where(eq(tasks.id, id)).run());
  }

  /** Says that their holder is still at it. */
  extend(ids: readonly string[], untilMs: number): void {
    if (ids.length > 0)
      this.later(() =>
        this.db
          .update(tasks)
          .set({ leaseUntilMs: untilMs })
          .where(inArray(tasks.id, [...ids]))
          .run(),
      );
  }

  /**
   * What earlier processes have left behind. Tasks whose input is known are handed out again; those that only their process
   * could end, and those that ended their process several times, are given up with their reason.
   */
  takeUp(holder: string, nowMs: number): TaskRow[] {
    try {
      return this.leftBehind(holder, nowMs);
    } catch (error) {
      this.failed(error);
      return [];
    }
  }

  private leftBehind(holder: string, nowMs: number): TaskRow[] {
    this.flush();
    const left = this.db
      .select()
      .from(tasks)
      .where(and(inArray(tasks.state, ['waiting', 'running']), notInArray(tasks.kind, [...SHOP_TASK_KINDS])))
      .all()
      .filter(({ leaseBy, leaseUntilMs }) => leaseBy !== holder && (leaseUntilMs === null || leaseUntilMs < nowMs));
    return left.flatMap((row): TaskRow[] => {
      const attempts = row.attempts + (row.state === 'running' ? 1 : 0);
      const reason = whyGivenUp(row, attempts);
      const change: Partial<TaskRow> =
        reason === null
          ? { state: 'waiting', attempts, leaseBy: holder, leaseUntilMs: nowMs + LEASE_MS }
          : { state: 'failed', attempts, error: { code: 'given-up', message: reason }, input: null, endedMs: nowMs };
      this.db.update(tasks).set(change).where(eq(tasks.id, row.id)).run();
      return reason === null ? [{ ...row, ...change }] : [];
    });
  }

  view(id: string): TaskView | undefined {
    this.flush();
    const row = this.db.select().from(tasks).where(eq(tasks.id, id)).get();
    return row && viewOf(row);
  }

  /** Rows of what is long over go. */
  prune(nowMs: number): void {
    this.later(() =>
      this.db
        .delete(tasks)
        .where(lt(tasks.endedMs, nowMs - KEPT_MS))
        .run(),
    );
  }

  flush(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    const writes = this.pending;
    this.pending = [];
    if (writes.length === 0) return;
    try {
      this.db.transaction(
        () => {
          for (const write of writes) write();
        },
        { behavior: 'immediate' },
      );
    } catch (error) {
      // The tasks go on without their rows: nobody must wait for a disk that is full.
      this.failed(error);
    }
  }

  private later(write: () => void): void {
    this.pending.push(write);
    this.timer ??= setTimeout(() => {
      this.flush();
    }, GATHER_MS);
  }
}

/** Why a task is not begun again. */
export function givenUpAfter(attempts: number): string {
  return `It ended the server ${String(attempts)} times.`;
}

function whyGivenUp(row: TaskRow, attempts: number): string | null {
  if (row.input === null) return 'The server was restarted before this was done. Ask for it again.';
  return attempts >= MOST_ATTEMPTS ? givenUpAfter(attempts) : null;
}

/** A row of the table as it is told; its input and its lease are nobody’s business. */
export function viewOf(row: Pick<TaskRow, 'id' | 'kind' | 'state' | 'progress' | 'result' | 'error'>): TaskView {
  const { id, kind, state, progress, result, error } = row;
  return { taskId: id, kind, state, progress, result: result ?? null, error };
}
