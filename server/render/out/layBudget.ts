import { Unreadable } from '../facts.ts';

const GIB = 1024 ** 3;

/**
 * What a PDF that is laid out may hold in memory: its sources as they are read and its pictures as they are packed. The limit
 * of a worker's own memory does not count these, they lie outside of it.
 */
export class LayBudget {
  private bytes = 0;

  constructor(private readonly mostBytes: number) {}

  /** @throws Unreadable with the figures where it becomes too much */
  take(bytes: number): void {
    this.bytes += bytes;
    if (this.bytes <= this.mostBytes) return;
    throw new Unreadable(
      `its files and pictures take more than ${(this.mostBytes / GIB).toFixed(1)} GB of memory together. Lay them out in several runs, or bring large pictures in at a lower resolution`,
    );
  }
}
