import { tz } from '@date-fns/tz';
import { format } from 'date-fns';
import { and, eq, inArray, isNull } from 'drizzle-orm';
import type { WeekMail } from '../../../../contract/api/messages.ts';
import { nextTryMs } from '../../../../core/messages/retry.ts';
import { type Week, weekDue } from '../../../../core/pace/weekDue.ts';
import type { Reader } from '../../../db/open.ts';
import { people } from '../../../db/tables/peopleTables.ts';
import { settings } from '../../../db/tables/schema.ts';
import { Refused, type Shop, transact } from '../../../shop.ts';
import { type Outgoing, mailNow } from '../../messages/outbox.ts';
import { weekPdf } from './weekReport.ts';

const KEY = 'weekMail';

/** Who gets the page of a week and when, and how far that has come. */
interface Kept extends WeekMail {
  /** What came due before is nobody's. */
  readonly sinceMs: number;
  /** The week that each person has by now, by its beginning. */
  readonly sent: Readonly<Record<string, number>>;
  /** Tries of this week that failed, and when the next one comes (this machine's clock). */
  readonly failed: { readonly tries: number; readonly nextRealMs: number } | null;
}

function keptMail(db: Reader): Kept | undefined {
  const row = db.select({ value: settings.value }).from(settings).where(eq(settings.key, KEY)).get();
  return row?.value as Kept | undefined;
}

/** Who gets the page of a week by mail, and when; null: nobody. */
export function weekMail(db: Reader): WeekMail | null {
  const kept = keptMail(db);
  return kept ? { personIds: [...kept.personIds], weekday: kept.weekday, at: kept.at } : null;
}

/** Writes it as it is; part of a transaction of the caller's. @param nowMs what came due before is nobody's */
export function storeWeekMail(tx: Reader, next: WeekMail | null, nowMs: number): void {
  if (next === null) {
    tx.delete(settings).where(eq(settings.key, KEY)).run();
    return;
  }
  const before = keptMail(tx);
  const { personIds, weekday, at } = next;
  const isSame = before?.weekday === weekday && before.at === at;
  keep(tx, {
    ...{ personIds, weekday, at },
    sinceMs: isSame ? before.sinceMs : nowMs,
    sent: before?.sent ?? {},
    failed: null,
  });
}

function keep(tx: Reader, value: Kept): void {
  tx.insert(settings).values({ key: KEY, value }).onConflictDoUpdate({ target: settings.key, set: { value } }).run();
}

/**
 * Sends the page of a week to those who don't have it yet, once it is due. What fails is tried again later; a crash in between may send it
 * once more, under the same id.
 */
export async function sendWeek(shop: Shop, outgoing: Outgoing): Promise<void> {
  const kept = keptMail(shop.db);
  const week = kept && weekDue(kept, shop.clock.now(), kept.sinceMs, shop.clock.zone);
  if (!kept || !week || (kept.failed && kept.failed.nextRealMs > shop.realNow())) return;
  const waiting = readers(shop.db, kept.personIds).filter(({ id }) => (kept.sent[id] ?? -Infinity) < week.fromMs);
  if (waiting.length === 0) return;
  const bytes = await weekPdf(shop, week.fromMs);
  let failed = false;
  for (const { id, mail } of waiting) {
    try {
      await mailNow(shop, outgoing, weekAsMail(shop, week, mail, bytes, `week-${id}-${String(week.fromMs)}`));
      noted(shop, (now) => ({ ...now, sent: { ...now.sent, [id]: week.fromMs } }));
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      failed = true;
      shop.log.warn({ personId: id, error: error.message }, 'the page of the week could not be sent');
    }
  }
  noted(shop, (now) => {
    if (!failed) return { ...now, failed: null };
    const tries = (now.failed?.tries ?? 0) + 1;
    // After the last try of a message the page waits for its own next look, a day later.
    return { ...now, failed: { tries, nextRealMs: nextTryMs(tries, shop.realNow()) ?? shop.realNow() + 86_400_000 } };
  });
}

/** People who are still here and can be reached. */
function readers(db: Reader, personIds: readonly string[]): { id: string; mail: string }[] {
  return db
    .select({ id: people.id, mail: people.mail })
    .from(people)
    .where(and(inArray(people.id, [...personIds]), isNull(people.leftMs)))
    .all()
    .flatMap(({ id, mail }) => (mail === null ? [] : [{ id, mail }]));
}

/** Whoever has set it meanwhile is right: only how far it has come is noted. */
function noted(shop: Shop, change: (now: Kept) => Kept): void {
  transact(shop, ({ tx }) => {
    const now = keptMail(tx);
    if (now) keep(tx, change(now));
  });
}

function weekAsMail({ clock }: Shop, { fromMs }: Week, to: string, bytes: Uint8Array, id: string) {
  const day = format(fromMs, 'd MMMM yyyy', { in: tz(clock.zone) });
  return {
    ...{ to, id, subject: `The week from ${day}` },
    text: `How the week from ${day} went is on the page that comes with this mail.\n`,
    attachments: [{ name: `week-${format(fromMs, 'yyyy-MM-dd', { in: tz(clock.zone) })}.pdf`, bytes }],
  };
}
