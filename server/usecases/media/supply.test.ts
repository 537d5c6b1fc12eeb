import { asc, eq, sql } from 'drizzle-orm';
import fc from 'fast-check';
import { spoolLeftMm, spoolViews } from '../../db/printerViews.ts';
import { events, spoolLedger } from '../../db/tables/records.ts';
import { runItems } from '../../db/runViews.ts';
import * as schema from '../../db/tables/schema.ts';
import { changeJob } from '../ticket/changeJobs.ts';
import { spools, stockOrders, stocks } from '../../db/tables/floorTables.ts';
import { type TestShop, admitPlain, openTestShop, idle } from '../../testing/shopFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { recordPrinterState } from '../device/machineReports.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { planFloor } from '../../../core/schedule/planFloor.ts';
import { readFloor } from '../plan/fit.ts';
import { snapshotFor } from '../plan/plannedFloor.ts';
import { startAnswer } from '../plan/mayStart.ts';
import { queuedLine } from '../plan/lineOrder.ts';
import { createRun } from '../run/createRun.ts';
import { queueRun } from '../run/queueRun.ts';
import { transitionRun } from '../run/transitionRun.ts';
import { transact } from '../../shop.ts';
import { findRun } from '../../db/findRows.ts';
import { setShopSetup, shopSetup } from '../setup/shopSetup.ts';
import { changeStock } from '../setup/stocks.ts';
import { countStock } from './countStock.ts';
import { importSpools } from './importSpools.ts';
import { chooseRunSpools, spoolProposal } from './spoolProposal.ts';
import { correctSpool, cutOffcut, receiveSpool, retireSpool } from './spools.ts';
import { orderCsv, orderList, orderPdf } from './orderList.ts';
import { orderStock, setOrderOpen } from './stockOrders.ts';
import { stockOutlooks } from './stockOutlook.ts';

const DAY = 86_400_000;
let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

/** A queued run of Heron that takes about so many metres of banner. */
async function banner(name: string, heightMm: number): Promise<string> {
  const runId = createRun(shop, [admitPlain(shop, name, [[1500, heightMm]])], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 5), { by: TESTER });
  queueRun(shop, runId, TESTER);
  return runId;
}

const received = (label: string, lengthMm: number): string =>
  receiveSpool(shop, { stockId: 'block-out', label, lot: '', lengthMm }, TESTER);

/** Opened: somebody has cut something off it. */
function opened(label: string, leftMm: number): string {
  const id = received(label, leftMm + 1000);
  correctSpool(shop, id, leftMm, 'used before', TESTER);
  return id;
}

function only(labels: readonly string[]): void {
  for (const { id, label, stockId, printerId } of spoolViews(shop.db)) {
    if (stockId === 'block-out' && printerId === null && !labels.includes(label)) retireSpool(shop, id, true, TESTER);
  }
}

