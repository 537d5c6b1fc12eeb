import { expect, test } from '@playwright/test';
import type { CareItemView } from '../../contract/api/care.ts';
import type { HeadsView } from '../../contract/api/heads.ts';
import type { FitAnswer, FitView } from '../../contract/api/fit.ts';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeEach(async () => {
  shop = await TestShop.open({ rate: 600 });
});
test.afterEach(async () => {
  await shop.close();
});

const heads = (printerId: string): Promise<HeadsView> => shop.get(`/api/printers/${printerId}/heads`);
const cyan = async (printerId: string) => (await heads(printerId)).channels.find(({ id }) => id === 'cyan');

/** Says by the API what a plot of a printer shows. */
async function readAs(printerId: string, channelId: string, missing: readonly number[]): Promise<void> {
  const found = { [channelId]: { missing, weak: [], crooked: [], unjudged: [] } };
  await shop.send('POST', `/api/printers/${printerId}/reading`, { by: 'eye', confidence: null, found });
}

test('a check is printed, next hands ask for its reading, and bad lines are tapped by pointer and by keys', async ({
  page,
}) => {
  await page.goto(`${shop.url}/heads`);
  await page.getByRole('button', { name: 'Heron' }).click();
  const sheet = page.getByRole('complementary', { name: 'Heron' });
  await sheet.getByRole('button', { name: 'Print a check' }).click();
  await expect(sheet.getByRole('button', { name: 'Read the check plot' })).toBeVisible({ timeout: 90_000 });
  await page.goto(`${shop.url}/floor`);
  await expect(page.getByText('Read the check plot of Heron')).toBeVisible();

  await page.goto(`${shop.url}/heads?printer=heron`);
  await page.getByRole('button', { name: 'Read the check plot' }).click();
  const plot = page.getByRole('application', { name: 'Plot of Cyan' });
  await expect(plot).toBeVisible();
  // The third column, first row: nozzle 2.
  const lines = { left: 40, top: 14, columnPx: (5 * 13) / 0.7056 };
  await plot.click({ position: { x: lines.left + 2.4 * lines.columnPx, y: lines.top + 4 } });
  const said = page.getByRole('complementary', { name: 'What it shows' });
  await expect(said).toContainText('Cyan, nozzle 2: missing');
  await plot.focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Space');
  await page.keyboard.press('Space');
  await expect(said).toContainText('Cyan, nozzle 12: weak');
  await said.getByRole('button', { name: 'Take this reading' }).click();
  await expect(page.getByRole('img', { name: 'Cyan: 1 missing, 1 weak' })).toBeVisible();
  expect(await cyan('heron')).toMatchObject({ faults: { missing: [2], weak: [12], crooked: [] } });
});

test('a check is read from a photo of what was printed, and put right by hand before it is taken', async ({ page }) => {
  await shop.send('POST', '/api/care', { printerId: 'magpie', what: { kind: 'check' } });
  await shop.until(async () => (await heads('magpie')).checkToRead !== null);
  const check = (await heads('magpie')).checkToRead ?? '';
  await page.goto(`${shop.url}/heads?printer=magpie&read=${check}`);
  const said = page.getByRole('complementary', { name: 'What it shows' });
  const photo = { name: 'photo.jpg', mimeType: 'image/jpeg', buffer: await shop.plotPhoto('magpie') };
  await page.getByLabel('Pictures of the plot').setInputFiles(photo);
  await expect(said).toContainText(/4 of 4 blocks found, sure of (100\.0|9\d\.\d) %/, { timeout: 60_000 });
  // One black nozzle of this printer fires nothing.
  await page.getByLabel('Block of the plot').selectOption('Black');
  await said.getByText('Put right what you see otherwise').waitFor();
  // What the picture says, a person may see otherwise.
  await page.getByLabel('Block of the plot').selectOption('Cyan');
  await page.getByRole('application', { name: 'Plot of Cyan' }).focus();
  await page.keyboard.press('Space');
  await said.getByRole('button', { name: 'Take this reading' }).click();
  await expect(page.getByRole('img', { name: 'Cyan: 1 missing' })).toBeVisible();
  await expect(page.getByRole('img', { name: 'Black: 1 missing' })).toBeVisible();
  const { checks, channels } = await heads('magpie');
  expect(checks[0]).toMatchObject({ id: check, by: 'photo' });
  expect(channels.find(({ id }) => id === 'black')?.faults?.missing).toEqual([121]);

  // A picture of something else is refused with a way out, and nothing is lost.
  await page.goto(`${shop.url}/heads?printer=magpie&read=${check}`);
  const tiny = await shop.file('/api/printers/magpie/check-plot.png?dpi=12');
  await page.getByLabel('Pictures of the plot').setInputFiles({ ...photo, buffer: tiny });
  await expect(said.getByRole('alert')).toContainText('Take it again from straight above');
  await expect(said).toContainText('nozzle 0: missing');
});

