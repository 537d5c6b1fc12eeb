import { and, eq, isNull, ne, sql } from 'drizzle-orm';
import type { FirstOwner, TakeCode } from '../../../contract/api/people.ts';
import type { Reader } from '../../db/open.ts';
import { oneTimeCodes, people, sessions } from '../../db/tables/peopleTables.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { type PersonRow, mustBeOwnPassword, personById, personOf } from './people.ts';
import { hashOf, isPassword, mustBePassword } from './password.ts';
import { digestOf, readCode } from './secrets.ts';
import { type Caller, openSession } from './sessions.ts';
import { signInIsOn, storeSignIn } from './signInSwitch.ts';
import { attemptWentWell, beginAttempt, countedBy, countedByCode } from './throttle.ts';
import { stepOfCode } from './totp.ts';

/** From where somebody signs in. */
export interface From {
  readonly address: string;
  /** As the log and the list of sessions call it. */
  readonly device: string;
}

interface Given {
  readonly name: string;
  readonly password: string;
  readonly code?: string;
}

/**
 * Opens a session for somebody who knows name and password, and the code of their app where they use one.
 * @returns the secret that goes into the cookie
 * @throws Refused 401, in the same words whether the name or the password is wrong; 429 where tries have to wait
 */
export async function signIn(shop: Shop, { name, password, code }: Given, from: From): Promise<string> {
  mustBeOn(shop);
  const counted = countedBy(name, from.address);
  beginAttempt(shop, counted);
  const person = shop.db
    .select()
    .from(people)
    .where(and(eq(people.signInName, name.toLowerCase()), isNull(people.leftMs)))
    .get();
  if (!(await isPassword(password, person?.password ?? null)) || !person) {
    shop.log.warn({ signInName: name.slice(0, 60), address: from.address }, 'a sign-in failed');
    throw new Refused(
      401,
      'wrong-sign-in',
      'Name or password is wrong.',
      undefined,
      'An owner can give you a new code in Setup, People.',
    );
  }
  let step: number | null = null;
  if (person.totp !== null) {
    if (code === undefined || code.trim() === '') {
      attemptWentWell(shop, counted);
      throw new Refused(401, 'code-wanted', 'The code of your app is needed, too.');
    }
    step = stepOfCode(person.totp, code, person.totpStep, shop.realNow());
    if (step === null) {
      shop.log.warn({ person: person.id, address: from.address }, 'a one-time code was wrong');
      throw new Refused(
        401,
        'wrong-code',
        'This code is wrong, or has been used.',
        undefined,
        'Wait for the next one.',
      );
    }
  }
  const secret = transact(shop, (work) => {
    // What was true a moment ago may not be any more: a password that was changed, a code that came twice at once.
    const now = personById(work.tx, person.id);
    if (now.password !== person.password || (step !== null && (now.totpStep ?? -1) >= step)) {
      throw new Refused(401, 'wrong-sign-in', 'Name or password is wrong.');
    }
    if (step !== null) work.tx.update(people).set({ totpStep: step }).where(eq(people.id, person.id)).run();
    return signedIn(shop, work, now, from.device, 'password');
  });
  attemptWentWell(shop, counted);
  return secret;
}

/** Opens a session and writes it down; part of a transaction of the caller's. */
export function signedIn(
  shop: Shop,
  work: Work,
  { id, name }: PersonRow,
  device: string,
  by: 'password' | 'provider' | 'code',
): string {
  work.note({
    kind: 'person.signed-in',
    subject: ['person', id],
    actor: { kind: 'person', id, name },
    data: { person: name, device, by },
    quiet: true,
  });
  return openSession(work, shop.realNow(), id, device);
}

/**
 * Makes somebody an owner who signs in from now on. While nobody has to sign in, whoever is at this machine may do that; else
 * it takes the code that the server printed.
 */
export async function becomeOwner(shop: Shop, asked: FirstOwner, from: From): Promise<string> {
  const isOn = signInIsOn(shop);
  if (isOn) {
    const counted = countedByCode(from.address);
    beginAttempt(shop, counted);
    mustBeCode(shop.db, asked.code ?? '', shop.realNow(), null);
    attemptWentWell(shop, counted);
  }
  const name = asked.name.trim();
  mustBePassword(asked.password, [name, asked.signInName]);
  const password = await hashOf(asked.password);
  const secret = transact(shop, (work) => {
    const { tx } = work;
    if (isOn)
      tx.delete(oneTimeCodes)
        .where(eq(oneTimeCodes.digest, mustBeCode(tx, asked.code ?? '', shop.realNow(), null)))
        .run();
    else if (signInIsOn(shop))
      throw new Refused(409, 'sign-in-on', 'Somebody else has just switched sign-in on.', undefined, 'Sign in.');
    const known = tx
      .select({ id: people.id })
      .from(people)
      .where(and(sql`lower(${people.name}) = ${name.toLowerCase()}`, isNull(people.leftMs)))
      .get();
    const id = known?.id ?? newId('person');
    mustBeFree(tx, asked.signInName, id);
    const values = {
      role: 'owner',
      signInName: asked.signInName.toLowerCase(),
      password,
      totp: null,
      totpStep: null,
    } as const;
    if (known) {
      tx.update(people).set(values).where(eq(people.id, id)).run();
      tx.delete(sessions).where(eq(sessions.personId, id)).run();
    } else
      tx.insert(people)
        .values({ id, name, ...values })
        .run();
    // From here on it is wanted by itself: a start on this machine alone does not open the shop to everybody again.
    storeSignIn(tx, true);
    if (!isOn) {
      work.note({ kind: 'sign-in.on', subject: ['shop', 'sign-in'], actor: { kind: 'person', id, name }, data: {} });
    }
    const row = personById(tx, id);
    work.touch({ type: 'people', id });
    work.note({
      kind: 'person.role',
      subject: ['person', id],
      actor: { kind: 'person', id, name },
      data: { person: row.name, role: 'owner' },
    });
    return signedIn(shop, work, row, from.device, 'code');
  });
  shop.bus.tell('sign-in', {});
  return secret;
}

