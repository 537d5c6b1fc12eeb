import { expect, test } from '@playwright/test';
import type { RunDetail } from '../../contract/api/run.ts';
import { layOutJobs } from '../driver/bench.ts';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeAll(async () => {
  shop = await TestShop.open();
});
test.afterAll(async () => {
  await shop.close();
});

/** Somebody else at another machine moves every piece of a draft along by so much. */
async function elsewhere(id: string, byMm: number): Promise<RunDetail> {
  const { settings, pieces } = await shop.run(id);
  const placements = pieces.map(({ pieceId, xMm, yMm, angleDeg }) => ({ pieceId, xMm, yMm: yMm + byMm, angleDeg }));
  return shop.send('PUT', `/api/runs/${id}/layout`, { settings, placements });
}

const yOf = async (id: string): Promise<number> => (await shop.run(id)).pieces[0]?.yMm ?? Number.NaN;

test('two people on one draft: the later one sees both layouts and chooses, nothing is overwritten unseen, nothing is queued meanwhile', async ({
  page,
}) => {
  await shop.bringIn('bittern-photo', 'shared.pdf', await pdfFile([{ widthMm: 300, heightMm: 200 }]));
  const id = await layOutJobs(page, shop, 'shared.pdf');
  const before = await yOf(id);
  await elsewhere(id, 400);
  const conflict = page.getByRole('dialog', { name: /has been laid out anew meanwhile/ });
  const said = page.getByRole('heading', { name: /has been laid out anew meanwhile/ });
  // Whoever is here goes on with the layout that they see.
  await page.getByRole('button', { name: 'Nest again' }).click();
  await expect(said).toBeVisible({ timeout: 60_000 });
  await expect(conflict.getByRole('region', { name: 'Yours' })).toContainText('1 of 1 piece');
  await expect(conflict.getByRole('img', { name: /^Theirs: 1 of 1 piece laid out, to/ })).toBeVisible();
  expect([await yOf(id), (await shop.run(id)).state]).toEqual([before + 400, 'draft']);
  await conflict.getByRole('button', { name: 'Take theirs' }).click();
  await expect(said).toBeHidden();
  await expect.poll(() => yOf(id)).toBe(before + 400);

  await elsewhere(id, 200);
  // A nest that still runs here saves by itself, too: whichever comes first, both are shown.
  await expect(async () => {
    if (await said.isVisible()) return;
    await page.getByRole('button', { name: 'Nest again' }).click({ timeout: 2000 });
    await expect(said).toBeVisible({ timeout: 10_000 });
  }).toPass();
  expect(await yOf(id)).toBe(before + 600);
  await conflict.getByRole('button', { name: 'Keep mine' }).click();
  await expect(said).toBeHidden();
  await expect.poll(() => yOf(id)).toBe(before);
});

test('Queue waits for the server: what is printed is the layout that is seen, however slow the line is', async ({
  page,
}) => {
  await shop.bringIn('bittern-photo', 'slow.pdf', await pdfFile([{ widthMm: 300, heightMm: 200 }]));
  const id = await layOutJobs(page, shop, 'slow.pdf');
  const steps: string[] = [];
  page.on('requestfinished', (request) => {
    const what = /\/(layout|queue)$/.exec(request.url())?.[1];
    if (what !== undefined) steps.push(what);
  });
  await page.route(`**/api/runs/${id}/layout`, async (route) => {
    await new Promise((done) => setTimeout(done, 1500));
    await route.continue();
  });
  await page.getByRole('tab', { name: 'Lay out' }).click();
  const lead = page.getByRole('complementary', { name: 'Figures' }).getByLabel('Lead margin');
  // Queue is pressed while the layout is on its way: it must not count as saved yet.
  const saving = page.waitForRequest((request) => request.method() === 'PUT' && request.url().endsWith('/layout'));
  await lead.fill('120');
  await lead.press('Enter');
  await page.getByRole('tab', { name: 'Figures' }).click();
  await saving;
  await page.getByRole('button', { name: /^Queue .* on Bittern/ }).click();
  await expect.poll(async () => (await shop.run(id)).state).not.toBe('draft');
  expect(steps.indexOf('queue')).toBeGreaterThan(steps.indexOf('layout'));
  const run = await shop.run(id);
  expect([run.settings.leadMm, (run.pieces[0]?.yMm ?? 0) >= 120]).toEqual([120, true]);
});
