import { expect, test } from '@playwright/test';
import type { RenderedData } from '../../contract/api/shelf.ts';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeAll(async () => {
  shop = await TestShop.open({ rate: 300 });
});
test.afterAll(async () => {
  await shop.close();
});

test('printed work is found on the Shelf: again as it was from what is rendered, the spoiled pieces again, and as a new job', async ({
  page,
}) => {
  const job = await shop.bringIn('bittern-photo', 'poster.pdf', await pdfFile([{ widthMm: 400, heightMm: 300 }]));
  await shop.setTicket('poster.pdf', { copies: 2, customer: 'Marram Theatre', orderNo: 'MT-93' });
  const first = await shop.queueRun([job.id]);
  await shop.runIs(first.id, 'printed');
  const before = await shop.get<RenderedData>('/api/rendered');
  await page.goto(`${shop.url}/shelf`);
  await page.getByLabel('Search the Shelf').fill('marram 93');
  await page
    .getByRole('list', { name: 'Marram Theatre' })
    .getByRole('button', { name: /poster\.pdf/ })
    .click();
  const sheet = page.getByRole('complementary', { name: 'poster.pdf' });
  await expect(sheet.getByLabel('Copies')).toHaveValue('2');
  await sheet.getByRole('button', { name: 'Print again' }).click();
  await shop.jobIs('poster.pdf', 'ready');
  expect((await shop.job('poster.pdf')).pieces).toMatchObject({ owed: 2, printed: 2 });
  const again = await shop.queueRun([job.id]);
  await shop.runIs(again.id, 'printed');
  // The same layout of the same work: nothing was rendered anew.
  expect((await shop.get<RenderedData>('/api/rendered')).files).toBe(before.files);

  await page.goto(`${shop.url}/shelf?job=${job.id}`);
  const printed = sheet.getByRole('list', { name: 'Printed pieces' }).getByRole('checkbox');
  await expect(printed).toHaveCount(4);
  // Tapped where it lay in its run; the list beside it says the same.
  await sheet.locator('[data-spoiled]').nth(1).click();
  await expect(sheet.locator('[data-spoiled=true]')).toHaveCount(1);
  await expect(
    sheet.getByRole('list', { name: 'Printed pieces' }).getByRole('checkbox', { checked: true }),
  ).toHaveCount(1);
  await sheet.getByRole('button', { name: 'Print these 1 again' }).click();
  await shop.jobIs('poster.pdf', 'ready');
  expect((await shop.job('poster.pdf')).pieces).toMatchObject({ owed: 1, printed: 3, spoiled: 1 });
  await shop.runIs((await shop.queueRun([job.id])).id, 'printed');
  expect((await shop.job('poster.pdf')).pieces).toMatchObject({ owed: 0, printed: 4, spoiled: 1 });

  await page.goto(`${shop.url}/shelf?job=${job.id}`);
  await sheet.getByRole('button', { name: 'Open as a new job' }).click();
  await expect(page).toHaveURL(/\/intake\?job=/);
  const both = (await shop.jobs()).filter((each) => each.sourceName === 'poster.pdf');
  expect(both.map((each) => each.state).sort()).toEqual(['printed', 'ready']);
});

test('keep rules: dropped at once, or after its time on the Shelf', async () => {
  for (const [name, keep] of [
    ['gone.pdf', { kind: 'drop' }],
    ['kept.pdf', { kind: 'days', days: 1 }],
  ] as const) {
    const job = await shop.bringIn('bittern-photo', name, await pdfFile([{ widthMm: 200, heightMm: 150 }]));
    await shop.setTicket(name, { keep });
    await shop.runIs((await shop.queueRun([job.id])).id, 'printed');
  }
  await shop.jobIs('gone.pdf', 'dropped');
  expect((await shop.job('kept.pdf')).state).toBe('printed');
  await shop.setRate(3600);
  await shop.jobIs('kept.pdf', 'shelved', 60_000);
  await shop.jobIs('kept.pdf', 'dropped', 90_000);
  await shop.setRate(300);
});
