import type { LiveEvents, LiveMessage, LiveSource, Touched } from '../ports/live.ts';

/** Changes within this time go out as one message each subject. */
const GATHER_MS = 80;
/** What could not be read just now is tried again so often, and so much later. */
const TRIES = 5;
const AGAIN_MS = 1000;

/** Tells every open page what changed, once it is committed. Views are gathered, log rows go out one by one. */
export class LiveBus implements LiveEvents {
  private readonly listeners = new Set<(message: LiveMessage) => void>();
  private readonly pending = new Map<string, Touched>();
  private timer: NodeJS.Timeout | undefined;
  private source: LiveSource | undefined;
  private readonly tries = new Map<string, number>();

  /** @param failed told of what went wrong: nobody is waiting for an answer here, and a listener must not end the server */
  constructor(private readonly failed: (error: unknown) => void = () => undefined) {}

  connect(source: LiveSource): void {
    this.source = source;
  }

  subscribe(listener: (message: LiveMessage) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** Never throws: what it is told of is committed, whoever can be told. */
  committed(logIds: readonly number[], touched: readonly Touched[]): void {
    if (logIds.length > 0 && this.listeners.size > 0) {
      this.quietly(() => {
        for (const event of this.source?.logEvents(logIds) ?? []) {
          this.send({ event: 'log', id: event.id, data: event });
        }
      });
    }
    for (const item of touched) this.pending.set(keyOf(item), item);
    if (this.pending.size > 0) this.wake(GATHER_MS);
  }

  /** Goes to every page at once; for what is in no table. */
  tell(event: string, data: unknown): void {
    this.send({ event, data });
  }

  private wake(inMs: number): void {
    this.timer ??= setTimeout(() => {
      this.flush();
    }, inMs);
  }

  private flush(): void {
    this.timer = undefined;
    const items = [...this.pending.values()];
    this.pending.clear();
    if (this.listeners.size === 0) return;
    for (const item of items) {
      const sent = this.quietly(() => {
        const view = this.source?.view(item);
        this.send({ event: item.type, data: view ?? { id: item.id, gone: true } });
      });
      const key = keyOf(item);
      const tries = sent ? 0 : (this.tries.get(key) ?? 0) + 1;
      if (tries === 0 || tries >= TRIES) this.tries.delete(key);
      else {
        this.tries.set(key, tries);
        this.pending.set(key, item);
      }
    }
    if (this.pending.size > 0) this.wake(AGAIN_MS);
  }

  private send(message: LiveMessage): void {
    for (const listener of this.listeners) this.quietly(() => listener(message));
  }

  /** @returns whether it went well */
  private quietly(act: () => void): boolean {
    try {
      act();
      return true;
    } catch (error) {
      this.failed(error);
      return false;
    }
  }
}

function keyOf({ type, id }: Touched): string {
  return `${type}:${id}`;
}
