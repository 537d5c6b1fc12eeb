import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import DxfParser from 'dxf-parser';
import sharp from 'sharp';
import { layOutJobs } from '../driver/bench.ts';
import { trianglePng } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeEach(async () => {
  shop = await TestShop.open();
});
test.afterEach(async () => {
  await shop.close();
});

test('decals are cut along the edge of their picture, nested by contour, and their cuts taken as DXF', async ({
  page,
}) => {
  await shop.bringIn('magpie-labels', 'sail.png', await trianglePng(300, 400));
  await page.goto(`${shop.url}/intake`);
  await page.getByText('sail.png', { exact: true }).click();
  await page.getByLabel('Copies', { exact: true }).fill('12');
  await page.getByLabel('Copies', { exact: true }).press('Enter');
  await page.getByLabel('Contour', { exact: true }).selectOption('the edge of the picture');
  await page.getByLabel('Cut outside of it by').fill('2');
  await page.getByLabel('Cut outside of it by').press('Enter');
  // The corners of the cut are round: 2 mm beyond the right angle, and beyond the arcs at the two points. The edge is
  // traced at each change of the ticket; a slow tracer shows the cut without its 2 mm for a while.
  await shop.until(async () => Math.abs(((await shop.job('sail.png')).widthMm ?? 0) - 304) < 0.5);
  await page.getByRole('button', { name: 'Close' }).first().click();

  const id = await layOutJobs(page, shop, 'sail.png');
  const byRectangle = (await shop.run(id)).lengthMm;
  const figures = page.getByRole('complementary', { name: 'Figures' });
  await figures.getByRole('tab', { name: 'Lay out' }).click();
  await figures.getByLabel('By contour, not by rectangle').check();
  // A machine that is busy gets less far in the time of a nest: a person nests again.
  await expect(async () => {
    const again = page.getByRole('button', { name: 'Nest again' });
    const { lengthMm } = await shop.run(id);
    if (lengthMm >= byRectangle * 0.8 && (await again.isVisible())) await again.click();
    expect(lengthMm).toBeLessThan(byRectangle * 0.8);
  }).toPass({ intervals: [5000, 7000] });
  await expect(figures).not.toContainText(/overlap|outside/);

  // By hand one is pushed onto its neighbour: told at once, and not to be queued.
  const [first] = (await shop.run(id)).pieces;
  await page.locator(`[data-piece="${first?.pieceId ?? ''}"]`).click();
  for (let i = 0; i < 8; i++) await page.keyboard.press('Shift+ArrowRight');
  await expect(figures).toContainText(/overlap/);
  await expect(figures.getByRole('button', { name: /^Queue/ })).toBeDisabled();
  for (let i = 0; i < 8; i++) await page.keyboard.press('Control+z');
  await expect(figures.getByRole('button', { name: /^Queue/ })).toBeEnabled();

  await figures.getByRole('button', { name: 'Take as' }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'Cuts as DXF' }).click(),
  ]);
  expect(download.suggestedFilename()).toMatch(/^run-\d+-cuts\.dxf$/);
  const dxf = new DxfParser().parseSync(readFileSync(await download.path(), 'utf8'));
  const rings = (dxf?.entities ?? []).filter((each) => each.layer === 'contour') as unknown as {
    vertices: { x: number; y: number }[];
  }[];
  const area = ({ vertices }: (typeof rings)[number]): number =>
    Math.abs(
      vertices.reduce((sum, p, i) => {
        const q = vertices[(i + 1) % vertices.length] ?? p;
        return sum + p.x * q.y - q.x * p.y;
      }, 0) / 2,
    );
  expect(rings).toHaveLength(12);
  // The triangle, 2 mm around its three sides, and the three arcs that make a circle together.
  const grown = 60_000 + 2 * (300 + 400 + 500) + Math.PI * 4;
  for (const ring of rings) expect(Math.abs(area(ring) - grown)).toBeLessThan(grown * 0.002);

  // As a picture: the size and density that were asked for; what could not be held is refused with what could.
  const { mediaWidthMm, lengthMm } = await shop.run(id);
  const picture = await shop.file(`/api/runs/${id}/picture?dpi=60`);
  const { width, height, density } = await sharp(picture).metadata();
  const px = (mm: number): number => Math.round((mm / 25.4) * 60);
  expect([width, height, density]).toEqual([px(mediaWidthMm), px(lengthMm), 60]);
  const large = await page.request.get(`${shop.url}/api/runs/${id}/picture?dpi=1200`);
  expect(large.status()).toBe(422);
  expect(await large.text()).toMatch(
    /At 1200 dpi Run \d+ has \d+ million pixels; 120 million is the limit.*Take it at \d+ dpi/,
  );

  // On sheets of 800 mm, still by contour: nothing lies across the end of a sheet.
  await figures.getByLabel('On sheets').check();
  await expect(figures.getByLabel('By contour, not by rectangle')).toBeChecked();
  await figures.getByLabel('Length of a sheet').fill('800');
  await figures.getByLabel('Length of a sheet').press('Enter');
  await shop.until(async () => (await shop.run(id)).settings.sheetMm === 800);
  await shop.until(async () => (await shop.run(id)).lengthMm % 800 === 0);
  await expect(figures).not.toContainText(/overlap|outside/);
  expect((await shop.run(id)).settings.byContour).toBe(true);

  await figures.getByRole('button', { name: /^Queue/ }).click();
  await shop.until(async () => (await shop.run(id)).state !== 'draft');
});
