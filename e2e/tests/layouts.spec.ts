import { expect, test } from '@playwright/test';
import { laidOut, layOutJobs } from '../driver/bench.ts';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeAll(async () => {
  shop = await TestShop.open({ rate: 600 });
});
test.afterEach(async () => {
  await shop.clearBench();
});
test.afterAll(async () => {
  await shop.close();
});

// First: nothing but its own jobs may wait.
test('batches are proposed over everything that waits, one is changed and laid out, one is left', async ({ page }) => {
  const label = await pdfFile([{ widthMm: 200, heightMm: 100 }]);
  for (const name of ['a.pdf', 'b.pdf', 'c.pdf']) await shop.bringIn('magpie-labels', name, label);
  for (const name of ['d.pdf', 'e.pdf']) await shop.bringIn('bittern-photo', name, label);
  await page.goto(`${shop.url}/bench`);
  await page.getByRole('link', { name: 'Propose batches' }).click();
  await expect(page.getByTestId('batches-total')).toContainText('5 jobs wait. 2 batches save');
  const labels = page.getByRole('article').filter({ hasText: 'a.pdf' });
  await expect(labels).toContainText('m instead of');
  await page.getByRole('article').filter({ hasText: 'd.pdf' }).getByRole('button', { name: 'Not now' }).click();
  await expect(page.getByRole('article')).toHaveCount(1);
  const figures = await labels.getByText('m instead of').textContent();
  await labels.getByLabel('With b.pdf').uncheck();
  await expect(labels.getByText('m instead of')).not.toHaveText(figures ?? '');
  await labels.getByRole('button', { name: 'Lay out 2 jobs' }).click();
  await expect(page).toHaveURL(/\/bench\/run-/);
  await expect(page.locator('[data-piece]')).toHaveCount(2);
});

test('two sides: the back follows the front, waits for the front and for a person, and is printed on the same spool', async ({
  page,
}) => {
  const sign = { widthMm: 300, heightMm: 200 };
  await shop.bringIn('bittern-photo', 'sign.pdf', await pdfFile([sign, sign]));
  const id = await layOutJobs(page, shop, 'sign.pdf');
  await page.getByRole('tab', { name: 'Sides' }).click();
  await page.getByLabel('Media is turned').selectOption('end for end');
  await page.getByRole('button', { name: 'Add the back' }).click();
  await expect(page.getByRole('img', { name: 'The back to scale' })).toBeVisible();
  const backId = (await shop.run(id)).pair?.otherRunId ?? '';
  // What lay beside the backs is nested anew.
  await laidOut(page, shop);
  await page.locator('[data-piece]').click();
  await page.keyboard.press('Shift+ArrowRight');
  await shop.until(async () => {
    const [front, back] = [await shop.run(id), await shop.run(backId)];
    const [a, b] = [front.pieces[0], back.pieces[0]];
    const ends = (b?.yMm ?? 0) + (a?.yMm ?? 0) + (a && a.angleDeg % 180 === 0 ? 200 : 300);
    return Math.abs(ends - front.lengthMm) < 1e-3 && (a?.yMm ?? 0) > front.settings.leadMm + 9;
  });
  await page.getByRole('link', { name: 'back', exact: true }).click();
  await expect(page.getByText('draft, back')).toBeVisible();
  await page.getByRole('button', { name: /^Queue both sides/ }).click();
  await shop.runIs(id, 'printed');
  const back = await shop.run(backId);
  expect([back.state, back.pair?.confirmed]).toEqual(['queued', false]);
  await page.goto(`${shop.url}/floor`);
  await page.getByRole('button', { name: /Turn the media on Bittern end for end for the back/ }).click();
  const left = (await shop.spool(back.spoolId ?? '')).leftMm;
  await page.getByLabel(/^Confirm the media for the back/).selectOption(back.spoolId ?? '');
  await shop.runIs(backId, 'printed');
  expect((await shop.spool(back.spoolId ?? '')).leftMm).toBe(left);
  await shop.jobIs('sign.pdf', 'printed');
});

