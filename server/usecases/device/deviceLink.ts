import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { eq } from 'drizzle-orm';
import { settings } from '../../db/tables/schema.ts';
import type { Shop } from '../../shop.ts';

/*
 * The links by which a device fetches what it prints. Whoever has one may read that file and nothing else, for as long as a
 * device that was switched off meanwhile could still ask for it.
 */

const KEY = 'deviceLinkKey';
const GOOD_FOR_MS = 30 * 24 * 3_600_000;
const TOKEN = /[?&]token=([0-9a-z]+)\.([\w-]+)$/;

function key({ db }: Pick<Shop, 'db'>): Buffer {
  const kept = db.select().from(settings).where(eq(settings.key, KEY)).get()?.value as string | undefined;
  if (kept !== undefined) return Buffer.from(kept, 'base64url');
  db.insert(settings)
    .values({ key: KEY, value: randomBytes(32).toString('base64url') })
    .onConflictDoNothing()
    .run();
  return key({ db });
}

function sign(shop: Pick<Shop, 'db'>, path: string, until: string): Buffer {
  return createHmac('sha256', key(shop)).update(`${until} ${path}`).digest();
}

/**
 * The whole address of a file for a device, good for thirty days.
 * @param path with its query, from /api/ on
 */
export function deviceLink(shop: Pick<Shop, 'db' | 'baseUrl' | 'realNow'>, path: string): string {
  const until = (shop.realNow() + GOOD_FOR_MS).toString(36);
  const token = `${until}.${sign(shop, path, until).toString('base64url')}`;
  return `${shop.baseUrl()}${path}${path.includes('?') ? '&' : '?'}token=${token}`;
}

/** Whether an address, as it was asked for, is a link that was given to a device. */
export function isDeviceLink(shop: Pick<Shop, 'db' | 'realNow'>, asked: string): boolean {
  const [whole = '', until = '', signature = ''] = TOKEN.exec(asked) ?? [];
  if (whole === '' || Number.parseInt(until, 36) <= shop.realNow()) return false;
  const wanted = sign(shop, asked.slice(0, -whole.length), until);
  const given = Buffer.from(signature, 'base64url');
  return given.length === wanted.length && timingSafeEqual(given, wanted);
}
