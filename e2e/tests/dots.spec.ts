import { expect, test } from '@playwright/test';
import type { CoatView, RunChannels } from '../../contract/api/colour/channels.ts';
import type { PrinterView } from '../../contract/api/floor.ts';
import type { RunDetail } from '../../contract/api/run.ts';
import type { Story } from '../../contract/api/pace/story.ts';
import { pdfFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeEach(async () => {
  shop = await TestShop.open({ rate: 300 });
});
test.afterEach(async () => {
  await shop.close();
});

const channels = (run: RunDetail): Promise<RunChannels> => shop.get(`/api/runs/${run.id}/channels?render=false`);

/** Every channel has fired its counted dots, by drops that are all off by the same: this device's own 5 to 20 %. */
function firedAsCounted(coat: CoatView | undefined, { prints }: Story): void {
  const ratios = (coat?.channels ?? []).map(({ name, ml }) => (prints[0]?.inkMl[name] ?? 0) / ml);
  expect(ratios.length).toBeGreaterThan(0);
  const [least, most] = [Math.min(...ratios), Math.max(...ratios)];
  expect(most - least).toBeLessThan(1e-4);
  expect(Math.abs(most - 1)).toBeGreaterThan(0.04);
  expect(Math.abs(most - 1)).toBeLessThan(0.21);
}

async function renders(way: 'render first' | 'while printing'): Promise<void> {
  const printers = await shop.get<PrinterView[]>('/api/printers');
  const wren = printers.find(({ id }) => id === 'wren');
  await shop.send('PATCH', '/api/printers/wren', { config: { ...wren?.config, rendering: way } });
}

test('rendering is set for a printer; it fires what was counted, dot by dot, by its own drops', async ({ page }) => {
  await page.goto(`${shop.url}/setup?printer=wren`);
  await page.getByLabel('Rendering', { exact: true }).selectOption('render first');
  const job = await shop.bringIn('wren-transfers', 'crest.pdf', await pdfFile([{ widthMm: 120, heightMm: 80 }]));
  const run = await shop.queueRun([job.id]);
  await shop.runIs(run.id, 'printed');
  const { coats, owed } = await channels(run);
  expect(owed).toBeNull();
  // Rendered before it was sent, so it was planned by counts; and each channel fired them, times what this device is off by.
  expect((await shop.run(run.id)).inkCounted).toBe(true);
  const story = await shop.get<Story>(`/api/stories/run/${run.id}`);
  const [coat] = coats;
  expect(coat?.channels.length).toBe(4);
  firedAsCounted(coat, story);
});

test('printed while it is rendered: the server is killed in the middle, the printer waits for the rows that it lacks, and all of it is printed once', async () => {
  await shop.setRate(1);
  await renders('while printing');
  // So long that it is still rendered once it is seen to print, however late a busy machine sees that.
  const job = await shop.bringIn('wren-transfers', 'long.pdf', await pdfFile([{ widthMm: 300, heightMm: 900 }]));
  const run = await shop.queueRun([job.id]);
  await shop.runIs(run.id, 'printing');
  const { owed } = await channels(run);
  expect(owed).not.toBeNull();
  expect(owed?.made).toBeLessThan(owed?.parts ?? 0);
  await shop.kill9();
  await shop.start();
  await shop.setRate(3000);
  await shop.runIs(run.id, 'printed');
  const after = await shop.run(run.id);
  expect(after.attempt).toBe(1);
  const { coats } = await channels(run);
  const story = await shop.get<Story>(`/api/stories/run/${run.id}`);
  firedAsCounted(coats[0], story);
});
