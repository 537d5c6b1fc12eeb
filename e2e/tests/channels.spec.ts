import { createHash } from 'node:crypto';
import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { PDFDocument, cmyk } from '@cantoo/pdf-lib';
import { type Download, expect, test } from '@playwright/test';
import sharp from 'sharp';
import type { RunChannels } from '../../contract/api/colour/channels.ts';
import type { RunDetail } from '../../contract/api/run.ts';
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
  // Its ink is there at once; no dot is computed unasked: it says how many they would be.
  await expect(page.getByText(/The dots are not rendered: 12,756 × [\d,]+ in 4 channels/)).toBeVisible();
  const channels = page.getByRole('complementary', { name: 'Channels' });
  await expect(channels.getByRole('row', { name: /^Cyan/ })).toBeVisible();
  // The media and what lies around it; with the artwork there are more.
  await expect
    .poll(() =>
      page.locator('canvas').evaluate((canvas: HTMLCanvasElement) => {
        const pixels = canvas.getContext('2d')?.getImageData(0, 0, canvas.width, canvas.height).data.buffer;
        return new Set(new Uint32Array(pixels ?? new ArrayBuffer())).size;
      }),
    )
    .toBeGreaterThan(4);
  await page.getByRole('button', { name: 'Render the channels' }).click();
  await expect(page.getByRole('region', { name: 'Not rendered' })).toBeHidden({ timeout: 120_000 });
  await expect(channels.getByRole('row', { name: /^All .* ml/ })).toBeVisible();
  const picture = page.getByRole('img', { name: /4 of 4 channels on the media/ });
  await expect(picture).toBeVisible();
  expect(await faultsOf(page, 'channels', 'all')).toEqual([]);

  // What was counted is what the run is planned to take from then on.
  const [run] = await shop.runs();
  const { coats } = await shop.get<RunChannels>(`/api/runs/${run?.id ?? ''}/channels`);
  expect(run?.inkCounted).toBe(true);
  for (const { id, ml } of coats[0]?.channels ?? []) expect(run?.inkMl[id]).toBeCloseTo(ml, 9);

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

  // By mouse: all of it again, as heat, and kept as a picture with its values.
  await page.getByRole('button', { name: 'Fit the run' }).click();
  await page.getByText('how much ink lies where').click();
  await expect.poll(shot).not.toBe(bare);
  // Tiles may still be on their way: then it says so, and nothing is kept.
  let download: Download | undefined;
  page.once('download', (each) => {
    download = each;
  });
  await expect
    .poll(
      async () => {
        if (!download) await page.getByRole('button', { name: 'Keep what is seen as PNG' }).click();
        return download?.suggestedFilename() ?? '';
      },
      { intervals: [1000] },
    )
    .toMatch(/^run-\d+-channels\.png$/);
  const kept = await sharp(await download?.path()).metadata();
  expect(kept.format).toBe('png');
  expect(kept.height).toBeGreaterThan((await page.locator('canvas').boundingBox())?.height ?? Infinity);

  // What was rendered is there at once, also after a reload.
  await page.reload();
  await expect(channels.getByRole('row', { name: /^Cyan/ })).toBeVisible();
  await page.getByRole('link', { name: /^Run / }).click();
  await expect(page.getByRole('button', { name: 'Nest again' })).toBeVisible();
  await expect(page.getByText('counted, dot by dot')).toBeVisible();
});

