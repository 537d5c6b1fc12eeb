import { and, eq, isNull, ne, sql } from 'drizzle-orm';
import type { OneTimeCode, PersonBody, PersonView, PreferenceChange } from '../../../contract/api/people.ts';
import type { Actor } from '../../../core/events/actor.ts';
import type { Reader } from '../../db/open.ts';
import { apiTokens, oneTimeCodes, people, sessions } from '../../db/tables/peopleTables.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { type Counted, attemptWentWell, beginAttempt } from './throttle.ts';
import { isPassword } from './password.ts';
import { digestOf, newCode } from './secrets.ts';
import type { Caller } from './sessions.ts';
import { mustBeSoundHours } from '../setup/shopSetup.ts';
import { hasOwner, signInIsOn } from './signInSwitch.ts';

/** A code that was given to somebody is good for so long. */
const CODE_MS = 7 * 24 * 3_600_000;

export type PersonRow = typeof people.$inferSelect;

/** Everybody who is there, in order of their names. */
export function personViews(db: Reader): PersonView[] {
  const counts = new Map(
    db
      .select({ id: sessions.personId, n: sql<number>`count(*)` })
      .from(sessions)
      .groupBy(sessions.personId)
      .all()
      .map(({ id, n }) => [id, n]),
  );
  return db
    .select()
    .from(people)
    .where(isNull(people.leftMs))
    .orderBy(people.name)
    .all()
    .map((row) => viewOf(row, counts.get(row.id) ?? 0));
}

function viewOf(row: PersonRow, signedIn: number): PersonView {
  const { id, name, does, role, mail, hours, quiet, signInName, password, totp, providerSubject } = row;
  return {
    ...{ id, name, does, role, mail, hours: hours ? [...hours] : null, quiet, signInName, sessions: signedIn },
    ...{ hasPassword: password !== null, usesCodes: totp !== null, usesProvider: providerSubject !== null },
  };
}

/** @throws Refused where there is nobody of this id any more */
export function personById(db: Reader, id: string): PersonRow {
  const row = db
    .select()
    .from(people)
    .where(and(eq(people.id, id), isNull(people.leftMs)))
    .get();
  if (!row) throw new Refused(404, 'no-such-person', `There is no person ${id}.`);
  return row;
}

/** The person who asks. @throws Refused where it is nobody in particular */
export function personOf(db: Reader, { personId }: Caller): PersonRow {
  if (personId === null) {
    throw new Refused(409, 'nobody', 'Nobody is signed in.', undefined, 'Switch sign-in on in Setup, People.');
  }
  return personById(db, personId);
}

/** What an owner sets of somebody, and nothing else that a request may bring: never what they sign in with. */
function settable(asked: Partial<PersonBody>): Partial<PersonBody> {
  const { name, does, role, mail, hours, quiet } = asked;
  const all = { name: name?.trim(), does, role, mail, hours, quiet };
  return Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined));
}

/** @throws Refused where two people could not be told apart, or hours end before they begin */
function mustBeSound({ tx }: Work, body: Partial<PersonBody>, id?: string): void {
  if (body.name !== undefined) {
    const same = and(sql`lower(${people.name}) = ${body.name.trim().toLowerCase()}`, isNull(people.leftMs));
    const other = tx
      .select({ id: people.id })
      .from(people)
      .where(id === undefined ? same : and(same, ne(people.id, id)))
      .get();
    if (other) {
      throw new Refused(
        409,
        'name-taken',
        `There is a ${body.name.trim()} already.`,
        undefined,
        'Add a letter to tell them apart.',
      );
    }
  }
  if (body.mail != null && !/^[^\s@]+@[^\s@]+$/.test(body.mail)) {
    throw new Refused(
      422,
      'no-address',
      `“${body.mail}” is no address: it needs a name, an @ and where it is.`,
      undefined,
      'Such as name@shop.example.',
    );
  }
  mustBeSoundHours(body.hours ?? []);
}

/** Adds somebody to the people of the shop; they sign in once they have been given a code. */
export function addPerson(shop: Shop, body: PersonBody, actor: Actor): string {
  const id = newId('person');
  transact(shop, (work) => {
    mustBeSound(work, body);
    work.tx
      .insert(people)
      .values({ role: body.role, name: body.name.trim(), ...settable(body), id })
      .run();
    work.touch({ type: 'people', id });
    work.note({
      kind: 'person.made',
      subject: ['person', id],
      actor,
      data: { person: body.name.trim(), role: body.role },
    });
  });
  return id;
}

