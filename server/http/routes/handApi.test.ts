import { eq } from 'drizzle-orm';
import type { HandView } from '../../../contract/api/hand.ts';
import { printers, spools } from '../../db/tables/floorTables.ts';
import { type TestHttp, openTestHttp } from '../../testing/httpFixture.ts';
import { type TestShop, admitPlain, switchOn } from '../../testing/shopFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { layOutRun } from '../../usecases/layout/layOutRun.ts';
import { nestDraft } from '../../usecases/layout/nestDraft.ts';
import { createRun } from '../../usecases/run/createRun.ts';
import { queueRun } from '../../usecases/run/queueRun.ts';

let http: TestHttp;
let shop: TestShop;
beforeEach(async () => {
  http = await openTestHttp();
  ({ shop } = http);
  switchOn(shop);
});
afterEach(() => http.close());

const hands = async (): Promise<HandView[]> => (await http.call<HandView[]>('GET', '/api/next-hands')).body;
const done = (key: string) => http.call<{ error: { code: string } }>('POST', '/api/next-hands/done', { key });

async function queued(queueId: string): Promise<string> {
  const runId = createRun(shop, [admitPlain(shop, 'photo.pdf', [[400, 300]], queueId)], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  return runId;
}

test('a load is ticked off: the spool is in the printer, and the same key is refused from then on', async () => {
  // The roll of the stock stands on the rack, the printer is empty.
  shop.db.update(spools).set({ printerId: null, sourceId: null }).where(eq(spools.printerId, 'bittern')).run();
  await queued('bittern-photo');
  const [load] = (await hands()).filter(({ kind }) => kind === 'load');
  expect(load).toMatchObject({ printerName: 'Bittern', when: 'now', act: { kind: 'load' } });
  const act = load?.act?.kind === 'load' ? load.act : undefined;
  expect((await done(load?.key ?? '')).status).toBe(200);
  const spool = shop.db
    .select()
    .from(spools)
    .where(eq(spools.id, act?.spoolId ?? ''))
    .get();
  expect([spool?.printerId, spool?.sourceId]).toEqual(['bittern', act?.sourceId]);
  expect(await done(load?.key ?? '')).toMatchObject({ status: 409, body: { error: { code: 'hand-changed' } } });
  expect((await hands()).filter(({ kind }) => kind === 'load')).toEqual([]);
});

test('a fault is told first and can’t be ticked off', async () => {
  await queued('bittern-photo');
  shop.db
    .update(printers)
    .set({ linkStatus: 'faulted', linkReason: 'head strike' })
    .where(eq(printers.id, 'wren'))
    .run();
  const [first] = await hands();
  expect(first).toMatchObject({ kind: 'fault', text: 'Wren: head strike', act: null });
  expect(await done(first?.key ?? '')).toMatchObject({ status: 409, body: { error: { code: 'no-tick' } } });
});
