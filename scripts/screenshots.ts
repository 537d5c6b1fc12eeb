/* Makes the pictures in docs/screenshots anew, from the demo shop. Usage: npm run screenshots */
import { join } from 'node:path';
import { expect, type Locator, type Page } from '@playwright/test';
import { openBrowser } from '../bench/browser.ts';
import { addPerson, haveSignIn, signInAt } from '../e2e/driver/people.ts';
import { TestShop } from '../e2e/driver/shop.ts';

const OUT = 'docs/screenshots';
const shop = await TestShop.open({ demo: true });
const browser = await openBrowser();

/**
 * One picture. What it is named for has to be on it, in sight and not cut off: else nothing is written and the script fails.
 * @param shows what the picture is named for, in the state in which it is taken
 */
async function view(
  name: string,
  theme: 'light' | 'dark',
  path: string,
  shows: (page: Page) => readonly Locator[],
  act?: (page: Page) => Promise<void>,
): Promise<void> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: theme });
  await page.goto(shop.url + path);
  await page.waitForTimeout(1500);
  await act?.(page);
  await page.waitForTimeout(500);
  for (const wanted of shows(page)) {
    await expect(wanted.first(), `${name}: ${String(wanted)}`).toBeInViewport({ ratio: 0.5, timeout: 30_000 });
  }
  await expect(page.getByRole('main').getByRole('alert'), `${name} shows an error`).toHaveCount(0, { timeout: 10_000 });
  await page.screenshot({ path: join(OUT, `${name}.png`) });
  await page.close();
}

/** Jobs of the demo come in in any order: the filter brings each into sight. */
async function choose(page: Page, names: readonly string[]): Promise<void> {
  const filter = page.getByRole('searchbox', { name: 'Filter jobs' });
  for (const name of names) {
    await filter.fill(name);
    await page.getByLabel(`Choose ${name}`).check();
  }
  await filter.fill('');
}

async function layOut(page: Page, ...names: string[]): Promise<void> {
  await choose(page, names);
  await page.getByRole('button', { name: /^Lay out/ }).click();
  await page.getByRole('button', { name: 'Nest again' }).waitFor();
  await page.waitForTimeout(1500);
}

