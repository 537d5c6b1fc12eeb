import { expect, test } from '@playwright/test';
import type { PaceAnswer } from '../../contract/api/pace/pace.ts';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeEach(async () => {
  shop = await TestShop.open({ rate: 120 });
  const days = [1, 2, 3, 4, 5, 6, 7].map((weekday) => ({ weekday, from: '00:00', to: '24:00' }));
  await shop.send('PUT', '/api/shop', { ...(await shop.get<object>('/api/shop')), days });
});
test.afterEach(async () => {
  await shop.close();
});

/** The figures of the last day, once all that happened is in them. */
async function figures(): Promise<PaceAnswer> {
  const { shopMs } = await shop.get<{ shopMs: number }>('/api/clock');
  const ask = () => shop.get<PaceAnswer>(`/api/pace?fromMs=${String(shopMs - 86_400_000)}&toMs=${String(shopMs + 1)}`);
  await shop.until(async () => (await ask()).pending === 0);
  return ask();
}

test('what was printed is seen on Pace, beside the time before, by printer and by customer, and opens to its run', async ({
  page,
}) => {
  const job = await shop.bringIn('heron-banners', 'sail.pdf', await pdfFile([{ widthMm: 1200, heightMm: 900 }]));
  await shop.setTicket('sail.pdf', { customer: 'Bluebell', copies: 2 });
  const run = await shop.queueRun([job.id]);
  await shop.runIs(run.id, 'printed');
  const answer = await figures();
  expect(answer.total['pieces']?.value).toBe(2);
  expect(answer.total['good']?.value).toBeCloseTo(2 * 1.2 * 0.9, 3);

  await page.goto(`${shop.url}/floor`);
  await expect(page.getByRole('article', { name: 'Heron' })).toBeVisible();
  await page.keyboard.press('g');
  await page.keyboard.press('p');
  await expect(page.getByRole('heading', { name: 'Pace', level: 1 })).toBeVisible();
  const tiles = page.getByRole('list', { name: 'Figures' });
  await expect(tiles.getByRole('button', { name: /Good area/ })).toContainText('2.16 m²');
  await expect(page.getByRole('region', { name: 'Where media went' })).toContainText('Good pieces');

  // Two weeks beside each other: this one, and the one before, in which nothing was printed.
  await tiles.getByRole('button', { name: /Good area/ }).click();
  await expect(page.getByRole('region', { name: 'Good area over time' })).toBeVisible();
  await page.getByRole('button', { name: 'Earlier' }).click();
  await expect(tiles.getByRole('button', { name: /Good area/ })).toContainText('0.00 m²');
  await page.getByRole('button', { name: 'Later' }).click();
  await page.getByText('As a table').click();
  await expect(page.getByRole('table', { name: 'Good area over time, as a table' })).toContainText('2.16 m²');

  await page.getByRole('group', { name: 'Side by side' }).getByRole('button', { name: 'customers' }).click();
  await page.getByRole('table', { name: 'By customer' }).getByRole('button', { name: 'Bluebell' }).click();
  const runs = page.getByRole('complementary', { name: 'Bluebell' }).getByRole('list', { name: 'Runs behind it' });
  await expect(runs).toContainText(run.name);
  await runs.getByRole('link', { name: run.name }).click();
  // From the figure to the run, and on to one of its pieces: when, on what, with which heads.
  await expect(page).toHaveURL(new RegExp(`/story/run/${run.id}$`));
  await expect(page.getByRole('region', { name: 'On printers' })).toContainText('Block-out banner 1600 from BO-31');
  await page.getByRole('link', { name: 'sail.pdf, copy 2' }).click();
  await expect(page.getByRole('heading', { name: 'sail.pdf, copy 2' })).toBeVisible();
  await expect(page.getByRole('region', { name: 'On printers' })).toContainText(`${run.name} on Heron`);
  await expect(page.getByRole('region', { name: 'What was done' })).toContainText(`${run.name} sent to Heron`);
  // A story is found by what people call it as well, and by a code that a scanner types.
  for (const typed of [`story ${run.name}`, `story ${run.id}`]) {
    await page.goto(`${shop.url}/pace`);
    await expect(page.getByRole('heading', { name: 'Pace', level: 1 })).toBeVisible();
    await page.keyboard.press('/');
    await page.getByRole('combobox', { name: 'Find' }).fill(typed);
    await page.keyboard.press('Enter');
    await expect(page).toHaveURL(new RegExp(`/story/run/${run.id}$`));
  }

  const csv = (
    await shop.file('/api/pace/table.csv?fromMs=0&toMs=9000000000000&by=printer&measures=pieces')
  ).toString();
  expect(csv).toContain('Heron,2,2,1');
});

