import type { LogEvent } from '../../contract/api/common.ts';

export interface Touched {
  readonly type:
    | 'job'
    | 'run'
    | 'printer'
    | 'spool'
    | 'refusal'
    | 'queue'
    | 'preset'
    | 'sizes'
    | 'setup'
    | 'rules'
    | 'stock'
    | 'clock';
  readonly id: string;
}

export interface LiveMessage {
  readonly event: string;
  readonly id?: number;
  readonly data: unknown;
}

type Listener = (message: LiveMessage) => void;

export interface LiveSource {
  logEvents(ids: readonly number[]): LogEvent[];
  /** The present view of what was touched; undefined when it no longer exists. */
  view(touched: Touched): unknown;
}

/** Changes within this time go out as one message each subject. */
const GATHER_MS = 80;

/** Tells every open page what changed, once it is committed. Views are gathered, log rows go out one by one. */
export class LiveBus {
  private readonly listeners = new Set<Listener>();
  private readonly pending = new Map<string, Touched>();
  private timer: NodeJS.Timeout | undefined;
  private source: LiveSource | undefined;

  connect(source: LiveSource): void {
    this.source = source;
  }

  subscribe(listener: Listener): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  committed(logIds: readonly number[], touched: readonly Touched[]): void {
    if (logIds.length > 0 && this.listeners.size > 0) {
      for (const event of this.source?.logEvents(logIds) ?? []) {
        this.send({ event: 'log', id: event.id, data: event });
      }
    }
    for (const item of touched) this.pending.set(`${item.type}:${item.id}`, item);
    if (this.pending.size > 0)
      this.timer ??= setTimeout(() => {
        this.flush();
      }, GATHER_MS);
  }

  private flush(): void {
    this.timer = undefined;
    const items = [...this.pending.values()];
    this.pending.clear();
    if (this.listeners.size === 0) return;
    for (const item of items) {
      const view = this.source?.view(item);
      this.send({ event: item.type, data: view ?? { id: item.id, gone: true } });
    }
  }

  private send(message: LiveMessage): void {
    for (const listener of this.listeners) listener(message);
  }
}
