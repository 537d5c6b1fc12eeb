import { PDFDocument, rgb } from '@cantoo/pdf-lib';
import { eq } from 'drizzle-orm';
import { findPrinter, findRun } from '../../db/findRows.ts';
import { runDetail } from '../../db/runViews.ts';
import { printers, profiles } from '../../db/tables/floorTables.ts';
import { events } from '../../db/tables/records.ts';
import { jobs } from '../../db/tables/schema.ts';
import { type TestHttp, openTestHttp } from '../../testing/httpFixture.ts';
import { TESTER } from '../../testing/tester.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { createRun } from '../run/createRun.ts';
import { queueRun } from '../run/queueRun.ts';
import { changePrinter } from '../setup/printers.ts';
import { InkSampler } from './inkSampler.ts';
import { ensureCoat } from './runChannels.ts';

let http: TestHttp;
let sampler: InkSampler;
beforeEach(async () => {
  http = await openTestHttp();
  sampler = new InkSampler(http.shop);
});
afterEach(() => http.close());

async function laidOut(queue: string, name: string): Promise<string> {
  const document = await PDFDocument.create();
  const page = document.addPage([170, 113]);
  page.drawRectangle({ x: 0, y: 0, width: 170, height: 113, color: rgb(0.2, 0.5, 0.3) });
  for (let i = 0; i < 40; i += 1) page.drawCircle({ x: i * 4, y: 50 + i, size: 3, color: rgb(0.9, 0.7, 0.1 + i / 50) });
  await http.upload(queue, [name, await document.save()]);
  const job = http.shop.db.select().from(jobs).where(eq(jobs.sourceName, name)).get();
  const id = createRun(http.shop, [job?.id ?? ''], TESTER);
  layOutRun(http.shop, id, await nestDraft(http.shop, id, 20), { by: TESTER });
  return id;
}

const row = (id: string) => {
  const run = findRun(http.shop.db, id);
  if (!run) throw new Error('no run');
  return run;
};
const notes = () => http.shop.db.select().from(events).where(eq(events.kind, 'run.sampled')).all();

test('a queued run is sampled: within 2 % of what is counted later, which takes its place', async () => {
  const id = await laidOut('wren-transfers', 'leaf.pdf');
  queueRun(http.shop, id, TESTER);
  const { inkMl: estimated } = row(id);
  await sampler.look();
  const sampled = row(id);
  expect(sampled.inkSample).not.toBeNull();
  expect(runDetail(http.shop.db, id)).toMatchObject({ inkSampled: true, inkCounted: true });
  expect(sampled.inkMl).not.toEqual(estimated);
  const [note] = notes();
  expect(note?.data).toMatchObject({ run: sampled.number });
  // Once.
  await sampler.look();
  expect(notes()).toHaveLength(1);
  await ensureCoat(http.shop, id);
  const counted = row(id);
  expect([counted.inkRendering, counted.inkSample]).toEqual([sampled.inkSample, null]);
  for (const [channel, ml] of Object.entries(counted.inkMl)) {
    expect(Math.abs((sampled.inkMl[channel] ?? NaN) - ml)).toBeLessThanOrEqual(0.02 * ml + 1e-4);
  }
  // What is counted is not sampled again.
  await sampler.look();
  expect(row(id).inkMl).toEqual(counted.inkMl);
});

test('a draft is sampled once it is left alone; one that is changed meanwhile is left longer', async () => {
  let now = Date.now();
  Object.assign(http.shop, { realNow: () => now });
  const id = await laidOut('wren-transfers', 'leaf.pdf');
  const { inkMl: estimated } = row(id);
  await sampler.look();
  now += 19_000;
  await sampler.look();
  expect([row(id).inkSample, notes()]).toEqual([null, []]);
  layOutRun(http.shop, id, await nestDraft(http.shop, id, 20), { by: TESTER });
  now += 19_000;
  await sampler.look();
  expect(row(id).inkSample).toBeNull();
  now += 21_000;
  await sampler.look();
  expect(row(id).inkSample).not.toBeNull();
  expect(row(id).inkMl).not.toEqual(estimated);
  expect(notes()).toHaveLength(1);
  // What is queued as it is keeps it.
  const { inkMl } = row(id);
  queueRun(http.shop, id, TESTER);
  expect([row(id).inkMl, row(id).inkSample === null]).toEqual([inkMl, false]);
});

test('one that can’t be sampled keeps its estimate and holds up no other; later, it is looked at anew', async () => {
  const id = await laidOut('wren-transfers', 'leaf.pdf');
  const other = await laidOut('bittern-photo', 'photo.pdf');
  for (const each of [id, other]) queueRun(http.shop, each, TESTER);
  const own = http.shop.db.select().from(profiles).where(eq(profiles.name, 'Wren film 8-pass')).get();
  http.shop.db.delete(profiles).where(eq(profiles.name, 'Wren film 8-pass')).run();
  const { inkMl } = row(id);
  for (let i = 0; i < 3; i += 1) await sampler.look();
  expect([row(id).inkSample, row(id).inkMl]).toEqual([null, inkMl]);
  expect(row(other).inkSample).not.toBeNull();
  if (own) http.shop.db.insert(profiles).values(own).run();
  await sampler.look();
  expect(row(id).inkSample).toBeNull();
  const later = Date.now() + 3_600_000;
  Object.assign(http.shop, { realNow: () => later });
  await sampler.look();
  expect(row(id).inkSample).not.toBeNull();
});

test('another drop makes a sample an estimate by small pictures again', async () => {
  const id = await laidOut('wren-transfers', 'leaf.pdf');
  queueRun(http.shop, id, TESTER);
  const { inkMl } = row(id);
  await sampler.look();
  expect(row(id).inkMl).not.toEqual(inkMl);
  const config = findPrinter(http.shop.db, 'wren')?.config;
  if (!config) throw new Error('no Wren');
  const modes = config.modes.map((mode) => ({ ...mode, dropPl: mode.dropPl * 2 }));
  changePrinter(http.shop, 'wren', { config: { ...config, modes } }, TESTER);
  expect(http.shop.db.select().from(printers).where(eq(printers.id, 'wren')).get()?.config.modes).toEqual(modes);
  expect(row(id).inkSample).toBeNull();
  for (const [channel, ml] of Object.entries(inkMl)) expect(row(id).inkMl[channel]).toBeCloseTo(2 * ml, 9);
});
