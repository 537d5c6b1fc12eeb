import type { Role } from '../../core/people/rights.ts';
import { people } from '../db/tables/peopleTables.ts';
import { type Shop, newId, transact } from '../shop.ts';
import { openSession } from '../usecases/people/sessions.ts';
import { storeSignIn } from '../usecases/people/signInSwitch.ts';
import type { TestHttp } from './httpFixture.ts';

/** Somebody of a role, signed in without a password: tests that look at rights need not wait for one to be checked. */
export function signedInAs(
  shop: Shop,
  role: Role,
  name = `The ${role}`,
): { readonly personId: string; readonly cookie: string } {
  const personId = newId('person');
  return transact(shop, (work) => {
    work.tx
      .insert(people)
      .values({ id: personId, name, role, providerSubject: `test ${personId}` })
      .run();
    storeSignIn(work.tx, true);
    return { personId, cookie: `yellow-spool-session=${openSession(work, shop.realNow(), personId, 'a test')}` };
  });
}

/** A request as a page of the shop's own sends it. */
export async function asPage(
  http: TestHttp,
  cookie: string,
  method: string,
  path: string,
  body?: unknown,
): Promise<{ readonly status: number; readonly body: unknown; readonly cookie: string }> {
  const answer = await fetch(http.base + path, {
    method,
    headers: { cookie, origin: http.base, ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const text = await answer.text();
  const kept = answer.headers.getSetCookie().map((each) => each.split(';')[0] ?? '');
  return {
    status: answer.status,
    body: text.startsWith('{') || text.startsWith('[') ? JSON.parse(text) : text,
    cookie: kept.join('; '),
  };
}