test('a job is seen in print before and after: made lighter by keys, kept on the ticket, and its run fires less', async ({
  page,
}) => {
  await shop.bringIn('wren-transfers', 'poster.pdf', await pdfFile([{ widthMm: 60, heightMm: 40 }]));
  const { id: jobId } = await shop.job('poster.pdf');
  await page.goto(`${shop.url}/intake?job=${jobId}`);
  await page.getByRole('link', { name: 'See it in print, before and after' }).click();
  const all = page.getByRole('row', { name: /^All / });
  await expect(all).toContainText('0 %');
  await expect(page.getByRole('button', { name: 'Nothing changed' })).toBeDisabled();
  expect(await faultsOf(page, 'in print', 'all')).toEqual([]);
  await page.getByLabel('Brightness, slider').focus();
  for (let i = 0; i < 40; i += 1) await page.keyboard.press('ArrowRight');
  // Answers to what lay between may come first.
  const less = async (): Promise<number> => Number(/−(\d+) %/.exec(await all.innerText())?.[1] ?? 0);
  await expect.poll(less).toBeGreaterThan(30);
  const changed = await less();
  await expect(page.getByText(/^Saves |No difference in money/)).toBeVisible();
  // The line between before and after goes by keys, too.
  await page.getByLabel('Wipe between before and after').focus();
  await page.keyboard.press('Home');
  await expect(page.getByRole('img', { name: 'poster.pdf, before' })).toHaveCSS('clip-path', 'inset(0px 100% 0px 0px)');
  await page.getByLabel('Channel of the curve').selectOption('Cyan');
  await page.getByLabel('cyan at 50 %').fill('40');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Keep 2 on the ticket' }).click();
  await expect(page.getByRole('button', { name: 'Put tone back' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Put curves back' })).toBeVisible();
  const fired = async (job: string): Promise<number> => {
    const draft = await shop.send<RunDetail>('POST', '/api/runs', { jobIds: [job] });
    const placements = draft.pieces.map(({ pieceId }) => ({
      pieceId,
      xMm: 0,
      yMm: draft.settings.leadMm,
      angleDeg: 0,
    }));
    await shop.send('PUT', `/api/runs/${draft.id}/layout`, { settings: draft.settings, placements });
    const { coats } = await shop.get<RunChannels>(`/api/runs/${draft.id}/channels`);
    return (coats[0]?.channels ?? []).reduce((sum, { ml }) => sum + ml, 0);
  };
  await shop.bringIn('wren-transfers', 'poster as it came.pdf', await pdfFile([{ widthMm: 60, heightMm: 40 }]));
  const plain = await shop.job('poster as it came.pdf');
  const [lighter, asItCame] = [await fired(jobId), await fired(plain.id)];
  expect(lighter / asItCame).toBeLessThan(1 - (changed - 5) / 100);
});

test('artwork in CMYK is read by another profile: seen before and after, kept on the ticket, and said of its run', async ({
  page,
}) => {
  await shop.bringIn('wren-transfers', 'press.pdf', await pressFile());
  const { id: jobId } = await shop.job('press.pdf');
  await page.goto(`${shop.url}/intake?job=${jobId}`);
  await page.getByRole('link', { name: 'See it in print, before and after' }).click();
  const all = page.getByRole('row', { name: /^All / });
  await expect(all).toContainText('0 %');
  // To scale, also where it is wider than its place.
  const shape = (await page.getByRole('img', { name: 'press.pdf, after' }).boundingBox()) ?? { width: 0, height: 1 };
  expect(shape.width / shape.height).toBeCloseTo(170 / 113, 1);
  const press = page.getByLabel('Profile of CMYK without one');
  await expect(press.locator('option:checked')).toHaveText('Coated paper CMYK');
  // Those for RGB, and for other inks, are not offered.
  expect(await press.locator('option').allInnerTexts()).not.toContain('Heron banner 6-pass');
  await press.selectOption('Gannet bond');
  await expect(all).not.toContainText(' 0 %');
  const change = Number(/([−+]\d+) %/.exec(await all.innerText())?.[1]?.replace('−', '-') ?? 0);
  expect(change).not.toBe(0);
  await page.getByRole('button', { name: 'Keep 1 on the ticket' }).click();
  await expect(page.getByRole('button', { name: 'Put artwork profiles back' })).toBeVisible();
  const draft = await shop.send<RunDetail>('POST', '/api/runs', { jobIds: [jobId] });
  const placements = draft.pieces.map(({ pieceId }) => ({ pieceId, xMm: 0, yMm: draft.settings.leadMm, angleDeg: 0 }));
  await shop.send('PUT', `/api/runs/${draft.id}/layout`, { settings: draft.settings, placements });
  await page.goto(`${shop.url}/bench/${draft.id}/channels`);
  await page.getByRole('button', { name: 'Render the channels' }).click();
  await expect(page.getByRole('region', { name: 'Not rendered' })).toBeHidden({ timeout: 120_000 });
  await expect(page.getByText('CMYK that brings no profile is read as Gannet bond.')).toBeVisible();
});

/** A card in CMYK, as a press is sent one: no profile. */
async function pressFile(): Promise<Buffer> {
  const document = await PDFDocument.create();
  const sheet = document.addPage([170, 113]);
  sheet.drawRectangle({ x: 0, y: 0, width: 170, height: 113, color: cmyk(0.1, 0.5, 0.9, 0.05) });
  sheet.drawCircle({ x: 85, y: 56, size: 40, color: cmyk(0.8, 0.2, 0, 0.1) });
  return Buffer.from(await document.save());
}

test('killed in the middle of a rendering, the next server makes what is missing, with the same dots', async () => {
  const sha = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');
  await shop.bringIn('wren-transfers', 'long.pdf', await pdfFile([{ widthMm: 150, heightMm: 500 }]));
  const { id: jobId } = await shop.job('long.pdf');
  const draft = await shop.send<RunDetail>('POST', '/api/runs', { jobIds: [jobId] });
  const [piece] = draft.pieces;
  const placements = [{ pieceId: piece?.pieceId, xMm: 0, yMm: draft.settings.leadMm, angleDeg: 0 }];
  await shop.send('PUT', `/api/runs/${draft.id}/layout`, { settings: draft.settings, placements });
  const path = `/api/runs/${draft.id}/channels`;
  const owed = async () => (await shop.get<RunChannels>(`${path}?render=false`)).owed;
  const before = await owed();
  expect(before?.made).toBe(0);
  expect(before?.parts).toBeGreaterThan(4);
  const asked = shop.get(path).catch(() => undefined);
  // Some parts are there, others are being made.
  await shop.until(async () => ((await owed())?.made ?? 0) >= 2);
  await shop.kill9();
  await asked;
  const coats = join(shop.dataDir, 'coats');
  const [rendering = ''] = await readdir(coats).then((names) => names.slice(-1));
  const made = await timesOf(join(coats, rendering));
  expect(made.size).toBeGreaterThanOrEqual(2);
  expect(made.size).toBeLessThan(before?.parts ?? 0);
  await shop.start();
  const whole = await shop.get<RunChannels>(path);
  expect(await owed()).toBeNull();
  // What was there is not made again.
  const after = await timesOf(join(coats, rendering));
  for (const [name, at] of made) expect(after.get(name)).toBe(at);
  const dots = sha(await shop.file(`${path}/1.tif`));
  // Made anew from nothing, without a pause, it is the same file.
  await rm(join(coats, rendering), { recursive: true });
  expect(await shop.get<RunChannels>(path)).toEqual(whole);
  expect(sha(await shop.file(`${path}/1.tif`))).toBe(dots);
});

/** When each part of a rendering was made, by the name of its index. */
async function timesOf(dir: string): Promise<Map<string, number>> {
  const names = (await readdir(dir)).filter((name) => /^\d{5}\.json$/.test(name));
  return new Map(await Promise.all(names.map(async (name) => [name, (await stat(join(dir, name))).mtimeMs] as const)));
}