describe('which spool', () => {
  test('an order that was begun on a lot goes on on it: runs of it know it by number and customer, and wait for that lot', async () => {
    const number = { orderNo: 'A-7', customer: 'Bluebell', oneLot: true };
    const asked = async (name: string, change: object): Promise<string> => {
      const jobId = admitPlain(shop, name, [[1500, 2000]]);
      changeJob(shop, jobId, change, TESTER);
      const runId = createRun(shop, [jobId], TESTER);
      layOutRun(shop, runId, await nestDraft(shop, runId, 5), { by: TESTER });
      queueRun(shop, runId, TESTER);
      return runId;
    };
    const first = await asked('first.pdf', number);
    const lotOf = (id: string) => runItems(shop.db, [id])[0]?.oneLot;
    expect(lotOf(first)).toMatchObject({ lot: null });
    const loaded = spoolViews(shop.db, { printerId: 'heron' })[0] ?? raise();
    const { runs: table } = schema;
    shop.db.update(table).set({ spoolId: loaded.id, startedMs: 1, state: 'printed' }).where(eq(table.id, first)).run();
    const same = await asked('same.pdf', number);
    const others = [
      { ...number, customer: 'Heath' },
      { ...number, orderNo: 'A-8' },
      { ...number, oneLot: false },
    ];
    expect(lotOf(same)?.lot).toBe(loaded.lot);
    for (const [i, change] of others.entries()) {
      const other = await asked(`other-${String(i)}.pdf`, change);
      expect(lotOf(other)?.lot ?? null).toBeNull();
    }
    recordPrinterState(shop, 'heron', idle('heron'));
    const answer = () => startAnswer(shop, findRun(shop.db, same) ?? raise());
    expect(answer()).toMatchObject({ ok: true, spool: { id: loaded.id } });
    shop.db.update(spools).set({ lot: 'other' }).where(eq(spools.id, loaded.id)).run();
    expect(answer()).toMatchObject({ ok: true });
    const rack = received('BO-77', 50_000);
    shop.db.update(spools).set({ lot: 'T77' }).where(eq(spools.id, rack)).run();
    shop.db.update(table).set({ spoolId: rack }).where(eq(table.id, first)).run();
    expect(answer()).toMatchObject({ ok: false, trouble: { code: 'other-lot' } });
    // The plan of the Floor waits for that roll as well.
    const { lines } = planFloor(snapshotFor(readFloor(shop)));
    const planned = lines.get('heron')?.events.find((event) => event.kind === 'run' && event.id === same);
    expect(planned).toMatchObject({ fed: { spoolId: rack } });
    const [stock] = (await spoolProposal(shop)).stocks;
    const line = stock?.proposed.lines.find(({ runs }) => runs.some(({ id }) => id === same));
    expect(line?.lot).toBe('T77');
    // Nothing looks through all jobs, neither for those that ask nor for those of an order.
    const plan = shop.db.all<{ detail: string }>(
      sql`EXPLAIN QUERY PLAN SELECT id FROM jobs WHERE json_extract(jobs.ticket, '$.values.oneLot') AND json_extract(jobs.ticket, '$.values.orderNo') = 'A-7'`,
    );
    expect(plan.map(({ detail }) => detail).join()).toContain('job_one_lot');
    const asks = shop.db.all<{ detail: string }>(
      sql`EXPLAIN QUERY PLAN SELECT id FROM jobs WHERE json_extract(jobs.ticket, '$.values.oneLot') AND state IN ('checked', 'ready', 'placed')`,
    );
    expect(asks.map(({ detail }) => detail).join()).toContain('job_asks_one_lot');
  });

  test('the proposal is taken in one step: runs wait for their spools, the plan takes them, and it is undone in one', async () => {
    const ids = [await banner('a.pdf', 6000), await banner('b.pdf', 4000), await banner('c.pdf', 5900)];
    const needs = new Map(runItems(shop.db).map(({ id, needMm }) => [id, needMm]));
    const need = (i: number): number => needs.get(ids[i] ?? '') ?? 0;
    const loaded = spoolViews(shop.db, { printerId: 'heron' })[0];
    if (!loaded) throw new Error('nothing is in Heron');
    // What is loaded takes the first and the last; best-fit in the order of the line would take the first two and leave a stub.
    correctSpool(shop, loaded.id, need(0) + need(2), 'measured', TESTER);
    const part = opened('part', need(1) + 20);
    received('new', 50_000);
    only(['part', 'new']);
    changeStock(shop, 'block-out', { usableMm: 3000 }, TESTER);

    const proposal = await spoolProposal(shop);
    const [stock] = proposal.stocks;
    expect(stock?.proposed.lines.map(({ label, runs }) => [label, runs.map(({ id }) => id).sort()]).sort()).toEqual(
      [
        [loaded.label, [ids[0], ids[2]].sort()],
        ['part', [ids[1]]],
      ].sort(),
    );
    expect(stock?.savedMinor).toBeGreaterThan(0);
    expect(proposal.savedMinor).toBe(stock?.savedMinor);

    const before = queuedLine(shop.db, 'heron').map(({ id }) => id);
    const runs =
      stock?.proposed.lines.flatMap(({ spoolId, runs: own }) => own.map(({ id }) => ({ runId: id, spoolId }))) ?? [];
    chooseRunSpools(
      shop,
      { runs, orders: proposal.orders.map(({ printerId, runIds }) => ({ printerId, runIds: [...runIds] })) },
      TESTER,
    );
    expect(new Map(runItems(shop.db).map(({ id, meantSpoolId }) => [id, meantSpoolId]))).toEqual(
      new Map([
        [ids[0], loaded.id],
        [ids[1], part],
        [ids[2], loaded.id],
      ]),
    );
    // Taken, there is nothing better to propose, and today is what was proposed.
    const again = await spoolProposal(shop);
    expect(again.savedMinor).toBe(0);
    expect(again.stocks[0]?.today.lossMinor).toBe(stock?.proposed.lossMinor);

    recordPrinterState(shop, 'heron', idle('heron'));
    const answer = (i: number) => startAnswer(shop, findRun(shop.db, ids[i] ?? '') ?? raise());
    expect(answer(0)).toMatchObject({ ok: true, spool: { id: loaded.id } });
    expect(answer(1)).toMatchObject({ ok: false, trouble: { code: 'other-spool', hand: true } });

    const undo = shop.db.select().from(events).where(eq(events.kind, 'spools.chosen')).get()?.undo;
    expect(undo).toMatchObject({ method: 'POST', path: '/api/spool-proposal', body: { whatStillCan: true } });
    chooseRunSpools(shop, undo?.body as Parameters<typeof chooseRunSpools>[1], TESTER);
    expect(runItems(shop.db).map(({ meantSpoolId }) => meantSpoolId)).toEqual([null, null, null]);
    expect(queuedLine(shop.db, 'heron').map(({ id }) => id)).toEqual(before);
    expect(answer(1)).toMatchObject({ ok: true });
  });

  test('what has begun meanwhile is left as it is when a choice is taken back; the rest is as it was', async () => {
    const ids = [await banner('a.pdf', 6000), await banner('b.pdf', 6000)];
    const part = opened('part', 20_000);
    chooseRunSpools(shop, { runs: ids.map((runId) => ({ runId, spoolId: part })), orders: [] }, TESTER);
    const undo = shop.db.select().from(events).where(eq(events.kind, 'spools.chosen')).get()?.undo;
    transact(shop, (work) => transitionRun(work, ids[0] ?? '', 'send', { attempt: 1, spoolId: part }));
    chooseRunSpools(shop, undo?.body as Parameters<typeof chooseRunSpools>[1], TESTER);
    expect(ids.map((id) => findRun(shop.db, id)?.meantSpoolId)).toEqual([part, null]);
  });

  test('a choice that can not be is refused as a whole, with its figures', async () => {
    const ids = [await banner('a.pdf', 6000), await banner('b.pdf', 6000)];
    const short = opened('short', 7000);
    const choose = (spoolId: string) => () => {
      chooseRunSpools(shop, { runs: ids.map((runId) => ({ runId, spoolId })), orders: [] }, TESTER);
    };
    expect(choose(short)).toThrow(/^short has 7\.00\sm left; the runs that are meant for it take 12\.20\sm\.$/u);
    expect(choose('nothing')).toThrow('There is no spool nothing.');
    expect(choose(spoolViews(shop.db).find(({ stockId }) => stockId === 'gloss-wrap')?.id ?? '')).toThrow('is not for');
    expect(runItems(shop.db).map(({ meantSpoolId }) => meantSpoolId)).toEqual([null, null]);
  });

  test('a spool that has become too short or was thrown away holds nothing up', async () => {
    const id = await banner('a.pdf', 6000);
    const part = opened('part', 7000);
    chooseRunSpools(shop, { runs: [{ runId: id, spoolId: part }], orders: [] }, TESTER);
    recordPrinterState(shop, 'heron', idle('heron'));
    const answer = () => startAnswer(shop, findRun(shop.db, id) ?? raise());
    expect(answer()).toMatchObject({ ok: false, trouble: { code: 'other-spool' } });
    correctSpool(shop, part, 500, 'torn', TESTER);
    expect(answer()).toMatchObject({ ok: true });
    correctSpool(shop, part, 7000, 'not torn', TESTER);
    expect(answer()).toMatchObject({ ok: false });
    retireSpool(shop, part, true, TESTER);
    expect(answer()).toMatchObject({ ok: true });
  });
});

