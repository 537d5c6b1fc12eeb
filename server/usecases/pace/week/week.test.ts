import { PDFDocument } from '@cantoo/pdf-lib';
import { eq } from 'drizzle-orm';
import type { Mail } from '../../../ports/mailer.ts';
import { people } from '../../../db/tables/peopleTables.ts';
import { runs } from '../../../db/tables/schema.ts';
import { type TestShop, admitPlain, openTestShop, report } from '../../../testing/shopFixture.ts';
import { TESTER } from '../../../testing/tester.ts';
import { transact } from '../../../shop.ts';
import { recordRunReport } from '../../device/machineReports.ts';
import { layOutRun } from '../../layout/layOutRun.ts';
import { nestDraft } from '../../layout/nestDraft.ts';
import { messageSetup, setMessageSetup } from '../../messages/messageSetup.ts';
import { createRun } from '../../run/createRun.ts';
import { queueRun } from '../../run/queueRun.ts';
import { transitionRun } from '../../run/transitionRun.ts';
import { FactsProjector } from '../factsProjector.ts';
import { paceAnswer } from '../paceQuery.ts';
import { weekOf } from '../../../../core/pace/weekDue.ts';
import { sendWeek } from './weekMail.ts';
import { weekPdf, weekReport } from './weekReport.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

let shop: TestShop;
let close: () => void;
const clock = { shopMs: 0, realMs: 0 };
const sent: Mail[] = [];
let broken = false;
const outgoing = {
  mailer: {
    send: (_server: unknown, mail: Mail) => {
      if (broken) return Promise.reject(new Error('no route'));
      sent.push(mail);
      return Promise.resolve();
    },
  },
  pages: undefined,
};

beforeEach(() => {
  ({ shop, close } = openTestShop());
  clock.shopMs = Date.parse('2027-03-24T10:00:00Z');
  clock.realMs = 1e12;
  Object.defineProperty(shop.clock, 'now', { value: () => clock.shopMs });
  Object.defineProperty(shop, 'realNow', { value: () => clock.realMs });
  sent.length = 0;
  broken = false;
});
afterEach(() => {
  close();
});

async function printed(): Promise<void> {
  const runId = createRun(shop, [admitPlain(shop, 'sail.pdf', [[1200, 900]])], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  transact(shop, (work) => transitionRun(work, runId, 'send', { attempt: 1 }));
  const [run] = shop.db.select().from(runs).where(eq(runs.id, runId)).all();
  const startedMs = clock.shopMs;
  clock.shopMs += HOUR;
  const lengthMm = run?.lengthMm ?? 0;
  recordRunReport(
    shop,
    report(runId, 1, { status: 'printed', lengthMm, fedMm: lengthMm + 40, startedMs, endedMs: clock.shopMs }),
  );
  const projector = new FactsProjector(shop);
  while (projector.work(1000, () => performance.now()));
}

function told(mail: string): string {
  const [person] = shop.db.select().from(people).all();
  const id = person?.id ?? '';
  shop.db.update(people).set({ mail }).where(eq(people.id, id)).run();
  return id;
}

test('the page says what Pace says of the week, its days and its printers, on one page', async () => {
  await printed();
  const week = weekOf(clock.shopMs, shop.clock.zone);
  const { figures, days, table, notes, title } = await weekReport(shop, week);
  const { total } = paceAnswer(shop, week);
  expect(title).toContain('2027');
  expect(total['good']?.value).toBeCloseTo(1.08, 6);
  expect(figures.find(({ name }) => name === 'Good area')).toMatchObject({ value: '1.08 m²', before: '0.00 m²' });
  expect(days.bars).toHaveLength(7);
  expect(days.bars.map(({ value }) => value)).toEqual([0, 0, expect.closeTo(1.08, 6), 0, 0, 0, 0]);
  expect(table.rows.find(([name]) => name === 'Heron')?.[1]).toBe('1.08 m²');
  expect(notes.lines.length).toBeGreaterThan(0);
  const pdf = await PDFDocument.load(await weekPdf(shop, clock.shopMs));
  expect([pdf.getPageCount(), pdf.getTitle()]).toEqual([1, title]);
});

test('the week goes out once to each who is to have it, when it is due; what failed is tried again, nothing twice', async () => {
  const personId = told('mara@example.com');
  const { webhooks, rules } = messageSetup(shop, null);
  const week = { personIds: [personId], weekday: 1, at: '07:00' };
  setMessageSetup(shop, { mail: { kind: 'stand-in' }, rules, webhooks, week }, TESTER);
  expect(messageSetup(shop, null).week).toEqual(week);
  await sendWeek(shop, outgoing);
  expect(sent).toEqual([]);

  clock.shopMs = weekOf(clock.shopMs, shop.clock.zone).toMs + 7 * HOUR + 1000;
  broken = true;
  await sendWeek(shop, outgoing);
  broken = false;
  // Not before its time: the server that failed a moment ago is left in peace.
  await sendWeek(shop, outgoing);
  expect(sent).toEqual([]);
  clock.realMs += DAY;
  await sendWeek(shop, outgoing);
  await sendWeek(shop, outgoing);
  expect(sent).toHaveLength(1);
  const [mail] = sent;
  expect(mail).toMatchObject({ to: 'mara@example.com', attachments: [{ name: 'week-2027-03-22.pdf' }] });
  expect((await PDFDocument.load(mail?.attachments?.[0]?.bytes ?? new Uint8Array())).getPageCount()).toBe(1);

  clock.shopMs += 7 * DAY;
  await sendWeek(shop, outgoing);
  expect(sent.map(({ id }) => id)).toHaveLength(2);
  expect(new Set(sent.map(({ id }) => id)).size).toBe(2);
  // Nobody is to have it any more.
  setMessageSetup(shop, { mail: { kind: 'stand-in' }, rules, webhooks, week: null }, TESTER);
  clock.shopMs += 7 * DAY;
  await sendWeek(shop, outgoing);
  expect(sent).toHaveLength(2);
});

test('who is not here can’t be told, and what is not said stays as it was', () => {
  const { webhooks, rules } = messageSetup(shop, null);
  const nobody = { personIds: ['person-nobody'], weekday: 1, at: '07:00' };
  expect(() => setMessageSetup(shop, { mail: null, rules, webhooks, week: nobody }, TESTER)).toThrow('no person');
  const week = { ...nobody, personIds: [told('mara@example.com')] };
  setMessageSetup(shop, { mail: null, rules, webhooks, week }, TESTER);
  setMessageSetup(shop, { mail: null, rules, webhooks }, TESTER);
  expect(messageSetup(shop, null).week).toEqual(week);
});
