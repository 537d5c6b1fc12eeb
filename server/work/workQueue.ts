import type { ErrorDetail } from '../../contract/api/common.ts';
import { createHash } from 'node:crypto';
import type { TaskView } from '../../contract/api/task.ts';
import {
  type Followed,
  type FollowedHow,
  type Priority,
  PRIORITIES,
  type RunHow,
  TaskStopped,
  type Work,
} from '../ports/work.ts';
import { LEAVES_FILES, type TaskKind, type TaskKinds } from './kinds.ts';
import type { Executor } from './pool.ts';
import { LEASE_MS, type TaskStore, viewOf } from './taskStore.ts';

/** What is over stays at hand for so long, so that whoever asks again has it at once. */
const AT_HAND_MS = 60_000;
const MOST_AT_HAND = 100;

const CANCELLED: ErrorDetail = { code: 'cancelled', message: 'It was cancelled.' };

/** A task that waits, is under way, or has ended a moment ago. It is in memory only: the table has its row. */
interface Entry {
  readonly id: string;
  readonly kind: string;
  readonly key: string;
  readonly input: unknown;
  priority: number;
  state: TaskView['state'];
  /** How many wait for it; nobody where it was taken up after a restart. */
  wanted: number;
  /** Which share of it is done; null: not known. */
  progress: number | null;
  /** Those of them who are told how far it is. */
  readonly listeners: Set<(share: number) => void>;
  readonly abort: AbortController;
  readonly ended: Promise<unknown>;
  readonly settle: { done: (value: unknown) => void; failed: (error: unknown) => void };
}

/** A request that is followed; it has no view until somebody is told of it. */
interface Following {
  view: TaskView | undefined;
  progress: number | null;
  readonly abort: AbortController;
}

interface Options {
  readonly taskMs: number;
  /** Names this process among those that share the table. */
  readonly holder: string;
  readonly newId: () => string;
  /** By the clock of the machine. */
  readonly nowMs: () => number;
}

/**
 * Hands tasks to an executor, those that a person waits for first; one place is always kept for them. The same question is
 * worked on once, however many ask it. The time limit of a task counts from when it is begun.
 */
export class WorkQueue implements Work<TaskKinds> {
  private readonly waiting: Entry[] = [];
  private readonly live = new Map<string, Entry>();
  private readonly over = new Map<string, Entry>();
  private readonly followed = new Map<string, Following>();
  private running = 0;
  private closed = false;
  private readonly beat: NodeJS.Timeout;

  constructor(
    private readonly executor: Executor,
    private readonly store: TaskStore,
    private readonly options: Options,
  ) {
    this.beat = setInterval(() => {
      this.lookAfter();
    }, LEASE_MS / 3);
    this.beat.unref();
  }

  /** Says that its tasks are still held here, lets rows of what is long over go, and takes up what others have left behind. */
  lookAfter(): void {
    const { nowMs } = this.options;
    const held = [...this.live.values()].map(({ id }) => id);
    this.store.extend([...held, ...this.followed.keys()], nowMs() + LEASE_MS);
    this.store.prune(nowMs());
    this.takeUp();
  }

  /** Goes on with what an earlier process has left behind, as soon as its leases are over. */
  takeUp(): void {
    const { holder, nowMs } = this.options;
    for (const row of this.store.takeUp(holder, nowMs())) {
      if (row.input === null || this.live.has(row.key)) continue;
      this.add({ id: row.id, kind: row.kind, key: row.key, input: row.input, priority: PRIORITIES.length - 1 });
    }
    this.next();
  }

  async run<K extends TaskKind>(
    kind: K,
    input: TaskKinds[K]['input'],
    how: RunHow = {},
  ): Promise<TaskKinds[K]['output']> {
    const priority = rankOf(how.priority ?? 'a person waits');
    const key = keyOf(kind, input);
    const entry = this.live.get(key) ?? this.over.get(key) ?? this.begin(kind, key, input, priority);
    // Whoever is in more of a hurry takes the others along.
    entry.priority = Math.min(entry.priority, priority);
    this.next();
    const { progress, signal } = how;
    if (progress) entry.listeners.add(progress);
    try {
      return (await this.wait(entry, signal)) as TaskKinds[K]['output'];
    } finally {
      if (progress) entry.listeners.delete(progress);
    }
  }

