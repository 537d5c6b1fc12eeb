import { and, desc, eq, gte, inArray, isNull, lt } from 'drizzle-orm';
import type { CauseView } from '../../../contract/api/messages.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { dueFor } from '../../../core/messages/messageRules.ts';
import { messageCauses, messageSends, webhooks } from '../../db/tables/messageTables.ts';
import type { Reader } from '../../db/open.ts';
import { people } from '../../db/tables/peopleTables.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { type CauseNow, causesNow } from './causesNow.ts';
import { subscriptions } from './messageSetup.ts';

/** Trouble that comes again within this is the same (ms): nobody is told twice of a cover that is opened and closed. */
const SAME_MS = 10 * 60_000;
/** Rows of what is long over are let go (ms). */
const KEPT_MS = 60 * 86_400_000;
const MOST_SHOWN = 100;

/**
 * Opens a cause for what people have to be told of, closes it when it is over, and decides who is told now. Nothing is sent here:
 * what is to be sent is written down with it, in one transaction.
 */
export function lookAtCauses(shop: Shop): void {
  const now = causesNow(shop);
  transact(shop, (work) => {
    const open = work.tx.select().from(messageCauses).where(isNull(messageCauses.closedMs)).all();
    const keys = new Set(now.map(({ key }) => key));
    for (const cause of open) {
      if (keys.has(cause.key)) continue;
      work.tx.update(messageCauses).set({ closedMs: work.nowMs }).where(eq(messageCauses.id, cause.id)).run();
    }
    for (const each of now) if (!open.some(({ key }) => key === each.key)) openCause(work, each);
    decideSends(shop, work);
    forgetOld(work);
  });
}

function openCause({ tx, nowMs }: Work, { key, kind, text, way, printerId }: CauseNow): void {
  const before = tx
    .select()
    .from(messageCauses)
    .where(and(eq(messageCauses.key, key), gte(messageCauses.closedMs, nowMs - SAME_MS)))
    .orderBy(desc(messageCauses.seq))
    .limit(1)
    .get();
  if (before) {
    tx.update(messageCauses).set({ closedMs: null, text, way }).where(eq(messageCauses.id, before.id)).run();
    return;
  }
  tx.insert(messageCauses)
    .values({ id: newId('cause'), key, kind, text, way, printerId, openedMs: nowMs })
    .run();
}

function decideSends(shop: Shop, { tx, nowMs }: Work): void {
  const causes = tx
    .select()
    .from(messageCauses)
    .where(and(isNull(messageCauses.closedMs), isNull(messageCauses.seenMs)))
    .all();
  if (causes.length === 0) return;
  const subscribed = subscriptions(tx);
  const hooks = tx.select().from(webhooks).all();
  if (subscribed.length === 0 && hooks.length === 0) return;
  const reach = new Map(
    tx
      .select()
      .from(people)
      .where(isNull(people.leftMs))
      .all()
      .map((person) => [person.id, person]),
  );
  const sends = sendsOf(tx, causes);
  const add = (
    row: Pick<typeof messageSends.$inferInsert, 'causeId' | 'personId' | 'webhookId' | 'way' | 'escalated'>,
  ) => {
    tx.insert(messageSends)
      .values({ id: newId('send'), ...row, atMs: nowMs, state: 'waiting', nextRealMs: shop.realNow() })
      .run();
  };
  for (const cause of causes) {
    const own = sends.filter(({ causeId }) => causeId === cause.id);
    const told = own.flatMap(({ personId, atMs }) => (personId === null ? [] : [{ personId, atMs }]));
    const quietOf = (id: string) => reach.get(id)?.quiet ?? null;
    for (const { personId, escalated } of dueFor(cause, subscribed, quietOf, told, nowMs, shop.clock.zone)) {
      if (reach.get(personId)?.mail == null) continue;
      add({ causeId: cause.id, personId, webhookId: null, way: 'mail', escalated });
    }
    for (const { id, kinds } of hooks) {
      if (!kinds.includes(cause.kind) || own.some(({ webhookId }) => webhookId === id)) continue;
      add({ causeId: cause.id, personId: null, webhookId: id, way: 'webhook', escalated: false });
    }
  }
}

/** What was sent of causes, and what is on its way. */
function sendsOf(db: Reader, causes: readonly { readonly id: string }[]) {
  return db
    .select()
    .from(messageSends)
    .where(
      inArray(
        messageSends.causeId,
        causes.map(({ id }) => id),
      ),
    )
    .all();
}

function forgetOld({ tx, nowMs }: Work): void {
  const old = tx
    .select({ id: messageCauses.id })
    .from(messageCauses)
    .where(lt(messageCauses.closedMs, nowMs - KEPT_MS))
    .limit(50)
    .all()
    .map(({ id }) => id);
  if (old.length === 0) return;
  tx.delete(messageSends).where(inArray(messageSends.causeId, old)).run();
  tx.delete(messageCauses).where(inArray(messageCauses.id, old)).run();
}

/** A person has seen it: nobody is told of it any more. */
export function seenCause(shop: Shop, id: string, actor: Actor): void {
  transact(shop, ({ tx, nowMs }) => {
    const cause = tx.select().from(messageCauses).where(eq(messageCauses.id, id)).get();
    if (!cause) throw new Refused(404, 'no-such-message', `There is no message ${id}.`);
    if (cause.seenMs !== null) return;
    tx.update(messageCauses).set({ seenMs: nowMs, seenBy: actor.name }).where(eq(messageCauses.id, id)).run();
  });
}

/** The latest causes, newest first, with what was sent of each. */
export function causeViews({ db }: Pick<Shop, 'db'>): CauseView[] {
  const causes = db.select().from(messageCauses).orderBy(desc(messageCauses.seq)).limit(MOST_SHOWN).all();
  const sends = sendsOf(db, causes);
  const names = new Map(
    db
      .select({ id: people.id, name: people.name })
      .from(people)
      .all()
      .map(({ id, name }) => [id, name]),
  );
  const urls = new Map(
    db
      .select()
      .from(webhooks)
      .all()
      .map(({ id, url }) => [id, url]),
  );
  return causes.map(({ seq: _seq, key: _key, ...cause }) => ({
    ...cause,
    sends: sends
      .filter(({ causeId }) => causeId === cause.id)
      .map(({ personId, webhookId, way, atMs, state, escalated, error }) => ({
        to: names.get(personId ?? '') ?? urls.get(webhookId ?? '') ?? 'gone',
        ...{ way, atMs, state, escalated, error },
      })),
  }));
}
