import { expect, test } from '@playwright/test';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeAll(async () => {
  shop = await TestShop.open({ rate: 1 });
  const job = await shop.bringIn('heron-banners', 'gate.pdf', await pdfFile([{ widthMm: 1016, heightMm: 2540 }]));
  await shop.setTicket('gate.pdf', { customer: 'Marram Theatre' });
  await shop.queueRun([job.id]);
  await shop.bringIn('heron-banners', 'sign.pdf', await pdfFile([{ widthMm: 508, heightMm: 254 }]));
});
test.afterAll(async () => {
  await shop.close();
});

test('help says what the view is for; lengths, numbers and dates are shown as a person reads them, and fields follow', async ({
  page,
}) => {
  await page.goto(`${shop.url}/intake`);
  const row = page.getByRole('row').filter({ hasText: 'sign.pdf' });
  await expect(row).toContainText('508 × 254');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('Every file that has come in is a job with a ticket');
  await page.getByLabel('Lengths in').selectOption('inches');
  // The help stays open while the page behind it is written anew.
  await expect(page.getByRole('dialog')).toContainText('Every file that has come in');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('columnheader', { name: 'Size, in' })).toBeVisible();
  await expect(row).toContainText('20 × 10');
  await page.reload();
  await expect(row).toContainText('20 × 10');
  await row.click();
  const ticket = page.getByRole('complementary', { name: 'sign.pdf' });
  await ticket.getByLabel('Size by', { exact: true }).selectOption('width and height');
  await ticket.getByLabel('Width', { exact: true }).fill('30');
  await ticket.getByLabel('Width', { exact: true }).press('Enter');
  // What the server says follows, too.
  await ticket.getByLabel('Width', { exact: true }).fill('80');
  await ticket.getByLabel('Width', { exact: true }).press('Enter');
  await expect(ticket).toContainText('it would overrun 62.6 in');
  await ticket.getByLabel('Width', { exact: true }).fill('30');
  await ticket.getByLabel('Width', { exact: true }).press('Enter');
  await shop.until(async () => Math.abs(((await shop.job('sign.pdf')).widthMm ?? 0) - 762) < 0.01);
  await page.keyboard.press('Escape');
  await page.locator('#view').focus();
  await page.keyboard.press('?');
  await page.getByLabel('Numbers and dates as').selectOption('de-DE');
  await page.goto(`${shop.url}/floor?printer=heron`);
  await expect(page.getByRole('complementary', { name: 'Heron' })).toContainText(/0,00 of \d+,\d\d in/);
});

test('the day list says what a printer does next, what is loaded and for whom, on paper without the rest of the page', async ({
  page,
}) => {
  await page.goto(`${shop.url}/floor?printer=heron`);
  await page.getByRole('link', { name: 'Day list of Heron, to print' }).click();
  const list = page.getByRole('table', { name: 'Next 24 hours of Heron' });
  await expect(list.getByRole('row').filter({ hasText: 'Run 1' })).toContainText('gate.pdf, for Marram Theatre');
  await expect(page.getByText(/roll: BO-31, Block-out banner 1600/)).toBeVisible();
  await page.emulateMedia({ media: 'print' });
  await expect(list).toBeVisible();
  await expect(page.getByRole('navigation', { name: 'Views' })).toBeHidden();
  await expect(page.getByRole('button', { name: 'Print this list' })).toBeHidden();
});

test('six first steps lead from view to view, and stay away once they are ended', async ({ page }) => {
  await page.goto(`${shop.url}/floor`);
  await expect(page.getByRole('heading', { name: 'Floor' })).toBeVisible();
  const guide = page.getByRole('region', { name: 'First steps' });
  // There is no crew in this shop: nobody is talked to who has not asked.
  await expect(guide).toBeHidden();
  await page.keyboard.press('?');
  await page.getByRole('button', { name: 'First steps' }).click();
  for (const [i, view] of ['floor', 'floor', 'intake', 'intake', 'bench', 'shelf'].entries()) {
    await expect(guide).toContainText(`${String(i + 1)} of 6`);
    await guide.getByRole('link', { name: 'Show me' }).click();
    await expect(page).toHaveURL(new RegExp(`/${view}`));
    await guide.getByRole('button', { name: i === 5 ? 'Done' : 'Next' }).click();
  }
  await expect(guide).toBeHidden();
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Shelf', exact: true })).toBeVisible();
  await expect(guide).toBeHidden();
});
