import { expect, test, type Page } from '@playwright/test';
import { layOutJobs } from '../driver/bench.ts';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeEach(async () => {
  shop = await TestShop.open({ rate: 120 });
});
test.afterEach(async () => {
  await shop.close();
});

/** Whether the focus has fallen to the page; asked once what has changed is drawn. */
async function focusIsKept(page: Page, after: string): Promise<void> {
  await page.waitForTimeout(250);
  const where = await page.evaluate(() => (document.activeElement === document.body ? 'the page' : 'kept'));
  expect(where, after).toBe('kept');
}

/** Presses Tab until something is reached, as a person does who can't see where it is. */
async function tabTo(page: Page, name: RegExp, most = 80): Promise<void> {
  for (let i = 0; i < most; i++) {
    await page.keyboard.press('Tab');
    const now = await page.evaluate(() => {
      const element = document.activeElement;
      return element?.getAttribute('aria-label') ?? (element instanceof HTMLElement ? element.innerText : '');
    });
    if (name.test(now)) return;
  }
  throw new Error(`${String(name)} is not reached by ${String(most)} presses of Tab`);
}

test('a fault is noticed on the Shelf and put right by keys alone', async ({ page }) => {
  const job = await shop.bringIn('bittern-photo', 'long.pdf', await pdfFile([{ widthMm: 500, heightMm: 2000 }]));
  await page.goto(`${shop.url}/shelf`);
  await expect(page.getByRole('heading', { name: 'Shelf', exact: true })).toBeVisible();
  await shop.strike('bittern', { kind: 'media out', atMm: 700 });
  const run = await shop.queueRun([job.id]);
  const line = page.getByTestId('alert-line');
  await expect(line).toContainText(/Bittern stands in Run \d+: media out/);
  await expect(page).toHaveTitle(/^\(1\) /);
  await tabTo(page, /^Open$/);
  await page.keyboard.press('Enter');
  const sheet = page.getByRole('complementary', { name: 'Bittern' });
  // The sheet has the focus: what is to be done is a few presses away.
  await expect(sheet).toBeFocused();
  await shop.mend('bittern');
  await tabTo(page, /^Go on$/, 12);
  await page.keyboard.press('Enter');
  await shop.runIs(run.id, 'printed');
  await focusIsKept(page, 'the run goes on and ends');
  await expect(line).toBeEmpty();
  await page.keyboard.press('Escape');
  await expect(sheet).toBeHidden();
  await focusIsKept(page, 'the sheet is closed');
});

