import { expect, test } from '@playwright/test';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeAll(async () => {
  shop = await TestShop.open();
  await shop.bringIn('bittern-photo', 'Quay at night.pdf', await pdfFile([{ widthMm: 400, heightMm: 300 }]));
});
test.afterAll(async () => {
  await shop.close();
});

test('everything is found by / and reached by keys', async ({ page }) => {
  await page.goto(shop.url);
  await expect(page).toHaveURL(/\/floor$/);
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find' }).fill('quay');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('complementary', { name: 'Quay at night.pdf' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('complementary', { name: 'Quay at night.pdf' })).toBeHidden();
  await page.keyboard.press('g');
  await page.keyboard.press('b');
  await expect(page).toHaveURL(/\/bench$/);
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find' }).fill('bittern');
  await page.getByRole('option', { name: /printer Bittern/ }).click();
  await expect(page.getByRole('complementary', { name: 'Bittern' })).toBeVisible();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('Keys that work here');
});

test('a scanner is faster than the lists: what it typed is opened when they are there', async ({ page }) => {
  let letThrough = (): void => undefined;
  const held = new Promise<void>((resolve) => (letThrough = resolve));
  await page.route('**/api/jobs?*', async (route) => {
    await held;
    await route.continue();
  });
  await page.goto(shop.url);
  await expect(page.getByRole('heading', { name: 'Floor' })).toBeVisible();
  await page.keyboard.press('/');
  await page.keyboard.type('quay');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Still looking')).toBeVisible();
  letThrough();
  await expect(page.getByRole('complementary', { name: 'Quay at night.pdf' })).toBeVisible();
});

test('a job is chosen and laid out without a mouse', async ({ page }) => {
  await page.goto(`${shop.url}/intake`);
  await expect(page.getByRole('row').filter({ hasText: 'Quay at night.pdf' })).toBeVisible();
  await page.keyboard.press(' ');
  await expect(page.getByRole('region', { name: 'Chosen jobs' })).toContainText('1 job');
  await page.keyboard.press('l');
  await expect(page).toHaveURL(/\/bench\/run-/);
  await expect(page.locator('[data-piece]')).toHaveCount(1);
});

test('the API describes itself, and answers what is wrong with its figures', async ({ request }) => {
  const api = (await (await request.get(`${shop.url}/api/openapi.json`)).json()) as {
    openapi: string;
    paths: Record<string, object>;
  };
  expect(api.openapi).toBe('3.1.0');
  expect(Object.keys(api.paths)).toEqual(
    expect.arrayContaining([
      '/api/health',
      '/api/queues',
      '/api/jobs',
      '/api/jobs/{id}',
      '/api/runs',
      '/api/printers',
      '/api/spools',
      '/api/events',
    ]),
  );
  const bad = await request.get(`${shop.url}/api/jobs?limit=0`);
  expect(bad.status()).toBe(400);
  expect(await bad.json()).toMatchObject({ error: { code: 'bad-request' } });
  const nothing = await request.get(`${shop.url}/api/nothing`);
  expect([nothing.status(), ((await nothing.json()) as { error: { code: string } }).error.code]).toEqual([
    404,
    'no-such-route',
  ]);
  const wide = await request.post(`${shop.url}/api/layout/nest`, {
    data: {
      widthMm: 500,
      gapMm: 5,
      marginMm: 10,
      seed: 1,
      timeLimitMs: 50,
      pieces: [{ id: 'a', widthMm: 600, heightMm: 700, copies: 1, quarterTurn: true }],
    },
  });
  expect(wide.status()).toBe(422);
  expect(await wide.json()).toMatchObject({
    error: { code: 'too-wide', message: 'a is wider than the usable width: 600\u00a0mm of 480\u00a0mm.' },
  });
  const good = await shop.send('POST', '/api/layout/nest', {
    widthMm: 100,
    gapMm: 0.1,
    marginMm: 0,
    seed: 1,
    timeLimitMs: 200,
    pieces: [{ id: 'a', widthMm: 100, heightMm: 33.4, copies: 3, quarterTurn: false }],
  });
  expect(good).toMatchObject({ lengthMm: 100.4, boundMm: 100.4, placements: [{ angleDeg: 0 }, {}, {}] });
  const upload = await request.post(`${shop.url}/api/jobs`, {
    multipart: { queueId: 'nowhere', files: { name: 'a.png', mimeType: 'image/png', buffer: Buffer.from('x') } },
  });
  expect(await upload.json()).toMatchObject({ error: { code: 'no-such-queue' } });
});
