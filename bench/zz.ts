import { TestShop } from '../e2e/driver/shop.ts';
import { openBrowser } from './browser.ts';
const shop = await TestShop.open({ demo: true });
const browser = await openBrowser();
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  page.on('console', m => { if (m.type()==='error') console.log('console', m.text()); });
  page.on('pageerror', e => console.log('pageerror', e.message));
  await page.goto(`${shop.url}/heads?printer=magpie`); await page.waitForTimeout(2500);
  await page.evaluate(() => { document.querySelector('aside[aria-label=Magpie] > div')!.scrollTop = 420; });
  await page.waitForTimeout(700);
  await page.screenshot({ path: '/tmp/h2.png' });
  await page.evaluate(() => { localStorage.setItem('theme','dark'); });
  const small = await browser.newPage({ viewport: { width: 390, height: 844 }, colorScheme: 'dark' });
  await small.goto(`${shop.url}/heads`); await small.waitForTimeout(2000);
  await small.screenshot({ path: '/tmp/h3.png' });
  await small.setViewportSize({ width: 900, height: 800 });
  await small.getByRole('button', { name: 'Dark' }).click().catch(()=>undefined);
  await small.goto(`${shop.url}/heads?printer=heron`); await small.waitForTimeout(2000);
  await small.screenshot({ path: '/tmp/h4.png' });
} finally { await browser.close(); await shop.close(); }
