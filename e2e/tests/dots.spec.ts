import { expect, test } from '@playwright/test';
import type { RunChannels } from '../../contract/api/colour/channels.ts';
import type { PrinterView } from '../../contract/api/floor.ts';
import type { RunDetail } from '../../contract/api/run.ts';
import type { Story } from '../../contract/api/pace/story.ts';
import { deviationOf } from '../../core/machine/deviation.ts';
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
  const { ink } = deviationOf('wren');
  const [coat] = coats;
  expect(coat?.channels.length).toBe(4);
  for (const { name, ml } of coat?.channels ?? []) {
    const fired = story.prints[0]?.inkMl[name] ?? 0;
    expect(ml).toBeGreaterThan(0);
    expect(Math.abs(fired / ml - ink)).toBeLessThan(1e-4);
  }
});

test('printed while it is rendered: the server is killed in the middle, the printer waits for the rows that it lacks, and all of it is printed once', async () => {
  await shop.setRate(1);
  await renders('while printing');
  const job = await shop.bringIn('wren-transfers', 'long.pdf', await pdfFile([{ widthMm: 300, heightMm: 500 }]));
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
  const { ink } = deviationOf('wren');
  for (const { name, ml } of coats[0]?.channels ?? []) {
    expect(Math.abs((story.prints[0]?.inkMl[name] ?? 0) / ml - ink)).toBeLessThan(1e-4);
  }
});
