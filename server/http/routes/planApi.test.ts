import { type Answered, type TestHttp, openTestHttp } from '../../testing/httpFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import type { FitAnswer, OrderProposal } from '../../../contract/api/fit.ts';
import { eq } from 'drizzle-orm';
import type { PrinterView, RunItem } from '../../../contract/api/floor.ts';
import type { JobDetail } from '../../../contract/api/job.ts';
import { printers, spools } from '../../db/tables/floorTables.ts';
import type { SpoolDetail } from '../../../contract/api/media/media.ts';
import type { MoveOffer } from '../../../contract/api/shop.ts';
import { type TestShop, admitPlain, switchOn } from '../../testing/shopFixture.ts';
import { createRun } from '../../usecases/run/createRun.ts';
import { layOutRun } from '../../usecases/layout/layOutRun.ts';
import { nestDraft } from '../../usecases/layout/nestDraft.ts';
import { queueRun } from '../../usecases/run/queueRun.ts';

let http: TestHttp;
let shop: TestShop;
let base: string;

beforeEach(async () => {
  http = await openTestHttp();
  ({ shop, base } = http);
  switchOn(shop);
});
afterEach(() => http.close());

const call = <A extends Answered<unknown> = Answered<unknown>>(
  method: string,
  path: string,
  body?: unknown,
): Promise<A> => http.call(method, path, body) as Promise<A>;

async function queued(name: string, size: [number, number], queueId: string): Promise<string> {
  const runId = createRun(shop, [admitPlain(shop, name, [size], queueId)], TESTER);
  layOutRun(shop, runId, await nestDraft(shop, runId, 20), { by: TESTER });
  queueRun(shop, runId, TESTER);
  return runId;
}

test('the fit list of a job: cheapest first, terms that add up to the total, and reasons with figures where it can’t be', async () => {
  const job = admitPlain(shop, 'photo.pdf', [[800, 600]], 'bittern-photo');
  const { body } = await call<Answered<FitAnswer>>('POST', '/api/fit', { jobIds: [job] });
  expect(body.currency).toBe('EUR');
  const able = body.fits.filter((fit) => fit.can);
  expect(able.map(({ printerId }) => printerId).sort()).toEqual(['bittern', 'gannet']);
  const totals = able.map(({ totalMinor }) => totalMinor);
  expect(totals).toEqual([...totals].sort((a, b) => a - b));
  for (const { terms, totalMinor, startMs, endMs, timeMs } of able) {
    expect(Object.values(terms).reduce((sum, minor) => sum + minor, 0)).toBe(totalMinor);
    expect(endMs - startMs).toBeCloseTo(timeMs, -1);
  }
  const magpie = body.fits.find((fit) => fit.printerId === 'magpie');
  expect(magpie).toMatchObject({
    can: false,
    troubles: [{ code: 'stock', text: 'Satin photo 914 is not for Magpie' }],
  });
  expect((await call('POST', '/api/fit', { jobIds: ['job-none'] })).status).toBe(404);
});

test('what is in its line puts a printer later in time; the offer of a move says both sides and changes nothing', async () => {
  for (const name of ['a.pdf', 'b.pdf']) await queued(name, [880, 3000], 'bittern-photo');
  const runId = await queued('c.pdf', [600, 400], 'bittern-photo');
  const { body: offer } = await call<Answered<MoveOffer>>('GET', `/api/runs/${runId}/move-offer?printerId=gannet`);
  expect(offer.can).toBe(true);
  expect(offer.after?.endMs).toBeLessThan(offer.before?.endMs ?? 0);
  const { body: not } = await call<Answered<MoveOffer>>('GET', `/api/runs/${runId}/move-offer?printerId=puffin`);
  expect(not).toMatchObject({ can: false, after: null });
  const { body: before } = await call<Answered<PrinterView[]>>('GET', '/api/printers');
  expect(before.find(({ id }) => id === 'bittern')).toMatchObject({ state: 'idle', held: null });
  // Its device is idle, and its next run can't start: it waits.
  shop.db.update(spools).set({ printerId: null, sourceId: null }).where(eq(spools.printerId, 'bittern')).run();
  const { body: without } = await call<Answered<PrinterView[]>>('GET', '/api/printers');
  const waiting = without.find(({ id }) => id === 'bittern');
  expect(waiting).toMatchObject({ state: 'waiting', held: { code: 'nothing-loaded', hand: true } });
  expect(waiting?.reason).toBe('load Satin photo 914');
  expect((await call('POST', `/api/runs/${runId}/move`, { printerId: 'puffin' })).status).toBe(409);
});

