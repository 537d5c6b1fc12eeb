import { eq } from 'drizzle-orm';
import type { Db, Reader } from '../db/open.ts';
import { settings } from '../db/schema.ts';
import type { ShopClock } from '../ports/clock.ts';

interface Anchor {
  readonly realMs: number;
  readonly shopMs: number;
  readonly rate: number;
}

const KEY = 'clock';
const ZONE_KEY = 'zone';
const DAY_END_KEY = 'dayEndsAt';

export interface DayEnd {
  readonly h: number;
  readonly mi: number;
}

/** A clock that runs `rate` times as fast as the real one from a stored anchor, so that it goes on while nobody is here. */
export class StoredClock implements ShopClock {
  private anchor: Anchor;
  readonly zone: string;
  /** When the shop closes: what a due date without a time means. */
  readonly dayEndsAt: DayEnd;

  constructor(
    private readonly db: Db,
    private readonly realNow: () => number = Date.now,
  ) {
    const row = db.select().from(settings).where(eq(settings.key, KEY)).get();
    const real = realNow();
    this.anchor = (row?.value as Anchor | undefined) ?? { realMs: real, shopMs: real, rate: 1 };
    const zone = db.select().from(settings).where(eq(settings.key, ZONE_KEY)).get();
    this.zone = (zone?.value as string | undefined) ?? 'UTC';
    const end = db.select().from(settings).where(eq(settings.key, DAY_END_KEY)).get();
    this.dayEndsAt = (end?.value as DayEnd | undefined) ?? { h: 18, mi: 0 };
  }

  get rate(): number {
    return this.anchor.rate;
  }

  now(): number {
    const { realMs, shopMs, rate } = this.anchor;
    return Math.round(shopMs + (this.realNow() - realMs) * rate);
  }

  setRate(rate: number): void {
    this.anchor = { realMs: this.realNow(), shopMs: this.now(), rate };
    storeAnchor(this.db, this.anchor);
  }
}

export function storeAnchor(db: Reader, anchor: Anchor): void {
  db.insert(settings)
    .values({ key: KEY, value: anchor })
    .onConflictDoUpdate({ target: settings.key, set: { value: anchor } })
    .run();
}

export function storeZone(db: Reader, zone: string): void {
  db.insert(settings)
    .values({ key: ZONE_KEY, value: zone })
    .onConflictDoUpdate({ target: settings.key, set: { value: zone } })
    .run();
}

export function storeDayEnd(db: Reader, end: DayEnd): void {
  db.insert(settings)
    .values({ key: DAY_END_KEY, value: end })
    .onConflictDoUpdate({ target: settings.key, set: { value: end } })
    .run();
}
