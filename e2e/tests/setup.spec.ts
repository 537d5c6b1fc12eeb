import { expect, test } from '@playwright/test';
import type { PrinterView } from '../../contract/api/floor.ts';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeAll(async () => {
  shop = await TestShop.open({ rate: 120 });
});
test.afterAll(async () => {
  await shop.close();
});

const printer = async (name: string): Promise<PrinterView | undefined> =>
  (await shop.get<PrinterView[]>('/api/printers')).find((each) => each.name === name);

test('a device is asked what it can do and joins the floor; a copy and a file do as well; a wrong file is refused', async ({
  page,
}) => {
  await page.goto(`${shop.url}/setup?new-printer=`);
  await page.getByRole('button', { name: 'Ask Dunlin and add it' }).click();
  await expect(page.getByLabel('Printable width')).toHaveValue('1050');
  await page.goto(`${shop.url}/floor`);
  await expect(page.getByRole('article', { name: 'Dunlin' })).toContainText('idle');
  await page.goto(`${shop.url}/setup?printer=dunlin`);
  await page.getByRole('button', { name: 'Copy', exact: true }).click();
  await expect(page.getByLabel('Name of the printer')).toHaveValue('Dunlin copy');
  await page.getByRole('button', { name: 'Remove from the floor' }).click();
  await expect.poll(() => printer('Dunlin copy')).toBeUndefined();
  const file = await shop.get<{ config: object }>('/api/printers/dunlin/file');
  await page.goto(`${shop.url}/setup?new-printer=`);
  const take = page.getByLabel('Printer to take in');
  const asFile = (value: unknown) => ({
    name: 'sanderling.json',
    mimeType: 'application/json',
    buffer: Buffer.from(JSON.stringify(value)),
  });
  await take.setInputFiles(asFile({ ...file, name: 'Sanderling', config: { ...file.config, printableWidthMm: 2000 } }));
  await expect(page.getByRole('alert')).toContainText(
    'It can’t print wider than its widest media: 2,000 mm of 1,067 mm'.replace('’', "'"),
  );
  await take.setInputFiles(asFile({ ...file, name: 'Sanderling' }));
  await expect(page.getByLabel('Name of the printer')).toHaveValue('Sanderling');
});

test('a mode whose passes are not those of its profile is flagged where it is set, and each change can be undone', async ({
  page,
}) => {
  await page.goto(`${shop.url}/setup?printer=heron`);
  const passes = page.getByLabel('Passes, Production', { exact: true });
  await passes.fill('4');
  await passes.press('Enter');
  await expect(page.getByRole('alert')).toContainText('4 passes, but its profile Heron banner 6-pass was made for 6');
  await page.getByRole('contentinfo').getByRole('button', { name: 'Undo' }).click();
  await expect(passes).toHaveValue('6');
  await expect(page.getByRole('alert')).toHaveCount(0);
});

test('one run setting for many stocks: shown before, then changed, also for what is not loaded', async ({ page }) => {
  await page.goto(`${shop.url}/setup?many-stocks=`);
  for (const stock of ['Flag gauze 1500', 'Mesh banner 1600', 'Block-out banner 1600'])
    await page.getByLabel(stock).check();
  await page.getByLabel('Heron', { exact: true }).check();
  await page.getByLabel('Setting').selectOption('Dry-out feed');
  await page.getByLabel('Becomes').selectOption('on');
  await page.getByRole('button', { name: 'Show what changes' }).click();
  // The other two have it already.
  const table = page.getByRole('table', { name: 'What changes' });
  await expect(table.getByRole('row')).toHaveCount(2);
  await expect(table).toContainText('Flag gauze 1500Heronleft openon');
  expect(
    (await shop.bringIn('heron-banners', 'before.pdf', await pdfFile([{ widthMm: 300, heightMm: 200 }]))).stockId,
  ).toBe('block-out');
  await page.getByRole('button', { name: 'Change these 1' }).click();
  await page.goto(`${shop.url}/setup?stock=flag-gauze`);
  await expect(page.getByLabel('Dry-out feed, Flag gauze 1500 on Heron')).toHaveValue('on');
});

