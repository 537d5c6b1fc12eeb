import { and, desc, eq, isNull, lt, or } from 'drizzle-orm';
import { type Actor, COORDINATOR } from '../../../core/events/actor.ts';
import { type Right, lesser, rightOf } from '../../../core/people/rights.ts';
import type { SessionView } from '../../../contract/api/people.ts';
import { apiTokens, people, sessions } from '../../db/tables/peopleTables.ts';
import { prepared } from '../../db/prepared.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { digestOf, newSecret } from './secrets.ts';
import { sql } from 'drizzle-orm';

const HOUR_MS = 3_600_000;
/** A tablet at a printer that nobody touched over a weekend has to be signed in again. */
export const IDLE_MS = 3 * 24 * HOUR_MS;
/** However much it is used, a session ends after so long. */
export const LONGEST_MS = 30 * 24 * HOUR_MS;
/** When somebody was last here is written down no more often than this. */
const SEEN_MS = 5 * 60_000;
/** One person's sessions; the longest unused goes when there would be more. */
const MOST_SESSIONS = 30;

/** Who asks for something, and what they may do. */
export interface Caller {
  readonly actor: Actor;
  readonly right: Right;
  /** By what they are known: *machine*, that they sit at this one and nobody has to sign in. */
  readonly by: 'machine' | 'session' | 'token';
  readonly personId: string | null;
  readonly sessionId: string | null;
}

/** Whoever is at this machine while nobody has to sign in. */
export const AT_THE_MACHINE: Caller = {
  actor: COORDINATOR,
  right: 'set up',
  by: 'machine',
  personId: null,
  sessionId: null,
};

const sessionBy = prepared((db) =>
  db
    .select({
      ...{ id: sessions.id, personId: sessions.personId, createdMs: sessions.createdMs, seenMs: sessions.seenMs },
      ...{ name: people.name, role: people.role },
    })
    .from(sessions)
    .innerJoin(people, eq(people.id, sessions.personId))
    .where(and(eq(sessions.digest, sql.placeholder('digest')), isNull(people.leftMs)))
    .prepare(),
);

const tokenBy = prepared((db) =>
  db
    .select({
      ...{ id: apiTokens.id, personId: apiTokens.personId, scope: apiTokens.scope, token: apiTokens.name },
      ...{ untilMs: apiTokens.untilMs, usedMs: apiTokens.usedMs, name: people.name, role: people.role },
    })
    .from(apiTokens)
    .innerJoin(people, eq(people.id, apiTokens.personId))
    .where(and(eq(apiTokens.digest, sql.placeholder('digest')), isNull(people.leftMs)))
    .prepare(),
);

/** Whose session this is; undefined where it has ended or never was. */
export function callerOfSession(shop: Shop, secret: string): Caller | undefined {
  const found = sessionBy(shop.db).get({ digest: digestOf(secret) });
  const now = shop.realNow();
  if (!found || now - found.seenMs > IDLE_MS || now - found.createdMs > LONGEST_MS) return undefined;
  if (now - found.seenMs > SEEN_MS) {
    quietly(shop, () => shop.db.update(sessions).set({ seenMs: now }).where(eq(sessions.id, found.id)).run());
  }
  const { id: sessionId, personId, name, role } = found;
  return { actor: { kind: 'person', id: personId, name }, right: rightOf(role), by: 'session', personId, sessionId };
}

/** On whose behalf a program asks; undefined where its token is over, taken back, or never was. */
export function callerOfToken(shop: Shop, secret: string): Caller | undefined {
  const found = tokenBy(shop.db).get({ digest: digestOf(secret) });
  const now = shop.realNow();
  if (!found || now >= found.untilMs) return undefined;
  if (now - (found.usedMs ?? 0) > SEEN_MS) {
    quietly(shop, () => shop.db.update(apiTokens).set({ usedMs: now }).where(eq(apiTokens.id, found.id)).run());
  }
  const { personId, name, role, scope, token } = found;
  return {
    actor: { kind: 'person', id: personId, name: `${name} (${token})` },
    right: lesser(rightOf(role), scope),
    by: 'token',
    personId,
    sessionId: null,
  };
}

/** When somebody was last here is not worth refusing them for: the disk may be full. */
function quietly(shop: Shop, write: () => unknown): void {
  try {
    write();
  } catch (error) {
    if (!shop.storage.noticed(error)) throw error;
  }
}

/** Opens a session; part of a transaction of the caller's. @returns the secret that goes into the cookie */
export function openSession(work: Work, realMs: number, personId: string, device: string): string {
  const { tx } = work;
  tx.delete(sessions)
    .where(or(lt(sessions.seenMs, realMs - IDLE_MS), lt(sessions.createdMs, realMs - LONGEST_MS)))
    .run();
  const own = tx
    .select({ id: sessions.id })
    .from(sessions)
    .where(eq(sessions.personId, personId))
    .orderBy(desc(sessions.seenMs))
    .all();
  for (const { id } of own.slice(MOST_SESSIONS - 1)) tx.delete(sessions).where(eq(sessions.id, id)).run();
  const secret = newSecret();
  tx.insert(sessions)
    .values({ id: newId('session'), digest: digestOf(secret), personId, device, createdMs: realMs, seenMs: realMs })
    .run();
  return secret;
}

/** Where a person is signed in, the one used last first. */
export function sessionsOf(shop: Shop, { personId, sessionId }: Caller): SessionView[] {
  return shop.db
    .select()
    .from(sessions)
    .where(eq(sessions.personId, personId ?? ''))
    .orderBy(desc(sessions.seenMs))
    .all()
    .map(({ id, device, createdMs, seenMs }) => ({ id, device, createdMs, seenMs, here: id === sessionId }));
}

/** Ends one session of a person, or all of them: each page of it is told at once. */
export function signOut(
  shop: Shop,
  personId: string,
  which: { readonly id: string } | 'everywhere',
  actor: Actor,
): void {
  transact(shop, (work) => {
    const person = work.tx.select({ name: people.name }).from(people).where(eq(people.id, personId)).get();
    const own = eq(sessions.personId, personId);
    const gone = work.tx
      .delete(sessions)
      .where(which === 'everywhere' ? own : and(own, eq(sessions.id, which.id)))
      .returning({ id: sessions.id })
      .all();
    if (gone.length === 0 && which !== 'everywhere')
      throw new Refused(404, 'no-such-session', 'This session has ended.');
    if (gone.length === 0) return;
    work.note({
      kind: 'person.signed-out',
      subject: ['person', personId],
      actor,
      data: { person: person?.name ?? personId, sessions: gone.length },
      quiet: true,
    });
  });
  shop.bus.tell('sign-in', {});
}