/** Changes what is set of somebody. @throws Refused where the last owner would no longer be one */
export function changePerson(shop: Shop, id: string, asked: Partial<PersonBody>, actor: Actor): void {
  const change = settable(asked);
  transact(shop, (work) => {
    const before = personById(work.tx, id);
    mustBeSound(work, change, id);
    const role = change.role ?? before.role;
    if (role !== 'owner' && before.role === 'owner') mustLeaveAnOwner(shop, work, id);
    const name = change.name ?? before.name;
    work.tx
      .update(people)
      .set({ ...change, name })
      .where(eq(people.id, id))
      .run();
    work.touch({ type: 'people', id });
    // An address is nobody else's business: the log, which everybody reads, must not keep it.
    const undo =
      'mail' in change || 'quiet' in change
        ? undefined
        : {
            label: 'Undo',
            method: 'PATCH' as const,
            path: `/api/people/${id}`,
            body: Object.fromEntries(Object.keys(change).map((key) => [key, before[key as keyof PersonBody]])),
          };
    if (role === before.role)
      work.note({
        kind: 'person.changed',
        subject: ['person', id],
        actor,
        data: { person: name },
        ...(undo && { undo }),
      });
    else
      work.note({
        kind: 'person.role',
        subject: ['person', id],
        actor,
        data: { person: name, role },
        ...(undo && { undo }),
      });
  });
  // What they may do has changed: their pages ask anew.
  shop.bus.tell('sign-in', {});
}

/** Somebody leaves: they can no longer sign in, nor can what signs in for them; the log keeps their name. */
export function removePerson(shop: Shop, id: string, actor: Actor): void {
  transact(shop, (work) => {
    const { name, role } = personById(work.tx, id);
    if (role === 'owner') mustLeaveAnOwner(shop, work, id);
    for (const table of [sessions, apiTokens, oneTimeCodes]) work.tx.delete(table).where(eq(table.personId, id)).run();
    work.tx
      .update(people)
      .set({
        leftMs: shop.realNow(),
        ...{ signInName: null, password: null, totp: null, totpStep: null, providerSubject: null },
      })
      .where(eq(people.id, id))
      .run();
    work.touch({ type: 'people', id });
    work.note({ kind: 'person.left', subject: ['person', id], actor, data: { person: name } });
  });
  shop.bus.tell('sign-in', {});
}

function mustLeaveAnOwner(shop: Shop, { tx }: Work, id: string): void {
  if (!signInIsOn(shop) || hasOwner(tx, id)) return;
  throw new Refused(
    409,
    'last-owner',
    'This is the only owner who can sign in: nobody could set anything up any more.',
    undefined,
    'Make somebody else an owner first.',
  );
}

/**
 * A new code with which somebody chooses a password; what they signed in with before counts until then. One-time codes that
 * were set up are no longer asked for once it is used: a lost phone must not keep anybody out for good.
 */
export function giveCode(shop: Shop, id: string, actor: Actor): OneTimeCode {
  const code = newCode();
  const untilMs = shop.realNow() + CODE_MS;
  transact(shop, (work) => {
    const { name } = personById(work.tx, id);
    work.tx.delete(oneTimeCodes).where(eq(oneTimeCodes.personId, id)).run();
    work.tx
      .insert(oneTimeCodes)
      .values({ digest: digestOf(code), personId: id, untilMs })
      .run();
    work.note({ kind: 'person.code', subject: ['person', id], actor, data: { person: name } });
  });
  return { code, untilMs };
}

/** The code that makes whoever has it the first owner, or gives an owner a new password; the one before no longer counts. */
export function ownerCode(shop: Shop): string {
  const code = newCode();
  transact(shop, ({ tx }) => {
    tx.delete(oneTimeCodes).where(isNull(oneTimeCodes.personId)).run();
    tx.insert(oneTimeCodes)
      .values({ digest: digestOf(code), personId: null, untilMs: shop.realNow() + CODE_MS })
      .run();
  });
  return code;
}

/** What a person prefers; each choice by itself, the last one counts. */
export function setPreferences(shop: Shop, caller: Caller, change: PreferenceChange): void {
  shop.db.transaction(
    (tx) => {
      const { id, preferences } = personOf(tx, caller);
      tx.update(people)
        .set({ preferences: { ...preferences, ...change } })
        .where(eq(people.id, id))
        .run();
    },
    { behavior: 'immediate' },
  );
}

/** @throws Refused where this is not the password of the person who asks; tries are counted as at sign-in */
export async function mustBeOwnPassword(shop: Shop, caller: Caller, password: string): Promise<void> {
  const { id, password: kept } = personOf(shop.db, caller);
  const counted: readonly Counted[] = [[`own: ${id}`, 5]];
  beginAttempt(shop, counted);
  if (!(await isPassword(password, kept)))
    throw new Refused(403, 'wrong-password', 'This is not your present password.');
  attemptWentWell(shop, counted);
}
