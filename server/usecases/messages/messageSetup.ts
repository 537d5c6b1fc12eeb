import { randomBytes } from 'node:crypto';
import { asc, isNull } from 'drizzle-orm';
import type { MailServerView, MessageSetup, MessageSetupAnswer } from '../../../contract/api/messages.ts';
import type { Subscription } from '../../../core/messages/messageRules.ts';
import type { Actor } from '../../../core/events/actor.ts';
import { messageRules, webhooks } from '../../db/tables/messageTables.ts';
import type { Reader } from '../../db/open.ts';
import { people } from '../../db/tables/peopleTables.ts';
import { mailServer, storeMailServer } from './mailServer.ts';
import type { MailServer } from '../../ports/mailer.ts';
import { Refused, type Shop, newId, transact } from '../../shop.ts';
import { storeWeekMail, weekMail } from '../pace/week/weekMail.ts';

/** Who is told of what. */
export function subscriptions(db: Reader): Subscription[] {
  return db
    .select()
    .from(messageRules)
    .orderBy(asc(messageRules.personId))
    .all()
    .map(({ personId, kinds, repeatMin, escalateAfterMin, escalateToId }) => ({
      ...{ personId, kinds, repeatMin },
      escalate:
        escalateAfterMin === null || escalateToId === null
          ? null
          : { afterMin: escalateAfterMin, personId: escalateToId },
    }));
}

/** Who is told of what, and by which ways; secrets and passwords stay here. */
export function messageSetup(shop: Shop, standInUrl: string | null): MessageSetupAnswer {
  const { db } = shop;
  return {
    mail: mailView(mailServer(db)),
    week: weekMail(db),
    rules: subscriptions(db).map((rule) => ({ ...rule, kinds: [...rule.kinds] })),
    webhooks: db
      .select()
      .from(webhooks)
      .all()
      .map(({ id, url, kinds }) => ({ id, url, kinds: [...kinds] })),
    people: db
      .select({ id: people.id, name: people.name, mail: people.mail })
      .from(people)
      .where(isNull(people.leftMs))
      .orderBy(asc(people.name))
      .all(),
    standInUrl,
  };
}

function mailView(server: MailServer | undefined): MailServerView {
  if (!server) return null;
  if (server.kind === 'stand-in') return { kind: 'stand-in' };
  const { password: _secret, ...rest } = server;
  return rest;
}

/**
 * Sets all of it at once. A program that is new gets a secret, which is told in this answer alone.
 * @returns secrets of programs that are new, by their address
 */
export function setMessageSetup(shop: Shop, next: MessageSetup, actor: Actor): Readonly<Record<string, string>> {
  mustNameOnce(
    next.rules.map(({ personId }) => personId),
    'a person',
  );
  mustNameOnce(
    next.webhooks.map(({ url }) => url),
    'the address of a program',
  );
  const secrets: Record<string, string> = {};
  transact(shop, (work) => {
    const { tx } = work;
    const known = new Set(
      tx
        .select({ id: people.id })
        .from(people)
        .where(isNull(people.leftMs))
        .all()
        .map(({ id }) => id),
    );
    for (const { personId, escalate } of next.rules) {
      for (const id of [personId, ...(escalate ? [escalate.personId] : [])]) {
        if (!known.has(id)) throw new Refused(422, 'no-such-person', `There is no person ${id} to be told.`);
      }
      if (escalate?.personId === personId) {
        throw new Refused(422, 'same-person', 'The second person who is told has to be another one.');
      }
    }
    if (next.week !== undefined) {
      for (const id of next.week?.personIds ?? []) {
        if (!known.has(id)) throw new Refused(422, 'no-such-person', `There is no person ${id} to be told.`);
      }
      storeWeekMail(tx, next.week, work.nowMs);
    }
    const before = mailServer(tx);
    storeMailServer(tx, next.mail && withPassword(next.mail, before));
    tx.delete(messageRules).run();
    for (const { personId, kinds, repeatMin, escalate } of next.rules) {
      tx.insert(messageRules)
        .values({
          ...{ personId, kinds, repeatMin },
          ...{ escalateAfterMin: escalate?.afterMin ?? null, escalateToId: escalate?.personId ?? null },
        })
        .run();
    }
    const kept = tx.select().from(webhooks).all();
    tx.delete(webhooks).run();
    for (const { id, url, kinds } of next.webhooks) {
      const old = kept.find((each) => each.id === id);
      const secret = old?.secret ?? randomBytes(32).toString('base64url');
      if (!old) secrets[url] = secret;
      tx.insert(webhooks)
        .values({ id: old?.id ?? newId('webhook'), url, secret, kinds })
        .run();
    }
    work.note({ kind: 'messages.changed', subject: ['shop', 'messages'], actor, data: { people: next.rules.length } });
    work.touch({ type: 'setup', id: 'messages' });
  });
  return secrets;
}

function mustNameOnce(names: readonly string[], what: string): void {
  const twice = names.find((name, i) => names.indexOf(name) < i);
  if (twice === undefined) return;
  throw new Refused(422, 'named-twice', `${twice} is ${what} that is named twice.`, undefined, 'Name it once.');
}

/** A password that is not sent stays as it was, as long as it is the same server. */
function withPassword(next: NonNullable<MailServerView>, before: MailServer | undefined): MailServer {
  if (next.kind === 'stand-in') return next;
  const { password, ...rest } = next;
  const same = before?.kind === 'smtp' && before.host === next.host && before.user === next.user;
  return { ...rest, password: password ?? (same ? before.password : '') };
}
