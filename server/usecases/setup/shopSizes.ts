import type { EventData } from '../../../core/events/eventData.ts';
import { type Actor } from '../../../core/events/actor.ts';
import { eq } from 'drizzle-orm';
import type { ShopSizes } from '../../../contract/api/ticket.ts';
import { NAMED_SIZES } from '../../../core/ticket/sizeRule.ts';
import type { Reader } from '../../db/open.ts';
import { settings } from '../../db/tables/schema.ts';
import { Refused, type Shop, transact } from '../../shop.ts';

const KEY = 'namedSizes';

/** The sizes that the shop has named itself, by name. */
export function shopSizes(db: Reader): ShopSizes {
  const row = db.select({ value: settings.value }).from(settings).where(eq(settings.key, KEY)).get();
  return (row?.value ?? []) as ShopSizes;
}

/** Writes the list as it is; part of a transaction of the caller's. */
export function storeShopSizes(tx: Reader, value: ShopSizes): void {
  tx.insert(settings).values({ key: KEY, value }).onConflictDoUpdate({ target: settings.key, set: { value } }).run();
}

/** Sets the shop's own sizes. Tickets keep the millimetres they have. */
export function setShopSizes(shop: Shop, sizes: ShopSizes, actor: Actor): void {
  const named = sizes.map((size) => ({ ...size, name: size.name.trim() }));
  const taken = new Set(NAMED_SIZES.map((size) => size.name.toLowerCase()));
  for (const { name } of named) {
    if (taken.has(name.toLowerCase())) {
      throw new Refused(409, 'name-taken', `A size is called ${name} already.`, undefined, 'Choose another name.');
    }
    taken.add(name.toLowerCase());
  }
  transact(shop, (work) => {
    const before = shopSizes(work.tx);
    const value = named.sort((a, b) => a.name.localeCompare(b.name, 'en'));
    storeShopSizes(work.tx, value);
    work.touch({ type: 'sizes', id: 'sizes' });
    work.note({
      kind: 'sizes.changed',
      subject: ['shop', 'sizes'],
      actor,
      data: difference(before, value),
      undo: { label: 'Undo', method: 'PUT', path: '/api/sizes', body: before },
    });
  });
}

function difference(before: ShopSizes, after: ShopSizes): EventData['sizes.changed'] {
  const without = (sizes: ShopSizes, others: ShopSizes): string[] =>
    sizes.filter(({ name }) => !others.some((other) => other.name === name)).map(({ name }) => name);
  return { added: without(after, before), gone: without(before, after) };
}