test('wider than the media: split into panels by one click, laid out on sheets, with an assembly map', async ({
  page,
}) => {
  await shop.bringIn('heron-banners', 'wall.pdf', await pdfFile([{ widthMm: 4000, heightMm: 900 }]));
  await shop.setTicket('wall.pdf', { quarterTurn: false });
  await page.goto(`${shop.url}/intake`);
  await page.getByText('wall.pdf', { exact: true }).click();
  await page.getByRole('button', { name: 'Split it into 3 panels' }).click();
  await expect(page.getByRole('img', { name: /in 3 panels, to scale$/ })).toBeVisible();
  const map = await shop.file(`/api/jobs/${(await shop.job('wall.pdf')).id}/assembly`);
  expect(map.subarray(0, 5).toString()).toBe('%PDF-');
  await page.getByRole('button', { name: 'Close' }).first().click();
  const id = await layOutJobs(page, shop, 'wall.pdf');
  expect((await shop.run(id)).pieces.map((piece) => piece.panel?.no)).toEqual([1, 2, 3]);
  await page.getByRole('tab', { name: 'Lay out' }).click();
  await page.getByLabel('On sheets').check();
  await expect(page.getByRole('complementary', { name: 'Figures' })).toContainText('Sheets, no fewer than 3');
  await shop.until(async () => (await shop.run(id)).lengthMm === 3000);
  await page.getByLabel('Length of a sheet').fill('800');
  await page.getByLabel('Length of a sheet').press('Enter');
  await expect(page.getByRole('alert')).toContainText('wall.pdf is longer than a sheet between its margins: 900 mm');
});

test('sheets in places are filled in the order in which a person put the jobs; codes for the floor come on a worksheet', async ({
  page,
}) => {
  for (const [name, widthMm] of [
    ['even.pdf', 200],
    ['odd.pdf', 240],
  ] as const) {
    await shop.bringIn('magpie-labels', name, await pdfFile([{ widthMm, heightMm: 100 }]));
    await shop.setTicket(name, { copies: 3 });
  }
  await page.goto(`${shop.url}/intake`);
  for (const name of ['even.pdf', 'odd.pdf']) await page.getByLabel(`Choose ${name}`).check();
  await page.getByRole('button', { name: 'Worksheet' }).click();
  await page.getByLabel('Columns of the worksheet').fill('2');
  await page.getByLabel('Columns of the worksheet').press('Enter');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Take 1 sheet as PDF' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('worksheet.pdf');
  await page.getByRole('button', { name: /^Lay out/ }).click();
  const id = await laidOut(page, shop);
  await page.getByRole('tab', { name: 'Lay out' }).click();
  await page.getByLabel('On sheets').check();
  await page.getByLabel('In places, filled in order').check();
  await page.getByLabel('Places across').fill('2');
  await page.getByLabel('Places across').press('Enter');
  await page.getByLabel('Places along').fill('2');
  await page.getByLabel('Places along').press('Enter');
  await expect(page.getByRole('complementary', { name: 'Figures' })).toContainText('Sheets, no fewer than 2');
  const firstOnSheet = async (): Promise<string | undefined> => {
    const { pieces } = await shop.run(id);
    return [...pieces].sort((a, b) => a.yMm - b.yMm || a.xMm - b.xMm)[0]?.sourceName;
  };
  await shop.until(async () => (await shop.run(id)).lengthMm === 2000);
  expect(await firstOnSheet()).toBe('even.pdf');
  await page.getByRole('button', { name: 'Move odd.pdf' }).focus();
  await page.keyboard.press('Space');
  await expect(page.getByText('odd.pdf would be number 2 of 2.')).toBeAttached();
  // What is measured when it is taken up is there a moment later.
  await expect(async () => {
    await page.keyboard.press('ArrowUp');
    await expect(page.getByText('odd.pdf would be number 1 of 2.')).toBeAttached({ timeout: 300 });
  }).toPass();
  await page.keyboard.press('Space');
  await shop.until(async () => (await firstOnSheet()) === 'odd.pdf');
  await page.getByLabel('Places across').fill('14');
  await page.getByLabel('Places across').press('Enter');
  await expect(page.getByRole('alert')).toContainText(/is larger than a place: 2\d0 × 100 mm of/);
});
