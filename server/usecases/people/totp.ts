import { eq } from 'drizzle-orm';
import { Secret, TOTP } from 'otpauth';
import type { TotpOffer } from '../../../contract/api/people.ts';
import { people } from '../../db/tables/peopleTables.ts';
import { Refused, type Shop, transact } from '../../shop.ts';
import type { Caller } from './sessions.ts';
import { mustBeOwnPassword, personOf } from './people.ts';

const STEP_S = 30;
/** A clock that is half a minute off is no reason to be sent away. */
const WINDOW = 1;

function generator(secret: string, label: string): TOTP {
  return new TOTP({ issuer: 'Yellow Spool', label, digits: 6, period: STEP_S, secret: Secret.fromBase32(secret) });
}

/** @returns the step of a code that counts; null where it doesn't, or has counted before */
export function stepOfCode(secret: string, code: string, lastStep: number | null, realMs: number): number | null {
  const delta = generator(secret, '').validate({ token: code.replace(/\s/g, ''), timestamp: realMs, window: WINDOW });
  if (delta === null) return null;
  const step = Math.floor(realMs / 1000 / STEP_S) + delta;
  return lastStep !== null && step <= lastStep ? null : step;
}

/** A new secret for an app of this person's; nothing is kept until a code proves that the app has it. */
export function offerTotp(shop: Shop, caller: Caller): TotpOffer {
  const { signInName, name } = personOf(shop.db, caller);
  const secret = new Secret({ size: 20 }).base32;
  return { secret, uri: generator(secret, signInName ?? name).toString() };
}

/** From now on this person signs in with one-time codes, too. */
export function takeTotp(
  shop: Shop,
  caller: Caller,
  { secret, code }: { readonly secret: string; readonly code: string },
): void {
  if (!/^[A-Z2-7]{16,64}$/.test(secret)) throw new Refused(400, 'bad-request', 'The secret is not base 32.');
  const step = stepOfCode(secret, code, null, shop.realNow());
  if (step === null) {
    throw new Refused(
      422,
      'wrong-code',
      'This is not the code that the app shows now.',
      undefined,
      'Wait for the next one, and look whether the clock of the phone is right.',
    );
  }
  keep(shop, caller, { totp: secret, totpStep: step });
}

/** One-time codes are no longer asked for; whoever wants that has to know the password. */
export async function dropTotp(shop: Shop, caller: Caller, password: string): Promise<void> {
  await mustBeOwnPassword(shop, caller, password);
  keep(shop, caller, { totp: null, totpStep: null });
}

function keep(
  shop: Shop,
  caller: Caller,
  values: { readonly totp: string | null; readonly totpStep: number | null },
): void {
  transact(shop, (work) => {
    const { id, name } = personOf(work.tx, caller);
    work.tx.update(people).set(values).where(eq(people.id, id)).run();
    work.note({
      kind: 'person.one-time-codes',
      subject: ['person', id],
      actor: caller.actor,
      data: { person: name, on: values.totp !== null },
    });
  });
  shop.bus.tell('sign-in', {});
}
