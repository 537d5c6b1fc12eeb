import type { Page } from '@playwright/test';
import type { OneTimeCode, PersonBody, PersonView } from '../../contract/api/people.ts';
import type { TestShop } from './shop.ts';

export type Role = PersonBody['role'];

/** Enough of a password for a test; each person has their own. */
export const passwordOf = (signInName: string): string => `${signInName} wades ashore at dusk`;

/** The cookie of an answer that has signed somebody in, with what a page sends besides. */
async function signedIn(shop: TestShop, path: string, body: unknown): Promise<Readonly<Record<string, string>>> {
  const answer = await fetch(shop.url + path, {
    method: 'POST',
    headers: { origin: shop.url, 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
  if (!answer.ok) throw new Error(`${path}: ${String(answer.status)} ${await answer.text()}`);
  const cookie = answer.headers
    .getSetCookie()
    .map((each) => each.split(';')[0])
    .join('; ');
  return { cookie, origin: shop.url };
}

/** Has people sign in: somebody becomes the owner, and the test itself goes on as them. */
export async function haveSignIn(shop: TestShop, name = 'Odile Marr', signInName = 'odile'): Promise<void> {
  const password = passwordOf(signInName);
  shop.headers = await signedIn(shop, '/api/sign-in/owner', { name, signInName, password });
}

/** Somebody of a role who can sign in as `signInName`. */
export async function addPerson(shop: TestShop, name: string, role: Role, signInName: string): Promise<string> {
  const known = (await shop.get<PersonView[]>('/api/people')).find((person) => person.name === name);
  const body = { name, does: '', role, mail: null, hours: null, quiet: null };
  const { id } = known
    ? await shop.send<PersonView>('PATCH', `/api/people/${known.id}`, { role })
    : await shop.send<PersonView>('POST', '/api/people', body);
  const { code } = await shop.send<OneTimeCode>('POST', `/api/people/${id}/code`);
  await signedIn(shop, '/api/sign-in/code', { code, signInName, password: passwordOf(signInName) });
  return id;
}

/** At the page that asks who is there. */
export async function signInAt(page: Page, signInName: string): Promise<void> {
  await page.getByLabel('Name', { exact: true }).fill(signInName);
  await page.getByLabel('Password').fill(passwordOf(signInName));
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
}
