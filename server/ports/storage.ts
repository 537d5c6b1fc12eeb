import type { StorageView } from '../../contract/api/storage.ts';

/** What there is to know of disk and database before something new is begun. */
export interface Storage {
  /** False while nothing new may be taken in or sent: what is under way goes on and is written down later. */
  readonly acceptsWork: boolean;
  view(): StorageView;
  /**
   * Says that something failed.
   * @returns whether disk or database were the cause; then it will go through later, and is to be tried again
   */
  noticed(error: unknown): boolean;
}
