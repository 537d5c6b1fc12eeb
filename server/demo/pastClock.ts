import { StoredClock } from '../clock/shopClock.ts';
import type { Db } from '../db/open.ts';

/** A clock that stands where it is put. */
export class PastClock extends StoredClock {
  constructor(
    db: Db,
    public atMs: number,
  ) {
    super(db);
  }

  override now(): number {
    return Math.round(this.atMs);
  }
}