test('the ladder is followed to a better check, and a wipe compares before and after', async ({ page }) => {
  // Every nozzle of Bittern that prints one line of its mode Photo.
  await readAs('bittern', 'black', [3, 163, 323, 483, 643]);
  await page.goto(`${shop.url}/heads?printer=bittern`);
  const sheet = page.getByRole('complementary', { name: 'Bittern' });
  await expect(sheet).toContainText('What to do for Black');
  await expect(sheet).toContainText('of the 8 nozzles for one line 3 are left, 4 needed');
  await sheet.getByRole('button', { name: 'Start: Light clean' }).click();
  await shop.until(async () => {
    const care = await shop.get<CareItemView[]>('/api/care');
    return care.filter(({ state }) => state === 'done').length === 2;
  });
  // Bittern reads its plots itself: its heads were never as bad as was said.
  await expect(sheet).not.toContainText('What to do for Black');
  expect((await heads('bittern')).checks[0]).toMatchObject({ by: 'device' });
  await sheet.getByRole('button', { name: 'Compare with the one before' }).first().click();
  await expect(page.getByRole('heading', { name: 'Bittern: before and after' })).toBeVisible();
  await expect(page.getByText(/5 missing/).first()).toBeVisible();
  await page.getByLabel('Wipe between before and after').fill('80');
  await page.getByRole('button', { name: 'Back to the heads' }).click();
  await expect(sheet).toBeVisible();
});

test('a channel that is not fit for a mode moves the fit list, holds its run, and offers it elsewhere', async ({
  page,
}) => {
  await shop.setRate(0);
  const file = await pdfFile([{ widthMm: 400, heightMm: 300 }]);
  const job = await shop.bringIn('bittern-photo', 'poster.pdf', file);
  const fits = async (): Promise<FitView[]> =>
    (await shop.send<FitAnswer>('POST', '/api/fit', { jobIds: [job.id] })).fits;
  const able = async (): Promise<string[]> => (await fits()).flatMap((fit) => (fit.can ? [fit.printerName] : []));
  expect(await able()).toEqual(expect.arrayContaining(['Bittern', 'Gannet']));
  // Whichever inks the poster fires: enough nozzles of each that print the same line are missing.
  const { channels } = await heads('bittern');
  for (const { id } of channels) await readAs('bittern', id, [3, 163, 323, 483, 643]);
  expect(await able()).not.toContain('Bittern');
  const bittern = (await fits()).find(({ printerName }) => printerName === 'Bittern');
  expect(bittern?.can === false && bittern.troubles[0]?.text).toMatch(/of Bittern can't print it: 5 missing/);
  const run = await shop.queueRun([job.id]);
  await page.goto(`${shop.url}/floor`);
  await expect(page.getByText(new RegExp(`of Bittern can't print ${run.name}: 5 missing`)).first()).toBeVisible();
  // Others are offered what it can't print.
  await page.goto(`${shop.url}/floor?printer=bittern`);
  await expect(page.getByRole('complementary', { name: 'Bittern' })).toContainText('Gannet');
});

test('a feed check is printed and measured: what can’t be is refused, and the advance is corrected from then on', async ({
  page,
}) => {
  await page.goto(`${shop.url}/heads?printer=heron`);
  const sheet = page.getByRole('complementary', { name: 'Heron' });
  await sheet.getByRole('button', { name: 'Print a feed check' }).click();
  const measured = sheet.getByLabel(/^Measured on /);
  await expect(measured).toBeVisible({ timeout: 90_000 });
  const keep = sheet.getByRole('button', { name: 'Keep' });
  await measured.fill('520');
  await measured.press('Enter');
  await keep.click();
  await expect(page.getByText(/a feed is off by 2 % at most/)).toBeVisible();
  await measured.fill('501');
  await measured.press('Enter');
  await keep.click();
  await expect(sheet).toContainText('Fed 0.20 % too far; its advance is corrected.');
});
