import type { Logger } from 'pino';
import type { Storage } from './ports/storage.ts';

/** Work that is done again and again, one after another and never twice at once, until the server stops. */
export class Repeated {
  private stopped = false;
  private readonly timers = new Set<NodeJS.Timeout>();

  constructor(
    private readonly log: Pick<Logger, 'error'>,
    private readonly storage: Storage,
  ) {}

  /**
   * Does something every so often, counted from the end of the last time. What it throws is logged and ends nothing: nobody
   * waits for it, and the next time may go well.
   * @param what as the log says it when it failed
   */
  every(ms: number, what: string, act: () => unknown): void {
    const again = (): void => {
      if (this.stopped) return;
      const timer = setTimeout(() => {
        this.timers.delete(timer);
        void this.once(what, act).then(again);
      }, ms);
      this.timers.add(timer);
    };
    again();
  }

  stop(): void {
    this.stopped = true;
    for (const timer of this.timers) clearTimeout(timer);
    this.timers.clear();
  }

  private async once(what: string, act: () => unknown): Promise<void> {
    if (this.stopped) return;
    try {
      await act();
    } catch (error) {
      if (!this.storage.noticed(error)) this.log.error({ err: error }, what);
    }
  }
}