try {
  await view('floor', 'light', '/floor', (page) => [
    page.getByRole('article', { name: 'Heron' }),
    page.getByRole('list', { name: 'Next hands' }),
  ]);
  await view('printer', 'light', '/floor?printer=heron', (page) => [
    page.getByRole('complementary', { name: 'Heron' }),
    page.getByRole('complementary', { name: 'Heron' }).getByText('Pieces'),
  ]);
  await view('rota', 'light', '/rota', (page) => [
    page.getByRole('group', { name: 'Time of Wren' }).getByRole('button', { name: /White, daily/ }),
    page.getByRole('heading', { name: 'Timers' }),
  ]);
  await view('away', 'light', '/rota/away?for=tonight', (page) => [
    page.getByRole('complementary', { name: 'Before you go' }).getByRole('checkbox').first(),
    page.getByRole('slider', { name: 'Instant at which supplies are shown' }),
  ]);
  await view('purge', 'light', '/rota?design=new', (page) => [page.getByRole('img', { name: /^Purge on/ })]);
  await view('heads', 'light', '/heads?printer=heron', (page) => [
    page.getByRole('img', { name: 'Cyan: 2 missing, 1 weak' }),
    page.getByRole('complementary', { name: 'Heron' }).getByText('What to do for Cyan'),
  ]);
  await view('media', 'light', '/media?stock=block-out', (page) => [
    page.getByRole('complementary', { name: 'Block-out banner 1600' }),
    page.getByRole('img', { name: 'Use and forecast' }),
  ]);
  await view(
    'pace',
    'light',
    '/pace?period=month&back=1&measure=good',
    (page) => [
      page.getByRole('table', { name: 'By printer' }),
      page.getByRole('region', { name: 'Good area over time' }),
    ],
    async (page) => {
      // The weeks before the demo opens are added up in the background at first.
      await expect(page.getByText('still being added up')).toHaveCount(0, { timeout: 120_000 });
      await page.waitForTimeout(1000);
    },
  );
  await view('intake', 'light', '/intake', (page) => [page.getByRole('row').nth(5)]);
  await view(
    'batches',
    'light',
    '/bench/batches',
    (page) => [page.getByTestId('batches-total')],
    async (page) => {
      await page.getByTestId('batches-total').waitFor();
    },
  );
  await view(
    'ticket',
    'light',
    '/intake',
    (page) => [
      page.getByRole('complementary', { name: /Tower wrap/ }),
      page.getByRole('button', { name: /^Fit it to/ }),
    ],
    async (page) => {
      // Jobs of the demo come in in any order: the filter brings it into sight.
      await page.getByRole('searchbox', { name: 'Filter jobs' }).fill('tower wrap');
      await page.getByText('Tower wrap north face.pdf').click();
      await page.getByRole('button', { name: /^Fit it to/ }).hover();
      await page.waitForTimeout(800);
    },
  );
  await view(
    'setup',
    'light',
    '/setup?queue=magpie-labels',
    (page) => [page.getByLabel('Name pattern')],
    async (page) => {
      await page
        .getByRole('article')
        .getByRole('button', { name: /hot-folders/ })
        .click();
      await page.getByLabel('Name pattern').fill('{order}_{customer}_{copies}x_{width}x{height}{unit}[_{due}]');
    },
  );
  await view(
    'contours',
    'light',
    '/intake',
    (page) => [page.locator('[data-piece]'), page.getByRole('menuitem', { name: 'Cuts as DXF' })],
    async (page) => {
      await layOut(
        page,
        'Floor fish orange.png',
        'Frame sticker gear 24.png',
        'Frame sticker gear 18.png',
        'Price cards autumn.pdf',
      );
      await page.getByRole('tab', { name: 'Lay out' }).click();
      await page.getByLabel('By contour, not by rectangle').check();
      await page.waitForTimeout(6000);
      await page.getByRole('button', { name: 'Take as' }).click();
    },
  );
  await view(
    'bench',
    'light',
    '/bench',
    (page) => [page.locator('[data-piece]'), page.getByTestId('used-length')],
    async (page) => {
      await page.getByRole('tab', { name: 'Lay out' }).click();
      await page.getByLabel('By contour, not by rectangle').uncheck();
      await page.waitForTimeout(3000);
      await page.getByRole('tab', { name: 'Figures' }).click();
    },
  );
  const map = (await shop.jobs()).find(({ sourceName }) => sourceName === 'Archive photo quay.jpg');
  await view(
    'in-print',
    'dark',
    `/intake/${map?.id ?? ''}/colour`,
    (page) => [
      page.locator('html[data-theme=dark]'),
      page.getByRole('img', { name: 'Archive photo quay.jpg, after' }),
      page.getByRole('row', { name: /^All .*%/ }),
    ],
    async (page) => {
      await page.getByRole('row', { name: /^All / }).waitFor({ timeout: 60_000 });
      await page.getByLabel('Saturation, slider').fill('30');
      await page.getByLabel('Brightness, slider').fill('-25');
      await page.waitForTimeout(2500);
    },
  );
  const printed = (await shop.get<{ id: string; printerId: string; state: string; lengthMm: number }[]>('/api/runs'))
    .filter(({ printerId, state }) => printerId === 'wren' && state === 'printed')
    .sort((one, other) => one.lengthMm - other.lengthMm);
  await view(
    'channels',
    'light',
    `/bench/${printed[0]?.id ?? ''}/channels`,
    (page) => [page.getByRole('row', { name: /^Cyan/ }), page.getByRole('img', { name: /channels on the media/ })],
    async (page) => {
      await page.getByRole('button', { name: 'Render the channels' }).click();
      await page.getByRole('row', { name: /^All .* ml/ }).waitFor({ timeout: 240_000 });
      for (let i = 0; i < 3; i += 1) await page.keyboard.press('+');
      await page.waitForTimeout(3000);
      await page.mouse.move(560, 300);
      await page.waitForTimeout(500);
    },
  );
  // The run that was laid out for the picture of the Bench.
  await view(
    'marks',
    'light',
    '/bench',
    (page) => [page.getByLabel('Kind of code')],
    async (page) => {
      await page.getByRole('tab', { name: 'Marks' }).click();
      for (const mark of ['Trace code', 'Slug line', 'Labels', 'Crop marks', 'Registration marks', 'Exercise strip'])
        await page.getByLabel(mark, { exact: true }).check();
      await page.waitForTimeout(3000);
      for (let i = 0; i < 6; i++) await page.keyboard.press('+');
      await page.waitForTimeout(500);
      await page.evaluate(
        `Object.assign(document.querySelector('[data-testid=media]'), { scrollLeft: 0, scrollTop: 1e9 })`,
      );
      await expect(page.getByTestId('marks')).not.toHaveAttribute('data-count', '0');
      await page.getByLabel('Kind of code').scrollIntoViewIfNeeded();
    },
  );
  await view(
    'back',
    'light',
    '/intake',
    (page) => [page.getByRole('img', { name: 'The back to scale' }), page.getByText('draft, back')],
    async (page) => {
      await layOut(page, 'Jellyfish tank panel.png');
      await page.getByRole('tab', { name: 'Sides' }).click();
      await page.getByLabel('Media is turned').selectOption('end for end');
      await page.getByLabel('On the back').selectOption('the same picture');
      await page.getByRole('button', { name: 'Add the back' }).click();
      await page.waitForTimeout(1500);
      await page.getByRole('link', { name: 'back', exact: true }).click();
    },
  );
  // Last, since from here on people have to sign in.
  await haveSignIn(shop);
  await addPerson(shop, 'Bram Teller', 'operator', 'bram');
  await addPerson(shop, 'Ada Quill', 'viewer', 'ada');
  await view(
    'people',
    'light',
    '/setup?people=',
    (page) => [
      page.getByRole('table', { name: 'People' }).getByText('as bram'),
      page.getByText('People have to sign in.'),
    ],
    async (page) => {
      await signInAt(page, 'odile');
      await page.getByRole('table', { name: 'People' }).waitFor();
    },
  );
} finally {
  await browser.close();
  await shop.close();
}
