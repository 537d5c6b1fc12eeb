import { findRun } from '../../db/findRows.ts';
import { TESTER } from '../../testing/tester.ts';
import { eq } from 'drizzle-orm';
import { spoolLeftMm } from '../../db/printerViews.ts';
import { spoolLedger } from '../../db/tables/records.ts';
import { spools } from '../../db/tables/floorTables.ts';
import { transact } from '../../shop.ts';
import { type TestShop, admitPlain, idle, openTestShop, report } from '../../testing/shopFixture.ts';
import { changeJob } from '../ticket/changeJobs.ts';
import { createRun } from '../run/createRun.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { loadSpool } from '../media/loadSpool.ts';
import { recordPrinterState, recordRunReport } from './machineReports.ts';
import { transitionRun } from '../run/transitionRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { queueRun } from '../run/queueRun.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

const ROLL_1 = { printerId: 'bittern', sourceId: 'roll-1' };
const rowOf = (id: string) => findRun(shop.db, id);

/** A run on the printer that has fed so much. */
async function printing(name: string, queueId: string, fedMm: number, stockId?: string): Promise<string> {
  const job = admitPlain(shop, name, [[400, 2000]], queueId);
  if (stockId !== undefined) changeJob(shop, job, { stockId, modeId: 'posters' }, TESTER);
  const runId = createRun(shop, [job], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 5), { by: TESTER });
  queueRun(shop, runId, TESTER);
  transact(shop, (work) => transitionRun(work, runId, 'send', { attempt: 1 }));
  recordRunReport(shop, report(runId, 1, { lengthMm: fedMm, fedMm }));
  return runId;
}

/** The printer says that its roll is empty. */
function runOut(runId: string, fedMm: number): void {
  const stopped = report(runId, 1, { status: 'paused', reason: 'media out', lengthMm: fedMm, fedMm });
  recordPrinterState(shop, 'bittern', { ...idle('bittern'), status: 'waiting', reason: 'media out', run: stopped });
}

test('the empty roll is changed: its part is booked on it and it is at nothing, the rest comes from the next one', async () => {
  const runId = await printing('long.pdf', 'bittern-photo', 700);
  runOut(runId, 700);
  await loadSpool(shop, 'spool-sp-45', ROLL_1, TESTER);
  expect(rowOf(runId)).toMatchObject({ spoolId: 'spool-sp-45', bookedMm: 700, state: 'paused' });
  expect(spoolLeftMm(shop.db, 'spool-sp-44')).toBeCloseTo(0, 6);
  const booked = shop.db
    .select()
    .from(spoolLedger)
    .where(eq(spoolLedger.spoolId, 'spool-sp-44'))
    .orderBy(spoolLedger.id)
    .all();
  expect(booked.slice(-2).map(({ kind, runId: of, reason }) => [kind, of, reason])).toEqual([
    ['run', runId, null],
    ['correction', runId, 'ran out in Run 1'],
  ]);
  // The new roll is full: it is not taken for an empty one, and not taken away under the run.
  recordPrinterState(shop, 'bittern', {
    ...idle('bittern'),
    status: 'waiting',
    reason: 'media out mended, waits to go on',
  });
  const another = loadSpool(shop, 'spool-sp-46', ROLL_1, TESTER);
  await expect(another).rejects.toMatchObject({ code: 'printing' });
  expect(spoolLeftMm(shop.db, 'spool-sp-45')).toBe(30_000);
  recordRunReport(shop, report(runId, 1, { status: 'printed', lengthMm: 2020, fedMm: 2050, endedMs: 5 }));
  expect(spoolLeftMm(shop.db, 'spool-sp-45')).toBeCloseTo(30_000 - 1350, 6);
});

test('no other stock, no narrower roll, and no roll that another run is printed on goes into the middle of a run', async () => {
  const runId = await printing('long.pdf', 'bittern-photo', 700);
  await printing('plan.pdf', 'gannet-plans', 300, 'satin-914');
  runOut(runId, 700);
  const before = shop.db.select().from(spoolLedger).all().length;
  await expect(loadSpool(shop, 'spool-sp-39', ROLL_1, TESTER)).rejects.toMatchObject({ code: 'wrong-stock' });
  const narrow = { ...ROLL_1, widthMm: 909 };
  await expect(loadSpool(shop, 'spool-sp-45', narrow, TESTER)).rejects.toMatchObject({ code: 'narrow' });
  await expect(loadSpool(shop, 'spool-sp-46', ROLL_1, TESTER)).rejects.toMatchObject({ code: 'printing' });
  expect(rowOf(runId)).toMatchObject({ spoolId: 'spool-sp-44', bookedMm: 0 });
  expect(shop.db.select().from(spoolLedger).all()).toHaveLength(before);
  expect(shop.db.select().from(spools).where(eq(spools.id, 'spool-sp-46')).get()?.printerId).toBe('gannet');
});

test('a spool that is measured anew where it stands: width and length are kept, and the log tells', async () => {
  await loadSpool(shop, 'spool-sp-44', { ...ROLL_1, widthMm: 912, lengthMm: 20_000 }, { ...TESTER, name: 'Odile' });
  expect(spoolLeftMm(shop.db, 'spool-sp-44')).toBe(20_000);
  const row = shop.db.select().from(spools).where(eq(spools.id, 'spool-sp-44')).get();
  expect(row).toMatchObject({ widthMm: 912, printerId: 'bittern', sourceId: 'roll-1' });
  const last = shop.db
    .select()
    .from(spoolLedger)
    .where(eq(spoolLedger.spoolId, 'spool-sp-44'))
    .orderBy(spoolLedger.id)
    .all()
    .at(-1);
  expect(last).toMatchObject({ kind: 'correction', mm: -1270, reason: 'measured at loading by Odile' });
});
