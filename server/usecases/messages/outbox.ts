import { createHmac } from 'node:crypto';
import { and, asc, eq, lte } from 'drizzle-orm';
import { nextTryMs } from '../../../core/messages/retry.ts';
import { messageCauses, messageSends, webhooks } from '../../db/tables/messageTables.ts';
import { people } from '../../db/tables/peopleTables.ts';
import type { Mail, Mailer } from '../../ports/mailer.ts';
import { Refused, type Shop, transact } from '../../shop.ts';
import { mailServer } from './mailServer.ts';

const AT_ONCE = 10;
const PATIENCE_MS = 15_000;

type Send = typeof messageSends.$inferSelect;
type Cause = typeof messageCauses.$inferSelect;

/** How messages leave the shop. */
export interface Outgoing {
  readonly mailer: Mailer;
  /** Where the shop's pages are reached from outside; undefined: only on this machine. */
  readonly pages: string | undefined;
}

/**
 * Sends what is to be sent by now. What fails is tried again later; a crash in between sends it once more, under the same id. The next
 * call waits for this one: two at once would send everything twice.
 */
export async function sendDue(shop: Shop, outgoing: Outgoing): Promise<void> {
  const due = shop.db
    .select()
    .from(messageSends)
    .where(and(eq(messageSends.state, 'waiting'), lte(messageSends.nextRealMs, shop.realNow())))
    .orderBy(asc(messageSends.nextRealMs))
    .limit(AT_ONCE)
    .all();
  await Promise.all(due.map((send) => sendOne(shop, outgoing, send)));
}

async function sendOne(shop: Shop, outgoing: Outgoing, send: Send): Promise<void> {
  const cause = shop.db.select().from(messageCauses).where(eq(messageCauses.id, send.causeId)).get();
  let error: string | null = null;
  try {
    if (!cause) throw new Error('what it is about is gone');
    await (send.way === 'mail' ? mailTo(shop, outgoing, send, cause) : post(shop, send, cause));
  } catch (problem) {
    error = problem instanceof Error ? problem.message : String(problem);
  }
  const tries = send.tries + 1;
  const next = error === null ? null : nextTryMs(tries, shop.realNow());
  transact(shop, ({ tx }) => {
    tx.update(messageSends)
      .set({
        ...{ tries, error },
        state: error === null ? 'sent' : next === null ? 'failed' : 'waiting',
        ...(next === null ? {} : { nextRealMs: next }),
      })
      .where(eq(messageSends.id, send.id))
      .run();
  });
  if (error !== null) shop.log.warn({ sendId: send.id, error }, 'a message could not be sent');
}

async function mailTo(shop: Shop, { mailer, pages }: Outgoing, send: Send, cause: Cause): Promise<void> {
  const server = mailServer(shop.db);
  const person = shop.db
    .select()
    .from(people)
    .where(eq(people.id, send.personId ?? ''))
    .get();
  if (!server) throw new Error('no mail server is set up');
  if (person?.mail == null) throw new Error('this person has no mail address');
  const link = pages === undefined ? [] : ['', `${pages}${pathOf(cause)}`];
  const escalated = send.escalated ? ['', 'You are told since nobody has seen it yet.'] : [];
  await mailer.send(server, {
    ...{ to: person.mail, subject: cause.text, id: send.id },
    text: [`${cause.text}.`, cause.way, ...escalated, ...link, ''].join('\n'),
  });
}

function pathOf({ kind, printerId }: Pick<Cause, 'kind' | 'printerId'>): string {
  if (kind === 'finished' || kind === 'at risk' || kind === 'supply') return '/rota/away';
  return printerId === null ? '/floor' : `/floor?printer=${printerId}`;
}

/**
 * Tells a program. Whoever has the secret can check that it comes from here: the signature is HMAC-SHA256, base64url, of the time
 * header, a line feed and the body.
 */
async function post(shop: Shop, send: Send, cause: Cause): Promise<void> {
  const hook = shop.db
    .select()
    .from(webhooks)
    .where(eq(webhooks.id, send.webhookId ?? ''))
    .get();
  if (!hook) throw new Error('this program is no longer to be told');
  const { id, kind, text, way, printerId, openedMs } = cause;
  const body = JSON.stringify({ id, kind, text, way, printerId, openedMs });
  const time = String(shop.realNow());
  const answer = await fetch(hook.url, {
    method: 'POST',
    redirect: 'manual',
    signal: AbortSignal.timeout(PATIENCE_MS),
    headers: {
      'content-type': 'application/json',
      'yellow-spool-time': time,
      'yellow-spool-signature': signatureOf(hook.secret, time, body),
    },
    body,
  });
  if (!answer.ok) throw new Error(`it answered ${String(answer.status)}`);
}

export function signatureOf(secret: string, time: string, body: string): string {
  return createHmac('sha256', secret).update(`${time}\n${body}`).digest('base64url');
}

/** Sends one mail at once. @throws Refused where that can't be done, with the reason */
export async function mailNow(
  shop: Shop,
  { mailer }: Outgoing,
  mail: Omit<Mail, 'id'> & Partial<Pick<Mail, 'id'>>,
): Promise<void> {
  const server = mailServer(shop.db);
  if (!server) {
    throw new Refused(
      409,
      'no-mail-server',
      'No mail server is set up.',
      undefined,
      'Set one up under Setup, Messages.',
    );
  }
  try {
    await mailer.send(server, { id: `mail-${String(shop.realNow())}`, ...mail });
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error);
    throw new Refused(
      503,
      'mail-failed',
      `The mail could not be sent: ${why}.`,
      undefined,
      'Check the mail server in Setup.',
    );
  }
}
