import { expect, test } from '@playwright/test';
import { pdfFile } from '../driver/files.ts';
import { labelsAt, PLACES, ShopNames } from '../driver/labels.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeAll(async () => {
  shop = await TestShop.open();
  await shop.bringIn('bittern-photo', 'Quay at night.pdf', await pdfFile([{ widthMm: 400, heightMm: 300 }]));
  await shop.bringIn('bittern-photo', 'Quay by day.pdf', await pdfFile([{ widthMm: 400, heightMm: 300 }]));
});
test.afterAll(async () => {
  await shop.close();
});

test('/ finds settings, actions and help by the words of the trade and what else people call them', async ({
  page,
}) => {
  await page.goto(`${shop.url}/floor`);
  await expect(page.getByRole('list', { name: 'Next hands' }).or(page.getByText('no hand is needed'))).toBeVisible();
  await page.keyboard.press('/');
  const field = page.getByRole('combobox', { name: 'Find' });
  const first = page.getByRole('dialog').getByRole('option').first();
  for (const [word, found] of [
    ['cut off', 'Cut off'],
    ['drying', 'Drying time'],
    ['dry out', 'Dry-out feed'],
    ['purge', 'Purge'],
    ['clogged', 'Heads and nozzles'],
    ['nozzle', 'Heads and nozzles'],
    ['carriage', 'Carriage'],
    ['carriage span', 'Carriage span'],
    ['free-hang', 'Free-hang length'],
    ['mirror', 'Mirror'],
    ['undo', 'Undo'],
    ['units', 'Units'],
    ['tank', 'Tank'],
    ['tanks', 'Ink'],
    ['borderless', 'Edge to edge'],
    ['reprint', 'Print again'],
    ['dark', 'Dark colours'],
  ] as const) {
    await field.fill(word);
    await expect(first).toContainText(found);
    // The time comes first by its name; the feed that dries is found as well.
    if (word === 'drying')
      await expect(page.getByRole('option').filter({ hasText: 'Dry-out feed' }).first()).toBeVisible();
  }
  await page.keyboard.press('Enter');
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
  await page.keyboard.press('/');
  await field.fill('light colours');
  await page.keyboard.press('Enter');
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'light');
});

test('/ finds the labels that can be read anywhere in the application, at least 95 of 100', async ({ page }) => {
  const names = await ShopNames.of(shop);
  const labels = new Set<string>();
  for (const place of PLACES) for (const label of await labelsAt(page, shop.url, place, names)) labels.add(label);
  expect(labels.size).toBeGreaterThan(250);
  await page.goto(`${shop.url}/floor`);
  await expect(page.getByRole('heading', { name: 'Floor' })).toBeVisible();
  await page.keyboard.press('/');
  const field = page.getByRole('combobox', { name: 'Find' });
  const missed: string[] = [];
  for (const label of labels) {
    await field.fill(label);
    const shown = await page.getByRole('option').allInnerTexts();
    if (!shown.some((text) => text.toLowerCase().includes(label.toLowerCase()))) missed.push(label);
  }
  expect(missed.length / labels.size, `not found: ${missed.join(' | ')}`).toBeLessThanOrEqual(0.05);
});

test('/ goes to the very field, and opens what it is hidden behind', async ({ page }) => {
  await page.goto(`${shop.url}/floor`);
  await expect(page.getByRole('heading', { name: 'Floor' })).toBeVisible();
  const find = async (words: string): Promise<void> => {
    // From a field, a slash is a slash.
    await page.getByRole('button', { name: 'Find', exact: true }).click();
    await page.getByRole('combobox', { name: 'Find' }).fill(words);
    await expect(page.getByRole('dialog').getByRole('option').first()).toContainText(words, { ignoreCase: true });
    await page.keyboard.press('Enter');
  };
  // Another sheet is open: it gives way.
  await page.getByRole('button', { name: 'Propose an order' }).click();
  await find('Heads and nozzles');
  await expect(page.locator('.found')).toHaveText('Ink left');
  await find('Free-hang length');
  await expect(page).toHaveURL(/\/setup\?printer=/);
  await expect(page.getByLabel('Free-hang length', { exact: true })).toBeFocused();
  await find('Receive media');
  await expect(page.getByRole('button', { name: 'Receive media' })).toBeFocused();
  await find('Add to the rack');
  await expect(page.getByRole('button', { name: 'Add to the rack' })).toHaveClass(/found/);
  await find('Correct what is left');
  await expect(page).toHaveURL(/media\?spool=/);
  await expect(page.locator('.found')).toHaveText('Correct what is left');
});