test('a period is chosen by keys alone and stands in the address: it survives a reload', async ({ page }) => {
  await page.goto(`${shop.url}/pace`);
  await page.getByRole('button', { name: 'month' }).focus();
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/period=month/);
  await page.getByLabel('Figure that is drawn').selectOption({ label: 'Waste' });
  await page.getByLabel('Printer', { exact: true }).selectOption({ label: 'Heron' });
  await page.reload();
  await expect(page.getByRole('button', { name: 'month' })).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByRole('region', { name: 'Waste over time' })).toBeVisible();
  await expect(page.getByLabel('Printer', { exact: true })).toHaveValue('heron');
});

test('a what-if of what was printed is asked for, and applied to its stock in one step that can be undone', async ({
  page,
}) => {
  const job = await shop.bringIn('heron-banners', 'strip.pdf', await pdfFile([{ widthMm: 300, heightMm: 2500 }]));
  await shop.setTicket('strip.pdf', { span: 'whole bed' });
  const run = await shop.queueRun([job.id]);
  await shop.runIs(run.id, 'printed');
  await figures();

  await page.goto(`${shop.url}/pace`);
  await page.getByRole('link', { name: 'What if' }).click();
  await expect(page.getByRole('heading', { name: 'What if', level: 1 })).toBeVisible();
  // By keys alone: a select takes the first letter of what is chosen.
  await page.getByLabel('Carriage over').focus();
  await page.keyboard.press('a');
  const table = page.getByRole('table', { name: 'What would be, beside what was' });
  await expect(table).toBeVisible();
  await expect(page.getByText('1 of 1 run would change')).toBeVisible();
  await expect(page).toHaveURL(/span=artwork/);
  await expect(page.getByRole('table', { name: 'Runs that change most' })).toContainText(run.name);
  const [was, would] = await Promise.all(
    [1, 2].map((column) =>
      table
        .getByRole('row', { name: /On the printers/ })
        .getByRole('cell')
        .nth(column - 1)
        .innerText(),
    ),
  );
  expect(was).not.toBe(would);

  await page.getByRole('button', { name: 'Apply to these stocks' }).click();
  await expect(
    page.getByRole('listitem').filter({ hasText: /Block-out banner 1600 on Heron: .+ → artwork/ }),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Change 1 setting' }).click();
  const settings = async (): Promise<unknown> => {
    const stocks = await shop.get<{ id: string; settings: Record<string, object> }[]>('/api/stocks');
    return stocks.find(({ id }) => id === 'block-out')?.settings['heron'];
  };
  await shop.until(async () => JSON.stringify(await settings()).includes('artwork'));
  await page.getByRole('button', { name: 'What happened' }).click();
  await page.getByRole('button', { name: 'Undo' }).first().click();
  await shop.until(async () => !JSON.stringify(await settings()).includes('artwork'));

  // Who prints what is looked at for itself: with two changes at once nobody could tell which of them saves.
  await page.getByLabel('Printed').selectOption({ label: 'without Heron' });
  await expect(page.getByText('are looked at one at a time')).toBeVisible();
  await page.getByLabel('Carriage over').selectOption('');
  await expect(page.getByText(`No other printer takes ${run.name}: neither side counts it.`)).toBeVisible();
  await page.getByLabel('Printed').selectOption({ label: 'on Heron' });
  await expect(page.getByText('0 of 1 run would change')).toBeVisible();
  await page.getByRole('combobox', { name: 'Stock' }).selectOption({ label: 'Block-out banner 1600' });
  await page.getByRole('button', { name: 'Make it a routing rule' }).click();
  const first = async (): Promise<string | undefined> => (await shop.get<{ name: string }[]>('/api/rules'))[0]?.name;
  await shop.until(async () => (await first()) === 'Block-out banner 1600 to Heron');

  // What was fired, ink by ink; nothing of it was care.
  await page.goto(`${shop.url}/pace`);
  await page
    .getByRole('radio', { name: 'inks' })
    .or(page.getByRole('button', { name: 'inks' }))
    .first()
    .click();
  const black = page.getByRole('table', { name: 'By ink' }).getByRole('row', { name: /Heron Black/ });
  await expect(black).toContainText('ml');
});

test('what can’t be worked out says why and what to do', async ({ page }) => {
  await page.goto(`${shop.url}/pace/what-if?passes=1`);
  await expect(page.getByText(/take at least/)).toBeVisible();
  await page.getByLabel('Passes').fill('');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Choose what would be otherwise')).toBeVisible();
});

test('a quote of a dropped file: prices by copies and printer, and the file is a job only once it is brought in', async ({
  page,
}) => {
  await page.goto(`${shop.url}/pace`);
  await page.getByRole('link', { name: 'Quote' }).click();
  const buffer = Buffer.from(await pdfFile([{ widthMm: 500, heightMm: 700 }]));
  await page.getByRole('textbox', { name: 'Copies' }).fill('2, 20');
  await page.getByRole('textbox', { name: 'Copies' }).press('Enter');
  await page.getByLabel('File').setInputFiles({ name: 'window.pdf', mimeType: 'application/pdf', buffer });
  const twenty = page.getByRole('region', { name: '20 copies' });
  await expect(twenty.getByRole('table')).toContainText('Heron');
  await expect(page.getByText('window.pdf, 500 mm × 700 mm')).toBeVisible();
  await expect(page.getByText(/Not on Puffin/)).toHaveCount(1);
  expect(await shop.jobs()).toEqual([]);

  await page.getByRole('textbox', { name: 'Copies' }).fill('none');
  await page.getByRole('textbox', { name: 'Copies' }).press('Enter');
  await expect(page.getByText('none is no number of copies.')).toBeVisible();
  await page.getByRole('textbox', { name: 'Copies' }).fill('20');
  await page.getByRole('textbox', { name: 'Copies' }).press('Enter');
  await twenty.getByRole('button', { name: 'Bring it in' }).click();
  await expect(page.getByRole('heading', { name: 'Intake', level: 1 })).toBeVisible();
  await shop.until(async () => (await shop.jobs()).length === 1);
  expect((await shop.jobs())[0]).toMatchObject({ sourceName: 'window.pdf', widthMm: 500, heightMm: 700 });
});

test('a way to look at Pace is kept by name, and found again', async ({ page }) => {
  await page.goto(`${shop.url}/pace?period=month&measure=waste&printer=heron`);
  await page.getByRole('button', { name: 'Saved views' }).click();
  await page.getByLabel('Name of the view').fill('Waste of Heron');
  await page.getByRole('button', { name: 'Keep' }).click();
  await page.goto(`${shop.url}/pace`);
  await page.getByRole('button', { name: 'Saved views' }).click();
  await page.getByRole('button', { name: 'Waste of Heron', exact: true }).click();
  await expect(page).toHaveURL(/period=month&measure=waste&printer=heron/);
  await expect(page.getByRole('region', { name: 'Waste over time' })).toBeVisible();
});
