import { expect, test } from '@playwright/test';
import { faultsOf } from '../driver/axe.ts';
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
    ['/rota'],
    ['/rota?timer=new'],
    ['/rota?design=new'],
    ['/rota?propose='],
    ['/rota/away'],
    ['/rota/away?learned='],
    ['/setup?messages='],
    ['/heads'],
    ['/heads?printer=magpie'],
    ['/heads?printer=magpie&read=loose'],
    ['/media?spool=spool-bo-31'],
    ['/media', () => button('Receive media').click()],
    ['/media', () => button('Count').click()],
    ['/media/spools'],
    ['/pace'],
    ['/pace?period=month&of=stock'],
    ['/media?stock=block-out'],
    ['/media?printer=heron', () => button(/^Load/).click()],
    [`/shelf?job=${kept.id}`],
    ['/setup?printer=heron'],
    ['/setup?queue=magpie-labels'],
    ['/setup?stock=mesh'],
    ['/setup?sizes='],
    ['/setup?rules='],
    ['/setup?hours='],
    ['/setup?many-stocks='],
    ['/setup?people=', () => button('Have people sign in').click()],
    ['/setup?person=person-bram'],
    ['/me'],
  ];
  for (const [i, [path, open]] of states.entries()) {
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.goto(shop.url + path);
    await page.waitForTimeout(600);
    await open?.();
    await page.waitForTimeout(200);
    for (const width of [1280, 900, 390]) {
      await page.setViewportSize({ width, height: 800 });
      for (const theme of ['light', 'dark'] as const) {
        await page.evaluate((name) => (document.documentElement.dataset['theme'] = name), theme);
        await page.waitForTimeout(100);
        const where = `${path} (${String(i)}) at ${String(width)}, ${theme}`;
        expect(await faultsOf(page, where, theme === 'light' ? 'all' : 'contrast')).toEqual([]);
      }
    }
  }
});
