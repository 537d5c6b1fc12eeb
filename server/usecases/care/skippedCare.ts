import type { Shop } from '../../shop.ts';

/** Purges that the last plan found needless, by shop: every view of a printer says so without a plan of its own. */
const known = new WeakMap<object, ReadonlySet<string>>();

/** What a plan has found; it is found anew every few seconds. */
export function noteSkipped({ db }: Pick<Shop, 'db'>, ids: ReadonlySet<string>): void {
  known.set(db, ids);
}

export function isSkipped({ db }: Pick<Shop, 'db'>, careId: string): boolean {
  return known.get(db)?.has(careId) ?? false;
}
