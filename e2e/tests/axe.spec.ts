import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { layOutJobs } from '../driver/bench.ts';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeAll(async () => {
  shop = await TestShop.open({ rate: 300 });
});
test.afterAll(async () => {
  await shop.close();
});

const CONTRAST = 'color-contrast';

/** Of one state of the page, as it is seen now. Contrast takes longest, and is the same at every width where nothing else is shown. */
async function faultsOf(page: Page, where: string, rules: 'all' | 'all but contrast' | 'contrast'): Promise<string[]> {
  const builder = new AxeBuilder({ page });
  const off = rules === 'all but contrast' ? { [CONTRAST]: { enabled: false } } : {};
  const { violations } = await builder
    .options({ resultTypes: ['violations'], ...(rules === 'contrast' ? { runOnly: [CONTRAST] } : { rules: off }) })
    .analyze();
  return violations.map(
    ({ id, nodes }) => `${where} ${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(' | ')}`,
  );
}

test('views, sheets, dialogs and menus have no accessibility faults: in the light and in the dark, wide, narrow and on a phone', async ({
  page,
}) => {
  // A safety net for slow machines: there is much to look at.
  test.setTimeout(1_500_000);
  const kept = await shop.bringIn('bittern-photo', 'printed.pdf', await pdfFile([{ widthMm: 300, heightMm: 200 }]));
  await shop.setTicket('printed.pdf', { copies: 2 });
  await shop.runIs((await shop.queueRun([kept.id])).id, 'printed');
  await shop.setRate(1);
  const job = await shop.bringIn(
    'bittern-photo',
    'Quay at night.pdf',
    await pdfFile([{ widthMm: 400, heightMm: 300 }]),
  );
  await shop.bringIn('heron-banners', 'laid.pdf', await pdfFile([{ widthMm: 400, heightMm: 300 }]));
  const run = await layOutJobs(page, shop, 'laid.pdf');
  const button = (name: string | RegExp) => page.getByRole('button', { name }).first();
  const tab = (name: string) => () => page.getByRole('tab', { name }).click();
  const states: readonly (readonly [path: string, open?: () => Promise<void>])[] = [
    ['/floor'],
    ['/floor?printer=heron'],
    ['/floor', () => button('Propose an order').click()],
    ['/floor', () => button('What happened').click()],
    ['/floor', () => page.getByTitle('Shop time, and how fast it runs').click()],
    ['/floor', () => page.keyboard.press('/')],
    ['/floor', () => page.keyboard.press('?')],
    ['/day-list/heron'],
    ['/intake', () => button('Columns').click()],
    [`/intake?job=${job.id}`],
    [`/bench/${run}`],
    [`/bench/${run}`, tab('Lay out')],
    [`/bench/${run}`, tab('Marks')],
    [`/bench/${run}`, tab('Sides')],
    ['/bench/batches'],
    ['/media?spool=spool-bo-31'],
    ['/media', () => button('Receive media').click()],
    ['/media?printer=heron', () => button(/^Load/).click()],
    [`/shelf?job=${kept.id}`],
    ['/setup?printer=heron'],
    ['/setup?queue=magpie-labels'],
    ['/setup?stock=mesh'],
    ['/setup?sizes='],
    ['/setup?rules='],
    ['/setup?hours='],
    ['/setup?many-stocks='],
  ];
  for (const [i, [path, open]] of states.entries()) {
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.goto(shop.url + path);
    await page.waitForTimeout(600);
    await open?.();
    await page.waitForTimeout(200);
    const look = async (
      width: number,
      theme: 'light' | 'dark',
      rules: Parameters<typeof faultsOf>[2],
    ): Promise<void> => {
      await page.setViewportSize({ width, height: 800 });
      await page.evaluate((name) => (document.documentElement.dataset['theme'] = name), theme);
      await page.waitForTimeout(100);
      expect(await faultsOf(page, `${path} (${String(i)}) at ${String(width)}, ${theme}`, rules)).toEqual([]);
    };
    await look(1280, 'light', 'all');
    await look(1280, 'dark', 'contrast');
    // Dialogs and menus are the same there.
    if (!open) await look(900, 'light', 'all but contrast');
    // A phone has a layout of its own.
    await look(390, 'light', path.startsWith('/floor') && !open ? 'all' : 'all but contrast');
    if (path.startsWith('/floor') && !open) await look(390, 'dark', 'contrast');
  }
});
