const LOOK_MS = 250;

interface Read {
  readonly data?: unknown;
  readonly isLoading?: boolean | undefined;
}

/**
 * Changes to lists whose first answer is still on its way. They can't be patched, and asking anew would throw that answer away:
 * with printers that report several times a second none would ever come through. Each is read once more when it is there.
 */
export class MissedReads {
  private readonly keys = new Set<string>();
  private timer: ReturnType<typeof setInterval> | undefined;

  constructor(
    private readonly read: (key: string) => Read | undefined,
    private readonly readAgain: (key: string) => void,
  ) {}

  /** Nobody asks for it: nothing is missed. Its answer failed: it is asked for at once. */
  add(key: string): void {
    const state = this.read(key);
    if (state === undefined) return;
    if (state.isLoading !== true) {
      this.readAgain(key);
      return;
    }
    this.keys.add(key);
    this.timer ??= setInterval(() => {
      this.look();
    }, LOOK_MS);
  }

  stop(): void {
    clearInterval(this.timer);
    this.timer = undefined;
    this.keys.clear();
  }

  private look(): void {
    for (const key of this.keys) {
      if (this.read(key)?.isLoading === true) continue;
      this.keys.delete(key);
      this.readAgain(key);
    }
    if (this.keys.size === 0) this.stop();
  }
}
