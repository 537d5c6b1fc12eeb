import AxeBuilder from '@axe-core/playwright';
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

test('views, sheets, dialogs and menus have no accessibility faults, in the light and in the dark, wide and narrow', async ({
  page,
}) => {
  const { id } = await shop.job('Quay at night.pdf');
  const faultsOf = async (where: string): Promise<string[]> => {
    const { violations } = await new AxeBuilder({ page }).options({ resultTypes: ['violations'] }).analyze();
    return violations.map(
      (violation) => `${where} ${violation.id}: ${violation.nodes.map((node) => node.html.slice(0, 160)).join(' | ')}`,
    );
  };
  const button = (name: string | RegExp) => page.getByRole('button', { name }).first();
  const states: readonly (readonly [path: string, open?: () => Promise<void>])[] = [
    ['/floor'],
    ['/floor?printer=heron'],
    ['/floor', () => button('Propose an order').click()],
    ['/floor', () => button('What happened').click()],
    ['/floor', () => page.getByTitle('Shop time, and how fast it runs').click()],
    ['/floor', () => page.keyboard.press('/')],
    ['/floor', () => page.keyboard.press('?')],
    ['/intake', () => button('Columns').click()],
    [`/intake?job=${id}`],
    ['/bench'],
    ['/bench/batches'],
    ['/media?spool=spool-bo-31'],
    ['/media?printer=heron', () => button(/^Load/).click()],
    ['/shelf'],
    ['/setup'],
    ['/setup?printer=heron'],
    ['/setup?queue=magpie-labels'],
    ['/setup?stock=mesh'],
    ['/setup?sizes='],
    ['/setup?rules='],
    ['/setup?hours='],
  ];
  for (const [width, themes] of [
    [1280, ['Dark', 'Light']],
    [900, []],
    [390, []],
  ] as const) {
    await page.setViewportSize({ width, height: 800 });
    // Wide, everything is looked at, and views in both themes; narrow, the views and sheets that are worked with there.
    for (const [i, [path, open]] of states.entries()) {
      if (themes.length === 0 && (open || path.startsWith('/setup') || path.startsWith('/bench'))) continue;
      await page.goto(shop.url + path);
      await page.waitForTimeout(700);
      await open?.();
      await page.waitForTimeout(300);
      const where = `${path} (${String(i)}) at ${String(width)}`;
      expect(await faultsOf(where)).toEqual([]);
      if (open) continue;
      for (const theme of themes) {
        await button(theme).click();
        if (theme === 'Light') break;
        await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
        expect(await faultsOf(`${where} in the dark`)).toEqual([]);
      }
    }
  }
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
    error: { code: 'too-wide', message: 'a is wider than the usable width: 600.0 mm of 480.0 mm.' },
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
