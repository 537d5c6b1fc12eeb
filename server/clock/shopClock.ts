import { eq } from 'drizzle-orm';
import type { Db, Reader } from '../db/open.ts';
import { settings } from '../db/tables/schema.ts';
import type { DayEnd, ShopClock } from '../ports/clock.ts';

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

/** The machine's own clock may be corrected by so much without anybody noticing. */
const SLACK_MS = 2000;

const KEY = 'clock';
/** When it was last looked at: what the machine's clock is held against at the next start. */
const SEEN_KEY = 'clock-seen';
const ZONE_KEY = 'zone';
const DAY_END_KEY = 'dayEndsAt';

interface Seen {
  readonly realMs: number;
  readonly shopMs: number;
}

/**
 * A clock that runs `rate` times as fast as the real one from a stored anchor, so that it goes on while nobody is here. It never
 * goes back: where the machine's clock is set back it is anchored anew at what it showed last. Set forward, that time counts as
 * if the server had been down.
 */
export class StoredClock implements ShopClock {
  private anchor: Anchor;
  private seen: Seen;
  /** Told when it was anchored anew by itself: devices that live in shop time must hear of it. */
  onJump: () => void = () => undefined;
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
    const seen = db.select().from(settings).where(eq(settings.key, SEEN_KEY)).get()?.value as Seen | undefined;
    // Before its first anchor no time has gone by.
    this.seen =
      seen && seen.realMs >= this.anchor.realMs ? seen : { realMs: this.anchor.realMs, shopMs: this.anchor.shopMs };
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
    const real = this.realNow();
    if (real < this.seen.realMs - SLACK_MS) this.anchorAnew(real);
    const { realMs, shopMs, rate, untilMs = Infinity } = this.anchor;
    const now = Math.round(Math.min(untilMs, shopMs + Math.max(0, real - realMs) * rate));
    if (real > this.seen.realMs) this.seen = { realMs: real, shopMs: now };
    // Within the slack it stands still until the machine's clock has come back to where it was.
    return Math.max(now, this.seen.shopMs);
  }

  private anchorAnew(realMs: number): void {
    const { rate, untilMs } = this.anchor;
    this.anchor = { realMs, shopMs: this.seen.shopMs, rate, ...(untilMs === undefined ? {} : { untilMs }) };
    this.seen = { realMs, shopMs: this.seen.shopMs };
    this.onJump();
  }

  /**
   * Writes down what it shows and the anchor that it may have given itself, so that the next start knows whether the machine's
   * clock was set back meanwhile.
   */
  keep(): void {
    this.now();
    storeAnchor(this.db, this.anchor);
    store(this.db, SEEN_KEY, this.seen);
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

/** Keeps where the shop clock stood at which instant of the machine. */
export function storeAnchor(db: Reader, anchor: Anchor): void {
  store(db, KEY, anchor);
}

/** Keeps the time zone of the shop. */
export function storeZone(db: Reader, zone: string): void {
  store(db, ZONE_KEY, zone);
}

/** Keeps when a day ends, which a due date without a time means. */
export function storeDayEnd(db: Reader, end: DayEnd): void {
  store(db, DAY_END_KEY, end);
}

function store(db: Reader, key: string, value: unknown): void {
  db.insert(settings).values({ key, value }).onConflictDoUpdate({ target: settings.key, set: { value } }).run();
}