test('rules are tried before they count, then route what arrives', async ({ page }) => {
  await shop.bringIn('bittern-photo', 'plan.pdf', await pdfFile([{ widthMm: 594, heightMm: 841 }]));
  await shop.setTicket('plan.pdf', { stockId: 'bond-914' });
  await shop.bringIn('bittern-photo', 'photo.pdf', await pdfFile([{ widthMm: 594, heightMm: 841 }]));
  await page.goto(`${shop.url}/setup?rules=`);
  await page.getByRole('button', { name: 'Dry run' }).click();
  const run = page.getByRole('region', { name: 'Dry run' });
  await expect(run.getByRole('row')).toHaveCount(2);
  await expect(run).toContainText('plan.pdfBitternGannetPlans to Gannet, else Bittern');
  expect((await shop.job('plan.pdf')).queueId).toBe('bittern-photo');
  // Photos over 700 mm long go to Gannet, too.
  await page.getByRole('button', { name: 'A rule' }).click();
  const rule = page.getByRole('listitem', { name: 'Rule 3' });
  await rule.getByLabel('Text').fill('satin');
  await rule.getByRole('button', { name: 'and' }).click();
  await rule.getByLabel('What the rule looks at').nth(1).selectOption('length (mm)');
  await rule.getByLabel('Figure').fill('700');
  await rule.getByLabel('Printer', { exact: true }).selectOption('Gannet');
  await page.getByRole('button', { name: 'Dry run' }).click();
  await expect(rule).toContainText('1 job, 1 goes elsewhere');
  await page.getByRole('button', { name: 'Apply these rules' }).click();
  await expect(page.getByText('These rules apply from now on')).toBeVisible();
  await page.goto(`${shop.url}/setup?queue=bittern-photo`);
  await page.getByLabel('Routing', { exact: true }).selectOption('by the rules, else it stays');
  await shop.until(async () => {
    const queues = await shop.get<{ id: string; routing: string }[]>('/api/queues');
    return queues.find((queue) => queue.id === 'bittern-photo')?.routing === 'rules';
  });
  await shop.drop('bittern-photo', 'long.pdf', await pdfFile([{ widthMm: 594, heightMm: 841 }]));
  await shop.drop('bittern-photo', 'short.pdf', await pdfFile([{ widthMm: 300, heightMm: 420 }]));
  await shop.until(async () => (await shop.job('long.pdf')).queueId === 'gannet-plans');
  await shop.jobIs('short.pdf', 'ready');
  expect((await shop.job('short.pdf')).queueId).toBe('bittern-photo');
  expect((await shop.log()).find(({ kind }) => kind === 'job.routed')?.data).toEqual({
    file: 'long.pdf',
    printer: 'Gannet',
    why: 'by the rule Rule 3',
  });
});

test('hours and holidays are set, and the floor is hatched when nobody is there', async ({ page }) => {
  await page.goto(`${shop.url}/setup?hours=`);
  await page.getByLabel('Sunday', { exact: true }).click();
  await expect(page.getByLabel('Sunday from')).toHaveValue('07:30');
  await page.getByLabel('Date of the holiday').fill('2027-01-01');
  await page.getByLabel('Name of the holiday').fill('First day');
  await page.getByLabel('Name of the holiday').press('Enter');
  await expect(page.getByText('First day')).toBeVisible();
  const setup = await shop.get<{ days: unknown[]; holidays: { date: string }[] }>('/api/shop');
  expect(setup.days).toHaveLength(7);
  expect(setup.holidays.map(({ date }) => date)).toContain('2027-01-01');
  await page.goto(`${shop.url}/floor`);
  await page.getByRole('button', { name: 'week' }).click();
  await expect(page.locator('.hatched').first()).toBeAttached();
});
