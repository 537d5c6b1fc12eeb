import { readFile } from 'node:fs/promises';
import { expect, test, type Page } from '@playwright/test';
import type { JobDetail } from '../../contract/api/job.ts';
import { pdfFile, pngFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeAll(async () => {
  shop = await TestShop.open();
});
test.afterAll(async () => {
  await shop.close();
});

const row = (page: Page, name: string) => page.getByRole('row').filter({ hasText: name });
const wire = (page: Page) => page.getByRole('contentinfo', { name: 'Wire' });

/** As an open hand over the window: the files are laid down. */
async function dropOn(page: Page, name: string, bytes: Buffer): Promise<void> {
  const drop = await page.evaluateHandle(
    ([fileName, base64]) => {
      const data = new DataTransfer();
      data.items.add(new File([Uint8Array.from(atob(base64 ?? ''), (char) => char.charCodeAt(0))], fileName ?? ''));
      return data;
    },
    [name, bytes.toString('base64')],
  );
  await page.dispatchEvent('body', 'drop', { dataTransfer: drop });
}

test('drop and go: drop, preset, Add and queue, and the run is queued', async ({ page }) => {
  await page.goto(`${shop.url}/intake`);
  await page.getByLabel('Into queue').selectOption({ label: 'Heron banners' });
  await dropOn(page, 'gate banner.png', await pngFile(600, 300, 50));
  const tray = page.getByRole('region', { name: 'Files laid down' });
  await tray.getByRole('button', { name: 'Fit the roll' }).click();
  await tray.getByRole('button', { name: 'Add and queue' }).click();
  await expect(wire(page)).toContainText(/Run \d+ (queued on Heron|is printing)|Heron/);
  await expect(tray).toBeHidden();
  const job = await shop.job('gate banner.png');
  expect([job.widthMm, job.heightMm].map((mm) => Math.round(mm ?? 0))).toEqual([1590, 795]);
  await expect.poll(async () => (await shop.runs())[0]?.state).toMatch(/queued|sent|printing/);
  expect((await shop.runs())[0]).toMatchObject({ printerId: 'heron', pieceCount: 1 });
});

test('a finding is mended with one click, seen before and after to scale, and the job is free', async ({ page }) => {
  await shop.bringIn('heron-banners', 'tower.pdf', await pdfFile([{ widthMm: 2450, heightMm: 3100 }]));
  await page.goto(`${shop.url}/intake`);
  await row(page, 'tower.pdf').click();
  const ticket = page.getByRole('complementary', { name: 'tower.pdf' });
  await expect(ticket).toContainText('Wider than Heron prints');
  await ticket.getByRole('button', { name: 'Fit it to 1,590 mm' }).hover();
  const [before, after] = await Promise.all(
    ['before: 2,450 × 3,100 mm', 'after: 1,590 × 2,011.8 mm'].map((name) =>
      ticket.getByRole('img', { name }).locator('rect').nth(3).boundingBox(),
    ),
  );
  // Both drawings have one scale: the widths stand to each other as the millimetres do.
  expect((after?.width ?? 0) / (before?.width ?? 1)).toBeCloseTo(1590 / 2450, 1);
  await ticket.getByRole('button', { name: 'Fit it to 1,590 mm' }).click();
  await expect(row(page, 'tower.pdf')).toContainText('1,590 × 2,011.8');
  await expect(row(page, 'tower.pdf')).toContainText('ready');
});

test('sizes as people write them; what is set here is put back; a set of settings becomes a preset', async ({
  page,
}) => {
  await shop.bringIn('heron-banners', 'price list.pdf', await pdfFile([{ widthMm: 400, heightMm: 300 }]));
  await page.goto(`${shop.url}/intake`);
  await row(page, 'price list.pdf').click();
  const ticket = page.getByRole('complementary', { name: 'price list.pdf' });
  await ticket.getByLabel('Size by').selectOption('exact');
  await ticket.getByLabel('Width', { exact: true }).fill('3*18in+2mm');
  await ticket.getByLabel('Width', { exact: true }).press('Enter');
  await expect(row(page, 'price list.pdf')).toContainText('1,373.6 × 1,030.2');
  await ticket.getByLabel('Width', { exact: true }).fill('wide');
  await ticket.getByLabel('Width', { exact: true }).press('Enter');
  await expect(ticket).toContainText('Not a length');
  await ticket.getByLabel('Size by').selectOption('within');
  await ticket.getByLabel('Named size').selectOption('Market apron bib');
  await expect(row(page, 'price list.pdf')).toContainText('300 × 225');
  await ticket.getByLabel('Size by').selectOption('exact');
  await ticket.getByLabel('Width', { exact: true }).fill('3*18in+2mm');
  await ticket.getByLabel('Width', { exact: true }).press('Enter');
  await ticket.getByRole('button', { name: 'A quarter turn to the left' }).click();
  await expect(row(page, 'price list.pdf')).toContainText('1,030.2 × 1,373.6');
  await ticket.getByRole('button', { name: 'Save as preset' }).click();
  await ticket.getByLabel('Name of the preset').fill('Price lists');
  await ticket.getByLabel('Name of the preset').press('Enter');
  await expect(ticket.getByLabel('Preset', { exact: true })).toContainText('Price lists');
  await ticket.getByRole('button', { name: /Put all \d back/ }).click();
  await expect(row(page, 'price list.pdf')).toContainText('400 × 300');
  await ticket.getByLabel('Preset', { exact: true }).selectOption({ label: 'Price lists' });
  await expect(row(page, 'price list.pdf')).toContainText('1,030.2 × 1,373.6');
  await ticket.getByLabel('Copies', { exact: true }).fill('3');
  await ticket.getByLabel('Copies', { exact: true }).press('Enter');
  await ticket.getByLabel('Turn', { exact: true }).selectOption('0');
  await expect(ticket).toContainText('changed here');
});

test('many tickets at once: found by words, chosen as a range, changed together, undone together', async ({ page }) => {
  for (let i = 1; i <= 4; i++)
    await shop.bringIn('magpie-labels', `stall card ${String(i)}.png`, await pngFile(200 + i, 200, 200));
  await page.goto(`${shop.url}/intake`);
  await page.getByLabel('Filter jobs').fill('name:card queue:magpie');
  await expect(page.getByText('4 shown')).toBeVisible();
  await page.getByLabel('Choose stall card 4.png').click();
  await page.getByLabel('Choose stall card 2.png').click({ modifiers: ['Shift'] });
  await expect(page.getByRole('region', { name: 'Chosen jobs' })).toContainText('3 jobs');
  await page.getByRole('button', { name: 'Change 3 tickets' }).click();
  const sheet = page.getByRole('complementary', { name: '3 jobs' });
  await expect(sheet).toContainText('set in all 3');
  await sheet.getByLabel('Customer').fill('Lantern Street Night Market');
  await sheet.getByLabel('Customer').press('Enter');
  await expect(row(page, 'stall card 3.png')).toContainText('Lantern Street');
  expect((await shop.job('stall card 1.png')).customer).toBeNull();
  await page.getByLabel('Group by').selectOption('customer');
  await expect(page.getByRole('row').filter({ hasText: 'Lantern Street Night Market3 jobs, 3 pieces' })).toBeVisible();
  await wire(page).getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await shop.job('stall card 3.png')).customer).toBeNull();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'CSV' }).click();
  const csv = await readFile(await (await download).path(), 'utf8');
  expect(csv.split('\r\n')).toHaveLength(5);
  await page.getByLabel('Group by').selectOption('none');
});

