import { type TestHttp, openTestHttp } from '../../../testing/httpFixture.ts';
import { type ProviderStandIn, openProviderStandIn } from '../../../testing/providerStandIn.ts';
import { asPage, signedInAs } from '../../../testing/signedIn.ts';
import type { Me } from '../../../../contract/api/people.ts';

let http: TestHttp;
let provider: ProviderStandIn;
let owner: string;
const SECRET = 'the secret of the shop';

beforeEach(async () => {
  [http, provider] = await Promise.all([openTestHttp(), openProviderStandIn(SECRET)]);
  owner = signedInAs(http.shop, 'owner').cookie;
});
afterEach(async () => {
  await Promise.all([http.close(), provider.close()]);
});

const set = (clientSecret?: string, issuer = provider.issuer) =>
  asPage(http, owner, 'PUT', '/api/sign-in/provider', {
    ...{ name: 'Tidewrack accounts', issuer, clientId: 'the-shop' },
    ...(clientSecret === undefined ? {} : { clientSecret }),
  });

/** The way of a browser: to the provider, which sends it back at once. */
async function goThere(): Promise<{ readonly query: string; readonly leaving: string; readonly to: string }> {
  const left = await asPage(http, '', 'POST', '/api/sign-in/provider');
  const { url = '' } = left.body as { url?: string };
  const sent = await fetch(url, { redirect: 'manual' });
  const to = new URL(sent.headers.get('location') ?? '');
  return { query: to.search, leaving: left.cookie, to: to.origin + to.pathname };
}

const comeBack = ({ query, leaving }: { readonly query: string; readonly leaving: string }) =>
  asPage(http, leaving, 'POST', '/api/sign-in/provider/back', { query });

test('a person of the shop signs in by the address that the provider has looked into, and from then on by the name that stays', async () => {
  await set(SECRET);
  const there = await goThere();
  expect(there.to).toBe(`${http.base}/sign-in/back`);
  const back = await comeBack(there);
  expect(back.status).toBe(200);
  const me = (await asPage(http, back.cookie, 'GET', '/api/me')).body as Me;
  expect([me.person?.name, me.person?.role, me.provider]).toEqual(['Odile Marr', 'coordinator', 'Tidewrack accounts']);
  // Another address later, the same account.
  provider.account = { ...provider.account, email: 'o.marr@elsewhere.example', email_verified: false };
  expect((await comeBack(await goThere())).status).toBe(200);
  // Somebody else who has that address now is not her.
  provider.account = { sub: '4712', email: 'odile@tidewrack.example', email_verified: true };
  expect((await comeBack(await goThere())).body).toMatchObject({ error: { code: 'not-known' } });
});

test('nobody gets in whom the shop does not know, or whose address nobody has looked into', async () => {
  await set(SECRET);
  provider.account = { ...provider.account, email_verified: false };
  expect(await comeBack(await goThere())).toMatchObject({ status: 403, body: { error: { code: 'not-known' } } });
  provider.account = { sub: '1', email: 'stranger@elsewhere.example', email_verified: true };
  expect(await comeBack(await goThere())).toMatchObject({ status: 403, body: { error: { code: 'not-known' } } });
});

test('what comes back counts once, in the browser that left, and only as it was asked for', async () => {
  await set(SECRET);
  const mine = await goThere();
  const another = await goThere();
  const refused = { status: 401, body: { error: { code: 'provider-refused' } } };
  // Somebody else's way back, put into this browser.
  expect(await comeBack({ query: another.query, leaving: mine.leaving })).toMatchObject(refused);
  expect(await comeBack({ query: mine.query, leaving: '' })).toMatchObject({
    status: 401,
    body: { error: { code: 'not-expected' } },
  });
  expect((await comeBack(mine)).status).toBe(200);
  expect(await comeBack(mine)).toMatchObject(refused);
  for (const lies of [{ nonce: 'another' }, { aud: 'another-shop' }, { iss: 'https://another.example' }]) {
    provider.lies = lies;
    expect(await comeBack(await goThere())).toMatchObject(refused);
  }
  provider.lies = {};
  await set('a wrong secret');
  expect(await comeBack(await goThere())).toMatchObject(refused);
});

test('strangers can’t have the provider asked again and again: what it can do is kept for ten minutes, and only of this one', async () => {
  await set(SECRET);
  const before = provider.discoveries;
  for (let i = 0; i < 5; i += 1) await asPage(http, '', 'POST', '/api/sign-in/provider');
  expect(provider.discoveries - before).toBe(1);
  const later = Date.now() + 11 * 60_000;
  Object.defineProperty(http.shop, 'realNow', { value: () => later });
  await asPage(http, '', 'POST', '/api/sign-in/provider');
  expect(provider.discoveries - before).toBe(2);
});

test('a provider is set once it answers; its secret is never told, and stays where none is said', async () => {
  expect(await set(SECRET, 'http://127.0.0.1:9')).toMatchObject({
    status: 422,
    body: { error: { code: 'no-provider' } },
  });
  expect(await set(SECRET, 'http://accounts.example')).toMatchObject({
    status: 422,
    body: { error: { code: 'not-safe' } },
  });
  await set(SECRET);
  await set();
  const view = await asPage(http, owner, 'GET', '/api/sign-in/provider');
  expect(view.body).toEqual({
    provider: { name: 'Tidewrack accounts', issuer: provider.issuer, clientId: 'the-shop', hasSecret: true },
    returnTo: `${http.base}/sign-in/back`,
  });
  expect((await comeBack(await goThere())).status).toBe(200);
  await asPage(http, owner, 'DELETE', '/api/sign-in/provider');
  expect((await asPage(http, '', 'POST', '/api/sign-in/provider')).body).toMatchObject({
    error: { code: 'no-provider' },
  });
});
