import { eq } from 'drizzle-orm';
import type { Me, OneTimeCode, PersonView, TokenView } from '../../../../contract/api/people.ts';
import { eventSentence } from '../../../../core/events/sentence.ts';
import { people } from '../../../db/tables/peopleTables.ts';
import { events } from '../../../db/tables/records.ts';
import type { TestHttp } from '../../../testing/httpFixture.ts';
import { becomeOwner, openPeopleShop } from '../../../testing/peopleSteps.ts';
import { asPage, signedInAs } from '../../../testing/signedIn.ts';

let http: TestHttp;
let clock: { nowMs: number };
beforeEach(async () => {
  ({ http, clock } = await openPeopleShop());
});
afterEach(() => http.close());

const HOUR = 3_600_000;
const page = (cookie: string, method: string, path: string, body?: unknown) => asPage(http, cookie, method, path, body);
const me = async (cookie: string): Promise<Me> => (await page(cookie, 'GET', '/api/me')).body as Me;
const log = (): string[] =>
  http.shop.db
    .select()
    .from(events)
    .all()
    .map((row) => `${eventSentence(row)} · ${row.who}`);

describe('people', () => {
  const bram = {
    name: 'Bram Osier',
    does: 'loads',
    role: 'operator',
    mail: null,
    hours: null,
    quiet: { from: '22:00', to: '06:00' },
  };

  test('an owner adds somebody and hands on a code; with it they choose how to sign in, once', async () => {
    const cookie = await becomeOwner(http);
    const { id } = (await page(cookie, 'POST', '/api/people', bram)).body as PersonView;
    expect((await page(cookie, 'POST', '/api/people', { ...bram, name: ' bram osier ' })).status).toBe(409);
    const { code } = (await page(cookie, 'POST', `/api/people/${id}/code`)).body as OneTimeCode;
    const take = (signInName: string) =>
      page('', 'POST', '/api/sign-in/code', { code, signInName, password: 'nine gulls over the quay' });
    expect((await take('odile')).body).toMatchObject({ error: { code: 'name-taken' } });
    const own = await take('bram');
    expect([(await me(own.cookie)).person, (await me(own.cookie)).right]).toMatchObject([
      { id, role: 'operator' },
      'operate',
    ]);
    expect((await take('bram2')).status).toBe(401);
    expect(log()).toEqual(
      expect.arrayContaining(['Bram Osier added as operator · Odile Marr', 'Bram Osier chose a password · Bram Osier']),
    );
    // What he does from now on is his.
    await page(own.cookie, 'POST', '/api/spools/spool-bo-31/unload');
    expect(http.shop.db.select().from(events).all().at(-1)).toMatchObject({
      ...{ kind: 'spool.unloaded', actorId: id, who: 'Bram Osier' },
    });
  });

  test('what is known of somebody is for owners: neither the log nor a live event tells it to others', async () => {
    const cookie = await becomeOwner(http);
    const viewer = signedInAs(http.shop, 'viewer').cookie;
    const { id } = (await page(cookie, 'POST', '/api/people', { ...bram, mail: 'bram@tidewrack.example' }))
      .body as PersonView;
    await page(cookie, 'PATCH', `/api/people/${id}`, { mail: 'osier@tidewrack.example' });
    await page(cookie, 'PATCH', `/api/people/${id}`, { does: 'finishes' });
    const seen = JSON.stringify((await page(viewer, 'GET', '/api/log')).body);
    expect(seen).not.toMatch(/tidewrack\.example|22:00/);
    // What can be told can be taken back.
    expect(seen).toContain('"body":{"does":"loads"}');
  });

  test('an address that is none and hours that end before they begin are refused in words; nothing of them is kept', async () => {
    const cookie = await becomeOwner(http);
    const { id } = (await page(cookie, 'POST', '/api/people', bram)).body as PersonView;
    const change = (part: object) => page(cookie, 'PATCH', `/api/people/${id}`, { does: 'packs', ...part });
    expect(await change({ mail: 'abc' })).toMatchObject({
      status: 422,
      body: { error: { code: 'no-address', message: expect.stringContaining('“abc” is no address') as string } },
    });
    expect(await change({ hours: [{ weekday: 1, from: '18:00', to: '07:30' }] })).toMatchObject({
      status: 422,
      body: { error: { code: 'hours', message: expect.stringContaining('18:00 to 07:30') as string } },
    });
    const [kept] = ((await page(cookie, 'GET', '/api/people')).body as PersonView[]).filter((each) => each.id === id);
    expect(kept).toMatchObject({ does: 'loads', mail: null, hours: null });
  });

  test('a change of somebody sets what an owner may set, whatever else it brings', async () => {
    const cookie = await becomeOwner(http);
    const { personId: id } = signedInAs(http.shop, 'operator', 'Ines Osier');
    const before = http.shop.db.select().from(people).where(eq(people.id, id)).get();
    const more = {
      password: 'scrypt$1$1$1$x$x',
      signInName: 'ines',
      totp: 'JSOVKFKU',
      providerSubject: 'me',
      leftMs: 5,
      id: 'x',
    };
    expect((await page(cookie, 'PATCH', `/api/people/${id}`, { does: 'packs', ...more })).status).toBe(200);
    expect(http.shop.db.select().from(people).where(eq(people.id, id)).get()).toEqual({ ...before, does: 'packs' });
    const made = (await page(cookie, 'POST', '/api/people', { ...bram, ...more })).body as PersonView;
    expect(made).toMatchObject({ hasPassword: false, signInName: null, usesCodes: false, usesProvider: false });
    expect(JSON.stringify((await page(cookie, 'GET', '/api/log')).body)).not.toMatch(/scrypt|JSOVKFKU/);
  });

  test('a role counts at once; the last owner stays one; whoever leaves is out, and so are their programs', async () => {
    const cookie = await becomeOwner(http);
    const self = (await me(cookie)).person?.id ?? '';
    const { personId, cookie: theirs } = signedInAs(http.shop, 'coordinator', 'Ines Osier');
    const { token } = (await page(theirs, 'POST', '/api/me/tokens', { name: 'board', scope: 'see', days: 5 })).body as {
      token: string;
    };
    const byToken = async () =>
      (await fetch(`${http.base}/api/jobs`, { headers: { authorization: `Bearer ${token}` } })).status;
    const byBasic = async () =>
      (await fetch(`${http.base}/api/calendar.ics`, { headers: { authorization: `Basic ${btoa(`ines:${token}`)}` } }))
        .status;
    expect([await byToken(), await byBasic()]).toEqual([200, 200]);
    await page(cookie, 'PATCH', `/api/people/${personId}`, { role: 'viewer' });
    expect((await page(theirs, 'POST', '/api/spools/spool-bo-31/unload')).status).toBe(403);
    expect((await page(cookie, 'PATCH', `/api/people/${self}`, { role: 'viewer' })).body).toMatchObject({
      error: { code: 'last-owner' },
    });
    expect((await page(cookie, 'DELETE', `/api/people/${self}`)).status).toBe(409);
    expect((await page(cookie, 'DELETE', `/api/people/${personId}`)).status).toBe(200);
    expect([(await page(theirs, 'GET', '/api/jobs')).status, await byToken()]).toEqual([401, 401]);
  });

  test('a token does no more than it says, no more than its person, and no longer than it says', async () => {
    const cookie = await becomeOwner(http);
    const { cookie: theirs } = signedInAs(http.shop, 'operator');
    expect((await page(theirs, 'POST', '/api/me/tokens', { name: 'x', scope: 'coordinate', days: 1 })).status).toBe(
      403,
    );
    const { token } = (
      await page(cookie, 'POST', '/api/me/tokens', { name: 'the cutter’s screen', scope: 'operate', days: 2 })
    ).body as { token: string };
    const as = (method: string, path: string) =>
      fetch(http.base + path, { method, headers: { authorization: `Bearer ${token}` } });
    expect([
      (await as('POST', '/api/spools/spool-bo-31/unload')).status,
      (await as('POST', '/api/runs')).status,
    ]).toEqual([200, 403]);
    expect(http.shop.db.select().from(events).all().at(-1)?.who).toBe('Odile Marr (the cutter’s screen)');
    const [view] = (await page(cookie, 'GET', '/api/me/tokens')).body as TokenView[];
    expect([view?.usedMs, view?.untilMs]).toEqual([clock.nowMs, clock.nowMs + 48 * HOUR]);
    clock.nowMs += 48 * HOUR;
    expect((await as('GET', '/api/jobs')).status).toBe(401);
  });

  test('what somebody prefers is theirs wherever they sign in, and nobody else’s', async () => {
    const { cookie } = signedInAs(http.shop, 'viewer', 'Ada Osier');
    const other = signedInAs(http.shop, 'viewer', 'Bea Osier').cookie;
    await page(cookie, 'PATCH', '/api/me/preferences', { units: 'in', theme: 'dark' });
    await page(cookie, 'PATCH', '/api/me/preferences', { theme: 'light', intakeViews: [{ name: 'late' }] });
    expect([(await me(cookie)).preferences, (await me(other)).preferences]).toEqual([
      { units: 'in', theme: 'light', intakeViews: [{ name: 'late' }] },
      {},
    ]);
    expect((await page(cookie, 'PATCH', '/api/me/preferences', { colour: 'red' })).status).toBe(400);
    expect((await page(cookie, 'PATCH', '/api/me/preferences', { units: 'ell' })).status).toBe(400);
  });

  test('a refusal that is put away is off the list, and the log says who did it', async () => {
    await http.upload('heron-banners', ['torn.pdf', '%PDF-1.4 torn']);
    const [refusal] = (await http.call('GET', '/api/refusals')).body as {
      readonly id: string;
      readonly sourceName: string;
    }[];
    expect(refusal?.sourceName).toBe('torn.pdf');
    const { cookie } = signedInAs(http.shop, 'coordinator', 'Ines Quay');
    const path = `/api/refusals/${refusal?.id ?? ''}/dismiss`;
    expect((await asPage(http, cookie, 'POST', path)).status).toBe(200);
    expect((await asPage(http, cookie, 'GET', '/api/refusals')).body).toEqual([]);
    expect((await asPage(http, cookie, 'GET', '/api/log?limit=1')).body).toMatchObject([
      { kind: 'refusal.dismissed', data: { file: 'torn.pdf' }, who: 'Ines Quay' },
    ]);
  });
});
