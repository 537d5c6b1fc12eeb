import { expect, test, type Page } from '@playwright/test';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });

let shop: TestShop;
test.beforeEach(async () => {
  shop = await TestShop.open({ rate: 120 });
});
test.afterEach(async () => {
  await shop.close();
});

/** What can be pressed and is smaller than a thumb needs; bars and pieces, which are drawn to scale, are left out. */
function tooSmall(page: Page): Promise<string[]> {
  return page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('button:not(.to-scale), a[href], select, input, [role=tab], summary')]
      .map((element) => {
        const isBox = element instanceof HTMLInputElement && ['checkbox', 'radio'].includes(element.type);
        const { width, height } = ((isBox && element.labels?.[0]) || element).getBoundingClientRect();
        return { name: element.getAttribute('aria-label') ?? element.textContent, width, height, element };
      })
      .filter(
        ({ width, height, element }) => !element.matches('.sr-only') && width > 0 && Math.min(width, height) < 43.5,
      )
      .map(({ name, width, height }) => `${name} ${width.toFixed(0)} × ${height.toFixed(0)}`),
  );
}

const isWhole = async (page: Page): Promise<void> => {
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  expect(await tooSmall(page)).toEqual([]);
};

test('on a phone: the hand that is needed, the load panel and the ticket work with one thumb, and nothing hangs over the edge', async ({
  page,
}) => {
  const job = await shop.bringIn('heron-banners', 'sail.pdf', await pdfFile([{ widthMm: 1200, heightMm: 900 }]));
  await shop.setTicket('sail.pdf', { stockId: 'mesh' });
  const run = await shop.queueRun([job.id]);
  await page.goto(`${shop.url}/floor`);
  const heron = page.getByRole('article', { name: 'Heron' });
  await expect(heron).toContainText('waits: load');
  // What needs a hand stands first, and there is no strip that would not be seen.
  await expect(page.getByRole('article').first()).toHaveAccessibleName('Heron');
  await expect(page.locator('[data-strip]')).toHaveCount(0);
  await isWhole(page);
  await heron
    .getByRole('list', { name: 'Hands for Heron' })
    .getByRole('button', { name: /Load ME-08/ })
    .first()
    .tap();
  const sheet = page.getByRole('complementary', { name: 'Heron' });
  await sheet.getByRole('button', { name: 'Load another spool on roll' }).tap();
  const load = sheet.getByRole('group', { name: 'Load Heron, roll' });
  await load.getByRole('button', { name: /ME-08/ }).tap();
  await isWhole(page);
  for (const tick of await load.getByRole('checkbox').all()) await tick.tap();
  await load.getByRole('button', { name: 'Load ME-08 on Heron, roll' }).tap();
  await shop.runIs(run.id, 'printed');
  await sheet.getByRole('button', { name: 'Close' }).tap();
  await expect(sheet).toBeHidden();
  await shop.bringIn('heron-banners', 'next.pdf', await pdfFile([{ widthMm: 600, heightMm: 900 }]));
  await page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: 'Intake' }).tap();
  await page.getByText('next.pdf', { exact: true }).tap();
  const ticket = page.getByRole('complementary', { name: 'next.pdf' });
  await ticket.getByLabel('Copies', { exact: true }).fill('3');
  await ticket.getByLabel('Copies', { exact: true }).press('Enter');
  await shop.until(async () => (await shop.job('next.pdf')).copies === 3);
  await isWhole(page);
  for (const view of ['Media', 'Shelf']) {
    await page.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: view }).tap();
    await expect(page.getByRole('heading', { name: view, exact: true })).toBeVisible();
    await isWhole(page);
  }
});
