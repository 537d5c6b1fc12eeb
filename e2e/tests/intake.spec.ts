import { expect, test } from '@playwright/test';
import { jpegFile, pdfFile, pngFile } from '../driver/files.ts';
import { TestShop } from '../driver/shop.ts';

let shop: TestShop;
test.beforeAll(async () => {
  shop = await TestShop.open();
});
test.afterAll(async () => {
  await shop.close();
});

test('files copied into a hot folder appear by themselves, with picture, true size, pages and findings', async ({
  page,
}) => {
  await page.goto(`${shop.url}/intake`);
  await expect(page.getByText('Nothing has arrived yet')).toBeVisible();
  await shop.drop(
    'heron-banners',
    'Käse & Möwe 版.pdf',
    await pdfFile([
      { widthMm: 420, heightMm: 297, around: 12 },
      { widthMm: 300, heightMm: 500, around: 8, rotate: 90 },
      { widthMm: 420, heightMm: 297 },
    ]),
  );
  await shop.drop('heron-banners', 'window.png', await pngFile(400, 300, 72));
  await shop.drop('magpie-labels', 'poster.jpg', await jpegFile(600, 900, 150));
  await shop.drop('heron-banners', 'hoarding.pdf', await pdfFile([{ widthMm: 2450, heightMm: 3100 }]));
  const row = (name: string) => page.getByRole('row').filter({ hasText: name });
  await expect(row('Käse & Möwe 版.pdf')).toContainText('420 × 297');
  await expect(row('Käse & Möwe 版.pdf')).toContainText('3 pages');
  await expect(row('window.png')).toContainText('141.1 × 105.8');
  await expect(row('window.png')).toContainText('72 dpi at this size');
  await expect(row('poster.jpg')).toContainText('101.6 × 152.4');
  await expect(row('hoarding.pdf')).toContainText(
    'Wider than Heron prints on Block-out banner 1600: 2,450 mm of 1,590 mm',
  );
  await expect(row('hoarding.pdf')).toContainText('blocked');
  for (const name of ['Käse & Möwe 版.pdf', 'window.png', 'poster.jpg']) {
    await expect
      .poll(() =>
        row(name)
          .locator('img')
          .evaluate((img: HTMLImageElement) => img.naturalWidth),
      )
      .toBeGreaterThan(50);
  }
  await row('Käse & Möwe 版.pdf').click();
  const ticket = page.getByRole('complementary', { name: 'Käse & Möwe 版.pdf' });
  await ticket.getByRole('button', { name: 'Next page' }).click();
  await expect(ticket).toContainText('300 × 500');
  await expect
    .poll(() =>
      ticket
        .getByRole('img', { name: /^Page 2/ })
        .locator('image')
        .evaluate(async (image) => {
          const picture = new Image();
          picture.src = image.getAttribute('href') ?? '';
          await picture.decode();
          return picture.naturalHeight / picture.naturalWidth;
        }),
    )
    .toBeCloseTo(500 / 300, 1);
  expect(await shop.leftIn('heron-banners')).toEqual([]);
});

test('a file that grows is shown as arriving and taken when it is whole', async ({ page }) => {
  await page.goto(`${shop.url}/intake`);
  const slow = await shop.dropSlowly('magpie-labels', 'slow.png', await pngFile(1200, 900, 150));
  const row = page.getByRole('row').filter({ hasText: 'slow.png' });
  await expect(row).toContainText('arriving');
  await expect(row).toContainText('so far');
  await slow.finish();
  await expect(row).toContainText('ready');
  await expect(row).toContainText('203.2 × 152.4');
  expect((await shop.jobs()).filter((job) => job.sourceName === 'slow.png')).toHaveLength(1);
});