  follow<T>(
    kind: string,
    act: (how: FollowedHow) => Promise<T>,
    explain: (error: unknown) => ErrorDetail,
  ): Followed<T> {
    const following: Following = { view: undefined, progress: null, abort: new AbortController() };
    const answer = act({
      signal: following.abort.signal,
      progress: (share) => {
        following.progress = share;
      },
    });
    return { answer, publish: (resultOf) => this.publish(kind, answer.then(resultOf), following, explain) };
  }

  view(taskId: string): TaskView | undefined {
    const own = this.followed.get(taskId);
    if (own?.view) return { ...own.view, progress: own.progress };
    const entry = [...this.live.values()].find(({ id }) => id === taskId);
    return entry ? viewOf({ ...entry, result: null, error: null }) : this.store.view(taskId);
  }

  cancel(taskId: string): TaskView | undefined {
    const own = this.followed.get(taskId);
    if (own?.view?.state === 'running') own.abort.abort(stopped());
    const entry = [...this.live.values()].find(({ id }) => id === taskId);
    if (entry) this.drop(entry);
    return this.view(taskId);
  }

  async close(): Promise<void> {
    this.closed = true;
    clearInterval(this.beat);
    for (const entry of this.waiting.splice(0)) this.leave(entry);
    await this.executor.close();
    this.store.flush();
  }

  private begin(kind: string, key: string, input: unknown, priority: number): Entry {
    const id = this.options.newId();
    const { holder, nowMs } = this.options;
    const now = nowMs();
    const lease = { leaseBy: holder, leaseUntilMs: now + LEASE_MS };
    const kept = LEAVES_FILES.has(kind) ? input : null;
    this.store.insert({ id, kind, key, input: kept, priority, state: 'waiting', createdMs: now, ...lease });
    return this.add({ id, kind, key, input, priority });
  }

  private add(what: Pick<Entry, 'id' | 'kind' | 'key' | 'input' | 'priority'>): Entry {
    let settle: Entry['settle'] | undefined;
    const ended = new Promise<unknown>((done, failed) => {
      settle = { done, failed };
    });
    // Whoever waits hears of it; where nobody does, it is no fault of the process.
    ended.catch(() => undefined);
    if (!settle) throw new Error('a promise that does not begin');
    const entry: Entry = {
      ...what,
      state: 'waiting',
      wanted: 0,
      progress: null,
      listeners: new Set(),
      abort: new AbortController(),
      ended,
      settle,
    };
    this.live.set(entry.key, entry);
    this.waiting.push(entry);
    return entry;
  }

  /** Waits for a task as long as whoever asked wants it; the last one who leaves cancels it. */
  private async wait(entry: Entry, signal: AbortSignal | undefined): Promise<unknown> {
    if (!signal) {
      entry.wanted += 1;
      return entry.ended;
    }
    if (signal.aborted) throw stopped();
    entry.wanted += 1;
    return new Promise((done, failed) => {
      const leave = (): void => {
        entry.wanted -= 1;
        failed(signal.reason instanceof TaskStopped ? signal.reason : stopped());
        if (entry.wanted === 0) this.drop(entry);
      };
      signal.addEventListener('abort', leave, { once: true });
      entry.ended.then(done, failed).finally(() => {
        signal.removeEventListener('abort', leave);
      });
    });
  }

  private drop(entry: Entry): void {
    if (entry.state !== 'waiting' && entry.state !== 'running') return;
    const wasRunning = entry.state === 'running';
    if (!wasRunning) this.waiting.splice(this.waiting.indexOf(entry), 1);
    this.end(entry, 'cancelled', CANCELLED);
    if (wasRunning) entry.abort.abort(stopped());
    entry.settle.failed(stopped());
  }

  private next(): void {
    while (!this.closed && this.running < this.executor.slots) {
      const entry = this.best();
      if (!entry) return;
      this.waiting.splice(this.waiting.indexOf(entry), 1);
      void this.start(entry);
    }
  }

  /** The most urgent that waits, the oldest of those; nothing but urgent work gets the last place. */
  private best(): Entry | undefined {
    const last = this.running === this.executor.slots - 1 && this.executor.slots > 1;
    let best: Entry | undefined;
    for (const entry of this.waiting) {
      if (last && entry.priority > 0) continue;
      // They stand in the order in which they came.
      if (!best || entry.priority < best.priority) best = entry;
    }
    return best;
  }

