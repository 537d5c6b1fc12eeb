import { expect, test } from '@playwright/test';
import { crash } from '../driver/crashes.ts';
import { pdfFile, pngFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

test.describe('the server dies while a run is printed', () => {
  let shop: TestShop;
  test.beforeAll(async () => {
    shop = await TestShop.open({ rate: 120 });
  });
  test.afterAll(async () => {
    await shop.close();
  });

  test('killed in the middle of a print: the run goes on, is printed once, and is booked once', async ({ page }) => {
    const job = await shop.bringIn('bittern-photo', 'wall.pdf', await pdfFile([{ widthMm: 600, heightMm: 2600 }]));
    const second = await shop.bringIn('bittern-photo', 'after.pdf', await pdfFile([{ widthMm: 400, heightMm: 300 }]));
    const before = (await shop.spool('spool-sp-44')).leftMm;
    const run = await shop.queueRun([job.id]);
    const next = await shop.queueRun([second.id]);
    await shop.until(async () => ((await shop.run(run.id)).reachedMm ?? 0) > 300);
    await page.goto(`${shop.url}/floor`);
    await shop.kill9();
    await expect(page.getByText('Server does not answer; trying again')).toBeVisible();
    await shop.start();
    await expect(page.getByText('Server does not answer; trying again')).toBeHidden();
    expect((await shop.run(run.id)).attempt).toBe(1);
    await shop.runIs(run.id, 'printed');
    await shop.runIs(next.id, 'printed');
    const fed = (await shop.run(run.id)).lengthMm + (await shop.run(next.id)).lengthMm + 2 * 30;
    expect((await shop.spool('spool-sp-44')).leftMm).toBeCloseTo(before - fed, 1);
    const kinds = (await shop.log()).filter((event) => event.subjectId === run.id).map((event) => event.kind);
    expect(kinds.filter((kind) => kind === 'run.sent' || kind === 'run.printed')).toEqual(['run.printed', 'run.sent']);
  });

  test('ended while the server was dead: known after the start', async () => {
    const job = await shop.bringIn('magpie-labels', 'short.pdf', await pdfFile([{ widthMm: 300, heightMm: 400 }]));
    const run = await shop.queueRun([job.id]);
    await shop.runIs(run.id, 'printing');
    await shop.kill9();
    await new Promise((done) => setTimeout(done, 5000));
    await shop.start();
    await shop.runIs(run.id, 'printed');
    expect((await shop.job('short.pdf')).state).toBe('printed');
  });
});

test.describe('the server dies again and again', () => {
  let shop: TestShop;
  test.beforeEach(async () => {
    shop = await TestShop.open({ rate: 120 });
  });
  test.afterEach(async () => {
    await shop.close();
  });

  test('killed three times while thirty files come in: each becomes one job, none is left, none is lost', async () => {
    test.setTimeout(900_000);
    const names = Array.from({ length: 30 }, (_, i) => `burst-${String(i).padStart(2, '0')}.${i % 2 ? 'pdf' : 'png'}`);
    const pdf = await pdfFile([{ widthMm: 210, heightMm: 297 }]);
    const png = await pngFile(900, 700, 150);
    for (const name of names) await shop.drop('magpie-labels', name, name.endsWith('pdf') ? pdf : png);
    for (const afterMs of [700, 300, 900]) {
      await new Promise((done) => setTimeout(done, afterMs));
      await shop.kill9();
      await shop.start();
    }
    await shop.until(
      async () => (await shop.jobs()).filter((job) => job.state === 'ready').length >= names.length,
      600_000,
    );
    await shop.until(async () => (await shop.leftIn('magpie-labels')).length === 0);
    expect((await shop.jobs()).map((job) => job.sourceName).sort()).toEqual(names);
    expect(await shop.refusals()).toEqual([]);
  });

  // 200 kills are in bench/crash.ts.
  test('killed four times while files come in and runs are queued, sent and printed: nothing lost, nothing twice, every metre booked once', async () => {
    test.setTimeout(1_200_000);
    await shop.setRate(240);
    let turn = 0;
    const after = [0.1, 0.5, 0.9, 0.3];
    expect(await crash(shop, after.length, () => after[turn++ % after.length] ?? 0.5)).toMatchObject({
      files: 2 * after.length,
      faults: [],
    });
  });
});
