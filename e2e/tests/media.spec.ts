import { expect, test } from '@playwright/test';
import type { SpoolView } from '../../contract/api/floor.ts';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeEach(async () => {
  shop = await TestShop.open({ rate: 60 });
  const days = [1, 2, 3, 4, 5, 6, 7].map((weekday) => ({ weekday, from: '00:00', to: '24:00' }));
  await shop.send('PUT', '/api/shop', { ...(await shop.get<object>('/api/shop')), days });
});
test.afterEach(async () => {
  await shop.close();
});

const left = async (label: string): Promise<number> =>
  (await shop.get<SpoolView[]>('/api/spools')).find((spool) => spool.label === label)?.leftMm ?? NaN;

/** A queued run of mesh, which is not loaded: it waits. */
async function meshRun(name: string, heightMm: number) {
  const job = await shop.bringIn('heron-banners', name, await pdfFile([{ widthMm: 1500, heightMm }]));
  await shop.setTicket(name, { stockId: 'mesh' });
  return shop.queueRun([job.id]);
}

test('a proposal of spools is seen beside today, taken in one step, held to by the Floor, and let go again', async ({
  page,
}) => {
  await shop.send('PATCH', '/api/stocks/mesh', { usableMm: 5000 });
  const short = await meshRun('short.pdf', 3400);
  const long = await meshRun('long.pdf', 7900);
  const part = await shop.send<SpoolView>('POST', '/api/spools', {
    ...{ stockId: 'mesh', label: 'ME-P', lot: '', lengthMm: 20_000 },
  });
  await shop.send('POST', `/api/spools/${part.id}/correct`, { leftMm: 8200, reason: 'used before' });

  // By keys alone from here to the proposal taken.
  await page.goto(`${shop.url}/media`);
  await page.getByRole('link', { name: 'Which spool for which run' }).focus();
  await page.keyboard.press('Enter');
  const mesh = page.getByRole('region', { name: 'Mesh banner 1600' });
  await expect(mesh).toContainText('saves');
  await expect(mesh.getByRole('heading', { name: 'As it stands' })).toBeVisible();
  await expect(mesh.getByRole('heading', { name: 'Proposed' })).toBeVisible();
  await expect(mesh.getByText('stub', { exact: true }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Take the proposal' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText('No better way than today’s was found.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Take the proposal' })).toBeDisabled();

  await shop.send('POST', `/api/spools/${part.id}/load`, { printerId: 'heron', sourceId: 'roll' });
  await page.goto(`${shop.url}/floor?printer=heron`);
  const heron = page.getByRole('complementary', { name: 'Heron' });
  await expect(heron).toContainText(`${short.name} is meant for ME-08; ME-P is loaded on Heron`);
  const waits = heron.getByRole('listitem').filter({ hasText: short.name });
  await expect(waits).toContainText('Meant for ME-08');
  await waits.getByRole('button', { name: 'Let it take any' }).click();
  await shop.until(async () => (await shop.run(short.id)).state !== 'queued');
  expect((await shop.run(long.id)).state).toBe('queued');
});

test('what runs low is ordered, and what comes as a list closes the order', async ({ page }) => {
  await shop.send('PATCH', '/api/stocks/mesh', { leastMm: 20_000, packMm: 30_000 });
  await page.goto(`${shop.url}/media`);
  const toOrder = page.getByRole('region', { name: 'To order' });
  await expect(toOrder).toContainText('Mesh banner 1600');
  expect((await shop.file('/api/stock-orders/list.csv')).toString()).toContain('Mesh banner 1600');
  expect((await shop.file('/api/stock-orders/list.pdf')).subarray(0, 5).toString()).toBe('%PDF-');
  await toOrder.getByRole('button', { name: /Mesh banner 1600/ }).click();
  const sheet = page.getByRole('complementary', { name: 'Mesh banner 1600' });
  await expect(sheet.getByLabel('Amount ordered')).toHaveValue('30.0 m');
  await sheet.getByRole('button', { name: 'It is ordered' }).click();
  await expect(sheet.getByRole('listitem')).toContainText('30.0 m ordered');
  await expect(page.getByRole('region', { name: 'To order' })).toBeHidden();

  await page.getByRole('button', { name: 'Receive media' }).click();
  const receive = page.getByRole('complementary', { name: 'Receive media' });
  const list = receive.getByLabel('List of what came in');
  await list.fill('stock,label,length\nmesh,ME-50,30\nmesh,ME-08,30\n');
  await receive.getByRole('button', { name: 'Look at it' }).click();
  await expect(receive.getByRole('list', { name: 'Rows of the list' })).toContainText(
    'A spool is labelled ME-08 already.',
  );
  await receive.getByRole('button', { name: 'Receive 1 spool' }).click();
  await expect(page.getByRole('button', { name: /ME-50/ })).toBeVisible();
  expect(await left('ME-50')).toBe(30_000);
  await page.getByRole('button', { name: 'Mesh banner 1600', exact: true }).click();
  await expect(sheet).toBeVisible();
  await expect(sheet.getByRole('listitem')).toHaveCount(0);
});

test('a delivery is received by the code on its carton: unknown the first time, known from then on', async ({
  page,
}) => {
  await page.goto(`${shop.url}/media`);
  const receive = page.getByRole('complementary', { name: 'Receive media' });
  const [code, stock, label] = ['Code on the carton', 'Stock', 'Label'].map((name) =>
    receive.getByLabel(name, { exact: true }),
  );
  if (!code || !stock || !label) throw new Error('three fields');
  await page.getByRole('button', { name: 'Receive media' }).click();
  // A scanner types and presses enter; the sheet waits for it.
  await expect(code).toBeFocused();
  await page.keyboard.type('4017731');
  await page.keyboard.press('Enter');
  await expect(receive.getByText('No stock has this code yet')).toBeVisible();
  await stock.selectOption({ label: 'Mesh banner 1600' });
  await label.fill('ME-61');
  await receive.getByLabel('Amount received').fill('50 m');
  await receive.getByRole('button', { name: 'Add to the rack' }).click();
  await expect(page.getByRole('button', { name: /ME-61/ })).toBeVisible();

  await page.goto(`${shop.url}/media`);
  await page.getByRole('button', { name: 'Receive media' }).click();
  await expect(code).toBeFocused();
  await page.keyboard.type('4017731');
  await page.keyboard.press('Enter');
  await expect(stock).toHaveValue('mesh');
  await expect(label).toBeFocused();
  await page.keyboard.type('ME-62');
  await receive.getByLabel('Amount received').fill('50 m');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /ME-62/ })).toBeVisible();
  expect(await left('ME-62')).toBe(50_000);
});