test('columns and views are a person’s own, and outlive the page', async ({ page }) => {
  await shop.bringIn('magpie-labels', 'view.png', await pngFile(200, 200, 200));
  await page.goto(`${shop.url}/intake`);
  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByRole('checkbox', { name: 'Stock' }).check();
  await page.keyboard.press('Escape');
  await expect(row(page, 'view.png')).toContainText('Gloss wrap');
  await page.getByRole('button', { name: 'Saved views' }).click();
  await page.getByLabel('Name of the view').fill('With stock');
  await page.getByLabel('Name of the view').press('Enter');
  await page.getByRole('button', { name: 'As it is at first' }).click();
  await expect(row(page, 'view.png')).not.toContainText('Gloss wrap');
  await page.reload();
  await page.getByRole('button', { name: 'Saved views' }).click();
  await page.getByRole('button', { name: 'With stock', exact: true }).click();
  await expect(row(page, 'view.png')).toContainText('Gloss wrap');
});

test('a queue is changed for what comes; tickets that are here stay as they are', async ({ page }) => {
  await shop.bringIn('magpie-labels', 'before.png', await pngFile(200, 200, 200));
  const detail = async (name: string) => shop.get<JobDetail>(`/api/jobs/${(await shop.job(name)).id}`);
  const { ticket } = await detail('before.png');
  await page.goto(`${shop.url}/setup`);
  await page.getByRole('button', { name: /Magpie labels/ }).click();
  await expect(page.getByText(/touches jobs that arrive from now on; the \d+ that (is|are) here keep/)).toBeVisible();
  await page.getByLabel('Copies', { exact: true }).fill('5');
  await page.getByLabel('Copies', { exact: true }).press('Enter');
  await page.getByLabel('left to right').click();
  await expect(page.getByLabel('left to right')).toBeChecked();
  await expect
    .poll(async () => (await detail('before.png')).ticket.values.copies === 1 && (await queueCopies()) === 5)
    .toBe(true);
  expect((await detail('before.png')).ticket).toEqual(ticket);
  await shop.bringIn('magpie-labels', 'after.png', await pngFile(200, 200, 200));
  expect((await detail('after.png')).ticket).toMatchObject({
    values: { copies: 5, mirror: true },
    origins: { copies: 'queue', mirror: 'queue' },
  });
  await page.getByRole('button', { name: 'Put copies back' }).click();
  await expect.poll(queueCopies).toBeUndefined();
});
const queueCopies = async (): Promise<number | undefined> =>
  (await shop.get<{ id: string; settings: { copies?: number } }[]>('/api/queues')).find(
    (queue) => queue.id === 'magpie-labels',
  )?.settings.copies;

