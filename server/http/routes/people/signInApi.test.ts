import { TOTP, Secret } from 'otpauth';
import type { Me, SessionView, TokenView, TotpOffer } from '../../../../contract/api/people.ts';
import { people, sessions } from '../../../db/tables/peopleTables.ts';
import type { TestHttp } from '../../../testing/httpFixture.ts';
import { OWNER, PASSWORD, becomeOwner, openPeopleShop, signInAs } from '../../../testing/peopleSteps.ts';
import { asPage, signedInAs } from '../../../testing/signedIn.ts';
import { ownerCode } from '../../../usecases/people/people.ts';
import { storeSignIn } from '../../../usecases/people/signInSwitch.ts';

let http: TestHttp;
let clock: { nowMs: number };
beforeEach(async () => {
  ({ http, clock } = await openPeopleShop());
});
afterEach(() => http.close());

const HOUR = 3_600_000;
const page = (cookie: string, method: string, path: string, body?: unknown) => asPage(http, cookie, method, path, body);
const me = async (cookie: string): Promise<Me> => (await page(cookie, 'GET', '/api/me')).body as Me;

describe('the first owner', () => {
  test('while nobody has to sign in, whoever is at this machine may do everything, and may make that end', async () => {
    expect(await me('')).toMatchObject({ signIn: 'off', right: 'set up', person: null, ownerWanted: false });
    expect((await signInAs(http, 'odile', PASSWORD)).body).toMatchObject({ error: { code: 'sign-in-off' } });
    expect((await page('', 'PUT', '/api/sign-in', { on: true })).body).toMatchObject({ error: { code: 'no-owner' } });
    const cookie = await becomeOwner(http);
    // There was an Odile among the people already: she is the owner now, not a second one of that name.
    expect(await me(cookie)).toMatchObject({
      signIn: 'on',
      right: 'set up',
      person: { name: 'Odile Marr', role: 'owner', signInName: 'odile' },
    });
    expect((await http.call('GET', '/api/people')).status).toBe(401);
    expect((await page('', 'POST', '/api/sign-in/owner', OWNER)).body).toMatchObject({ error: { code: 'wrong-code' } });
    expect((await page(cookie, 'PUT', '/api/sign-in', { on: false })).status).toBe(200);
    expect((await http.call('GET', '/api/people')).status).toBe(200);
  });

  test('where other machines can reach the shop it takes the code that the server printed, once and within a week', async () => {
    Object.defineProperty(http.shop, 'exposures', { value: () => ['it listens on 192.0.2.7'], configurable: true });
    expect(await me('')).toMatchObject({ signIn: 'on', ownerWanted: true, right: null });
    const ask = (code: string) => page('', 'POST', '/api/sign-in/owner', { ...OWNER, code });
    const first = ownerCode(http.shop);
    const code = ownerCode(http.shop);
    expect((await ask(first)).status).toBe(401);
    clock.nowMs += 8 * 24 * HOUR;
    expect((await ask(code)).status).toBe(401);
    const fresh = ownerCode(http.shop);
    // As people type it.
    const { status, cookie } = await ask(` ${fresh.toUpperCase().replaceAll('-', ' ')}`);
    expect([status, (await me(cookie)).person?.role]).toEqual([200, 'owner']);
    expect((await ask(fresh)).status).toBe(401);
    // A start on this machine alone does not open the shop to everybody again.
    const reached = http.shop.exposures;
    Object.defineProperty(http.shop, 'exposures', { value: () => [], configurable: true });
    expect((await me('')).signIn).toBe('on');
    Object.defineProperty(http.shop, 'exposures', { value: reached });
    expect((await page(cookie, 'PUT', '/api/sign-in', { on: false })).body).toMatchObject({
      error: { code: 'sign-in-needed', message: expect.stringContaining('it listens on 192.0.2.7') as string },
    });
  });
});

