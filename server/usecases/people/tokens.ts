import { and, desc, eq } from 'drizzle-orm';
import type { TokenBody, TokenView } from '../../../contract/api/people.ts';
import { allows } from '../../../core/people/rights.ts';
import { apiTokens } from '../../db/tables/peopleTables.ts';
import { Refused, type Shop, newId, transact } from '../../shop.ts';
import { personOf } from './people.ts';
import { digestOf, newSecret } from './secrets.ts';
import type { Caller } from './sessions.ts';

const DAY_MS = 24 * 3_600_000;
/** What it begins with, so that a token which has leaked into a file is found there. */
const PREFIX = 'yellow-spool-';
const MOST_TOKENS = 50;

/** What programs sign in with on behalf of whoever asks, the newest first. */
export function tokensOf(shop: Shop, { personId }: Caller): TokenView[] {
  return shop.db
    .select()
    .from(apiTokens)
    .where(eq(apiTokens.personId, personId ?? ''))
    .orderBy(desc(apiTokens.createdMs))
    .all()
    .map(({ id, name, scope, createdMs, untilMs, usedMs }) => ({ id, name, scope, createdMs, untilMs, usedMs }));
}

/** A token for a program; it may never do more than the person who made it. It is told this once. */
export function makeToken(
  shop: Shop,
  caller: Caller,
  { name, scope, days }: TokenBody,
): TokenView & { readonly token: string } {
  if (!allows(caller.right, scope)) {
    throw new Refused(403, 'not-allowed', `You may not ${scope} yourself.`, { scope, right: caller.right });
  }
  const token = PREFIX + newSecret();
  const createdMs = shop.realNow();
  const view = {
    id: newId('token'),
    name: name.trim(),
    scope,
    createdMs,
    untilMs: createdMs + days * DAY_MS,
    usedMs: null,
  };
  transact(shop, (work) => {
    const person = personOf(work.tx, caller);
    const n = work.tx
      .select({ id: apiTokens.id })
      .from(apiTokens)
      .where(eq(apiTokens.personId, person.id))
      .all().length;
    if (n >= MOST_TOKENS)
      throw new Refused(
        409,
        'too-many',
        `${String(n)} tokens are enough.`,
        undefined,
        'Remove those that nobody uses.',
      );
    work.tx
      .insert(apiTokens)
      .values({ ...view, personId: person.id, digest: digestOf(token) })
      .run();
    const data = { token: view.name, scope, person: person.name };
    work.note({ kind: 'token.made', subject: ['person', person.id], actor: caller.actor, data });
  });
  return { ...view, token };
}

/** The program that has this token can do nothing any more. */
export function removeToken(shop: Shop, caller: Caller, id: string): void {
  transact(shop, (work) => {
    const person = personOf(work.tx, caller);
    const [gone] = work.tx
      .delete(apiTokens)
      .where(and(eq(apiTokens.id, id), eq(apiTokens.personId, person.id)))
      .returning({ name: apiTokens.name })
      .all();
    if (!gone) throw new Refused(404, 'no-such-token', 'There is no such token any more.');
    const data = { token: gone.name, person: person.name };
    work.note({ kind: 'token.removed', subject: ['person', person.id], actor: caller.actor, data });
  });
  shop.bus.tell('sign-in', {});
}
