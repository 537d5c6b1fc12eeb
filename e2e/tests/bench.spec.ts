import { expect, test } from '@playwright/test';
import sharp from 'sharp';
import type { RunDetail } from '../../contract/api/run.ts';
import { layOutJobs } from '../driver/bench.ts';
import { pdfFile, pngFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeAll(async () => {
  shop = await TestShop.open();
});
test.afterEach(async () => {
  await shop.clearBench();
});
test.afterAll(async () => {
  await shop.close();
});

const pieceAt = (run: RunDetail, i: number) => {
  const piece = run.pieces[i];
  if (!piece) throw new Error(`no piece ${String(i)}`);
  return piece;
};

test('pieces are placed by keys and by figures, undone step by step, and survive a reload', async ({ page }) => {
  await shop.bringIn('bittern-photo', 'one.pdf', await pdfFile([{ widthMm: 300, heightMm: 200 }]));
  const id = await layOutJobs(page, shop, 'one.pdf');
  const start = pieceAt(await shop.run(id), 0);
  await page.locator('[data-piece]').click();
  const figures = page.getByRole('complementary', { name: 'Figures' });
  await expect(figures).toContainText('copy 1, 300 × 200 mm');
  // The feed runs to the right on the screen, the right edge of the media is up.
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+ArrowUp');
  await page.keyboard.press('Alt+ArrowRight');
  await shop.until(async () => Math.abs(pieceAt(await shop.run(id), 0).yMm - start.yMm - 1.1) < 1e-6);
  expect(pieceAt(await shop.run(id), 0).xMm - start.xMm).toBeCloseTo(10, 6);
  await figures.getByLabel('Along the feed').fill('2 in');
  await figures.getByLabel('Along the feed').press('Enter');
  await shop.until(async () => Math.abs(pieceAt(await shop.run(id), 0).yMm - 50.8) < 1e-6);
  await page.locator('[data-piece]').click();
  await page.keyboard.press('r');
  await shop.until(async () => pieceAt(await shop.run(id), 0).angleDeg !== start.angleDeg);
  await page.reload();
  await expect(page.locator('[data-piece]')).toHaveCount(1);
  expect(pieceAt(await shop.run(id), 0).angleDeg).not.toBe(start.angleDeg);
});

test('a piece pushed over the edge is said to lie outside, and the run can not be queued until it is back', async ({
  page,
}) => {
  await shop.bringIn('magpie-labels', 'wide.png', await pngFile(1200, 600, 100));
  await layOutJobs(page, shop, 'wide.png');
  const queue = page.getByRole('button', { name: /^Queue .* on Magpie/ });
  await expect(queue).toBeEnabled();
  await page.locator('[data-piece]').click();
  const figures = page.getByRole('complementary', { name: 'Figures' });
  await figures.getByLabel('From the left').fill('1300');
  await figures.getByLabel('From the left').press('Enter');
  await expect(figures).toContainText('1 piece lies outside the usable width');
  await expect(queue).toBeDisabled();
  await page.getByRole('button', { name: 'Undo' }).first().click();
  await expect(figures).not.toContainText('outside the usable width');
  await expect(queue).toBeEnabled();
});

test('wrong figures are answered beside the field and change nothing', async ({ page }) => {
  await shop.bringIn('bittern-photo', 'refused.pdf', await pdfFile([{ widthMm: 300, heightMm: 200 }]));
  const id = await layOutJobs(page, shop, 'refused.pdf');
  await page.getByRole('tab', { name: 'Lay out' }).click();
  const gap = page.getByRole('complementary', { name: 'Figures' }).getByLabel('Gap', { exact: true });
  const figures = page.getByRole('complementary', { name: 'Figures' });
  await gap.fill('wide');
  await gap.press('Enter');
  await expect(figures).toContainText('Not a length. Try 120, 38 in, 11 7/8 in or 3*18in+2mm.');
  await gap.fill('900');
  await gap.press('Enter');
  await expect(figures).toContainText('From 0 to 500 mm.');
  expect((await shop.run(id)).settings.gapMm).toBe(6);
  await gap.press('Escape');
  await expect(gap).toHaveValue('6');
});

test('quarter turns: forbidden, a long banner no longer fits, and the Bench says with figures why', async ({
  page,
}) => {
  await shop.bringIn('heron-banners', 'banner.pdf', await pdfFile([{ widthMm: 2600, heightMm: 800 }]));
  await layOutJobs(page, shop, 'banner.pdf');
  const figures = page.getByRole('complementary', { name: 'Figures' });
  await page.getByRole('tab', { name: 'Lay out' }).click();
  await figures.getByLabel('Quarter turns where jobs allow').uncheck();
  await expect(figures.getByRole('alert')).toContainText(
    'banner.pdf is wider than the usable width: 2,600 mm of 1,590 mm',
  );
  await expect(page.getByRole('button', { name: /^Queue/ })).toBeDisabled();
  await figures.getByLabel('Quarter turns where jobs allow').check();
  await expect(page.getByRole('button', { name: /^Queue/ })).toBeEnabled();
});

test('a stock that is not loaded: the Bench says so, the spool is loaded on the Floor, then the run prints', async ({
  page,
}) => {
  await shop.setRate(600);
  const job = await shop.bringIn('heron-banners', 'flag.pdf', await pdfFile([{ widthMm: 900, heightMm: 600 }]));
  await shop.send('PATCH', `/api/jobs/${job.id}`, { stockId: 'flag-gauze' });
  const id = await layOutJobs(page, shop, 'flag.pdf');
  await expect(page.getByText('This stock is not loaded on Heron.')).toBeVisible();
  await page.getByRole('button', { name: /^Queue .* on Heron/ }).click();
  await expect(page).toHaveURL(/\/bench$/);
  await page.goto(`${shop.url}/floor?printer=heron`);
  const sheet = page.getByRole('complementary', { name: 'Heron' });
  await expect(sheet).toContainText('BO-31 Block-out banner 1600');
  await sheet.getByRole('button', { name: 'Load another spool on roll' }).click();
  await sheet.getByRole('button', { name: /^FG-12 Flag gauze 1500/ }).click();
  await sheet.getByLabel('Take-up', { exact: true }).selectOption('off');
  await sheet.getByRole('button', { name: /^Load FG-12/ }).click();
  await expect(sheet).toContainText('FG-12 Flag gauze 1500');
  await shop.until(async () => (await shop.spool('spool-bo-31')).printerId === null);
  await shop.runIs(id, 'printed');
  expect((await shop.spool('spool-fg-12')).leftMm).toBeLessThan(38_200);
});

test('taken back from the line: the layout is there again, and the piece is free when it is dissolved', async ({
  page,
}) => {
  await shop.setRate(1);
  const first = await shop.bringIn('bittern-photo', 'first.pdf', await pdfFile([{ widthMm: 500, heightMm: 900 }]));
  const second = await shop.bringIn('bittern-photo', 'second.pdf', await pdfFile([{ widthMm: 400, heightMm: 300 }]));
  await shop.runIs((await shop.queueRun([first.id])).id, 'printing');
  const run = await shop.queueRun([second.id]);
  await page.goto(`${shop.url}/floor?printer=bittern`);
  await page.getByRole('complementary', { name: 'Bittern' }).getByRole('button', { name: 'Remove from line' }).click();
  await shop.runIs(run.id, 'cancelled');
  await page.goto(`${shop.url}/bench`);
  await expect(page.locator('[data-piece]')).toHaveCount(1);
  await expect(page.getByRole('button', { name: /^Queue .* on Bittern/ })).toBeEnabled();
  await page.getByRole('button', { name: 'Dissolve run' }).click();
  await expect(page.getByText('Nothing is waiting to be laid out')).toBeVisible();
  expect((await shop.job('second.pdf')).state).toBe('ready');
});

test('430 labels are cut into 36 segments that never hang to the floor, and queued in one go', async ({ page }) => {
  await shop.bringIn('magpie-labels', 'stop sign.pdf', await pdfFile([{ widthMm: 325, heightMm: 105 }]));
  await shop.setTicket('stop sign.pdf', { copies: 430, quarterTurn: false });
  await layOutJobs(page, shop, 'stop sign.pdf');
  const figures = page.getByRole('complementary', { name: 'Figures' });
  await page.getByRole('tab', { name: 'Lay out' }).click();
  await expect(figures).toContainText('36 runs of up to 12 of 325 × 105 mm; the last one of 10');
  await expect(figures).toContainText('4 across × 3 along; 375.0 mm each');
  await figures.getByLabel('No longer than').fill('200');
  await figures.getByLabel('No longer than').press('Enter');
  await expect(figures).toContainText('1 along');
  await figures.getByLabel('No longer than').fill('42 cm');
  await figures.getByLabel('No longer than').press('Enter');
  await figures.getByRole('button', { name: 'Cut into 36' }).click();
  await expect(page.getByText('segment 36 of 36')).toBeAttached();
  await page.getByRole('tab', { name: 'Lay out' }).click();
  await expect(figures).toContainText('Segment 1 of 36');
  await figures.getByRole('button', { name: 'Queue all' }).click();
  await shop.until(async () => {
    const runs = (await shop.runs()).filter((run) => run.series !== null);
    return runs.length === 36 && runs.every((run) => run.state !== 'draft');
  });
  const runs = (await shop.runs()).filter((run) => run.series !== null);
  expect(runs.reduce((sum, run) => sum + run.pieceCount, 0)).toBe(430);
  expect(Math.max(...runs.map((run) => run.lengthMm))).toBeLessThanOrEqual(380);
});

test('locked pieces stay while the rest is packed around them; a frame chooses many, which are aligned and spread', async ({
  page,
}) => {
  await shop.bringIn('bittern-photo', 'card.pdf', await pdfFile([{ widthMm: 150, heightMm: 100 }]));
  await shop.setTicket('card.pdf', { copies: 4 });
  const id = await layOutJobs(page, shop, 'card.pdf');
  const figures = page.getByRole('complementary', { name: 'Figures' });
  const pieces = page.locator('[data-piece]');
  await expect(pieces).toHaveCount(4);
  await pieces.first().click();
  const key = (await pieces.first().getAttribute('data-piece')) ?? '';
  const one = async (): Promise<RunDetail['pieces'][number]> => {
    const found = (await shop.run(id)).pieces.find((piece) => piece.pieceId === key);
    if (!found) throw new Error('the piece is gone');
    return found;
  };
  await figures.getByLabel('Along the feed').fill('500');
  await figures.getByLabel('Along the feed').press('Enter');
  await figures.getByLabel('From the left').fill('300');
  await figures.getByLabel('From the left').press('Enter');
  await figures.getByRole('button', { name: 'Lock' }).click();
  await expect(page.locator('[data-locked]')).toHaveCount(1);
  await expect(figures.getByLabel('Along the feed')).toBeDisabled();
  await page.getByRole('button', { name: 'Nest again' }).click();
  await page.getByRole('button', { name: 'Stop' }).click();
  await shop.until(async () => (await one()).locked);
  expect(await one()).toMatchObject({ xMm: 300, yMm: 500, locked: true });
  const used = (await shop.run(id)).lengthMm;
  expect(used).toBeGreaterThanOrEqual(600);
  await page.reload();
  await expect(page.locator('[data-locked]')).toHaveCount(1);
  // A frame over everything, pulled from the empty media beyond the run to its other corner.
  const media = page.getByRole('group', { name: /^Media/ });
  const box = await media.boundingBox();
  if (!box) throw new Error('no media is drawn');
  await page.mouse.move(box.x + box.width - 3, box.y + box.height - 3);
  await page.mouse.down();
  await page.mouse.move(box.x + 3, box.y + 3, { steps: 6 });
  await page.mouse.up();
  await expect(figures).toContainText('4 pieces');
  await figures.getByRole('button', { name: 'left', exact: true }).click();
  await expect(figures).toContainText(/overlap/);
  const locked = await one();
  await figures.getByRole('button', { name: 'spread along' }).click();
  await shop.until(async () => {
    const free = (await shop.run(id)).pieces.filter((piece) => piece.pieceId !== key);
    return free.every((piece) => piece.xMm === free[0]?.xMm);
  });
  expect(await one()).toEqual(locked);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(figures).not.toContainText(/overlap/);
});

test('step and repeat: rows that fill the width, shifted, with the needed length as a sum', async ({ page }) => {
  await shop.bringIn('bittern-photo', 'ticket.pdf', await pdfFile([{ widthMm: 200, heightMm: 80 }]));
  await shop.setTicket('ticket.pdf', { copies: 7, quarterTurn: false });
  const id = await layOutJobs(page, shop, 'ticket.pdf');
  const figures = page.getByRole('complementary', { name: 'Figures' });
  await page.getByRole('tab', { name: 'Lay out' }).click();
  await figures.getByRole('button', { name: 'Open' }).click();
  await figures.getByLabel('Gap along').fill('1 cm');
  await figures.getByLabel('Gap along').press('Enter');
  await expect(figures).toContainText('4 across × 2 along');
  await figures.getByLabel('How rows lie').selectOption('rows');
  const { settings } = await shop.run(id);
  await expect(figures).toContainText(`Needs ${(settings.leadMm + 2 * 80 + 10 + settings.trailMm).toFixed(1)} mm`);
  await figures.getByText('Needs').click();
  await expect(figures).toContainText(
    `${settings.leadMm.toFixed(1)} + 2 × 80.0 + 1 × 10.0 + ${settings.trailMm.toFixed(1)} mm`,
  );
  await figures.getByRole('button', { name: 'Lay in rows' }).click();
  await shop.until(async () => (await shop.run(id)).pieces.some((piece) => piece.yMm === settings.leadMm + 90));
  const second = (await shop.run(id)).pieces.filter((piece) => piece.yMm > settings.leadMm);
  const half = (200 + settings.gapMm) / 2;
  expect(second.map((piece) => [piece.xMm, piece.yMm])).toEqual(
    [0, 1, 2].map((n) => [half + n * (200 + settings.gapMm), settings.leadMm + 90]),
  );
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Undo' })).toBeEnabled();
});

test('a run of hundreds of pieces is painted: a piece is chosen where it is seen, moved, and its clash told', async ({
  page,
}) => {
  await shop.bringIn('magpie-labels', 'tag.pdf', await pdfFile([{ widthMm: 60, heightMm: 40 }]));
  await shop.setTicket('tag.pdf', { copies: 450, quarterTurn: false });
  const id = await layOutJobs(page, shop, 'tag.pdf');
  await expect(page.getByTestId('painted-pieces')).toHaveAttribute('data-count', '450');
  await expect(page.locator('[data-piece]')).toHaveCount(0);
  const run = await shop.run(id);
  const piece = run.pieces.find(({ yMm }) => yMm > 200);
  const box = await page.getByRole('group', { name: /^Media/ }).boundingBox();
  if (!piece || !box) throw new Error('nothing is laid out');
  const k = box.height / run.mediaWidthMm;
  const at = {
    x: box.x + (piece.yMm + 20) * k,
    y: box.y + (run.mediaWidthMm - run.usableFromMm - piece.xMm - 30) * k,
  };
  // What is painted there is a piece, not the bare media.
  const shot = await page.screenshot({ clip: { x: at.x - 3, y: at.y - 3, width: 6, height: 6 } });
  const { channels } = await sharp(shot).stats();
  expect(Math.min(...channels.map(({ mean }) => mean))).toBeLessThan(200);
  await page.mouse.click(at.x, at.y);
  const figures = page.getByRole('complementary', { name: 'Figures' });
  await expect(figures).toContainText(`copy ${String(piece.copy + 1)}, 60 × 40 mm`);
  await page.keyboard.press('Shift+ArrowRight');
  await expect(figures).toContainText(/overlap/);
  await shop.until(async () =>
    (await shop.run(id)).pieces.some((each) => each.pieceId === piece.pieceId && each.yMm === piece.yMm + 10),
  );
  await page.keyboard.press('Control+z');
  await expect(figures).not.toContainText(/overlap/);
});

test('step and repeat by the handles: a length is filled with more copies than were ordered, then with fewer', async ({
  page,
}) => {
  await shop.bringIn('bittern-photo', 'coupon.pdf', await pdfFile([{ widthMm: 200, heightMm: 80 }]));
  await shop.setTicket('coupon.pdf', { copies: 7, quarterTurn: false });
  const id = await layOutJobs(page, shop, 'coupon.pdf');
  const figures = page.getByRole('complementary', { name: 'Figures' });
  await page.getByRole('tab', { name: 'Lay out' }).click();
  await figures.getByRole('button', { name: 'Open' }).click();
  await expect(page.getByTestId('step-ghost')).toHaveAttribute('data-count', '7');
  const pull = async (name: string, dx: number, dy: number): Promise<void> => {
    const box = await page.getByLabel(name).boundingBox();
    if (!box) throw new Error(`no handle ${name}`);
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + dx, y + dy, { steps: 5 });
    await page.mouse.up();
  };
  const media = await page.getByRole('group', { name: /^Media/ }).boundingBox();
  const pxPerMm = (media?.height ?? 0) / 914;
  // One column fewer: down by a pitch. Three rows more: to the right, with a little to spare.
  await pull('Pull for more or fewer columns', 0, 205 * pxPerMm);
  await expect(figures).toContainText('3 across × 3 along');
  await pull('Pull to fill a length', (3 * 85 + 20) * pxPerMm, 0);
  await expect(figures).toContainText('3 across × 6 along, 11 more than are here');
  await figures.getByRole('button', { name: 'Lay 18 in rows' }).click();
  await shop.until(async () => (await shop.run(id)).pieces.filter((piece) => piece.placed).length === 18);
  expect((await shop.job('coupon.pdf')).copies).toBe(18);
  const lengthMm = (await shop.run(id)).lengthMm;
  const { leadMm, trailMm, gapMm } = (await shop.run(id)).settings;
  expect(lengthMm).toBeCloseTo(leadMm + 6 * 80 + 5 * gapMm + trailMm, 3);
  await expect(figures).not.toContainText(/overlap/);

  await figures.getByLabel('Length of the rows').fill('330');
  await figures.getByLabel('Length of the rows').press('Enter');
  await figures.getByLabel('How rows are turned').selectOption('half');
  await expect(figures).toContainText('3 across × 3 along; 9 stay waiting');
  await figures.getByRole('button', { name: 'Lay 9 in rows' }).click();
  await shop.until(async () => (await shop.run(id)).pieces.length === 9);
  await shop.until(async () => (await shop.run(id)).pieces.filter((piece) => piece.angleDeg === 180).length === 3);
  expect((await shop.job('coupon.pdf')).pieces).toMatchObject({ owed: 9, placed: 9 });
});

