import type { Logger } from 'pino';
import type { StorageView } from '../../contract/api/storage.ts';
import type { Storage } from '../ports/storage.ts';
import { storageFault } from './storageFault.ts';

const MIB = 1024 ** 2;
/** So many times the limit is said to be low: time for a person to make room before anything stops. */
const LOW_TIMES = 2;
/** Once it was stopped it goes on a little above the limit, so that it does not stop and go at every file. */
const AGAIN_TIMES = 1.05;

/** What the guard looks with; tests put a disk of their own in place of it. */
export interface StorageParts {
  /** Bytes that are free on the disk of the data folder. */
  readonly freeBytes: () => Promise<number>;
  readonly leastFreeBytes: () => number;
  /** Writes a little to the disk, and asks the database for its lock; throws where either fails. */
  readonly tryOut: () => Promise<void>;
  /** How long the database waits for its lock: not at all while another is known to hold it. */
  readonly waitForLock: (patiently: boolean) => void;
  readonly changed: (view: StorageView) => void;
  readonly log: Pick<Logger, 'error' | 'warn' | 'info'>;
}

/**
 * Watches disk and database. A write that fails stops everything new at once; a look now and then stops it before, when room
 * gets short, and lets it go on by itself when a try-out succeeds.
 */
export class StorageGuard implements Storage {
  private free: number | null = null;
  /** What made a write fail, until a try-out succeeds. */
  private fault: 'full' | 'locked' | undefined;
  private short = false;
  private told: StorageView['state'] = 'fine';
  private least = 0;

  constructor(private readonly parts: StorageParts) {}

  get acceptsWork(): boolean {
    return this.fault === undefined && !this.short;
  }

  noticed(error: unknown): boolean {
    const fault = storageFault(error);
    if (fault === undefined) return false;
    this.fault = fault;
    if (fault === 'locked') this.parts.waitForLock(false);
    this.tell();
    return true;
  }

  /** Looks at the room that is left, and tries out whether what failed goes again. */
  async look(): Promise<void> {
    try {
      this.free = await this.parts.freeBytes();
    } catch (error) {
      this.parts.log.warn({ err: error }, 'the room on the disk is not known');
    }
    this.readLimit();
    const { least } = this;
    if (this.free !== null) this.short = this.free < least * (this.short ? AGAIN_TIMES : 1);
    if (this.fault !== undefined) {
      try {
        await this.parts.tryOut();
        if (this.fault === 'locked') this.parts.waitForLock(true);
        this.fault = undefined;
      } catch (error) {
        this.fault = storageFault(error) ?? this.fault;
      }
    }
    this.tell();
  }

  view(): StorageView {
    const state = this.state();
    const left = this.free === null ? '' : `: ${sizeText(this.free)} left`;
    const leastFreeBytes = this.least;
    const limit = sizeText(leastFreeBytes);
    const stops =
      'No new files are taken and nothing new is sent; what is on the printers prints on and is booked later.';
    const texts = {
      fine: null,
      low: `The disk of the data folder is filling up${left}. Below ${limit} no new files are taken.`,
      full: `The disk of the data folder is full${left}, ${limit} are needed. ${stops}`,
      locked: `Another program holds the database. ${stops}`,
    };
    const remedies = {
      fine: null,
      low: 'Make room on it, or lower the limit in Setup, Shop hours.',
      full: 'Make room on it; everything goes on by itself.',
      locked: 'Close the program that has yellow-spool.db open; everything goes on by itself.',
    };
    return { state, freeBytes: this.free, leastFreeBytes, text: texts[state], remedy: remedies[state] };
  }

  /** It stands in the database; while that can't be read, it is as it was. */
  private readLimit(): void {
    try {
      this.least = this.parts.leastFreeBytes();
    } catch (error) {
      this.noticed(error);
    }
  }

  private state(): StorageView['state'] {
    if (this.fault !== undefined) return this.fault;
    if (this.short) return 'full';
    return this.free !== null && this.free < this.least * LOW_TIMES ? 'low' : 'fine';
  }

  private tell(): void {
    const view = this.view();
    if (view.state === this.told) return;
    this.told = view.state;
    if (view.text === null) this.parts.log.info('disk and database are fine again');
    else this.parts.log.error({ storage: view.state, freeBytes: view.freeBytes }, view.text);
    this.parts.changed(view);
  }
}

function sizeText(bytes: number): string {
  const mb = bytes / MIB;
  return mb < 10_000 ? `${Math.floor(mb).toLocaleString('en')} MB` : `${(mb / 1024).toFixed(1)} GB`;
}
