import { eq } from 'drizzle-orm';
import type { Reader } from '../../db/open.ts';
import { settings } from '../../db/tables/schema.ts';
import type { MailServer } from '../../ports/mailer.ts';

const KEY = 'mailServer';

/** Where mail goes out; undefined: nowhere. */
export function mailServer(db: Reader): MailServer | undefined {
  const row = db.select({ value: settings.value }).from(settings).where(eq(settings.key, KEY)).get();
  return row?.value as MailServer | undefined;
}

/** Writes it as it is; part of a transaction of the caller's. */
export function storeMailServer(tx: Reader, value: MailServer | null): void {
  if (value === null) tx.delete(settings).where(eq(settings.key, KEY)).run();
  else
    tx.insert(settings).values({ key: KEY, value }).onConflictDoUpdate({ target: settings.key, set: { value } }).run();
}
