import { eq } from 'drizzle-orm';
import type { Db, Reader } from '../db/open.ts';
import { settings } from '../db/schema.ts';
import type { ShopClock } from '../ports/clock.ts';

interface Anchor {
  readonly realMs: number;
  readonly shopMs: number;
  readonly rate: number;
  /** Where it stands still again: the end of a step. */
  readonly untilMs?: number;
}

/** A step takes about so long of real time … */
const STEP_TAKES_MS = 4000;
/** … but never runs faster than devices can follow, nor slower than anybody would wait for. */
const STEP_RATE = { least: 60, most: 600 };

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
    const { rate, untilMs } = this.anchor;
    return untilMs !== undefined && this.now() >= untilMs ? 0 : rate;
  }

  get untilMs(): number | null {
    return this.anchor.untilMs ?? null;
  }

  now(): number {
    const { realMs, shopMs, rate, untilMs = Infinity } = this.anchor;
    return Math.round(Math.min(untilMs, shopMs + (this.realNow() - realMs) * rate));
  }

  setRate(rate: number): void {
    this.anchor = { realMs: this.realNow(), shopMs: this.now(), rate };
    storeAnchor(this.db, this.anchor);
  }

  /** Lets so much shop time go by, then stands still. A step in a step goes on from where the first would have ended. */
  step(byMs: number): void {
    const shopMs = this.now();
    const untilMs = (this.rate === 0 ? shopMs : (this.anchor.untilMs ?? shopMs)) + byMs;
    const rate = Math.min(STEP_RATE.most, Math.max(STEP_RATE.least, (untilMs - shopMs) / STEP_TAKES_MS));
    this.anchor = { realMs: this.realNow(), shopMs, rate, untilMs };
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
