import { type Actor } from '../../../core/events/actor.ts';
import { eq } from 'drizzle-orm';
import type { ShopSetup } from '../../../contract/api/shop.ts';
import { Attendance, type DayHours, attendedSpans, unsoundHours } from '../../../core/schedule/shopHours.ts';
import type { Reader } from '../../db/open.ts';
import { prepared } from '../../db/prepared.ts';
import { settings } from '../../db/tables/schema.ts';
import type { Limits } from '../../limits.ts';
import { Refused, type Shop, transact } from '../../shop.ts';
import { noteHours } from '../pace/hoursHistory.ts';
import { hasOwner } from '../people/signInSwitch.ts';

const KEY = 'shopSetup';
const CURRENCY = 'currency';
const DAY_MS = 86_400_000;
/** So far ahead plans look. */
const AHEAD_DAYS = 45;

/** Nothing said: somebody is always there, so that nothing is held up. */
const ALWAYS: Omit<ShopSetup, 'zone'> = {
  days: [1, 2, 3, 4, 5, 6, 7].map((weekday) => ({ weekday, from: '00:00', to: '24:00' })),
  holidays: [],
  orderAheadDays: 10,
  marginShare: 0.6,
  leastPriceMinor: 0,
  leastFreeMb: null,
  hostNames: [],
};

/** Hours, holidays and limits of the shop; what was never set counts as it is here. */
export function shopSetup(db: Reader, zone: string): ShopSetup {
  const row = db.select({ value: settings.value }).from(settings).where(eq(settings.key, KEY)).get();
  return { ...ALWAYS, ...(row?.value as Omit<ShopSetup, 'zone'> | undefined), zone };
}

/** Writes it as it is; part of a transaction of the caller's. */
export function storeShopSetup(tx: Reader, next: ShopSetup): void {
  const {
    days,
    holidays,
    orderAheadDays,
    marginShare = ALWAYS.marginShare,
    leastPriceMinor = ALWAYS.leastPriceMinor,
    leastFreeMb = null,
    hostNames: names = [],
  } = next;
  const value = { days, holidays, orderAheadDays, marginShare, leastPriceMinor, leastFreeMb, hostNames: names };
  tx.insert(settings).values({ key: KEY, value }).onConflictDoUpdate({ target: settings.key, set: { value } }).run();
}

/** @throws Refused where hours end before they begin */
export function mustBeSoundHours(days: readonly DayHours[]): void {
  const wrong = unsoundHours(days);
  if (!wrong) return;
  const { weekday, from, to } = wrong;
  throw new Refused(422, 'hours', `Hours must end after they begin: ${from} to ${to}, day ${String(weekday)}.`);
}

/** Sets hours, holidays and limits; plans follow at once, and the whole can be taken back. */
export function setShopSetup(shop: Shop, next: ShopSetup, actor: Actor): void {
  mustBeSoundHours(next.days);
  if ((next.hostNames ?? []).length > 0 && !hasOwner(shop.db)) {
    throw new Refused(
      409,
      'no-owner',
      'Under a further name other machines could reach the shop, and nobody could sign in: there is no owner yet.',
      undefined,
      'Make yourself the owner in Setup, People, first.',
    );
  }
  transact(shop, (work) => {
    const before = shopSetup(work.tx, shop.clock.zone);
    noteHours(work.tx, before, work.nowMs);
    storeShopSetup(work.tx, next);
    noteHours(work.tx, { ...next, zone: shop.clock.zone }, work.nowMs);
    work.touch({ type: 'setup', id: 'setup' });
    work.note({
      kind: 'shop.changed',
      subject: ['shop', 'setup'],
      actor,
      data: {},
      undo: { label: 'Undo', method: 'PUT', path: '/api/shop', body: before },
    });
  });
  shop.wakeDispatcher();
  // Whether people have to sign in may depend on it.
  shop.bus.tell('sign-in', {});
}

const MIB = 1024 ** 2;

/** Below so much room on the disk nothing new is taken or sent. */
export function leastFreeBytes(db: Reader, limits: Limits): number {
  const row = db.select({ value: settings.value }).from(settings).where(eq(settings.key, KEY)).get();
  const mb = (row?.value as Partial<ShopSetup> | undefined)?.leastFreeMb ?? null;
  return mb === null ? limits.leastFreeBytes : mb * MIB;
}

/** Asked with every request. */
const setupRow = prepared((db) =>
  db.select({ value: settings.value }).from(settings).where(eq(settings.key, KEY)).prepare(),
);

/** Names, besides this machine's own, under which browsers may reach the shop. */
export function hostNames(db: Reader): readonly string[] {
  const row = setupRow(db).get();
  return (row?.value as Partial<ShopSetup> | undefined)?.hostNames ?? [];
}

/** ISO code of the shop's money. */
export function shopCurrency(db: Reader): string {
  const row = db.select({ value: settings.value }).from(settings).where(eq(settings.key, CURRENCY)).get();
  return (row?.value as string | undefined) ?? 'EUR';
}

/** Keeps the ISO code of the shop’s money; part of a transaction of the caller’s. */
export function storeCurrency(tx: Reader, value: string): void {
  tx.insert(settings)
    .values({ key: CURRENCY, value })
    .onConflictDoUpdate({ target: settings.key, set: { value } })
    .run();
}

/** Whether somebody is there now. */
export function isAttended(shop: Pick<Shop, 'db' | 'clock'>): boolean {
  const now = shop.clock.now();
  return attendedSpans(shopSetup(shop.db, shop.clock.zone), now, now + 1).length > 0;
}

/** Who is there from a little before now until plans end. */
export function attendance(shop: Pick<Shop, 'db' | 'clock'>): Attendance {
  const now = shop.clock.now();
  const setup = shopSetup(shop.db, shop.clock.zone);
  return new Attendance(attendedSpans(setup, now - DAY_MS, now + AHEAD_DAYS * DAY_MS));
}
