import { TestShop } from '../e2e/driver/shop.ts';
import { openBrowser } from './browser.ts';
const shop = await TestShop.open({ demo: true });
const browser = await openBrowser();
try {
  const ctx = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });
  const page = await ctx.newPage();
  page.on('pageerror', (e) => console.log('ERR', e.message));
  const shot = async (n: string) => { await page.waitForTimeout(900); await page.screenshot({ path: `/tmp/z-${n}.png` }); };
  const small = async (n: string) => {
    const bad = await page.evaluate(() => [...document.querySelectorAll<HTMLElement>('button, a[href], select, input, [role=tab], summary')].filter((e) => { const r = e.getBoundingClientRect(); if (r.width === 0) return false; const s = getComputedStyle(e); if (s.visibility === 'hidden' || e.closest('.sr-only')|| e.classList.contains('sr-only')) return false; const l = e instanceof HTMLInputElement && ['checkbox','radio'].includes(e.type) ? (e.labels?.[0] ?? e).getBoundingClientRect() : r; return l.height < 43.5 || (l.width < 43.5); }).map((e) => `${e.tagName} ${(e.getAttribute('aria-label') ?? e.textContent ?? '').slice(0, 40)} ${Math.round(e.getBoundingClientRect().width)}x${Math.round(e.getBoundingClientRect().height)}`));
    console.log(n, bad.length, bad.slice(0, 25).join(' | '));
    console.log('  scrollW', await page.evaluate(() => document.documentElement.scrollWidth));
  };
  await page.goto(shop.url + '/floor'); await shot('floor'); await small('floor');
  await page.goto(shop.url + '/floor?printer=heron'); await shot('printer'); await small('printer');
  await page.goto(shop.url + '/media?printer=heron'); await page.getByRole('button', { name: /^Load another/ }).first().click(); await shot('load'); await small('load');
  await page.goto(shop.url + '/intake'); await shot('intake'); await small('intake');
  await page.locator('[role=row][id]').first().click(); await shot('ticket'); await small('ticket');
  await page.goto(shop.url + '/media'); await shot('media'); await small('media');
  await page.goto(shop.url + '/setup?printer=heron'); await shot('setup'); 
  await page.goto(shop.url + '/bench'); await shot('benchp'); 
} finally { await browser.close(); await shop.close(); }