test('what can not become a job goes to the side folder with its reason, and a line says so', async ({ page }) => {
  await page.goto(`${shop.url}/intake`);
  const before = (await shop.jobs()).length;
  const whole = await pdfFile([{ widthMm: 200, heightMm: 100 }]);
  await shop.drop('bittern-photo', 'cut short.pdf', whole.subarray(0, whole.length - 200));
  await shop.drop('bittern-photo', 'empty.png', Buffer.alloc(0));
  await shop.drop('bittern-photo', 'letter.docx', Buffer.from('PK\u0003\u0004 something'));
  const refused = page.getByRole('region', { name: 'Refused files' });
  await expect(refused).toContainText('The file is empty.');
  await expect(refused).toContainText(
    'Not supported: this is an office document or an archive. Save what is in it as PDF, each file by itself.',
  );
  await expect(refused).toContainText('The PDF is cut short', { timeout: 30_000 });
  expect(await shop.refusedFile('bittern-photo', 'letter.docx.reason.txt')).toContain('Save what is in it as PDF');
  expect(await shop.refusedFile('bittern-photo', 'cut short.pdf.reason.txt')).toContain('Copy it again');
  expect(await shop.refusedFile('bittern-photo', 'cut short.pdf')).toContain('%PDF');
  expect((await shop.jobs()).length).toBe(before);
  await refused.getByRole('button', { name: 'Put empty.png away' }).click();
  await expect(refused).not.toContainText('The file is empty.');
});

test('drag and drop on the window: what is sound arrives, what is not is refused with its reason', async ({ page }) => {
  await page.goto(`${shop.url}/intake`);
  await page.getByLabel('Into queue').selectOption({ label: 'Magpie labels' });
  const png = (await pngFile(300, 200, 200)).toString('base64');
  const drop = await page.evaluateHandle((base64) => {
    const bytes = Uint8Array.from(atob(base64), (char) => char.charCodeAt(0));
    const data = new DataTransfer();
    data.items.add(new File([bytes], 'dropped.png', { type: 'image/png' }));
    data.items.add(new File(['no picture'], 'dropped.txt'));
    return data;
  }, png);
  await page.dispatchEvent('body', 'dragover', { dataTransfer: drop });
  await expect(page.getByText('Drop the files here')).toBeVisible();
  await page.dispatchEvent('body', 'drop', { dataTransfer: drop });
  await page.getByRole('region', { name: 'Files laid down' }).getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByRole('row').filter({ hasText: 'dropped.png' })).toContainText('38.1 × 25.4');
  await expect(page.getByRole('alert')).toContainText(
    '1 of 2 files were refused. dropped.txt: Not supported: this is no format that can be printed',
  );
  expect((await shop.job('dropped.png')).queueId).toBe('magpie-labels');
});

test('the ticket: copies and customer are set, their origin shows, and the wire takes it back', async ({ page }) => {
  await shop.bringIn('magpie-labels', 'sticker.png', await pngFile(400, 400, 200));
  await page.goto(`${shop.url}/intake`);
  await page.getByRole('row').filter({ hasText: 'sticker.png' }).click();
  const ticket = page.getByRole('complementary', { name: 'sticker.png' });
  await ticket.getByLabel('Copies', { exact: true }).fill('0');
  await expect(ticket).toContainText('A whole number from 1');
  await ticket.getByLabel('Copies', { exact: true }).fill('24');
  await ticket.getByLabel('Copies', { exact: true }).press('Enter');
  await expect(ticket.getByTitle('This value comes from: set here')).toHaveCount(1);
  await expect(page.getByRole('row').filter({ hasText: 'sticker.png' })).toContainText('24');
  await page.getByRole('contentinfo', { name: 'Wire' }).getByRole('button', { name: 'Undo' }).click();
  await expect(ticket.getByLabel('Copies', { exact: true })).toHaveValue('1');
  await ticket.getByLabel('Queue of this job').selectOption({ label: 'Bittern photo' });
  await expect(ticket.getByLabel('Stock', { exact: true })).toHaveValue('satin-914');
  await ticket.getByRole('button', { name: 'Cancel the job' }).click();
  await expect.poll(async () => (await shop.job('sticker.png')).state).toBe('cancelled');
});
