import { expect, type Page, test } from '@playwright/test';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

const HOUR = 3_600_000;

let shop: TestShop;
test.beforeEach(async () => {
  shop = await TestShop.open({ rate: 1 });
  await nobodyComes();
});
test.afterEach(async () => {
  await shop.close();
});

const nowMs = async (): Promise<number> => (await shop.get<{ shopMs: number }>('/api/clock')).shopMs;

/** The next who comes is there in five days, for a morning. */
async function nobodyComes(): Promise<void> {
  const setup = await shop.get<object>('/api/shop');
  const day = new Date((await nowMs()) + 5 * 24 * HOUR).getUTCDay();
  const days = [{ weekday: day === 0 ? 7 : day, from: '09:00', to: '12:00' }];
  await shop.send('PUT', '/api/shop', { ...setup, days, holidays: [] });
}

async function queued(name: string, queueId: string, ticket: Record<string, unknown> = {}): Promise<string> {
  const job = await shop.bringIn(queueId, name, await pdfFile([{ widthMm: 800, heightMm: 1500 }]));
  await shop.setTicket(name, ticket);
  return (await shop.queueRun([job.id])).id;
}

/** The away plan of the next hours. */
async function openPlan(page: Page, hours: number): Promise<void> {
  const from = Math.round(await nowMs());
  await page.goto(`${shop.url}/rota/away?from=${String(from)}&to=${String(from + hours * HOUR)}`);
  await expect(page.getByText('chance that all of it is printed')).toBeVisible();
}

const events = (page: Page) => page.getByRole('table', { name: 'Events of the time away' });

test('a plan is armed, something breaks, and the morning says what came of it', async ({ page }) => {
  const good = await queued('good.pdf', 'heron-banners');
  const bad = await queued('bad.pdf', 'bittern-photo');
  await shop.runIs(good, 'printing');
  await shop.runIs(bad, 'printing');
  await openPlan(page, 6);
  await expect(events(page).getByText('done', { exact: true })).toHaveCount(2);
  await page.getByRole('button', { name: /^Arm until/ }).click();
  await expect(page.getByText(/^Armed by/)).toBeVisible();

  await shop.strike('bittern', { kind: 'head strike' });
  await shop.until(async () =>
    (await shop.get<{ text: string }[]>('/api/messages')).some(({ text }) => text.includes('head strike')),
  );
  await shop.setRate(3600);
  await expect(page.getByRole('link', { name: 'See how it came out' })).toBeVisible({ timeout: 60_000 });
  await shop.setRate(1);
  await page.getByRole('link', { name: 'See how it came out' }).click();
  await expect(page.getByRole('heading', { name: 'While you were away' })).toBeVisible();
  const lines = page.getByRole('table', { name: 'Planned against happened' });
  await expect(lines.getByText('not done')).toHaveCount(1);
  await expect(lines.getByRole('row', { name: /Heron/ })).toContainText(/as planned|later/);
  await expect(page.getByText(/Bittern from .*head strike/)).toBeVisible();

  // One mail for the fault, one for the end: whoever is told has both.
  const mails = async (): Promise<{ subject: string }[]> => {
    const { standInUrl } = await shop.get<{ standInUrl: string }>('/api/message-setup');
    return (await (await fetch(`${standInUrl}.json`)).json()) as { subject: string }[];
  };
  await shop.until(async () => (await mails()).some(({ subject }) => subject.startsWith('The time away is over')));
  const subjects = (await mails()).map(({ subject }) => subject);
  expect(subjects.filter((subject) => subject === 'Bittern: head strike').length).toBeGreaterThan(0);
  expect(subjects).toContain('The time away is over: not all of its runs are printed');

  // On a phone nothing of it is cut off.
  await page.setViewportSize({ width: 390, height: 844 });
  const view = page.getByRole('region', { name: 'How the time away came out' });
  expect(await view.evaluate((element) => element.scrollWidth - element.clientWidth)).toBeLessThanOrEqual(0);
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.getByRole('button', { name: 'Seen, to the Floor' }).click();
  await expect(page).toHaveURL(/\/floor$/);
});

test('what is ticked before leaving is counted as done, and the list goes to a phone', async ({ page }) => {
  const run = await queued('mesh.pdf', 'heron-banners', { stockId: 'mesh' });
  await openPlan(page, 8);
  await expect(events(page).getByText('needs a hand')).toHaveCount(1);
  const load = page.getByRole('checkbox', { name: /^Load ME-08/ }).first();
  await load.check();
  await expect(events(page).getByText('done', { exact: true })).toHaveCount(1);
  await expect(page.getByText(/^Counted as done/)).toBeVisible();
  // It is only imagined: nothing is armed with it.
  await expect(page.getByRole('button', { name: /^Arm until/ })).toBeDisabled();
  expect((await shop.run(run)).state).toBe('queued');
  await page.getByRole('button', { name: 'Send the list' }).click();
  await page.getByLabel('Mail address').fill('phone@tidewrack.example');
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await expect(page.getByText('The list was sent to phone@tidewrack.example')).toBeVisible();
  // From what a figure is reckoned is a click away.
  await page.setViewportSize({ width: 390, height: 844 });
  const plan = page.getByRole('region', { name: 'Away plan' });
  expect(await plan.evaluate((element) => element.scrollWidth - element.clientWidth)).toBeLessThanOrEqual(0);
});

test('a proposed night is taken, and taken back with one undo', async ({ page }) => {
  // Of the printers that could take it one is busy and the other one off: it waits in a line.
  await shop.power('gannet', false);
  await shop.runIs(await queued('busy.pdf', 'bittern-photo'), 'printing');
  const job = await shop.bringIn('bittern-photo', 'waits.pdf', await pdfFile([{ widthMm: 700, heightMm: 500 }]));
  await shop.send('PUT', `/api/jobs/${job.id}/price`, { priceMinor: 50_000 });
  await openPlan(page, 8);
  await page.getByRole('button', { name: 'Propose the night' }).click();
  await expect(page.getByText('A better night')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Take this night' }).click();
  const wire = page.getByRole('contentinfo');
  await expect(wire.getByText('Proposed night taken: 1 run queued')).toBeVisible();
  expect((await shop.job('waits.pdf')).state).toBe('placed');
  await wire.getByRole('button', { name: 'Undo' }).first().click();
  await shop.until(async () => (await shop.job('waits.pdf')).state === 'ready');
});
