import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { BinaryBitmap, HybridBinarizer, MultiFormatReader, RGBLuminanceSource } from '@zxing/library';
import sharp from 'sharp';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeEach(async () => {
  shop = await TestShop.open();
});
test.afterEach(async () => {
  await shop.close();
});

test('marks take their space in the nest, are in the PDF, and the code that is read there finds the run', async ({
  page,
}) => {
  await shop.bringIn('magpie-labels', 'apron.pdf', await pdfFile([{ widthMm: 300, heightMm: 200 }]));
  await shop.setTicket('apron.pdf', { copies: 6, orderNo: 'LM-77' });
  await page.goto(`${shop.url}/intake`);
  await page.getByLabel('Choose apron.pdf').check();
  await page.getByRole('button', { name: /^Lay out/ }).click();
  const figures = page.getByRole('complementary', { name: 'Figures' });
  await expect(page.getByRole('button', { name: 'Nest again' })).toBeVisible();
  const id = /bench\/(run-\w+)/.exec(page.url())?.[1] ?? '';
  await shop.until(async () => (await shop.run(id)).lengthMm > 0);
  const plain = (await shop.run(id)).lengthMm;
  await page.getByRole('tab', { name: 'Marks' }).click();
  await figures.getByLabel('Trace code', { exact: true }).check();
  await figures.getByLabel('Crop marks', { exact: true }).check();
  await figures.getByLabel('Labels', { exact: true }).check();
  await figures.getByLabel('The label says').fill('{order} {copy}/{of}');
  await figures.getByLabel('The label says').press('Enter');
  // Two codes, eight ticks and a label a piece.
  await expect(page.getByTestId('marks')).toHaveAttribute('data-count', String(2 + 6 * 9));
  await shop.until(async () => (await shop.run(id)).settings.marks?.label.pattern === '{order} {copy}/{of}');
  await expect(page.getByRole('button', { name: 'Nest again' })).toBeVisible();
  await shop.until(async () => (await shop.run(id)).lengthMm > plain + 24);

  await page.getByRole('button', { name: 'Take as' }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'PDF' }).click(),
  ]);
  const file = join(shop.dataDir, 'run.pdf');
  await download.saveAs(file);
  const dpi = 360;
  const run = await shop.run(id);
  const px = (mm: number): string => String(Math.round((mm / 25.4) * dpi));
  // The head of the run alone, where the code stands.
  const head = ['-x', px(run.usableFromMm), '-y', px(run.settings.leadMm), '-W', px(140), '-H', px(10)];
  const png = execFileSync('pdftoppm', ['-r', String(dpi), ...head, '-gray', '-png', file], { maxBuffer: 1e8 });
  const { data, info } = await sharp(png).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
  const pixels = new Uint8ClampedArray(data);
  const bitmap = new BinaryBitmap(new HybridBinarizer(new RGBLuminanceSource(pixels, info.width, info.height)));
  const said = new MultiFormatReader().decode(bitmap).getText();
  expect(said).toBe(id);

  // A scanner types the code and Enter.
  await page.goto(`${shop.url}/intake`);
  await expect(page.getByLabel('Filter jobs')).toBeVisible();
  await page.keyboard.press('/');
  await expect(page.getByRole('combobox', { name: 'Find' })).toBeFocused();
  await page.keyboard.type(said.toUpperCase());
  await expect(page.getByRole('dialog').getByRole('option')).toHaveCount(1);
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(new RegExp(`bench/${id}`));

  // The figures above the tabs still grow while the run is read: a click may miss on a slow machine.
  const marks = page.getByRole('tab', { name: 'Marks' });
  await expect(async () => {
    await marks.click();
    await expect(marks).toHaveAttribute('aria-selected', 'true', { timeout: 2000 });
  }).toPass();
  // Twenty ids in Code 39 are wider than any roll, whatever digits they have.
  await figures.getByLabel('Kind of code').selectOption('code39');
  await figures.getByLabel('The code says').fill('{id}'.repeat(20));
  await figures.getByLabel('The code says').press('Enter');
  await expect(figures.getByRole('alert')).toContainText('mm are free');
});