/** Somebody who was given a code chooses name and password, and is signed in; every session from before has ended. */
export async function takeCode(shop: Shop, asked: TakeCode, from: From): Promise<string> {
  mustBeOn(shop);
  const counted = countedByCode(from.address);
  beginAttempt(shop, counted);
  const digest = mustBeCode(shop.db, asked.code, shop.realNow(), 'somebody');
  attemptWentWell(shop, counted);
  const code = shop.db.select().from(oneTimeCodes).where(eq(oneTimeCodes.digest, digest)).get();
  const { id, name } = personById(shop.db, code?.personId ?? '');
  mustBePassword(asked.password, [name, asked.signInName]);
  const password = await hashOf(asked.password);
  const secret = transact(shop, (work) => {
    const { tx } = work;
    mustBeCode(tx, asked.code, shop.realNow(), 'somebody');
    tx.delete(oneTimeCodes).where(eq(oneTimeCodes.digest, digest)).run();
    mustBeFree(tx, asked.signInName, id);
    tx.update(people)
      .set({ signInName: asked.signInName.toLowerCase(), password, totp: null, totpStep: null })
      .where(eq(people.id, id))
      .run();
    tx.delete(sessions).where(eq(sessions.personId, id)).run();
    const row = personById(tx, id);
    work.touch({ type: 'people', id });
    work.note({
      kind: 'person.password',
      subject: ['person', id],
      actor: { kind: 'person', id, name: row.name },
      data: { person: row.name },
    });
    return signedIn(shop, work, row, from.device, 'code');
  });
  shop.bus.tell('sign-in', {});
  return secret;
}

/** Another password for whoever asks; everywhere else they have to sign in again. */
export async function changePassword(
  shop: Shop,
  caller: Caller,
  { present, next }: { readonly present: string; readonly next: string },
): Promise<void> {
  await mustBeOwnPassword(shop, caller, present);
  const { id, name, signInName } = personOf(shop.db, caller);
  mustBePassword(next, [name, ...(signInName === null ? [] : [signInName])]);
  const password = await hashOf(next);
  transact(shop, (work) => {
    work.tx.update(people).set({ password }).where(eq(people.id, id)).run();
    const elsewhere = eq(sessions.personId, id);
    work.tx
      .delete(sessions)
      .where(caller.sessionId === null ? elsewhere : and(elsewhere, ne(sessions.id, caller.sessionId)))
      .run();
    work.note({ kind: 'person.password', subject: ['person', id], actor: caller.actor, data: { person: name } });
  });
  shop.bus.tell('sign-in', {});
}

function mustBeOn(shop: Shop): void {
  if (!signInIsOn(shop)) throw new Refused(409, 'sign-in-off', 'Nobody has to sign in here.');
}

/** @returns what is kept of the code */
function mustBeCode(db: Reader, typed: string, realMs: number, whose: 'somebody' | null): string {
  const digest = digestOf(readCode(typed));
  const row = db.select().from(oneTimeCodes).where(eq(oneTimeCodes.digest, digest)).get();
  const right = row !== undefined && realMs < row.untilMs && (row.personId === null) === (whose === null);
  if (right) return digest;
  throw whose === null
    ? new Refused(
        401,
        'wrong-code',
        'This is not the code that the server printed, or it has been used.',
        undefined,
        'Start the server with --owner-code for a new one.',
      )
    : new Refused(
        401,
        'wrong-code',
        'This code is wrong, has been used, or is older than a week.',
        undefined,
        'Ask an owner for a new one.',
      );
}

function mustBeFree(tx: Reader, signInName: string, id: string): void {
  const name = signInName.toLowerCase();
  const other = tx
    .select({ id: people.id })
    .from(people)
    .where(and(eq(people.signInName, name), ne(people.id, id)))
    .get();
  if (other)
    throw new Refused(
      409,
      'name-taken',
      `Somebody signs in as ${name} already.`,
      undefined,
      'Choose another name to sign in with.',
    );
}
