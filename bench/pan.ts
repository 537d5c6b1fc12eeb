/*
 * The Bench with many pieces: a scripted pan, and a zoom by the wheel, in headless Chromium.
 * Usage: npm run build && npm run bench:pan [-- pieces]
 */
import { pngFile } from '../e2e/driver/files.ts';
import { TestShop } from '../e2e/driver/shop.ts';
import { openBrowser } from './browser.ts';
import { frameLine, watchFrames } from './frames.ts';

const COUNT = Number(process.argv[2] ?? 2000);
const KINDS = 8;
const shop = await TestShop.open();
try {
  const names = Array.from({ length: KINDS }, (_, i) => `decal-${String(i)}.png`);
  for (const [i, name] of names.entries()) {
    await shop.bringIn('magpie-labels', name, await pngFile(240 + 30 * i, 200 + 17 * i, 100));
    await shop.setTicket(name, { copies: Math.ceil(COUNT / KINDS) });
  }
  const browser = await openBrowser();
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`${shop.url}/intake`);
  for (const name of names) await page.getByLabel(`Choose ${name}`).check();
  await page.getByRole('button', { name: /^Lay out/ }).click();
  await page.getByRole('button', { name: 'Nest again' }).waitFor();
  await page.waitForTimeout(4000);
  const drawn = await page.getByTestId('painted-pieces').getAttribute('data-count');
  for (let i = 0; i < 5; i++) await page.keyboard.press('+');
  await page.waitForTimeout(1500);
  const pan = `const el = document.querySelector('[data-testid=media]'); el.scrollLeft = (el.scrollWidth - el.clientWidth) * t;`;
  process.stdout.write(
    frameLine(`${String(drawn)} pieces, 5 s pan over the whole run at 5.4×`, await watchFrames(page, pan, 5000)),
  );
  const zoom = `const el = document.querySelector('[data-testid=media]'); const n = Math.floor(t * 60); if (n !== window.zoomed) { window.zoomed = n; el.dispatchEvent(new WheelEvent('wheel', { ctrlKey: true, deltaY: n % 20 < 10 ? -1 : 1, bubbles: true, cancelable: true })); }`;
  process.stdout.write(
    frameLine(`${String(drawn)} pieces, 5 s zoom in and out, 12 steps a second`, await watchFrames(page, zoom, 5000)),
  );
  process.stdout.write(frameLine('the same page at rest', await watchFrames(page, '', 2000)));
  await browser.close();
} finally {
  await shop.close();
}
