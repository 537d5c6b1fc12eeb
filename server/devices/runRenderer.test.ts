import { existsSync, readFileSync, rmSync } from 'node:fs';
import { inflateSync } from 'node:zlib';
import { PDFDocument, rgb } from '@cantoo/pdf-lib';
import { eq } from 'drizzle-orm';
import { PART_ROWS } from '../../core/raster/bands.ts';
import { dotsOfFile } from '../../core/raster/channelFile.ts';
import type { RenderingWay } from '../../core/raster/whilePrinting.ts';
import type { PartOrder } from '../render/channels/renderPart.ts';
import { findPrinter, findRun } from '../db/findRows.ts';
import { printers, profiles } from '../db/tables/floorTables.ts';
import { jobs, runs } from '../db/tables/schema.ts';
import { type TestHttp, openTestHttp } from '../testing/httpFixture.ts';
import { idle } from '../testing/shopFixture.ts';
import { TESTER } from '../testing/tester.ts';
import { recordPrinterState } from '../usecases/device/machineReports.ts';
import { layOutRun } from '../usecases/layout/layOutRun.ts';
import { nestDraft } from '../usecases/layout/nestDraft.ts';
import { ensurePrintable } from '../usecases/output/ensurePrintable.ts';
import { renderedCoat } from '../usecases/output/runChannels.ts';
import { printersNow } from '../usecases/plan/printersNow.ts';
import { createRun } from '../usecases/run/createRun.ts';
import { queueRun } from '../usecases/run/queueRun.ts';
import { RunRenderer } from './runRenderer.ts';

let http: TestHttp;
let runId: string;
let renderer: RunRenderer;
let news: () => void = () => undefined;
beforeEach(async () => {
  http = await openTestHttp();
  const document = await PDFDocument.create();
  // Three parts long on Wren, 1,440 rows to the inch.
  document.addPage([250, 250]).drawRectangle({ x: 0, y: 0, width: 250, height: 250, color: rgb(0.2, 0.5, 0.3) });
  await http.upload('wren-transfers', ['leaf.pdf', await document.save()]);
  const job = http.shop.db.select().from(jobs).where(eq(jobs.sourceName, 'leaf.pdf')).get();
  runId = createRun(http.shop, [job?.id ?? ''], TESTER);
  layOutRun(http.shop, runId, await nestDraft(http.shop, runId, 20), { by: TESTER });
  queueRun(http.shop, runId, TESTER);
  renderer = new RunRenderer(http.shop, () => {
    news();
  });
});
afterEach(() => http.close());

const run = () => {
  const row = findRun(http.shop.db, runId);
  if (!row) throw new Error('no run');
  return row;
};
function renders(rendering: RenderingWay): void {
  const wren = findPrinter(http.shop.db, 'wren');
  if (!wren) throw new Error('no Wren');
  http.shop.db
    .update(printers)
    .set({ config: { ...wren.config, rendering } })
    .where(eq(printers.id, 'wren'))
    .run();
}
const until = async (is: () => boolean): Promise<void> => {
  while (!is()) await new Promise((done) => setTimeout(done, 20));
};

test('a printer that renders by itself is sent the page; others are sent dots once all of them are there, and the run is planned by them', async () => {
  expect(await renderer.dotsFor(run())).toBeNull();
  renders('render first');
  expect(await renderer.dotsFor(run())).toBeUndefined();
  expect(renderer.of(runId)).toMatchObject({ kind: 'under way' });
  await until(() => !renderer.isBusy);
  expect(renderer.of(runId)).toBeUndefined();
  const { dots, rendering } = (await renderer.dotsFor(run())) ?? {};
  expect(rendering).toBe(run().inkRendering);
  expect(dots?.parts.length).toBeGreaterThanOrEqual(3);
  expect(dots?.parts[0]?.rows).toBe(PART_ROWS);
  expect(run().inkRendering).not.toBeNull();
  // What the parts hold together is what was counted of the whole.
  const sums = new Map<string, number[]>();
  for (const part of dots?.parts ?? []) {
    const url = new URL(part.url);
    const answer = await fetch(`${http.base}${url.pathname}${url.search}`);
    for (const [id, counts] of dotsOfFile(new Uint8Array(await answer.arrayBuffer()), inflateSync)) {
      const before = sums.get(id) ?? [0, 0, 0, 0];
      sums.set(
        id,
        before.map((n, level) => n + (counts[level] ?? 0)),
      );
    }
  }
  const coat = await renderedCoat(http.shop, runId);
  if ('owed' in coat) throw new Error('not rendered');
  expect([...sums]).toEqual(coat.order.channels.map((id, i) => [id, coat.dots[i]]));
});

