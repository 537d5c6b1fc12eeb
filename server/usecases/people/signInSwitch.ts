import { and, eq, isNotNull, isNull, or } from 'drizzle-orm';
import type { Actor } from '../../../core/events/actor.ts';
import type { Reader } from '../../db/open.ts';
import { people } from '../../db/tables/peopleTables.ts';
import { prepared } from '../../db/prepared.ts';
import { settings } from '../../db/tables/schema.ts';
import { Refused, type Shop, transact } from '../../shop.ts';

const KEY = 'signIn';

/** Whether people have to sign in: because the shop can be reached from elsewhere, or because an owner wants it. */
export function signInIsOn(shop: Pick<Shop, 'db' | 'exposures'>): boolean {
  return shop.exposures().length > 0 || isChosen(shop.db);
}

/** Asked with every request. */
const chosen = prepared((db) => db.select().from(settings).where(eq(settings.key, KEY)).prepare());

function isChosen(db: Reader): boolean {
  return chosen(db).get()?.value === true;
}

/** Keeps whether an owner wants it; part of a transaction of the caller’s. */
export function storeSignIn(tx: Reader, value: boolean): void {
  tx.insert(settings).values({ key: KEY, value }).onConflictDoUpdate({ target: settings.key, set: { value } }).run();
}

/** Whether somebody who can set everything up has something to sign in with. */
export function hasOwner(db: Reader, except?: string): boolean {
  const owners = db
    .select({ id: people.id })
    .from(people)
    .where(
      and(
        eq(people.role, 'owner'),
        isNull(people.leftMs),
        or(isNotNull(people.password), isNotNull(people.providerSubject)),
      ),
    )
    .all();
  return owners.some(({ id }) => id !== except);
}

/**
 * Switches sign-in on or off.
 * @throws Refused where it must not be off, or nobody could sign in afterwards
 */
export function switchSignIn(shop: Shop, on: boolean, actor: Actor): void {
  const why = shop.exposures();
  if (!on && why.length > 0) {
    throw new Refused(
      409,
      'sign-in-needed',
      `People have to sign in as long as other machines can reach the shop: ${why.join('; ')}.`,
      { why },
      'Start it without --host and the like, and take further names out of Setup, Shop hours.',
    );
  }
  if (on && !hasOwner(shop.db)) {
    throw new Refused(
      409,
      'no-owner',
      'Nobody could sign in: there is no owner with a password yet.',
      undefined,
      'Make yourself the owner first.',
    );
  }
  transact(shop, (work) => {
    storeSignIn(work.tx, on);
    work.note({ kind: on ? 'sign-in.on' : 'sign-in.off', subject: ['shop', 'sign-in'], actor, data: {} });
  });
  shop.bus.tell('sign-in', {});
}