test('a small run is proven to be the shortest; made longer by hand, nesting again makes it the shortest again', async ({
  page,
}) => {
  const sizes = [
    [300, 210],
    [410, 330],
    [280, 190],
    [520, 160],
    [240, 370],
  ] as const;
  const names = sizes.map((_, i) => `sign ${String(i)}.pdf`);
  for (const [i, [widthMm, heightMm]] of sizes.entries())
    await shop.bringIn('heron-banners', names[i] ?? '', await pdfFile([{ widthMm, heightMm }]));
  await layOutJobs(page, shop, ...names);
  const shortest = page.getByTestId('shortest');
  await expect(shortest).toContainText('No shorter layout exists.');
  const length = await page.getByTestId('used-length').textContent();
  // The last piece is moved away along the feed: the bound stays, the layout is above it.
  await page.locator('[data-piece]').last().click();
  const figures = page.getByRole('complementary', { name: 'Figures' });
  await figures.getByLabel('Along the feed').fill('700');
  await figures.getByLabel('Along the feed').press('Enter');
  await expect(shortest).toHaveCount(0);
  await expect(figures).toContainText('Longer than the minimum by');
  await figures.getByRole('button', { name: 'Search on for 20 s' }).click();
  await expect(shortest).toContainText('No shorter layout exists.');
  expect(await page.getByTestId('used-length').textContent()).toBe(length);
  // Left and opened again, it is still known.
  await page.getByRole('link', { name: 'Floor', exact: true }).first().click();
  await page.goBack();
  await expect(shortest).toContainText('No shorter layout exists.');
});

test('segments hold as many pieces as they are told, and keep rows that were laid', async ({ page }) => {
  await shop.bringIn('magpie-labels', 'decal.pdf', await pdfFile([{ widthMm: 325, heightMm: 105 }]));
  await shop.setTicket('decal.pdf', { copies: 30, quarterTurn: false });
  const id = await layOutJobs(page, shop, 'decal.pdf');
  const figures = page.getByRole('complementary', { name: 'Figures' });
  await page.getByRole('tab', { name: 'Lay out' }).click();
  await figures.getByLabel('Pieces in each').fill('8');
  await figures.getByLabel('Pieces in each').press('Enter');
  await expect(figures).toContainText('4 runs of up to 8 of 325 × 105 mm; the last one of 6');
  await figures.getByLabel('Rows').selectOption('as laid');
  await expect(figures).toContainText('4 runs of up to 8');
  await figures.getByRole('button', { name: 'Cut into 4' }).click();
  await shop.runIs(id, 'cancelled');
  const segments = (await shop.runs()).filter((run) => run.series !== null && run.state === 'draft');
  expect(segments.map((run) => run.pieceCount).sort()).toEqual([6, 8, 8, 8]);
});
