import { eq } from 'drizzle-orm';
import { careItems } from '../../db/tables/careTables.ts';
import { runs } from '../../db/tables/schema.ts';
import { printers } from '../../db/tables/floorTables.ts';
import { type CareShop, careOf, daily, openCareShop, whitePurge } from '../../testing/careFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { startCare } from '../../usecases/care/careItems.ts';
import { putDueCare } from '../../usecases/care/dueTimers.ts';
import { rotaView } from '../../usecases/care/rota.ts';
import { changeTimer, nextOccurrences, timerRow } from '../../usecases/care/timers.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

let shop: CareShop['shop'];
let clock: CareShop['clock'];
let close: () => void;
beforeEach(() => {
  ({ shop, clock, close } = openCareShop());
});
afterEach(() => {
  close();
});

/** A run of Wren that waits for a start far away. */
function heldRun(): typeof runs.$inferSelect {
  return shop.db
    .insert(runs)
    .values({
      ...{ id: 'run-held', printerId: 'wren', queueId: 'wren-transfers', state: 'queued', position: 1 },
      ...{ settings: {} as never, ticket: { modeId: 'draft', stockId: 'film-sheet' } as never, mediaWidthMm: 320 },
      ...{ inkMl: {}, createdMs: 0, fixedStartMs: clock.nowMs + 30 * DAY },
    })
    .returning()
    .get();
}

test('three missed: back at 09:00 the latest is made up and two are told; back at 20:00 all are told', () => {
  const timerId = daily(shop, whitePurge(shop));
  clock.nowMs = Date.parse('2027-03-26T08:00:00Z');
  putDueCare(shop);
  expect(careOf(shop).map(({ state }) => state)).toEqual(['impossible', 'impossible', 'waiting']);
  expect(careOf(shop)[0]?.reason).toBe('it fell due while the program was not running');
  clock.nowMs = Date.parse('2027-03-29T18:00:00Z');
  shop.db.delete(careItems).run();
  putDueCare(shop);
  expect(careOf(shop).map(({ state }) => state)).toEqual(['impossible', 'impossible', 'impossible']);
  expect(timerRow(shop.db, timerId).nextMs).toBe(Date.parse('2027-03-30T03:15:00Z'));
});

test('a holiday is skipped and not moved; a paused timer is not looked at, and goes on with the next', () => {
  const setup = { days: [], holidays: [{ date: '2027-03-25', name: 'Easter' }], people: [] };
  shop.db.run(`INSERT INTO settings (key, value) VALUES ('shopSetup', '${JSON.stringify(setup)}')
    ON CONFLICT (key) DO UPDATE SET value = excluded.value`);
  const timerId = daily(shop, whitePurge(shop), { skipHolidays: true });
  expect(nextOccurrences(shop, timerRow(shop.db, timerId), 3).map(({ holiday }) => holiday)).toEqual([
    false,
    true,
    false,
  ]);
  clock.nowMs = Date.parse('2027-03-25T04:15:01Z');
  putDueCare(shop);
  expect(careOf(shop).map(({ state, reason }) => [state, reason])).toEqual([
    ['impossible', 'it fell due while the program was not running'],
    ['skipped', 'holiday'],
  ]);
  changeTimer(shop, timerId, { paused: true }, undefined, TESTER);
  clock.nowMs += 3 * DAY;
  putDueCare(shop);
  expect(careOf(shop)).toHaveLength(2);
  const { version } = timerRow(shop.db, timerId);
  expect(() => {
    changeTimer(shop, timerId, { paused: false }, version - 1, TESTER);
  }).toThrow('tester has changed this timer meanwhile.');
  changeTimer(shop, timerId, { paused: false }, version, TESTER);
  putDueCare(shop);
  expect(careOf(shop)).toHaveLength(2);
  expect(timerRow(shop.db, timerId).nextMs).toBe(Date.parse('2027-03-29T03:15:00Z'));
});

test('a timer releases a run that waits for a fixed start, at its instant', () => {
  const run = heldRun();
  const what = { kind: 'release' as const, runId: run.id };
  daily(shop, '', { what, rrule: null });
  clock.nowMs = Date.parse('2027-03-24T04:15:00Z');
  putDueCare(shop);
  expect(shop.db.select().from(runs).where(eq(runs.id, 'run-held')).get()?.fixedStartMs).toBeNull();
  expect(careOf(shop)).toMatchObject([{ state: 'done', title: `release Run ${String(run.number)}` }]);
  expect(() => daily(shop, '', { what, rrule: null, startLocal: '2027-03-25T05:15' })).toThrow(
    'Only a run that is queued on Wren and waits',
  );
});

test('the plan of a line knows its care: the Floor, the Rota and the printer’s view say the same', () => {
  daily(shop, whitePurge(shop));
  const rota = rotaView(shop, clock.nowMs, clock.nowMs + 7 * DAY).printers.find(
    ({ printerId }) => printerId === 'wren',
  );
  expect(rota?.items.map(({ fromMs, kind }) => [fromMs, kind])).toEqual(
    Array.from({ length: 7 }, (_, i) => [Date.parse('2027-03-24T04:15:00Z') + i * DAY - (i >= 4 ? HOUR : 0), 'purge']),
  );
  expect(shop.db.select().from(printers).where(eq(printers.id, 'wren')).get()?.linkStatus).toBe('off');
});

test('another printer can not release a run, and white is stirred only where there is some', () => {
  const run = heldRun();
  const release = { what: { kind: 'release' as const, runId: run.id }, rrule: null };
  expect(() => daily(shop, '', { ...release, printerIds: ['heron'] })).toThrow('queued on Heron');
  const id = daily(shop, '', release);
  expect(() => {
    changeTimer(
      shop,
      daily(shop, '', { what: { kind: 'check' }, printerIds: ['heron'] }),
      { what: release.what },
      undefined,
      TESTER,
    );
  }).toThrow('queued on Heron');
  expect(timerRow(shop.db, id).what).toEqual(release.what);
  expect(() => startCare(shop, 'gannet', { kind: 'stir' }, TESTER)).toThrow('Gannet has no white that could settle.');
});

test('a month shows what timers bring beyond the plan of the line, holidays and all', () => {
  daily(shop, whitePurge(shop));
  const days = (fromMs: number, toMs: number): number =>
    rotaView(shop, fromMs, toMs).printers.find(({ printerId }) => printerId === 'wren')?.items.length ?? 0;
  expect([days(clock.nowMs, clock.nowMs + 31 * DAY), days(clock.nowMs + 20 * DAY, clock.nowMs + 30 * DAY)]).toEqual([
    31, 10,
  ]);
});

test('a timer that comes every hour and was away for weeks makes the latest up, not the first', () => {
  daily(shop, whitePurge(shop), { rrule: 'FREQ=HOURLY', startLocal: '2027-03-24T05:00', slackMin: 0 });
  clock.nowMs = Date.parse('2027-05-20T10:20:00Z');
  putDueCare(shop);
  const waiting = careOf(shop).filter(({ state }) => state === 'waiting');
  expect(waiting.map(({ dueMs }) => new Date(dueMs).toISOString())).toEqual(['2027-05-20T10:00:00.000Z']);
  expect(careOf(shop).length).toBeLessThanOrEqual(200);
});