function raise(): never {
  throw new Error('the run is gone');
}

describe('forecast and orders', () => {
  beforeEach(() => {
    const days = [1, 2, 3, 4, 5, 6, 7].map((weekday) => ({ weekday, from: '07:30', to: '18:00' }));
    setShopSetup(shop, { ...shopSetup(shop.db, shop.clock.zone), days, holidays: [] }, TESTER);
  });

  function used(kind: 'run' | 'correction' | 'purge', mm: number, daysAgo: number): void {
    const spoolId = spoolViews(shop.db).find(({ stockId }) => stockId === 'mesh')?.id ?? '';
    const atMs = shop.clock.now() - daysAgo * DAY;
    shop.db.insert(spoolLedger).values({ spoolId, kind, mm: -mm, atMs }).run();
  }
  const mesh = () => stockOutlooks(shop).stocks.find(({ stockId }) => stockId === 'mesh') ?? raise();

  test('what work and purges took counts, corrections do not; few days are said to be few', () => {
    expect(mesh().known).toBe('nothing used');
    used('run', 4000, 3);
    used('purge', 500, 2);
    used('correction', 9000, 1);
    setShopSetup(shop, { ...shopSetup(shop.db, shop.clock.zone), orderAheadDays: 4 }, TESTER);
    const own = mesh();
    expect(own.known).toBe('few data');
    expect(own.used.map(({ mm }) => mm)).toEqual([4000, 500, 0]);
    expect(own.perDayMm).toBeCloseTo(1500, 6);
    expect(own.order.leadDays).toBe(4);
    expect(own.order.reorderPointMm).toBeCloseTo(6000, 6);
  });

  test('an even use of two weeks: what is ordered is on its way, what comes is taken off it', async () => {
    for (let day = 1; day <= 14; day += 1) used('run', 2000, day);
    const spool = spoolViews(shop.db).find(({ stockId }) => stockId === 'mesh') ?? raise();
    correctSpool(shop, spool.id, 12_000, 'measured', TESTER);
    changeStock(shop, 'mesh', { packMm: 30_000, coverDays: 5, leastMm: 1000, leadDays: 6 }, TESTER);
    const own = mesh();
    expect(own.known).toBe('forecast');
    expect(own.lasts.likely).toBe(6);
    expect(own.order).toMatchObject({ isDue: true, packs: 1, mm: 30_000 });
    expect(own.order.reorderPointMm).toBeCloseTo(13_000, -2);
    expect(orderList(shop).rows.map(([name]) => name)).toContain('Mesh banner 1600');
    expect(orderCsv(shop).split('\r\n')[0]).toBe('Stock,Left,On order,Days left,Order by,Packs,Pack,Order,Cost');
    expect(
      Buffer.from(await orderPdf(shop))
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-');

    const id = orderStock(shop, 'mesh', 30_000, TESTER);
    expect(mesh()).toMatchObject({ onOrderMm: 30_000, order: { isDue: false } });
    receiveSpool(shop, { stockId: 'mesh', label: 'ME-new', lot: '', lengthMm: 20_000 }, TESTER);
    expect(mesh().orders).toMatchObject([{ id, mm: 30_000, receivedMm: 20_000 }]);
    setOrderOpen(shop, id, false, TESTER);
    expect(mesh()).toMatchObject({ onOrderMm: 0, orders: [] });
    setOrderOpen(shop, id, true, TESTER);
    receiveSpool(shop, { stockId: 'mesh', label: 'ME-newer', lot: '', lengthMm: 15_000 }, TESTER);
    expect(shop.db.select().from(stockOrders).all()).toMatchObject([{ id, receivedMm: 30_000 }]);
    expect(mesh().orders).toEqual([]);
    expect(() => orderStock(shop, 'paper', 1, TESTER)).toThrow('There is no stock paper.');
  });
});

describe('what came, what is there', () => {
  test('a delivery as a list: sound rows are received once, the others are said; a preview receives nothing', () => {
    const csv = [
      'Stock;Label;Lot;Length;Width;Place',
      'Mesh banner 1600;ME-90;L1;50;1598;shelf 2',
      'mesh;ME-91;;25,5 m;;',
      'Film sheet 320 × 450;FS-90;;100;;',
      'Parchment;P-1;;50;;',
      'mesh;ME-90;;50;;',
      'mesh;ME-92;;long;;',
      'Film sheet 320 × 450;FS-91;;1.5;;',
      'mesh;ME-93;;50;wide;',
    ].join('\n');
    const preview = importSpools(shop, csv, true, TESTER);
    expect(preview.received).toBe(0);
    expect(shop.db.select().from(spools).where(eq(spools.label, 'ME-90')).all()).toEqual([]);
    const { rows, received: count } = importSpools(shop, csv, false, TESTER);
    expect(rows).toEqual(preview.rows);
    expect(rows.map(({ row, lengthMm, trouble }) => [row, lengthMm, trouble])).toEqual([
      [2, 50_000, null],
      [3, 25_500, null],
      [
        4,
        100 * (shop.db.select().from(stocks).where(eq(stocks.name, 'Film sheet 320 × 450')).get()?.sheetMm ?? 0),
        null,
      ],
      [5, null, 'There is no stock Parchment.'],
      [6, 50_000, 'A spool is labelled ME-90 already.'],
      [7, null, 'long is no length.'],
      [8, null, '1.5 is no number of sheets.'],
      [9, 50_000, 'wide is no width.'],
    ]);
    expect(count).toBe(3);
    expect(shop.db.select().from(spools).where(eq(spools.label, 'ME-90')).get()).toMatchObject({
      ...{ lot: 'L1', widthMm: 1598, place: 'shelf 2', kind: 'roll' },
    });
    expect(importSpools(shop, csv, false, TESTER).received).toBe(0);
    expect(() => importSpools(shop, 'a,b\n1,2', true, TESTER)).toThrow('lacks the column stock and label and length');
  });

  test('a count books differences in one step with its reason, and is undone in one', () => {
    const [a, b] = spoolViews(shop.db);
    if (!a || !b) throw new Error('no spools');
    const counts = [
      { spoolId: a.id, expectedMm: a.leftMm, leftMm: a.leftMm - 700 },
      { spoolId: b.id, expectedMm: b.leftMm, leftMm: b.leftMm },
    ];
    expect(countStock(shop, { reason: 'count of December', counts }, TESTER)).toBe(1);
    expect(spoolLeftMm(shop.db, a.id)).toBeCloseTo(a.leftMm - 700, 6);
    const event = shop.db.select().from(events).where(eq(events.kind, 'stock.counted')).get();
    expect(event?.data).toEqual({ spools: 2, differences: 1, mm: -700, reason: 'count of December' });
    countStock(shop, event?.undo?.body as Parameters<typeof countStock>[1], TESTER);
    expect(spoolLeftMm(shop.db, a.id)).toBeCloseTo(a.leftMm, 6);
    expect(() => countStock(shop, { reason: '  ', counts }, TESTER)).toThrow('A count needs its reason.');
  });

  test('whatever happens to spools, each is what its ledger says, and every millimetre has a cause', () => {
    const step = fc.record({
      what: fc.integer({ min: 0, max: 5 }),
      which: fc.nat(),
      mm: fc.integer({ min: 1, max: 20_000 }),
    });
    fc.assert(
      fc.property(fc.array(step, { maxLength: 25 }), (steps) => {
        const other = openTestShop();
        try {
          const mine = new Map<string, number>(spoolViews(other.shop.db).map(({ id, leftMm }) => [id, leftMm]));
          const gone = new Map<string, number>();
          steps.forEach(({ what, which, mm }, i) => {
            const ids = [...mine.keys()];
            const id = ids[which % ids.length] ?? '';
            const left = mine.get(id) ?? 0;
            const loaded = spoolViews(other.shop.db, { id })[0]?.printerId != null;
            if (what === 0)
              mine.set(
                receiveSpool(other.shop, { stockId: 'mesh', label: `n${String(i)}`, lot: '', lengthMm: mm }, TESTER),
                mm,
              );
            else if (what === 1) {
              correctSpool(other.shop, id, mm, 'measured', TESTER);
              mine.set(id, mm);
            } else if (what === 2 && mm <= left) {
              mine.set(cutOffcut(other.shop, id, mm, `o${String(i)}`, TESTER), mm);
              mine.set(id, left - mm);
            } else if (what === 3 && !loaded) {
              retireSpool(other.shop, id, true, TESTER);
              mine.delete(id);
              gone.set(id, left);
            } else if (what === 4) {
              const [back, was] = [...gone][0] ?? [];
              if (back === undefined || was === undefined) return;
              retireSpool(other.shop, back, false, TESTER);
              gone.delete(back);
              mine.set(back, was);
            } else if (what === 5) {
              countStock(
                other.shop,
                { reason: 'count', counts: [{ spoolId: id, expectedMm: left, leftMm: left + mm }] },
                TESTER,
              );
              mine.set(id, left + mm);
            }
          });
          const views = spoolViews(other.shop.db);
          expect(new Map(views.map(({ id, leftMm }) => [id, Math.round(leftMm)]))).toEqual(
            new Map([...mine].map(([id, mm]) => [id, Math.round(mm)])),
          );
          const rows = other.shop.db.select().from(spoolLedger).orderBy(asc(spoolLedger.id)).all();
          for (const id of [...mine.keys(), ...gone.keys()]) {
            const sum = rows.filter((row) => row.spoolId === id).reduce((all, { mm }) => all + mm, 0);
            expect(spoolLeftMm(other.shop.db, id)).toBeCloseTo(sum, 6);
            // What was thrown away is gone from the ledger, too.
            if (gone.has(id)) expect(sum).toBeCloseTo(0, 0);
          }
        } finally {
          other.close();
        }
      }),
      { numRuns: 12 },
    );
  });
});
