import { mkdirSync, writeFileSync } from 'node:fs';
import { type AddressInfo, connect } from 'node:net';
import { dirname } from 'node:path';
import { eq } from 'drizzle-orm';
import { jobs } from '../db/tables/schema.ts';
import { admitPlain } from '../testing/shopFixture.ts';
import { type TestHttp, openTestHttp } from '../testing/httpFixture.ts';
import { asPage, signedInAs } from '../testing/signedIn.ts';

let http: TestHttp;
beforeEach(async () => {
  http = await openTestHttp();
});
afterEach(() => http.close());

test('a stranger may send little; whoever is signed in may send a whole list', async () => {
  const { cookie } = signedInAs(http.shop, 'owner');
  const long = { name: 'x'.repeat(20_000), password: 'y' };
  expect(await asPage(http, '', 'POST', '/api/sign-in', long)).toMatchObject({
    status: 413,
    body: { error: { code: 'too-large' } },
  });
  const many = { jobIds: ['nothing'], change: { notes: 'z' }, more: 'z'.repeat(2_000_000) };
  expect((await asPage(http, cookie, 'PATCH', '/api/jobs', many)).status).not.toBe(413);
});

test('of a stranger’s upload nothing is read: it is refused while it is still being sent', async () => {
  signedInAs(http.shop, 'owner');
  const { port } = http.server.address() as AddressInfo;
  const socket = connect(port, '127.0.0.1');
  socket.write(
    `POST /api/jobs HTTP/1.1\r\nHost: 127.0.0.1:${String(port)}\r\nContent-Type: multipart/form-data; boundary=b\r\nContent-Length: 4000000000\r\n\r\n--b\r\n`,
  );
  const said = await new Promise<string>((done) =>
    socket.once('data', (chunk: Buffer) => {
      done(chunk.toString());
    }),
  );
  expect(said).toMatch(/^HTTP\/1\.1 401 /);
  socket.destroy();
});

test('one person’s pages do not take all lines to the shop: the sixty-first is refused, and another person still gets theirs', async () => {
  const { cookie } = signedInAs(http.shop, 'viewer', 'Ada Osier');
  const other = signedInAs(http.shop, 'viewer', 'Bea Osier').cookie;
  const stop = new AbortController();
  const open = (as: string) => fetch(`${http.base}/api/events`, { headers: { cookie: as }, signal: stop.signal });
  const lines = await Promise.all(Array.from({ length: 60 }, () => open(cookie)));
  expect(new Set(lines.map(({ status }) => status))).toEqual(new Set([200]));
  const late = await open(cookie);
  expect([late.status, await late.json()]).toMatchObject([
    503,
    { error: { code: 'too-many-pages', figures: { own: 60 } } },
  ]);
  expect((await open(other)).status).toBe(200);
  stop.abort();
  // As soon as they are closed there is room again.
  await expect(
    (async () => {
      for (let i = 0; i < 100; i += 1) {
        const again = await fetch(`${http.base}/api/events`, { headers: { cookie } });
        void again.body?.cancel();
        if (again.status === 200) return 'taken';
        await new Promise((done) => setTimeout(done, 30));
      }
      return 'refused';
    })(),
  ).resolves.toBe('taken');
});

test('what a page may load comes from this server alone, and no answer is guessed at, framed or kept on the way', async () => {
  const { headers } = await fetch(`${http.base}/`);
  const policy = headers.get('content-security-policy') ?? '';
  expect(policy).toContain("default-src 'self'");
  expect(policy).toContain("script-src 'self';");
  expect(policy).toContain("frame-ancestors 'none'");
  expect(policy).toContain("object-src 'none'");
  expect(policy).not.toMatch(/script-src[^;]*unsafe|style-src [^;]*unsafe/);
  const again = (await fetch(`${http.base}/`)).headers.get('content-security-policy');
  // Each page has a nonce of its own.
  expect(/'nonce-[\w+/=]{24}'/.exec(again ?? '')?.[0]).not.toBe(/'nonce-[\w+/=]{24}'/.exec(policy)?.[0]);
  expect(headers.get('x-content-type-options')).toBe('nosniff');
  expect(headers.get('referrer-policy')).toBe('no-referrer');
  expect((await fetch(`${http.base}/api/me`)).headers.get('cache-control')).toBe('no-store');
  expect((await fetch(`${http.base}/api/openapi.json`)).status).toBe(200);
  signedInAs(http.shop, 'owner');
  expect((await fetch(`${http.base}/api/openapi.json`)).status).toBe(401);
});

test('a file that came in is handed out to be kept, never to be shown, and its name says nothing to a header', async () => {
  const name = 'a"b\\c ü\u2028;filename=x.html.pdf';
  const id = admitPlain(http.shop, name, [[300, 200]]);
  const path = http.shop.paths.source('a'.repeat(64));
  mkdirSync(dirname(path), { recursive: true });
  writeFileSync(path, '<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>');
  http.shop.db.update(jobs).set({ format: 'svg' }).where(eq(jobs.id, id)).run();
  const answer = await fetch(`${http.base}/api/jobs/${id}/file`);
  expect(answer.status).toBe(200);
  expect(answer.headers.get('content-disposition')).toMatch(
    /^attachment; filename="[\x20-\x7e]*"; filename\*=UTF-8''[\w%.~!-]+$/,
  );
  expect(answer.headers.get('content-security-policy')).toContain('sandbox');
  expect(answer.headers.get('x-content-type-options')).toBe('nosniff');
});
