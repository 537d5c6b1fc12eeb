import { expect, test } from '@playwright/test';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeAll(async () => {
  shop = await TestShop.open({ rate: 150 });
});
test.afterAll(async () => {
  await shop.close();
});

test('media out: the Floor says who is needed; mended and resumed, the run ends whole', async ({ page }) => {
  const job = await shop.bringIn('bittern-photo', 'long.pdf', await pdfFile([{ widthMm: 500, heightMm: 2000 }]));
  await page.goto(`${shop.url}/floor`);
  await shop.strike('bittern', { kind: 'media out', atMm: 700 });
  const run = await shop.queueRun([job.id]);
  const hands = page.getByRole('list', { name: 'Next hands' });
  await expect(hands).toContainText('Bittern waits: media out');
  expect((await shop.run(run.id)).reachedMm).toBeLessThan(900);
  await hands.getByRole('button').first().click();
  const sheet = page.getByRole('complementary', { name: 'Bittern' });
  await sheet.getByRole('button', { name: 'Go on' }).click();
  await expect(page.getByRole('alert')).toContainText('Bittern still waits: media out. See to it at the printer');
  expect((await shop.run(run.id)).state).toBe('paused');
  await shop.mend('bittern');
  await sheet.getByRole('button', { name: 'Go on' }).click();
  await shop.runIs(run.id, 'printed');
  expect((await shop.job('long.pdf')).state).toBe('printed');
});

test('cover open pauses, cancelling gives the pieces back', async ({ page }) => {
  const job = await shop.bringIn('magpie-labels', 'labels.pdf', await pdfFile([{ widthMm: 900, heightMm: 1500 }]));
  const run = await shop.queueRun([job.id]);
  await shop.runIs(run.id, 'printing');
  await shop.strike('magpie', { kind: 'cover open' });
  await page.goto(`${shop.url}/floor?printer=magpie`);
  const sheet = page.getByRole('complementary', { name: 'Magpie' });
  await expect(sheet).toContainText('paused: cover open');
  // One press ruins nothing.
  await sheet.getByRole('button', { name: 'Cancel the run' }).click();
  expect((await shop.run(run.id)).state).toBe('paused');
  await sheet.getByRole('button', { name: 'Cancel the run' }).click({ delay: 1300 });
  await shop.runIs(run.id, 'cancelled');
  expect((await shop.job('labels.pdf')).state).toBe('ready');
  await shop.mend('magpie');
  await expect(sheet).toContainText('idle');
});

test('a head strike fails the run at its length: whole pieces are printed, the rest is owed, what was fed is gone', async ({
  page,
}) => {
  const job = await shop.bringIn('heron-banners', 'panels.pdf', await pdfFile([{ widthMm: 1200, heightMm: 400 }]));
  await shop.send('PATCH', `/api/jobs/${job.id}`, { copies: 5 });
  const before = (await shop.spool('spool-bo-31')).leftMm;
  await shop.strike('heron', { kind: 'head strike', atMm: 1000 });
  const run = await shop.queueRun([job.id]);
  await shop.runIs(run.id, 'failed');
  const failed = await shop.run(run.id);
  expect(failed.reason).toBe('head strike');
  const job2 = await shop.job('panels.pdf');
  expect(job2).toMatchObject({ state: 'ready', pieces: { printed: 2, owed: 3 } });
  expect((await shop.spool('spool-bo-31')).leftMm).toBeLessThan(before - (failed.reachedMm ?? 0));
  await page.goto(`${shop.url}/floor`);
  await expect(page.getByRole('list', { name: 'Next hands' })).toContainText('Heron: head strike');
  await shop.mend('heron');
  const again = await shop.queueRun([job.id]);
  expect(again.pieceCount).toBe(3);
  await shop.runIs(again.id, 'printed');
  expect((await shop.job('panels.pdf')).pieces.printed).toBe(5);
});

test('a lost line: the printer goes on printing, the Floor says it does not answer, then catches up', async ({
  page,
}) => {
  const job = await shop.bringIn('bittern-photo', 'line.pdf', await pdfFile([{ widthMm: 500, heightMm: 1500 }]));
  const run = await shop.queueRun([job.id]);
  await shop.runIs(run.id, 'printing');
  await page.goto(`${shop.url}/floor`);
  await shop.strike('bittern', { kind: 'link lost', forMs: 3500 });
  await expect(page.getByRole('article', { name: 'Bittern' })).toContainText('no answer from the printer');
  await shop.runIs(run.id, 'printed');
  await expect(page.getByRole('article', { name: 'Bittern' })).toContainText('idle');
  expect((await shop.log()).filter((event) => event.subjectId === run.id && event.kind === 'run.printed')).toHaveLength(
    1,
  );
});