  private async start(entry: Entry): Promise<void> {
    this.running += 1;
    entry.state = 'running';
    this.store.update(entry.id, { state: 'running' });
    const limit = AbortSignal.timeout(this.options.taskMs);
    try {
      const signal = AbortSignal.any([limit, entry.abort.signal]);
      const output = await this.executor.execute(entry.kind, entry.input, signal, (share) => {
        entry.progress = share;
        for (const listener of entry.listeners) listener(share);
      });
      this.end(entry, 'done', null);
      entry.settle.done(output);
    } catch (error) {
      if (this.closed) {
        this.leave(entry);
        return;
      }
      const late = limit.aborted
        ? new TaskStopped('time', `It took longer than ${String(this.options.taskMs / 1000)} s.`)
        : error;
      this.end(entry, 'failed', { code: 'task-failed', message: late instanceof Error ? late.message : 'It failed.' });
      entry.settle.failed(late);
    } finally {
      this.running -= 1;
      this.next();
    }
  }

  /** The server is being stopped: the next one takes it up at once, and whoever waits here hears why nothing comes. */
  private leave(entry: Entry): void {
    if (entry.state === 'cancelled') return;
    this.live.delete(entry.key);
    this.store.update(entry.id, { state: 'waiting', leaseUntilMs: null });
    entry.settle.failed(new TaskStopped('closing', 'The server is being stopped.'));
  }

  /** What came of it goes to whoever waits; the table keeps only how it ended. */
  private end(entry: Entry, state: 'done' | 'failed' | 'cancelled', error: ErrorDetail | null): void {
    // Cancelled while it ran: what came of it afterwards is of no interest.
    if (entry.state === 'cancelled') return;
    entry.state = state;
    this.live.delete(entry.key);
    this.store.update(entry.id, { state, error, input: null, endedMs: this.options.nowMs() });
    if (state === 'done' && !LEAVES_FILES.has(entry.kind)) this.keepAtHand(entry);
  }

  private keepAtHand(entry: Entry): void {
    this.over.set(entry.key, entry);
    const [oldest] = this.over.keys();
    if (this.over.size > MOST_AT_HAND && oldest !== undefined) this.over.delete(oldest);
    setTimeout(() => {
      if (this.over.get(entry.key) === entry) this.over.delete(entry.key);
    }, AT_HAND_MS).unref();
  }

  private publish(
    kind: string,
    result: Promise<unknown>,
    following: Following,
    explain: (error: unknown) => ErrorDetail,
  ): string {
    const { holder, newId, nowMs } = this.options;
    const id = newId();
    const now = nowMs();
    const begun = viewOf({ id, kind, state: 'running', progress: null, result: null, error: null });
    following.view = begun;
    this.followed.set(id, following);
    const row = { id, kind, key: id, input: null, priority: 0, state: 'running' as const, createdMs: now };
    this.store.insert({ ...row, leaseBy: holder, leaseUntilMs: now + LEASE_MS });
    const end = (ended: Pick<TaskView, 'state' | 'error' | 'result'>): void => {
      following.view = { ...begun, ...ended };
      following.progress = ended.state === 'done' ? 1 : following.progress;
      this.store.update(id, { ...ended, endedMs: nowMs() });
      setTimeout(() => this.followed.delete(id), AT_HAND_MS).unref();
    };
    result.then(
      (value) => {
        end({ state: 'done', result: value ?? null, error: null });
      },
      (error: unknown) => {
        const state = following.abort.signal.aborted ? 'cancelled' : 'failed';
        end({
          state,
          result: null,
          error: state === 'cancelled' ? { code: 'cancelled', message: `${kind} was cancelled.` } : explain(error),
        });
      },
    );
    return id;
  }
}

function rankOf(priority: Priority): number {
  return PRIORITIES.indexOf(priority);
}

function stopped(): TaskStopped {
  return new TaskStopped('cancelled', CANCELLED.message);
}

function keyOf(kind: string, input: unknown): string {
  return createHash('sha256').update(kind).update('\0').update(JSON.stringify(input)).digest('hex');
}