test('while printing: as soon as the first rows are there where rendering keeps ahead; not where the clock runs too fast for it', async () => {
  renders('while printing');
  const { work, clock } = http.shop;
  let goOn: () => void = () => undefined;
  const gate = new Promise<void>((done) => {
    goOn = done;
  });
  const doIt = work.run.bind(work);
  const held = jest.spyOn(work, 'run').mockImplementation(async (...asked: Parameters<typeof doIt>) => {
    const [kind, input] = asked;
    if (kind === 'coat part' && (input as PartOrder).part > 0) await gate;
    return doIt(...asked);
  });
  let heard = false;
  news = () => {
    heard = true;
  };
  expect(await renderer.dotsFor(run())).toBeUndefined();
  await until(() => heard);
  // A thousand years in a second: no renderer keeps ahead of that.
  clock.setRate(3e10);
  expect(await renderer.dotsFor(run())).toBeUndefined();
  clock.setRate(1e-3);
  const { dots } = (await renderer.dotsFor(run())) ?? {};
  expect(dots?.parts.length).toBeGreaterThanOrEqual(3);
  const [first, second] = await Promise.all(
    (dots?.parts ?? [])
      .slice(0, 2)
      .map(({ url }) => fetch(`${http.base}${new URL(url).pathname}${new URL(url).search}`)),
  );
  expect([first?.status, second?.status]).toEqual([200, 409]);
  renders('render first');
  expect(await renderer.dotsFor(run())).toBeUndefined();
  goOn();
  await until(() => !renderer.isBusy);
  held.mockRestore();
  expect((await renderer.dotsFor(run()))?.dots.parts).toHaveLength(dots?.parts.length ?? 0);
});

test('what was sent is rendered as it was ordered, whatever has changed since, and is sent again as it was', async () => {
  renders('while printing');
  await renderer.dotsFor(run());
  await until(() => !renderer.isBusy);
  const sent = await renderer.dotsFor(run());
  const key = sent?.rendering ?? '';
  const { db, paths } = http.shop;
  const part = (file: 'dots' | 'cells' | 'json'): string => paths.coatPart(key, 1, file);
  const before = readFileSync(part('dots'));
  db.update(runs).set({ state: 'printing', sentRendering: key }).where(eq(runs.id, runId)).run();
  // Another profile, another setting, and room that was made.
  const wren = db.select().from(profiles).where(eq(profiles.name, 'Wren film 8-pass')).get();
  const other = db.select().from(profiles).where(eq(profiles.name, 'Gannet bond')).get();
  db.update(profiles)
    .set({ bytes: other?.bytes ?? Buffer.alloc(0), sha256: other?.sha256 ?? '' })
    .where(eq(profiles.name, wren?.name ?? ''))
    .run();
  renders('by the printer');
  for (const file of ['json', 'dots', 'cells'] as const) rmSync(part(file));
  renderer.lookAfter(run());
  await until(() => existsSync(part('json')));
  expect(readFileSync(part('dots')).equals(before)).toBe(true);
  expect(await renderer.sentDots(run())).toEqual({
    rendering: key,
    dots: { ...sent?.dots, parts: sent?.dots.parts.map(({ rows }) => ({ rows, url: expect.any(String) as string })) },
  });
  await until(() => !renderer.isBusy);
});

test('what can’t be rendered is not queued; where that comes later, the line says why, and that a person is needed', async () => {
  renders('render first');
  http.shop.db.delete(profiles).run();
  await expect(ensurePrintable(http.shop, runId)).rejects.toMatchObject({
    code: 'no-profile',
    message: expect.stringMatching(/^Wren fires what is rendered here\. .*no file of it is here/) as string,
    remedy: expect.stringContaining('let Wren render by itself') as string,
  });
  expect(await renderer.dotsFor(run())).toBeUndefined();
  expect(renderer.of(runId)).toMatchObject({ kind: 'failed', why: expect.stringContaining('no file of it') as string });
  const shop = { ...http.shop, renderings: renderer };
  recordPrinterState(shop, 'wren', idle('wren'));
  expect(printersNow(shop, 'wren')[0]).toMatchObject({
    state: 'waiting',
    held: { runId, code: 'rendering', hand: true, text: expect.stringContaining('can’t be rendered') as string },
  });
});
