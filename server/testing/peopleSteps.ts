import { type TestHttp, openTestHttp } from './httpFixture.ts';
import { asPage } from './signedIn.ts';

export const PASSWORD = 'four herons wade ashore';
export const OWNER = { name: 'Odile Marr', signInName: 'Odile', password: PASSWORD };

/** A shop behind its API whose machine has a clock that a test sets. */
export async function openPeopleShop(): Promise<{ readonly http: TestHttp; readonly clock: { nowMs: number } }> {
  const http = await openTestHttp();
  const clock = { nowMs: Date.parse('2027-03-22T09:00:00Z') };
  Object.defineProperty(http.shop, 'realNow', { value: () => clock.nowMs });
  return { http, clock };
}

/** Nobody has to sign in; then somebody at this machine makes themselves the owner. @returns their cookie */
export async function becomeOwner(http: TestHttp): Promise<string> {
  const { status, cookie } = await asPage(http, '', 'POST', '/api/sign-in/owner', OWNER);
  if (status !== 200) throw new Error(`nobody became the owner: ${String(status)}`);
  return cookie;
}

/** Signs in as a page does, with the code of an app where one is used. */
export const signInAs = (http: TestHttp, name: string, password: string, code?: string) =>
  asPage(http, '', 'POST', '/api/sign-in', { name, password, ...(code === undefined ? {} : { code }) });