test('a roll is loaded by its label, by keys alone; what is fed before it prints is booked', async ({ page }) => {
  await shop.send('PATCH', '/api/stocks/mesh', { leaderMm: 400 });
  const before = await left('ME-08');
  await page.goto(`${shop.url}/media?printer=heron`);
  const load = page.getByRole('button', { name: 'Load another spool on roll' });
  // The sheet takes the focus when it opens: nothing else does afterwards.
  await expect(page.getByRole('complementary', { name: 'Heron' })).toBeFocused();
  await load.focus();
  await page.keyboard.press('Enter');
  const panel = page.getByRole('group', { name: 'Load Heron, roll' });
  // A scanner types the label and presses enter: the field waits for it.
  await expect(panel.getByLabel('Label')).toBeFocused();
  await page.keyboard.type('nothing');
  await page.keyboard.press('Enter');
  await expect(panel.getByLabel('Label')).toHaveAttribute('aria-invalid', 'true');
  await panel.getByLabel('Label').fill('');
  await page.keyboard.type('me-08');
  await page.keyboard.press('Enter');
  await expect(panel.getByText('0.40 m of it are fed before it prints.')).toBeVisible();
  // The take-up is looked at before it may run.
  for (const check of await panel.getByRole('checkbox').all()) {
    await check.focus();
    await page.keyboard.press('Space');
  }
  await panel.getByRole('button', { name: 'Load ME-08 on Heron, roll' }).focus();
  await page.keyboard.press('Enter');
  await expect(panel).toHaveCount(0);
  await shop.until(async () => (await left('ME-08')) === before - 400);
  const spool = (await shop.get<SpoolView[]>('/api/spools')).find(({ label }) => label === 'ME-08');
  expect(spool?.printerId).toBe('heron');
  await page.goto(`${shop.url}/media?spool=${spool?.id ?? ''}`);
  await expect(page.getByRole('complementary', { name: 'ME-08' })).toContainText(/leader\s*−0\.4 m/);
});

test('the rack is counted by labels: differences are booked with their reason, and undone by the log', async ({
  page,
}) => {
  const before = await left('ME-08');
  await page.goto(`${shop.url}/media`);
  await page.getByRole('button', { name: 'Count', exact: true }).click();
  const sheet = page.getByRole('complementary', { name: 'Count the rack' });
  const scan = sheet.getByLabel('Label of a spool');
  await scan.fill('nothing');
  await scan.press('Enter');
  await expect(sheet.getByRole('alert')).toContainText('labelled nothing');
  await scan.fill('me-08');
  await scan.press('Enter');
  await scan.fill('GW-20');
  await scan.press('Enter');
  await sheet.getByLabel('Really on ME-08').fill('10.5 m');
  await expect(sheet).toContainText('2 spools counted, 1 difference');
  await sheet.getByLabel('Reason of the differences').fill('count of December');
  await sheet.getByRole('button', { name: 'Book' }).click();
  await expect(sheet).toBeHidden();
  expect(await left('ME-08')).toBeCloseTo(10_500, 3);
  await page.getByRole('button', { name: 'What happened' }).click();
  await expect(page.getByText('2 spools counted, 1 difference booked').first()).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).first().click();
  await shop.until(async () => Math.abs((await left('ME-08')) - before) < 0.01);
  expect(await left('ME-08')).toBeCloseTo(before, 3);
});
