import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { request as plain } from 'node:http';
import { request as byTls } from 'node:https';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { generate } from 'selfsigned';
import { createApp } from './http/app.ts';
import { type Listening, listen } from './listen.ts';
import { readOptions } from './options.ts';
import { type TestHttp, openTestHttp } from './testing/httpFixture.ts';
import { signedInAs } from './testing/signedIn.ts';
import { deviceLink, isDeviceLink } from './usecases/device/deviceLink.ts';

let dir: string;
let http: TestHttp;
let listening: Listening | undefined;
beforeEach(async () => {
  dir = mkdtempSync(join(tmpdir(), 'yellow-spool-test-'));
  http = await openTestHttp();
  http.ready = true;
});
afterEach(async () => {
  listening?.close();
  listening = undefined;
  await http.close();
  rmSync(dir, { recursive: true, force: true });
});

/** A certificate that was made up, for a name. */
async function certificate(
  name: string,
): Promise<{ readonly cert: string; readonly key: string; readonly pem: string }> {
  const { cert, private: key } = await generate([{ name: 'commonName', value: name }], { keySize: 2048 });
  writeFileSync(join(dir, 'cert.pem'), cert);
  writeFileSync(join(dir, 'key.pem'), key);
  return { cert: join(dir, 'cert.pem'), key: join(dir, 'key.pem'), pem: cert };
}

async function open(...args: string[]): Promise<Listening> {
  const options = readOptions(['--port', '0', ...args], dir, dir);
  const app = createApp(http.shop, http.routes, dir, {
    ports: () => listening?.ports() ?? [],
    names: () => listening?.names() ?? [],
    publicOrigin: options.publicUrl,
    trustedHops: options.trustedHops,
    onlyTls: options.certificate !== undefined,
    crewToken: 'the crew',
  });
  listening = await listen(app, options);
  return listening;
}

interface Answer {
  readonly status: number;
  readonly headers: Record<string, string | string[] | undefined>;
  readonly text: string;
}

function ask(
  url: string,
  headers: Record<string, string> = {},
  more: { ca?: string; method?: string; body?: string } = {},
): Promise<Answer> {
  const { ca, method = 'GET', body } = more;
  return new Promise((done, failed) => {
    const send = url.startsWith('https:') ? byTls : plain;
    const checkServerIdentity = (): undefined => undefined;
    const asked = send(url, { headers, method, ...(ca === undefined ? {} : { ca, checkServerIdentity }) }, (answer) => {
      let text = '';
      answer.on('data', (chunk: Buffer) => (text += chunk.toString()));
      answer.on('end', () => {
        done({ status: answer.statusCode ?? 0, headers: answer.headers, text });
      });
    });
    asked.on('error', failed);
    asked.end(body);
  });
}

test('with a certificate people are answered by TLS alone, and their cookies go no other way; devices have a port that only this machine reaches', async () => {
  const { cert, key, pem } = await certificate('127.0.0.1');
  const { address, inner } = await open('--cert', cert, '--key', key);
  expect(address()).toMatch(/^https:/);
  const health = await ask(`${address()}/api/health`, {}, { ca: pem });
  expect([health.status, health.headers['strict-transport-security']]).toEqual([200, 'max-age=31536000']);
  // Nobody's certificate is taken on trust, and nobody is answered without one.
  await expect(ask(`${address()}/api/health`)).rejects.toThrow(/self-signed|certificate/);
  await expect(ask(address().replace('https:', 'http:'))).rejects.toThrow();
  const body = JSON.stringify({ name: 'Odile', signInName: 'odile', password: 'four herons wade ashore' });
  const opened = await ask(
    `${address()}/api/sign-in/owner`,
    { origin: address(), 'content-type': 'application/json' },
    { ca: pem, method: 'POST', body },
  );
  expect(opened.headers['set-cookie']).toEqual([
    expect.stringMatching(/^__Host-yellow-spool=[\w-]{43}; Max-Age=\d+; Path=\/; HttpOnly; Secure; SameSite=Lax$/),
  ]);
  const cookie = String(opened.headers['set-cookie']).split(';')[0] ?? '';
  expect((await ask(`${address()}/api/jobs`, { cookie }, { ca: pem })).status).toBe(200);
  expect(inner()).toMatch(/^http:\/\/127\.0\.0\.1:/);
  expect((await ask(`${inner()}/api/health`)).status).toBe(200);
  // By that port no cookie counts.
  expect((await ask(`${inner()}/api/jobs`, { cookie })).status).toBe(401);
});

test('a certificate that was renewed is taken without a new start', async () => {
  const { cert, key } = await certificate('127.0.0.1');
  const { address, renew } = await open('--cert', cert, '--key', key);
  await new Promise((done) => setTimeout(done, 20));
  writeFileSync(cert, 'half of a certif');
  expect(renew).toThrow();
  const later = await certificate('127.0.0.1');
  await expect(ask(`${address()}/api/health`, {}, { ca: later.pem })).rejects.toThrow();
  renew();
  expect((await ask(`${address()}/api/health`, {}, { ca: later.pem })).status).toBe(200);
});

test('a proxy’s word counts only where it is trusted', async () => {
  signedInAs(http.shop, 'owner');
  const through = { host: 'print.example', 'x-forwarded-proto': 'https', 'x-forwarded-for': '192.0.2.9' };
  const out = (headers: Record<string, string>) =>
    ask(`${listening?.inner() ?? ''}/api/sign-out`, headers, { method: 'POST' });
  await open('--public', 'https://print.example');
  const origin = 'https://print.example';
  // Not trusted: what it says of TLS is nothing, and the cookie would go without.
  expect(String((await out({ ...through, origin })).headers['set-cookie'])).toMatch(
    /^yellow-spool-session=; Max-Age=0; Path=\/; HttpOnly; SameSite=Lax$/,
  );
  listening?.close();
  await open('--public', 'https://print.example', '--trust-proxy', '1');
  expect(String((await out({ ...through, origin })).headers['set-cookie'])).toMatch(
    /^__Host-yellow-spool=; Max-Age=0; Path=\/; HttpOnly; Secure/,
  );
  expect((await out({ ...through, origin: 'https://evil.example' })).status).toBe(403);
  expect((await out({ ...through, host: 'evil.example', origin: 'https://evil.example' })).status).toBe(403);
});

test('a device fetches its file by the link that it was given, and nothing else, and not for ever', async () => {
  signedInAs(http.shop, 'owner');
  const { inner } = await open();
  const shop = { ...http.shop, baseUrl: inner };
  const link = deviceLink(shop, '/api/runs/run-one/pdf');
  // It is let in: there is no such run.
  expect((await ask(link)).status).toBe(404);
  expect((await ask(link.replace('run-one', 'run-two'))).status).toBe(401);
  expect((await ask(link.replace('/pdf', '/sheet'))).status).toBe(401);
  expect((await ask(link.replace(/\?.*/, ''))).status).toBe(401);
  expect((await ask(`${link}x`)).status).toBe(401);
  const asked = deviceLink(shop, '/api/purges/one/channels.tif?fires=white').slice(inner().length);
  const day = 24 * 3_600_000;
  const at = (days: number): boolean => isDeviceLink({ ...http.shop, realNow: () => Date.now() + days * day }, asked);
  expect([at(0), at(29.9), at(30.1)]).toEqual([true, true, false]);
  expect(isDeviceLink(http.shop, asked.replace('white', 'cyan'))).toBe(false);
});