test('a name pattern is tried out while it is typed, and then read from names; a folder is paused', async ({
  page,
}) => {
  await page.goto(`${shop.url}/setup?queue=bittern-photo`);
  const folder = page.getByRole('article');
  await folder.getByRole('button', { name: /hot-folders/ }).click();
  await folder.getByLabel('Name pattern').fill('{order}_{prize}');
  await expect(folder).toContainText('There is no such part: {prize}');
  await folder.getByLabel('Name pattern').fill('{order}_{customer}_{copies}x');
  await folder.getByLabel('Sample names').fill('MT-93_Marram Theatre_7x.pdf\nholiday.jpg');
  const said = folder.getByRole('list', { name: 'What the names say' });
  await expect(said).toContainText('customer Marram Theatre');
  await expect(said).toContainText('holiday.jpg: does not match');
  await folder.getByRole('button', { name: 'Use this pattern' }).click();
  await expect(folder.getByRole('button', { name: 'Leave names alone' })).toBeVisible();
  await shop.bringIn('bittern-photo', 'MT-93_Marram Theatre_7x.pdf', await pdfFile([{ widthMm: 300, heightMm: 200 }]));
  expect(await shop.job('MT-93_Marram Theatre_7x.pdf')).toMatchObject({
    copies: 7,
    customer: 'Marram Theatre',
    orderNo: 'MT-93',
  });
  await expect(folder).toContainText('1 taken');
  await folder.getByRole('button', { name: 'Pause' }).click();
  await expect(folder).toContainText('paused');
  await folder.getByRole('button', { name: 'Go on watching' }).click();
  await expect(folder).toContainText('watched');
});

test('the API: files with a ticket by multipart, bad rows one by one, and tickets out as JDF, JSON and CSV', async () => {
  const form = new FormData();
  form.append('queueId', 'bittern-photo');
  form.append(
    'ticket',
    JSON.stringify([
      { file: 'one.png', copies: 4, width: '20 in', customer: 'Hollow Hill Observatory', due: '2026-10-09T12:00:00Z' },
      { file: 'two.png', copies: 'plenty' },
    ]),
  );
  const bytes = new Uint8Array(await pngFile(300, 200, 150));
  for (const name of ['one.png', 'two.png']) form.append('files', new File([bytes], name));
  expect(await shop.upload(form)).toMatchObject({
    accepted: [{ sourceName: 'one.png', copies: 4, widthMm: 508 }],
    refused: [{ sourceName: 'two.png' }],
    problems: [{ row: 2, file: 'two.png' }],
  });
  const { id } = await shop.job('one.png');
  const out = async (format: string) => (await fetch(`${shop.url}/api/jobs/${id}/ticket?format=${format}`)).text();
  expect(JSON.parse(await out('json'))).toMatchObject({
    file: 'one.png',
    copies: '4',
    due: '2026-10-09T12:00:00.000Z',
  });
  expect(await out('csv')).toContain('Hollow Hill Observatory');
  const jdf = await out('jdf');
  expect(jdf).toContain('Amount="4"');
  // What went out comes in again as the same ticket.
  await shop.drop('bittern-photo', 'again.jdf', Buffer.from(jdf.replaceAll('one.png', 'again.png')));
  await shop.bringIn('bittern-photo', 'again.png', Buffer.from(bytes));
  await expect.poll(async () => (await shop.job('again.png')).customer).toBe('Hollow Hill Observatory');
  expect(await shop.job('again.png')).toMatchObject({ copies: 4, widthMm: expect.closeTo(508, 1) });
});
