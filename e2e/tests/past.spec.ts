import { expect, test } from '@playwright/test';
import type { RunItem } from '../../contract/api/floor.ts';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
let run: RunItem;
test.beforeAll(async () => {
  shop = await TestShop.open({ rate: 600 });
  const pdf = await pdfFile([{ widthMm: 200, heightMm: 100 }]);
  for (const [name, customer] of [
    ['mast head.pdf', 'Marram Theatre'],
    ['tide table.pdf', 'Dune Radio'],
  ] as const) {
    await shop.bringIn('bittern-photo', name, pdf);
    await shop.setTicket(name, { customer });
  }
  run = await shop.queueRun([(await shop.job('mast head.pdf')).id, (await shop.job('tide table.pdf')).id]);
  await shop.runIs(run.id, 'printed', 90_000);
  await shop.bringIn('bittern-photo', 'still waiting.pdf', pdf);
});
test.afterAll(async () => {
  await shop.close();
});

test('what is printed is looked for on the server: by any part of a word, in one field, and with what waits in one list', async ({
  page,
}) => {
  await page.goto(`${shop.url}/intake`);
  const rows = page.getByRole('grid', { name: 'Jobs' }).getByRole('row').filter({ hasText: '.pdf' });
  await expect(rows).toHaveText([/still waiting/]);
  await page.getByRole('button', { name: /^printed/i }).click();
  await expect(rows).toHaveText([/tide table/, /mast head/]);
  const filter = page.getByRole('searchbox', { name: 'Filter jobs' });
  await filter.fill('arra');
  await expect(rows).toHaveText([/mast head/]);
  await filter.fill('customer:dune');
  await expect(rows).toHaveText([/tide table/]);
  await filter.fill('ti');
  await expect(page.getByText('Type at least three letters')).toBeVisible();
  await filter.fill('nothing like it');
  await expect(page.getByText('No job matches')).toBeVisible();
  await filter.fill('');
  await page.getByRole('button', { name: /^all/i }).click();
  await expect(rows).toHaveText([/still waiting/, /tide table/, /mast head/]);
  // The past is listed by arrival: what was only read so far can't be put in another order.
  await expect(page.getByRole('combobox', { name: 'Group by' })).toBeDisabled();
  await rows.filter({ hasText: 'mast head' }).click();
  await expect(page.getByRole('complementary', { name: 'mast head.pdf' })).toBeVisible();
});

test('a job leaves the list of what waits when it is printed, and comes back when it is owed again, without a reload', async ({
  page,
}) => {
  await page.goto(`${shop.url}/intake`);
  const rows = page.getByRole('grid', { name: 'Jobs' }).getByRole('row').filter({ hasText: '.pdf' });
  await page.getByRole('button', { name: /^printed/i }).click();
  await expect(rows).toHaveCount(2);
  const { id } = await shop.job('tide table.pdf');
  await shop.send('POST', `/api/jobs/${id}/again`, { copies: 1 });
  await expect(rows).toHaveText([/mast head/]);
  await page.getByRole('button', { name: /^waiting/i }).click();
  await expect(rows).toHaveText([/still waiting/, /tide table/]);
  const again = await shop.queueRun([id]);
  await shop.runIs(again.id, 'printed', 90_000);
  await expect(rows).toHaveText([/still waiting/]);
  await page.getByRole('button', { name: /^printed/i }).click();
  await expect(rows).toHaveText([/tide table/, /mast head/]);
});

test('/ finds what is printed by its words, a run by its number, and either by its trace code', async ({ page }) => {
  await page.goto(`${shop.url}/floor`);
  const { id } = await shop.job('mast head.pdf');
  const find = async (typed: string): Promise<void> => {
    await expect(page.getByRole('heading', { name: 'Floor' })).toBeVisible();
    await page.keyboard.press('/');
    await page.keyboard.type(typed);
    await page.keyboard.press('Enter');
  };
  await find('marram head');
  await expect(page).toHaveURL(new RegExp(`intake\\?job=${id}`));
  await expect(page.getByRole('complementary', { name: 'mast head.pdf' })).toBeVisible();
  await page.goto(`${shop.url}/floor`);
  await find(run.id);
  await expect(page).toHaveURL(new RegExp(`bench/${run.id}`));
  await page.goto(`${shop.url}/floor`);
  await find(id);
  await expect(page).toHaveURL(new RegExp(`intake\\?job=${id}`));
});

test('the Shelf is searched on the server, and opens what a link names', async ({ page }) => {
  const { id } = await shop.job('mast head.pdf');
  await page.goto(`${shop.url}/shelf?job=${id}`);
  await expect(page.getByRole('complementary', { name: 'mast head.pdf' })).toBeVisible();
  const search = page.getByRole('searchbox', { name: 'Search the Shelf' });
  await search.fill('dune');
  await expect(page.getByRole('list', { name: 'Dune Radio' }).getByRole('listitem')).toHaveCount(1);
  await expect(page.getByRole('list', { name: 'Marram Theatre' })).toBeHidden();
  await search.fill('no such thing');
  await expect(page.getByText('Nothing on the Shelf is called')).toBeVisible();
});