describe('a password', () => {
  test.each([
    ['eleven sign', 'at least 12'],
    ['qwerty123456', 'tried first'],
    ['aaaaaaaaaaaaaa', 'fewer than five'],
    ['odile-marr-1', 'little more than a name'],
    ['yellowspool1', 'little more than a name'],
  ])('%s can’t be used', async (password, why) => {
    const { status, body } = await page('', 'POST', '/api/sign-in/owner', {
      ...OWNER,
      signInName: 'odile-marr',
      password,
    });
    expect([status, body]).toEqual([
      422,
      { error: expect.objectContaining({ message: expect.stringContaining(why) as string }) as unknown },
    ]);
  });

  test('is kept as nothing that it could be read from, and never in the same form twice', async () => {
    const cookie = await becomeOwner(http);
    const [row] = http.shop.db
      .select()
      .from(people)
      .all()
      .filter(({ password }) => password !== null);
    expect(row?.password).toMatch(/^scrypt\$65536\$8\$1\$[\w-]{22}\$[\w-]{43}$/);
    await page(cookie, 'PUT', '/api/me/password', { present: PASSWORD, next: `${PASSWORD} again` });
    await page(cookie, 'PUT', '/api/me/password', { present: `${PASSWORD} again`, next: PASSWORD });
    const [later] = http.shop.db
      .select()
      .from(people)
      .all()
      .filter(({ password }) => password !== null);
    expect(later?.password).not.toBe(row?.password);
    expect((await signInAs(http, 'ODILE', PASSWORD)).status).toBe(200);
    const [session] = http.shop.db.select().from(sessions).all();
    expect(cookie).not.toContain(session?.digest);
  });

  test('is changed by who knows it; everywhere else the person has to sign in again', async () => {
    const here = await becomeOwner(http);
    const there = (await signInAs(http, 'odile', PASSWORD)).cookie;
    expect(
      (await page(here, 'PUT', '/api/me/password', { present: 'a wrong guess', next: 'five terns on the roof' }))
        .status,
    ).toBe(403);
    expect((await page(there, 'GET', '/api/jobs')).status).toBe(200);
    expect(
      (await page(here, 'PUT', '/api/me/password', { present: PASSWORD, next: 'five terns on the roof' })).status,
    ).toBe(200);
    expect([(await page(here, 'GET', '/api/jobs')).status, (await page(there, 'GET', '/api/jobs')).status]).toEqual([
      200, 401,
    ]);
    expect([
      (await signInAs(http, 'odile', PASSWORD)).status,
      (await signInAs(http, 'odile', 'five terns on the roof')).status,
    ]).toEqual([401, 200]);
  });
});

describe('attempts', () => {
  test('a wrong name and a wrong password are told in the same words; after five the next waits, twice as long each time', async () => {
    await becomeOwner(http);
    const unknown = await signInAs(http, 'nobody', 'a wrong guess');
    const wrong = await signInAs(http, 'odile', 'a wrong guess');
    expect([unknown.status, unknown.body]).toEqual([wrong.status, wrong.body]);
    for (let i = 0; i < 4; i += 1) expect((await signInAs(http, 'odile', 'a wrong guess')).status).toBe(401);
    const late = await signInAs(http, 'odile', PASSWORD);
    expect([late.status, late.body]).toEqual([
      429,
      { error: expect.objectContaining({ figures: { seconds: 1 } }) as unknown },
    ]);
    clock.nowMs += 1000;
    expect((await signInAs(http, 'odile', 'a wrong guess')).status).toBe(401);
    clock.nowMs += 1000;
    expect((await signInAs(http, 'odile', PASSWORD)).body).toMatchObject({ error: { figures: { seconds: 1 } } });
    clock.nowMs += 1000;
    expect((await signInAs(http, 'odile', PASSWORD)).status).toBe(200);
    // What went well ends the counting.
    expect((await signInAs(http, 'odile', 'a wrong guess')).status).toBe(401);
    expect((await signInAs(http, 'odile', PASSWORD)).status).toBe(200);
  });

  test('many at the same moment get no more tries than one after the other', async () => {
    await becomeOwner(http);
    const all = await Promise.all(Array.from({ length: 12 }, () => signInAs(http, 'odile', 'a wrong guess')));
    expect(all.filter(({ status }) => status === 401)).toHaveLength(5);
    expect(all.filter(({ status }) => status === 429)).toHaveLength(7);
  });

  test('an address that tries many names is held up, and what it has done is forgotten after a day', async () => {
    await becomeOwner(http);
    const tries: number[] = [];
    for (let i = 0; i < 31; i += 1) tries.push((await signInAs(http, `name-${String(i)}`, 'x')).status);
    expect([tries.filter((status) => status === 401).length, tries.at(-1)]).toEqual([30, 429]);
    clock.nowMs += 25 * HOUR;
    expect((await signInAs(http, 'odile', PASSWORD)).status).toBe(200);
  });
});