test('the focus never falls to the page: what was pressed may go, its neighbour takes it', async ({ page }) => {
  await shop.setRate(0);
  const jobs = await Promise.all(
    ['a.pdf', 'b.pdf', 'c.pdf'].map(async (name) =>
      shop.bringIn('heron-banners', name, await pdfFile([{ widthMm: 600, heightMm: 400 }])),
    ),
  );
  for (const { id } of jobs.slice(0, 2)) await shop.queueRun([id]);
  await page.goto(`${shop.url}/floor`);
  const open = page.getByRole('button', { name: 'Open Heron' });
  await open.focus();
  await page.keyboard.press('Enter');
  const sheet = page.getByRole('complementary', { name: 'Heron' });
  await expect(sheet).toBeFocused();
  // Escape closes what lies over the sheet, not the sheet as well.
  await page.keyboard.press('?');
  await expect(page.getByRole('heading', { name: 'Floor: help' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(sheet).toBeVisible();
  const press = async (name: RegExp | string): Promise<void> => {
    await sheet.getByRole('button', { name }).last().focus();
    await page.keyboard.press('Enter');
    await focusIsKept(page, `${String(name)} on the Floor`);
  };
  await press(/earlier/);
  await press('Load another spool on roll');
  await press('Close');
  await press('Take out');
  await press('Remove from line');
  await page.keyboard.press('Escape');
  await expect(sheet).toBeHidden();
  await expect(open).toBeFocused();
  await page.keyboard.press('?');
  await page.keyboard.press('Escape');
  await focusIsKept(page, 'the help is closed');
  // A ticket, and back to the table.
  await page.goto(`${shop.url}/intake`);
  await page.getByRole('grid', { name: 'Jobs' }).focus();
  await page.keyboard.press('Enter');
  const ticket = page.getByRole('complementary', { name: /\.pdf$/ });
  await expect(ticket).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('grid', { name: 'Jobs' })).toBeFocused();
  await page.keyboard.press(' ');
  await page.getByRole('button', { name: 'Choose none' }).focus();
  await page.keyboard.press('Enter');
  await focusIsKept(page, 'nothing is chosen any more');
  await page.goto(`${shop.url}/setup?rules=`);
  await page.getByRole('button', { name: 'A rule' }).focus();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Remove Rule 3' }).focus();
  await page.keyboard.press('Enter');
  await focusIsKept(page, 'a rule is removed');
  // At once, before anything is drawn again: the very next key goes to the neighbour, too.
  const isKeptAtOnce = await page.evaluate(async () => {
    document.activeElement?.remove();
    await Promise.resolve();
    return document.activeElement !== document.body;
  });
  expect(isKeptAtOnce).toBe(true);
});

test('a single piece is picked, heard and moved by keys; lists are one stop, with arrows inside', async ({ page }) => {
  await shop.bringIn('heron-banners', 'one.pdf', await pdfFile([{ widthMm: 300, heightMm: 200 }]));
  await shop.bringIn('heron-banners', 'two.pdf', await pdfFile([{ widthMm: 400, heightMm: 250 }]));
  const id = await layOutJobs(page, shop, 'one.pdf', 'two.pdf');
  const said = page.getByRole('status').filter({ hasText: 'along the feed' });
  await page.keyboard.press('.');
  await expect(said).toContainText(/(one|two)\.pdf, copy 1, \d+ × \d+ mm/);
  const first = await said.textContent();
  await page.keyboard.press('.');
  await expect(said).not.toHaveText(first ?? '');
  await page.keyboard.press(',');
  await expect(said).toHaveText(first ?? '');
  const places = async () => (await shop.run(id)).pieces.map(({ yMm }) => yMm);
  const before = await places();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(said).not.toHaveText(first ?? '');
  await shop.until(
    async () => (await places()).filter((y, i) => Math.abs(y - (before[i] ?? 0) - 10) < 1e-6).length === 1,
  );
  // Setup's list: one stop for Tab, arrows go through it.
  await page.goto(`${shop.url}/setup?printer=heron`);
  const list = page.getByRole('navigation', { name: 'What is set up' });
  await expect(list.getByRole('button', { name: /^Heron/ }).first()).toHaveAttribute('tabindex', '0');
  expect(await list.locator('[data-rove][tabindex="0"]').count()).toBe(1);
  await list
    .getByRole('button', { name: /^Heron/ })
    .first()
    .focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page).not.toHaveURL(/printer=heron/);
  await page.keyboard.press('End');
  await expect(list.getByRole('button', { name: /^Named sizes/ })).toBeFocused();
});

test('filters stand in the address: they survive a reload and Back, and late is one click', async ({ page }) => {
  await shop.bringIn('heron-banners', 'past due.pdf', await pdfFile([{ widthMm: 300, heightMm: 200 }]));
  await shop.bringIn('heron-banners', 'some day.pdf', await pdfFile([{ widthMm: 300, heightMm: 200 }]));
  await shop.setTicket('past due.pdf', { dueMs: Date.now() - 86_400_000 });
  await page.goto(`${shop.url}/intake`);
  const rows = page.getByRole('row').filter({ hasText: '.pdf' });
  await expect(rows).toHaveCount(2);
  await page.getByRole('group', { name: 'Which jobs' }).getByRole('button', { name: /^late/i }).click();
  await expect(rows).toHaveCount(1);
  await expect(page).toHaveURL(/show=late/);
  await page.reload();
  await expect(rows).toHaveCount(1);
  await expect(rows).toContainText('past due.pdf');
  await page.getByRole('searchbox', { name: 'Filter jobs' }).fill('nowhere');
  await expect(rows).toHaveCount(0);
  await expect(page).toHaveURL(/find=nowhere/);
  await page.getByRole('searchbox', { name: 'Filter jobs' }).fill('');
  await page
    .getByRole('group', { name: 'Which jobs' })
    .getByRole('button', { name: /^waits for me/i })
    .click();
  await expect(rows).toHaveCount(2);
  await page.goBack();
  await expect(page).toHaveURL(/show=late/);
  await expect(rows).toHaveCount(1);
});
