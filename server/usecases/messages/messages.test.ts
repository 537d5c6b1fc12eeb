import { createServer, type IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import { eq } from 'drizzle-orm';
import type { CauseView, MessageSetup, MessageSetupAnswer } from '../../../contract/api/messages.ts';
import { messageCauses, messageSends } from '../../db/tables/messageTables.ts';
import { people } from '../../db/tables/peopleTables.ts';
import { printers } from '../../db/tables/floorTables.ts';
import { SmtpMailer } from '../../mail/smtpMailer.ts';
import type { Mail } from '../../ports/mailer.ts';
import { type TestHttp, openTestHttp } from '../../testing/httpFixture.ts';
import { type TestShop, admitPlain, switchOn } from '../../testing/shopFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { armAway, endDueAway } from '../away/arm.ts';
import { simulateAway } from '../away/simulateAway.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { createRun } from '../run/createRun.ts';
import { queueRun } from '../run/queueRun.ts';
import { setShopSetup, shopSetup } from '../setup/shopSetup.ts';
import { Mailbox } from '../../../simulators/mailbox.ts';
import { lookAtCauses } from './messageWatch.ts';
import { sendDue, signatureOf } from './outbox.ts';

const MIN = 60_000;

let http: TestHttp;
let shop: TestShop;
let clock: { nowMs: number };
let mails: Mail[];
let fails: string | undefined;

beforeEach(async () => {
  http = await openTestHttp();
  ({ shop } = http);
  clock = { nowMs: Date.parse('2027-03-24T12:00:00Z') };
  Object.defineProperty(shop.clock, 'now', { value: () => clock.nowMs });
  Object.defineProperty(shop, 'realNow', { value: () => clock.nowMs });
  mails = [];
  fails = undefined;
  switchOn(shop);
});
afterEach(() => http.close());

const outgoing = () => ({
  mailer: {
    send: (_server: unknown, mail: Mail) => {
      if (fails !== undefined) return Promise.reject(new Error(fails));
      mails.push(mail);
      return Promise.resolve();
    },
  },
  pages: 'https://shop.example',
});
/** What happens by itself within a moment. */
async function look(): Promise<void> {
  lookAtCauses(shop);
  await sendDue(shop, outgoing());
}
const later = async (minutes: number): Promise<void> => {
  clock.nowMs += minutes * MIN;
  await look();
};
const set = (part: Partial<MessageSetup>) =>
  http.call<MessageSetupAnswer>('PUT', '/api/message-setup', {
    ...{ mail: { kind: 'stand-in' }, rules: [], webhooks: [] },
    ...part,
  });
const ODILE = { personId: 'person-odile', kinds: ['fault' as const], repeatMin: 15, escalate: null };
function fault(reason: string | null): void {
  shop.db
    .update(printers)
    .set({ linkStatus: reason === null ? 'idle' : 'faulted', linkReason: reason })
    .where(eq(printers.id, 'heron'))
    .run();
}

test('one message for one trouble: told at once, again until it is seen, and no more once it is over', async () => {
  await set({ rules: [ODILE] });
  await look();
  expect(mails).toEqual([]);
  fault('head strike');
  await look();
  await later(5);
  expect(mails).toMatchObject([{ to: 'odile@tidewrack.example', subject: 'Heron: head strike' }]);
  expect(mails[0]?.text).toContain('https://shop.example/floor?printer=heron');
  await later(10);
  expect(mails).toHaveLength(2);
  const { body } = await http.call<CauseView[]>('GET', '/api/messages');
  expect(body).toMatchObject([{ kind: 'fault', seenBy: null, closedMs: null }]);
  expect(body[0]?.sends).toMatchObject([
    { to: 'Odile Marr', state: 'sent' },
    { to: 'Odile Marr', state: 'sent' },
  ]);
  expect((await http.call('POST', `/api/messages/${body[0]?.id ?? ''}/seen`)).status).toBe(200);
  await later(60);
  expect(mails).toHaveLength(2);
  fault(null);
  await look();
  expect((await http.call<CauseView[]>('GET', '/api/messages')).body[0]?.closedMs).toBe(clock.nowMs);
});

test('trouble that comes again within ten minutes is the same; later it is new', async () => {
  await set({ rules: [{ ...ODILE, repeatMin: null }] });
  fault('cover open');
  await look();
  fault(null);
  await later(1);
  fault('cover open');
  await later(5);
  expect(mails).toHaveLength(1);
  fault(null);
  await later(1);
  fault('cover open');
  await later(11);
  expect(mails).toHaveLength(2);
  expect(shop.db.select().from(messageCauses).all()).toHaveLength(2);
});

test('where nobody has seen it the second person is told; quiet hours hold a message until they end', async () => {
  shop.db.update(people).set({ mail: 'bram@tidewrack.example' }).where(eq(people.id, 'person-bram')).run();
  shop.db
    .update(people)
    .set({ quiet: { from: '12:00', to: '14:00' } })
    .where(eq(people.id, 'person-odile'))
    .run();
  await set({ rules: [{ ...ODILE, repeatMin: null, escalate: { afterMin: 20, personId: 'person-bram' } }] });
  // One in the afternoon in Copenhagen.
  fault('head strike');
  await look();
  expect(mails).toEqual([]);
  await later(20);
  expect(mails.map(({ to }) => to)).toEqual(['bram@tidewrack.example']);
  expect(mails[0]?.text).toContain('nobody has seen it');
  await later(40);
  expect(mails.map(({ to }) => to)).toEqual(['bram@tidewrack.example', 'odile@tidewrack.example']);
});

test('what can’t be sent is tried again under the same name, says why, and is given up in the end', async () => {
  await set({ rules: [{ ...ODILE, repeatMin: null }] });
  fault('head strike');
  fails = 'connection refused';
  await look();
  const row = () => shop.db.select().from(messageSends).all();
  expect(row()).toMatchObject([{ state: 'waiting', tries: 1, error: 'connection refused' }]);
  fails = undefined;
  await look();
  expect(mails).toEqual([]);
  await later(1);
  expect(mails.map(({ id }) => id)).toEqual([row()[0]?.id]);
  expect(row()).toMatchObject([{ state: 'sent', tries: 2, error: null }]);
  shop.db.update(messageSends).set({ state: 'waiting', tries: 5 }).run();
  fails = 'no such mailbox';
  await look();
  expect(row()).toMatchObject([{ state: 'failed', tries: 6, error: 'no such mailbox' }]);
});

test('a program is told once, with a signature that whoever has the secret can check', async () => {
  const taken: { headers: IncomingMessage['headers']; body: string }[] = [];
  const server = createServer((req, res) => {
    let body = '';
    req.on('data', (part: Buffer) => (body += part.toString()));
    req.on('end', () => {
      taken.push({ headers: req.headers, body });
      res.writeHead(204).end();
    });
  });
  await new Promise<void>((done) => {
    server.listen(0, '127.0.0.1', done);
  });
  const url = `http://127.0.0.1:${String((server.address() as AddressInfo).port)}/hook`;
  try {
    const { body } = await set({ webhooks: [{ id: null, url, kinds: ['fault'] }] });
    const secret = body.webhooks[0]?.secret ?? '';
    expect(secret.length).toBeGreaterThan(40);
    fault('head strike');
    await look();
    await later(30);
    expect(taken).toHaveLength(1);
    const [{ headers, body: text } = { headers: {}, body: '' }] = taken;
    expect(JSON.parse(text)).toMatchObject({ kind: 'fault', text: 'Heron: head strike', printerId: 'heron' });
    const time = String(headers['yellow-spool-time']);
    expect(headers['yellow-spool-signature']).toBe(signatureOf(secret, time, text));
    expect(headers['yellow-spool-signature']).not.toBe(signatureOf('another', time, text));
    // The secret is told once; it stays as it was.
    const again = (await set({ webhooks: body.webhooks.map(({ id, kinds }) => ({ id, url, kinds })) })).body;
    expect(again.webhooks[0]?.secret).toBeUndefined();
  } finally {
    server.close();
  }
});

test('passwords are never told, and stay as long as it is the same server', async () => {
  const smtp = {
    kind: 'smtp' as const,
    host: 'mail.example',
    port: 587,
    tls: false,
    user: 'shop',
    from: 'a@b.example',
  };
  await set({ mail: { ...smtp, password: 'letmein' } });
  const { body } = await http.call<MessageSetupAnswer>('GET', '/api/message-setup');
  expect(JSON.stringify(body)).not.toContain('letmein');
  const { mailServer } = await import('./mailServer.ts');
  await set({ mail: { ...smtp, port: 465 } });
  expect(mailServer(shop.db)).toMatchObject({ port: 465, password: 'letmein' });
  await set({ mail: { ...smtp, host: 'elsewhere.example' } });
  expect(mailServer(shop.db)).toMatchObject({ password: '' });
});

test.each<[Partial<MessageSetup>, string]>([
  [{ rules: [{ ...ODILE, personId: 'person-none' }] }, 'no-such-person'],
  [{ rules: [{ ...ODILE, escalate: { afterMin: 5, personId: 'person-odile' } }] }, 'same-person'],
  [{ rules: [ODILE, { ...ODILE, repeatMin: null }] }, 'named-twice'],
  [
    {
      webhooks: ['fault' as const, 'stop' as const].map((kind) => ({
        id: null,
        url: 'http://a.example/',
        kinds: [kind],
      })),
    },
    'named-twice',
  ],
])('what can’t be set is refused, and nothing is set: %j', async (part, code) => {
  const before = (await set({})).body;
  const { status, body } = await set(part);
  expect([status, (body as unknown as { error: { code: string } }).error.code]).toEqual([422, code]);
  expect((await http.call<MessageSetupAnswer>('GET', '/api/message-setup')).body).toEqual(before);
});

test('a mail goes through SMTP into the stand-in, page and all; without a server it is refused', async () => {
  const box = new Mailbox(() => 5);
  await box.listen();
  try {
    const mailer = new SmtpMailer(() => Promise.resolve(box.port));
    await mailer.send(
      { kind: 'stand-in' },
      { to: 'a@b.example', subject: 'Größe', text: 'one\ntwo', html: '<p>ü</p>', id: 'x' },
    );
    expect(box.mails).toMatchObject([
      { to: ['a@b.example'], subject: 'Größe', html: expect.stringContaining('ü') as string },
    ]);
    expect(box.mails[0]?.text.trim()).toBe('one\ntwo');
  } finally {
    box.close();
  }
  await expect(
    new SmtpMailer(() => Promise.resolve(undefined)).send(
      { kind: 'stand-in' },
      { to: 'a@b.c', subject: '', text: '', id: 'y' },
    ),
  ).rejects.toThrow('does not run');
});

test('the list of a time away is mailed as one page with a way back', async () => {
  const period = { fromMs: clock.nowMs, toMs: clock.nowMs + 12 * 60 * MIN };
  await set({ mail: null });
  expect((await http.call('POST', '/api/away/mail', { to: 'odile@phone.example', ...period })).status).toBe(409);
  await set({});
  expect((await http.call('POST', '/api/away/mail', { to: 'odile@phone.example', ...period })).status).toBe(200);
  expect(http.mails).toMatchObject([{ to: 'odile@phone.example', subject: 'Away plan' }]);
  expect(http.mails[0]?.html).toContain('https://shop.example/rota/away');
});

test('an armed night that loses a supply is told once, with the fault where there is one; its end is told as well', async () => {
  const kinds: MessageSetup['rules'][number]['kinds'] = ['fault', 'supply', 'at risk', 'finished'];
  await set({ rules: [{ ...ODILE, kinds, repeatMin: null }] });
  // Nobody comes before Friday.
  setShopSetup(
    shop,
    { ...shopSetup(shop.db, shop.clock.zone), days: [{ weekday: 5, from: '09:00', to: '12:00' }], holidays: [] },
    TESTER,
  );
  const runId = createRun(shop, [admitPlain(shop, 'a.pdf', [[500, 400]], 'heron-banners')], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  const period = { fromMs: clock.nowMs, toMs: clock.nowMs + 10 * 60 * MIN };
  const { planHash } = await simulateAway(shop, { ...period, nights: 0 }, {});
  await armAway(shop, { ...period, planHash }, TESTER, {});
  await look();
  expect(mails).toEqual([]);
  // Its tank holds less than was thought.
  const { measured } = shop.db.select().from(printers).where(eq(printers.id, 'heron')).get() ?? {};
  const inkMl = { ...measured?.inkMl, cyan: 0.001 };
  shop.db
    .update(printers)
    .set({ measured: { media: [], collectedMm: 0, firedMs: {}, ...measured, inkMl } })
    .where(eq(printers.id, 'heron'))
    .run();
  await later(1);
  await later(5);
  expect(mails).toHaveLength(1);
  expect(mails[0]?.subject).toMatch(
    /^Heron: Run 1 will not be printed as planned, Cyan of Heron runs out after \d+ % of it$/,
  );
  // A fault is the reason then: the plan is not told of beside it.
  fault('head strike');
  await later(20);
  expect(mails.map(({ subject }) => subject).slice(1)).toEqual(['Heron: head strike']);
  clock.nowMs = period.toMs;
  endDueAway(shop);
  await look();
  expect(mails.at(-1)?.subject).toBe('The time away is over: not all of its runs are printed');
});
