import { type Page, expect, test } from '@playwright/test';
import type { PrinterView } from '../../contract/api/floor.ts';
import { TestShop } from '../driver/shop.ts';

// The demo takes the longest to be made: by its name it begins early, so that nobody waits for it in the end.
test('the demo opens on a working Tuesday with printers printing, jobs in their states, and one refused file', async ({
  page,
}) => {
  test.setTimeout(900_000);
  const shop = await TestShop.open({ demo: true, crew: true });
  try {
    // What the demo opens on is looked at before anybody has touched it.
    await shop.send('PUT', '/api/crew', { on: false });
    await page.goto(shop.url);
    await page.getByRole('button', { name: 'End the first steps' }).click();
    await expect(page.getByText('Tue 6 Oct').first()).toBeVisible();
    await expect(page.getByRole('article', { name: 'Heron' })).toContainText('printing');
    await expect(page.getByRole('article')).toHaveCount(6);
    // Mesh is wanted after the banners, and somebody has to load it; Gannet has stood for longer than its inks may.
    await page.getByRole('button', { name: /^\d+ more$/ }).click();
    const hands = page.getByRole('list', { name: 'Next hands' });
    await expect(hands).toContainText('Load ME-08, Mesh banner 1600, on Heron roll');
    await expect(hands).toContainText('Check the nozzles of Gannet: cyan idle for 6 d');
    // One spool will not last the night, when nobody is there to change it.
    await expect(page.getByRole('article', { name: 'Heron' })).toContainText('BO-32 ends here');
    const jobs = await shop.jobs();
    const states = new Set(jobs.map((job) => job.state));
    for (const state of ['ready', 'placed', 'printing', 'printed', 'shelved', 'dropped', 'blocked', 'cancelled'])
      expect(states).toContain(state);
    // Six weeks lie behind it, by which estimates are corrected.
    const now = (await shop.get<{ shopMs: number }>('/api/clock')).shopMs;
    const first = Math.min(...jobs.map((job) => job.arrivedMs));
    expect((now - first) / 86_400_000).toBeGreaterThan(40);
    const heron = (await shop.get<PrinterView[]>('/api/printers')).find(({ id }) => id === 'heron');
    expect(heron?.learned.modes.production?.time.runs).toBeGreaterThanOrEqual(20);
    expect(heron?.learned.modes.production?.time.m).not.toBe(0);
    expect(jobs.find((job) => job.sourceName === 'Night sky scroll 18 m.pdf')).toMatchObject({
      widthMm: 18_000,
      heightMm: 840,
      pages: 1,
    });
    expect((await shop.refusals()).map((refusal) => refusal.sourceName)).toEqual(['Crew list.pdf']);
    await weeksTell(page, shop);
    await timeIsStepped(page, shop);
    await crewWorks(page, shop);
  } finally {
    await shop.close();
  }
});

/** What the weeks before are good for: the pace of stocks, and who is best for several jobs together. */
async function weeksTell(page: Page, shop: TestShop): Promise<void> {
  await page.goto(`${shop.url}/media`);
  const toOrder = page.getByRole('region', { name: 'To order' });
  await expect(toOrder.getByRole('listitem').filter({ hasText: 'Plan bond 914' })).toContainText(
    /lasts .*, order .* now/,
  );
  // Three keys carry a roll to the first printer that takes it; there loading it begins.
  const mesh = page.getByRole('list', { name: 'Mesh banner 1600' }).getByRole('button');
  await mesh.focus();
  await page.keyboard.press('Space');
  await expect(page.getByText('The spool is taken up.')).toBeAttached();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByText('Over heron, roll.')).toBeAttached();
  await page.keyboard.press('Space');
  const loading = page.getByRole('group', { name: 'Load Heron, Roll' });
  await expect(loading.getByRole('button', { name: 'ME-08' })).toHaveAttribute('aria-pressed', 'true');
  // A roll that is dragged from its printer to the rack is out of it.
  await page.getByRole('button', { name: /^PB-62 in Gannet/ }).hover();
  await page.mouse.down();
  await page.mouse.move(500, 300, { steps: 4 });
  await page.mouse.move(480, 480, { steps: 4 });
  await expect(page.getByText('Over rack.')).toBeAttached();
  await page.mouse.up();
  await expect.poll(async () => (await shop.spool('spool-pb-62')).printerId).toBeNull();
  await page.goto(`${shop.url}/intake`);
  await page.getByRole('searchbox', { name: 'Filter jobs' }).fill('stop sign');
  // The list narrows a moment later: a click before that meets a row that moves away.
  await expect(page.getByText('2 shown')).toBeVisible();
  for (const name of ['Stop sign Harbour Steps.pdf', 'Stop sign Gasworks.pdf'])
    await page.getByRole('checkbox', { name: `Choose ${name}` }).check();
  await page.getByRole('button', { name: 'Change 2 tickets' }).click();
  const fits = page.getByRole('list', { name: 'Fit list' });
  await expect(fits.getByRole('listitem').filter({ hasText: 'Heron' })).toContainText('here');
  await expect(fits.getByRole('listitem').filter({ hasText: 'Bittern' })).toContainText('is not for Bittern');
}

/** People who load, empty and confirm: what next hands asks for is done, by them and under their names, while a person looks on. */
async function crewWorks(page: Page, shop: TestShop): Promise<void> {
  await page.goto(`${shop.url}/floor`);
  const { shopMs } = await shop.get<{ shopMs: number }>('/api/clock');
  await page.getByTitle('The crew rests. Let it work').click();
  await expect.poll(async () => (await shop.get<{ on: boolean }>('/api/crew')).on).toBe(true);
  await shop.setRate(600);
  // Runs that wait for another stock are printed only once somebody has loaded it.
  await shop.until(async () => {
    const printed = (await shop.runs()).filter((run) => run.state === 'printed' && (run.endedMs ?? 0) > shopMs);
    return printed.length > 3 && printed.some((run) => run.stockId === 'mesh');
  });
  await page.getByTitle('The crew loads, confirms and empties. Let it rest').click();
  await expect.poll(async () => (await shop.get<{ on: boolean }>('/api/crew')).on).toBe(false);
}

async function timeIsStepped(page: Page, shop: TestShop): Promise<void> {
  const clock = page.getByTitle('Shop time, and how fast it runs');
  const now = () => shop.get<{ shopMs: number; rate: number }>('/api/clock');
  await clock.click();
  await page.getByRole('region', { name: 'Shop time' }).getByRole('button', { name: 'stopped' }).click();
  await expect.poll(async () => (await now()).rate).toBe(0);
  const { shopMs } = await now();
  await clock.click();
  await page.getByRole('region', { name: 'Shop time' }).getByRole('button', { name: '10 min' }).click();
  await expect.poll(async () => (await now()).shopMs - shopMs).toBe(600_000);
  expect((await now()).rate).toBe(0);
  await expect(clock).toContainText('stopped');
}