test('a run on its own printer has the figures of its layout, and starts where it stands in its line', async () => {
  const first = await queued('a.pdf', [880, 3000], 'bittern-photo');
  await queued('b.pdf', [600, 400], 'bittern-photo');
  const { body: run } = await call<Answered<RunItem>>('GET', `/api/runs/${first}`);
  const { body } = await call<Answered<FitAnswer>>('GET', `/api/runs/${first}/fit`);
  const own = body.fits.find(({ printerId }) => printerId === 'bittern');
  expect(own).toMatchObject({ can: true, lengthMm: run.lengthMm, fedMm: run.needMm });
  expect(own?.can === true ? own.startMs - shop.clock.now() : NaN).toBeLessThan(60_000);
  const there = body.fits.find(({ printerId }) => printerId === 'gannet');
  expect(there?.can === true ? there.restsOn : []).toEqual([]);
});

test('a run that is judged elsewhere does not take the only roll from itself', async () => {
  const runId = await queued('photo.pdf', [800, 600], 'bittern-photo');
  // One roll of it in the shop, on the rack.
  const satin = shop.db.select().from(spools).where(eq(spools.stockId, 'satin-914')).all();
  for (const { id } of satin)
    shop.db
      .update(spools)
      .set({ printerId: null, sourceId: null, gone: id !== 'spool-sp-45' })
      .where(eq(spools.id, id))
      .run();
  const { body } = await call<Answered<FitAnswer>>('GET', `/api/runs/${runId}/fit`);
  const there = body.fits.find(({ printerId }) => printerId === 'gannet');
  expect(there?.can === true ? there.restsOn.map(({ text }) => text) : []).toContain('SP-45 is loaded');
});

test('a printer that does not answer is not offered, and a start says on what it rests', async () => {
  const job = admitPlain(shop, 'photo.pdf', [[800, 600]], 'bittern-photo');
  shop.db.update(printers).set({ linkStatus: 'off' }).where(eq(printers.id, 'gannet')).run();
  shop.db.update(spools).set({ printerId: null, sourceId: null }).where(eq(spools.printerId, 'bittern')).run();
  const { body } = await call<Answered<FitAnswer>>('POST', '/api/fit', { jobIds: [job] });
  const off = body.fits.find(({ printerId }) => printerId === 'gannet');
  expect(off).toMatchObject({ can: false, troubles: [{ code: 'off', text: 'Gannet does not answer' }] });
  const bittern = body.fits.find(({ printerId }) => printerId === 'bittern');
  expect(bittern?.can === true ? bittern.restsOn.map(({ text }) => text) : []).toContainEqual(
    expect.stringMatching(/is loaded$/),
  );
});

test('what a queue gave is taken anew on another printer; what a person set goes with the job', async () => {
  const job = admitPlain(shop, 'photo.pdf', [[800, 600]], 'bittern-photo');
  const troubles = async (): Promise<string[]> => {
    const { body } = await call<Answered<FitAnswer>>('POST', '/api/fit', { jobIds: [job] });
    return body.fits.flatMap((fit) =>
      fit.printerId === 'gannet' && !fit.can ? fit.troubles.map(({ text }) => text) : [],
    );
  };
  await call('PATCH', '/api/queues/bittern-photo', { settings: { cutOff: 'full' } });
  const given = admitPlain(shop, 'given.pdf', [[800, 600]], 'bittern-photo');
  expect((await call<Answered<JobDetail>>('GET', `/api/jobs/${given}`)).body.ticket.values.cutOff).toBe('full');
  const config = shop.db.select().from(printers).where(eq(printers.id, 'gannet')).get()?.config;
  if (!config) throw new Error('there is no Gannet');
  const finishing = { ...config.finishing, fullCut: false };
  shop.db
    .update(printers)
    .set({ config: { ...config, finishing, defaults: { ...config.defaults, cutOff: 'none' } } })
    .where(eq(printers.id, 'gannet'))
    .run();
  expect(await troubles()).toEqual([]);
  const { body } = await call<Answered<FitAnswer>>('POST', '/api/fit', { jobIds: [given] });
  expect(body.fits.find(({ printerId }) => printerId === 'gannet')).toMatchObject({ can: true });
  await call('PATCH', `/api/jobs/${job}`, { cutOff: 'perforated' });
  expect(await troubles()).toEqual(['Gannet does not perforate']);
});

test('lines proposed over the API keep every run once', async () => {
  const ids = [];
  for (const name of ['a.pdf', 'b.pdf', 'c.pdf']) ids.push(await queued(name, [400, 300], 'bittern-photo'));
  const { body } = await call<Answered<OrderProposal[]>>('GET', '/api/order-proposals');
  expect(body.map(({ printerId, order }) => [printerId, [...order].sort()])).toEqual([['bittern', [...ids].sort()]]);
  const wrong = await call<Answered<{ error: { code: string } }>>('PUT', '/api/printers/bittern/line', {
    runIds: ids.slice(1),
  });
  expect([wrong.status, wrong.body.error.code]).toEqual([409, 'line-changed']);
});

