import { expect, test } from '@playwright/test';
import { faultsOf } from '../driver/axe.ts';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeAll(async () => {
  shop = await TestShop.open();
});
test.afterAll(async () => {
  await shop.close();
});

test('from a run to its dots: rendered, read by channel, looked at by keys down to single drops', async ({ page }) => {
  await shop.bringIn('wren-transfers', 'crest.pdf', await pdfFile([{ widthMm: 120, heightMm: 80 }]));
  await page.goto(`${shop.url}/intake`);
  await page.getByLabel('Choose crest.pdf').check();
  await page.getByRole('button', { name: /^Lay out/ }).click();
  await expect(page.getByRole('button', { name: 'Nest again' })).toBeVisible();
  await page.getByRole('link', { name: 'Channels, dot by dot' }).click();
  // Nothing is computed unasked: it says how much it would be.
  await expect(page.getByText(/The channels are not rendered: 12,756 × [\d,]+ dots in 4 channels/)).toBeVisible();
  await page.getByRole('button', { name: 'Render the channels' }).click();
  const channels = page.getByRole('complementary', { name: 'Channels' });
  await expect(channels.getByRole('row', { name: /^Cyan/ })).toBeVisible({ timeout: 120_000 });
  await expect(channels.getByRole('row', { name: /^All .* ml/ })).toBeVisible();
  const picture = page.getByRole('img', { name: /4 of 4 channels on the media/ });
  await expect(picture).toBeVisible();
  expect(await faultsOf(page, 'channels', 'all')).toEqual([]);

  // By keys: nearer and nearer, until what stands in the middle is one drop of a channel, or none.
  for (let i = 0; i < 24; i += 1) await page.keyboard.press('+');
  const here = (): Promise<string[]> => channels.getByRole('cell', { name: /^\d+ %$/ }).allInnerTexts();
  await expect.poll(async () => (await here()).length).toBe(5);
  for (const text of (await here()).slice(0, 4)) expect(['0 %', '43 %', '71 %', '100 %']).toContain(text);
  // One channel alone, then without it.
  await page.keyboard.press('Shift+Digit2');
  await expect(page.getByRole('img', { name: /1 of 4 channels/ })).toBeVisible();
  await expect(channels.getByLabel('Magenta')).toBeChecked();
  await expect(channels.getByLabel('Cyan')).not.toBeChecked();
  await page.keyboard.press('2');
  await expect(page.getByRole('img', { name: /0 of 4 channels/ })).toBeVisible();
  const shot = (): Promise<string> =>
    page.locator('canvas').evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL());
  const bare = await shot();
  await page.keyboard.press('4');
  await page.keyboard.press('0');
  await expect.poll(shot).not.toBe(bare);

  // What was rendered is there at once, also after a reload.
  await page.reload();
  await expect(channels.getByRole('row', { name: /^Cyan/ })).toBeVisible();
  await page.getByRole('link', { name: /^Run / }).click();
  await expect(page.getByRole('button', { name: 'Nest again' })).toBeVisible();
});
