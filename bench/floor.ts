/*
 * The Floor with 12 printers and 300 runs: how soon the first strip is drawn, and a scripted pan and zoom, in headless Chromium.
 * Usage: npm run build && npm run bench:floor [-- runs]
 */
import type { PrinterView } from '../contract/api/floor.ts';
import type { QueueView } from '../contract/api/ticket.ts';
import { pdfFile } from '../e2e/driver/files.ts';
import { TestShop } from '../e2e/driver/shop.ts';
import { openBrowser } from './browser.ts';
import { frameLine, watchFrames } from './frames.ts';

const RUNS = Number(process.argv[2] ?? 300);
const shop = await TestShop.open();
try {
  await shop.setRate(0);
  for (let i = 1; i <= 6; i += 1) {
    await shop.send('POST', '/api/printers', {
      name: `Heron ${String(i)}`,
      from: { kind: 'copy', printerId: 'heron' },
    });
  }
  const printers = await shop.get<PrinterView[]>('/api/printers');
  const queues = await shop.get<QueueView[]>('/api/queues');
  const own = printers.flatMap(
    ({ id }) => queues.find((queue) => queue.printerId === id && !/shirts/.test(queue.name)) ?? [],
  );
  const job = await shop.bringIn('bittern-photo', 'small.pdf', await pdfFile([{ widthMm: 250, heightMm: 180 }]));
  for (let i = 0; i < RUNS; i += 1) {
    const { id } = await shop.send<{ id: string }>('POST', `/api/jobs/${job.id}/anew`);
    const queue = own[i % own.length];
    await shop.send('PATCH', `/api/jobs/${id}`, { queueId: queue?.id, stockId: queue?.settings.stockId });
    await shop.queueRun([id]);
  }
  const browser = await openBrowser();
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`${shop.url}/intake`);
  await page.waitForTimeout(1500);
  const drawn = await page.evaluate<number>(`(async () => {
    const start = performance.now();
    document.querySelector('a[href="/floor"][title]').click();
    await new Promise((done) => {
      const look = () => (document.querySelector('[data-strip] button') ? done() : requestAnimationFrame(look));
      look();
    });
    return performance.now() - start;
  })()`);
  process.stdout.write(
    `${String(printers.length)} printers, ${String(RUNS)} runs: first strip drawn ${drawn.toFixed(0)} ms after the click\n`,
  );
  await page.waitForTimeout(4000);
  for (const zoom of ['6 h', '13 h', 'week']) {
    await page.getByRole('button', { name: zoom, exact: true }).click();
    await page.waitForTimeout(2500);
    const pan = `const el = document.querySelector('[data-time]').parentElement.parentElement; el.dispatchEvent(new WheelEvent('wheel', { deltaX: t < 0.5 ? 9 : -9, bubbles: true, cancelable: true }));`;
    process.stdout.write(frameLine(`5 s pan at ${zoom}`, await watchFrames(page, pan, 5000)));
  }
  await page.getByRole('button', { name: '13 h', exact: true }).click();
  await page.waitForTimeout(2500);
  const zoom = `const el = document.querySelector('[data-time]').parentElement.parentElement; el.dispatchEvent(new WheelEvent('wheel', { ctrlKey: true, deltaY: Math.floor(t * 4) % 2 ? -12 : 12, clientX: 700, bubbles: true, cancelable: true }));`;
  process.stdout.write(frameLine('5 s zoom in and out', await watchFrames(page, zoom, 5000)));
  process.stdout.write(frameLine('the same page at rest', await watchFrames(page, '', 2000)));
  await browser.close();
} finally {
  await shop.close();
}