describe('sessions', () => {
  test('the cookie is out of reach for scripts and for other sites, and goes by TLS only where there is TLS', async () => {
    const plain = await fetch(`${http.base}/api/sign-in/owner`, {
      method: 'POST',
      headers: { origin: http.base, 'content-type': 'application/json' },
      body: JSON.stringify(OWNER),
    });
    expect(plain.headers.getSetCookie()).toEqual([
      expect.stringMatching(/^yellow-spool-session=[\w-]{43}; Max-Age=2592000; Path=\/; HttpOnly; SameSite=Lax$/),
    ]);
    expect(plain.headers.get('cache-control')).toBe('no-store');
  });

  test('ends when nobody was there for three days, and after thirty however much it was used', async () => {
    const idle = await becomeOwner(http);
    const used = (await signInAs(http, 'odile', PASSWORD)).cookie;
    for (let day = 1; day <= 29; day += 1) {
      clock.nowMs += 24 * HOUR;
      expect((await page(used, 'GET', '/api/jobs')).status).toBe(200);
      if (day === 2) continue;
      if (day > 3) expect((await page(idle, 'GET', '/api/jobs')).status).toBe(401);
    }
    clock.nowMs += 25 * HOUR;
    expect((await page(used, 'GET', '/api/jobs')).status).toBe(401);
    expect((await me(used)).person).toBeNull();
  });

  test('what a page was begun with is never done in the name of somebody who has signed in since', async () => {
    const { cookie, personId } = signedInAs(http.shop, 'operator', 'Ines Osier');
    const before = signedInAs(http.shop, 'operator', 'Bram Osier').personId;
    const unload = (as: string) =>
      fetch(`${http.base}/api/spools/spool-bo-31/unload`, {
        method: 'POST',
        headers: { cookie, origin: http.base, 'x-signed-in-as': as },
      });
    expect((await unload(before)).status).toBe(401);
    expect((await unload(personId)).status).toBe(200);
  });

  test('people see where they are signed in, and sign out one by one or everywhere', async () => {
    const here = await becomeOwner(http);
    const there = (await signInAs(http, 'odile', PASSWORD)).cookie;
    const list = (await page(here, 'GET', '/api/me/sessions')).body as SessionView[];
    expect(list.map((each) => each.here).sort()).toEqual([false, true]);
    const other = list.find((each) => !each.here)?.id ?? '';
    expect((await page(here, 'DELETE', `/api/me/sessions/${other}`)).status).toBe(200);
    expect((await page(there, 'GET', '/api/jobs')).status).toBe(401);
    // Nobody ends another one's session by its id.
    const bram = signedInAs(http.shop, 'viewer').cookie;
    const own = ((await page(here, 'GET', '/api/me/sessions')).body as SessionView[])[0]?.id ?? '';
    expect((await page(bram, 'DELETE', `/api/me/sessions/${own}`)).status).toBe(404);
    const third = (await signInAs(http, 'odile', PASSWORD)).cookie;
    expect((await page(third, 'POST', '/api/me/sign-out-everywhere')).status).toBe(200);
    expect([(await page(here, 'GET', '/api/jobs')).status, (await page(third, 'GET', '/api/jobs')).status]).toEqual([
      401, 401,
    ]);
  });

  /** What a page or program hears from here on, until its line ends. */
  async function hearing(
    headers: Record<string, string>,
  ): Promise<{ readonly over: Promise<void>; readonly heard: () => string }> {
    const listening = await fetch(`${http.base}/api/events`, { headers });
    let heard = '';
    const over = (async () => {
      for await (const chunk of listening.body as unknown as AsyncIterable<Uint8Array>)
        heard += Buffer.from(chunk).toString();
    })();
    return { over, heard: () => heard };
  }

  test('whoever listens hears nothing more once their session has ended, or their token is taken back', async () => {
    const { cookie, personId } = signedInAs(http.shop, 'viewer');
    const boss = signedInAs(http.shop, 'owner').cookie;
    const made = (await page(boss, 'POST', '/api/me/tokens', { name: 'board', scope: 'see', days: 1 }))
      .body as TokenView & { token: string };
    const line = await hearing({ cookie });
    const board = await hearing({ authorization: `Bearer ${made.token}` });
    http.shop.bus.tell('clock', { before: true });
    await page(boss, 'POST', `/api/people/${personId}/sign-out`);
    await line.over;
    http.shop.bus.tell('clock', { between: true });
    await page(boss, 'DELETE', `/api/me/tokens/${made.id}`);
    await board.over;
    http.shop.bus.tell('clock', { after: true });
    expect(line.heard()).toMatch(/before/);
    expect(line.heard()).not.toMatch(/between/);
    expect(board.heard()).toMatch(/between/);
    expect(board.heard()).not.toMatch(/after/);
  });

  test('pages of a shop in which nobody had to sign in hear nothing more once people have to', async () => {
    const line = await hearing({});
    await becomeOwner(http);
    await line.over;
    http.shop.bus.tell('clock', { after: true });
    expect(line.heard()).toMatch(/event: sign-in/);
    expect(line.heard()).not.toMatch(/after/);
  });
});

