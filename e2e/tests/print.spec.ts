import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import type { JobItem } from '../../contract/api/job.ts';
import { jpegFile, pdfFile, pngFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeAll(async () => {
  shop = await TestShop.open();
});
test.afterAll(async () => {
  await shop.close();
});

async function layOut(page: Page, ...names: string[]): Promise<void> {
  await page.goto(`${shop.url}/intake`);
  for (const name of names) await page.getByLabel(`Choose ${name}`).check();
  await page.getByRole('button', { name: /^Lay out/ }).click();
  await expect(page.getByRole('button', { name: 'Nest again' })).toBeVisible();
}

const usedMm = async (page: Page): Promise<number> => {
  const text = (await page.getByTestId('used-length').textContent()) ?? '';
  const [figure = '0', unit] = text.split(' ');
  return Number(figure.replace(',', '')) * (unit === 'm' ? 1000 : 1);
};

test('from the hot folder to printed: nest, settings, drag with a clash, queue, spool and log', async ({ page }) => {
  await shop.setRate(300);
  await shop.bringIn('magpie-labels', 'fish.png', await pngFile(1600, 1000, 180));
  await shop.bringIn(
    'magpie-labels',
    'cards.pdf',
    await pdfFile([
      { widthMm: 148, heightMm: 105 },
      { widthMm: 148, heightMm: 105 },
    ]),
  );
  await shop.send('PATCH', `/api/jobs/${(await shop.job('cards.pdf')).id}`, { copies: 4 });
  await shop.send('PATCH', `/api/jobs/${(await shop.job('fish.png')).id}`, { copies: 5 });
  await layOut(page, 'fish.png', 'cards.pdf');
  const pieces = page.locator('[data-piece]');
  await expect(pieces).toHaveCount(13);
  const figures = page.getByRole('complementary', { name: 'Figures' });
  // Three sizes, thirteen pieces: what is found is the shortest that there is, and that is said.
  await expect(figures.getByTestId('shortest')).toContainText('No shorter layout exists.');
  for (const what of ['Utilisation', 'left of 22.54 m', 'Start-up', 'strokes'])
    await expect(figures).toContainText(what);

  const narrow = await usedMm(page);
  await page.getByRole('tab', { name: 'Lay out' }).click();
  await figures.getByLabel('Gap', { exact: true }).fill('1 1/2 in');
  await figures.getByLabel('Gap', { exact: true }).press('Enter');
  await expect.poll(() => usedMm(page)).toBeGreaterThan(narrow + 20);
  await expect(page.getByRole('button', { name: 'Nest again' })).toBeVisible();

  // A piece dragged onto its neighbour: the clash shows at once, the run can't be queued, undo puts it right.
  const queue = page.getByRole('button', { name: /^Queue .* on Magpie/ });
  await expect(queue).toBeEnabled();
  const first = await pieces.nth(0).locator('rect').first().boundingBox();
  const second = await pieces.nth(5).locator('rect').first().boundingBox();
  if (!first || !second) throw new Error('pieces are not drawn');
  await page.mouse.move(first.x + first.width / 2, first.y + first.height / 2);
  await page.mouse.down();
  await page.mouse.move(second.x + second.width / 2 + 8, second.y + second.height / 2, { steps: 6 });
  await expect(page.locator('[data-trouble=stop]')).not.toHaveCount(0);
  await page.mouse.up();
  await expect(figures).toContainText(/pairs? overlaps?/);
  await expect(queue).toBeDisabled();
  await page.keyboard.press('Control+z');
  await expect(page.locator('[data-trouble=stop]')).toHaveCount(0);
  await expect(queue).toBeEnabled();

  // Slow enough to be seen printing, whatever else this machine does.
  await shop.setRate(40);
  const before = (await shop.spool('spool-gw-19')).leftMm;
  await page.waitForTimeout(600);
  await queue.click();
  await expect(page).toHaveURL(/\/bench$/);
  const [run] = (await shop.runs()).filter((each) => each.printerId === 'magpie');
  if (!run) throw new Error('no run was queued');
  await page.goto(`${shop.url}/floor`);
  const strip = page.getByRole('article', { name: 'Magpie' });
  await expect(
    strip.getByRole('button', { name: new RegExp(`${run.name}, printing, .* of .* m, .* left`) }),
  ).toBeVisible();
  await shop.setRate(600);
  await shop.runIs(run.id, 'printed');
  await expect(strip).toContainText('idle');
  const done = await shop.run(run.id);
  expect((await shop.spool('spool-gw-19')).leftMm).toBeCloseTo(before - done.lengthMm - 40, 1);
  for (const name of ['fish.png', 'cards.pdf']) expect((await shop.job(name)).state).toBe('printed');
  const story = (await shop.log())
    .filter((event) => event.subjectId === run.id)
    .map((event) => event.kind)
    .reverse();
  expect(story).toEqual(['run.drafted', 'run.queued', 'run.sent', 'run.printing', 'run.printed']);
});

test('printing can be watched: millimetres and time left move, the spool gets shorter, without a reload', async ({
  page,
}) => {
  await shop.setRate(60);
  const job = await shop.bringIn('bittern-photo', 'wall.pdf', await pdfFile([{ widthMm: 600, heightMm: 2600 }]));
  await page.goto(`${shop.url}/floor?printer=bittern`);
  const sheet = page.getByRole('complementary', { name: 'Bittern' });
  await expect(sheet).toContainText('Nothing is on the printer');
  const run = await shop.queueRun([job.id]);
  const printed = async (): Promise<number> =>
    Number(/Printed([\d,]+) of/.exec((await sheet.textContent()) ?? '')?.[1]?.replace(',', '') ?? -1);
  await expect.poll(printed).toBeGreaterThan(100);
  const first = await printed();
  await expect.poll(printed).toBeGreaterThan(first + 100);
  await expect(sheet).toContainText(/Time left\d+ (min|s)/);
  const left = (await shop.spool('spool-sp-44')).leftMm;
  expect(left).toBeLessThan(30_000 - 8_730 - 100);
  // Slow enough to be paused before it ends, whatever else this machine does.
  await shop.setRate(4);
  await sheet.getByRole('button', { name: 'Pause' }).click();
  await expect(sheet).toContainText('paused: paused by hand');
  await shop.setRate(600);
  await sheet.getByRole('button', { name: 'Go on' }).click();
  await shop.runIs(run.id, 'printed');
  await expect(sheet).toContainText('Nothing is on the printer');
});

test('runs of one printer follow each other; printers work side by side', async () => {
  await shop.setRate(300);
  const jobs: JobItem[] = [];
  for (const name of ['one', 'two', 'three']) {
    const queueId = name === 'three' ? 'heron-banners' : 'bittern-photo';
    jobs.push(await shop.bringIn(queueId, `${name}.jpg`, await jpegFile(3000, 4200, 150)));
  }
  const ids: string[] = [];
  for (const job of jobs) ids.push((await shop.queueRun([job.id])).id);
  const [one = '', two = '', three = ''] = ids;
  for (const id of ids) await shop.runIs(id, 'printed');
  const [a, b, c] = [await shop.run(one), await shop.run(two), await shop.run(three)];
  expect(b.startedMs ?? 0).toBeGreaterThanOrEqual(a.endedMs ?? Infinity);
  expect(c.startedMs ?? Infinity).toBeLessThan(b.endedMs ?? 0);
});

test('the PDF of an 18 m run: exact size for poppler, artwork as vectors', async ({ page }) => {
  await shop.bringIn('bittern-photo', 'scroll.pdf', await pdfFile([{ widthMm: 840, heightMm: 13_000 }]));
  await layOut(page, 'scroll.pdf');
  await expect.poll(() => usedMm(page)).toBe(13_020);
  await page.waitForTimeout(700);
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Take as' }).click();
  await page.getByRole('menuitem', { name: 'PDF' }).click();
  const file = await (await download).path();
  const bytes = readFileSync(file);
  // 13,020 mm are 36,907 pt: three units of at most 14,400 pt each.
  const unit = 3;
  const info = execFileSync('pdfinfo', ['-box', file], { encoding: 'utf8' });
  const [, , , width = 0, height = 0] = /MediaBox:\s+(\S+)\s+(\S+)\s+(\S+)\s+(\S+)/.exec(info)?.map(Number) ?? [];
  expect(width * (25.4 / 72) * unit).toBeCloseTo(914, 1);
  expect(height * (25.4 / 72) * unit).toBeCloseTo(13_020, 1);
  expect(execFileSync('pdfimages', ['-list', file], { encoding: 'utf8' }).trim().split('\n')).toHaveLength(2);
  expect(bytes.subarray(0, 5).toString()).toBe('%PDF-');
  await page.getByRole('button', { name: 'Dissolve run' }).click();
  await expect.poll(async () => (await shop.job('scroll.pdf')).state).toBe('ready');
});