test('spools: received, corrected with a reason, cut, taken off; each step is on the ledger and refused where it can’t be', async () => {
  const order = { stockId: 'mesh', label: 'ME-99', lot: 'T1', lengthMm: 20_000 };
  const { body: made } = await call<Answered<SpoolDetail>>('POST', '/api/spools', order);
  expect((await call('POST', '/api/spools', order)).status).toBe(409);
  await call('POST', `/api/spools/${made.id}/correct`, { leftMm: 18_500, reason: 'the end was creased' });
  expect((await call('POST', `/api/spools/${made.id}/offcut`, { lengthMm: 30_000, label: 'x' })).status).toBe(409);
  const { body: cut } = await call<Answered<SpoolDetail>>('POST', `/api/spools/${made.id}/offcut`, {
    lengthMm: 2500,
    label: 'ME-99-2.5',
  });
  expect(cut).toMatchObject({ kind: 'offcut', leftMm: 2500, stockName: 'Mesh banner 1600' });
  const { body: after } = await call<Answered<SpoolDetail>>('GET', `/api/spools/${made.id}`);
  expect(after.leftMm).toBe(16_000);
  expect(after.ledger.map(({ kind, mm, reason }) => [kind, mm, reason])).toEqual([
    ['trim', -2500, 'cut off as ME-99-2.5'],
    ['correction', -1500, 'the end was creased'],
    ['received', 20_000, null],
  ]);
  expect((await call('POST', '/api/spools/spool-bo-31/retire')).status).toBe(409);
  await call('POST', `/api/spools/${cut.id}/retire`);
  expect((await call('GET', `/api/spools/${cut.id}`)).status).toBe(404);
  await call('POST', `/api/spools/${cut.id}/keep`);
  expect((await call('GET', `/api/spools/${cut.id}`)).status).toBe(200);
  const labels = await fetch(`${base}/api/spools/labels`, {
    method: 'POST',
    body: JSON.stringify({ spoolIds: [made.id, cut.id] }),
    headers: { 'content-type': 'application/json' },
  });
  expect(
    Buffer.from(await labels.arrayBuffer())
      .subarray(0, 5)
      .toString(),
  ).toBe('%PDF-');
});

test.each([
  ['spool-fs-03', { printerId: 'heron', sourceId: 'roll' }, 'wrong-source'],
  ['spool-bo-32', { printerId: 'bittern', sourceId: 'roll-1' }, 'too-wide'],
  ['spool-pb-62', { printerId: 'heron', sourceId: 'roll' }, 'too-narrow'],
  ['spool-bo-32', { printerId: 'heron', sourceId: 'roll', widthMm: 1500 }, 'odd-width'],
  ['spool-bo-32', { printerId: 'heron', sourceId: 'tray' }, 'no-such-source'],
])('%s can’t be loaded like this: %j', async (spoolId, order, code) => {
  const { body } = await call<Answered<{ error: { code: string } }>>('POST', `/api/spools/${spoolId}/load`, order);
  expect(body.error.code).toBe(code);
});

test('a printer is described anew only soundly, and is taken off only when nothing holds on to it', async () => {
  const { body: before } = await call<Answered<PrinterView[]>>('GET', '/api/printers');
  const heron = before.find(({ id }) => id === 'heron');
  if (!heron) throw new Error('no Heron');
  const { config } = heron;
  const bad = [
    { ...config, printableWidthMm: 1700 },
    { ...config, sources: [...config.sources, ...config.sources] },
    { ...config, head: 'page-wide' as const },
    { ...config, sources: config.sources.map((source) => ({ ...source, kind: 'bed' as const })) },
  ];
  for (const wrong of bad) expect((await call('PATCH', '/api/printers/heron', { config: wrong })).status).toBe(422);
  const without = { ...config, modes: config.modes.filter(({ id }) => id !== 'production') };
  expect(await call('PATCH', '/api/printers/heron', { config: without })).toMatchObject({
    status: 409,
    body: { error: { code: 'mode-in-use' } },
  });
  expect((await call('DELETE', '/api/printers/heron')).status).toBe(409);
  const { body: copy } = await call<Answered<PrinterView>>('POST', '/api/printers', {
    name: 'Heron two',
    from: { kind: 'copy', printerId: 'heron' },
  });
  expect(copy.config).toEqual(config);
  expect((await call('DELETE', `/api/printers/${copy.id}`)).status).toBe(200);
  expect(
    (await call('POST', '/api/printers', { name: 'X', from: { kind: 'device', deviceId: 'nobody' } })).status,
  ).toBe(503);
});

test('rules and hours that can’t hold are refused, and nothing of them is kept', async () => {
  const { body: rules } = await call<Answered<{ printerIds: string[] }[]>>('GET', '/api/rules');
  const stray = rules.map((rule) => ({ ...rule, printerIds: ['nobody'] }));
  expect((await call('PUT', '/api/rules', stray)).status).toBe(422);
  expect((await call('GET', '/api/rules')).body).toEqual(rules);
  const { body: hours } = await call<Answered<{ days: object[] }>>('GET', '/api/shop');
  const backwards = { ...hours, days: [{ weekday: 1, from: '18:00', to: '07:30' }] };
  expect((await call('PUT', '/api/shop', backwards)).status).toBe(422);
  expect((await call('GET', '/api/shop')).body).toEqual(hours);
});