describe('one-time codes of an app', () => {
  test('are asked for once the app has shown that it has the secret; none counts twice; the password takes them off', async () => {
    const cookie = await becomeOwner(http);
    const { secret, uri } = (await page(cookie, 'POST', '/api/me/totp')).body as TotpOffer;
    expect(uri).toContain('otpauth://totp/Yellow%20Spool:odile');
    const app = new TOTP({ secret: Secret.fromBase32(secret) });
    const shown = () => app.generate({ timestamp: clock.nowMs });
    const wrong = (Number(shown()) + 1).toString().padStart(6, '0').slice(-6);
    expect((await page(cookie, 'PUT', '/api/me/totp', { secret, code: wrong })).status).toBe(422);
    expect((await signInAs(http, 'odile', PASSWORD)).status).toBe(200);
    expect((await page(cookie, 'PUT', '/api/me/totp', { secret, code: shown() })).status).toBe(200);
    expect((await signInAs(http, 'odile', PASSWORD)).body).toMatchObject({ error: { code: 'code-wanted' } });
    // That code has been used to prove it.
    expect((await signInAs(http, 'odile', PASSWORD, shown())).body).toMatchObject({ error: { code: 'wrong-code' } });
    clock.nowMs += 30_000;
    const code = shown();
    // A phone whose clock is half a minute behind is let in.
    clock.nowMs += 29_000;
    expect((await signInAs(http, 'odile', PASSWORD, code)).status).toBe(200);
    expect((await signInAs(http, 'odile', PASSWORD, code)).status).toBe(401);
    expect((await page(cookie, 'DELETE', '/api/me/totp', { password: 'a wrong guess' })).status).toBe(403);
    expect((await page(cookie, 'DELETE', '/api/me/totp', { password: PASSWORD })).status).toBe(200);
    expect((await signInAs(http, 'odile', PASSWORD)).status).toBe(200);
    // A wrong password never learns whether a code would be asked for.
    storeSignIn(http.shop.db, true);
    expect((await signInAs(http, 'odile', 'a wrong guess')).body).toMatchObject({ error: { code: 'wrong-sign-in' } });
  });
});
