import { chromium } from '@playwright/test';
import { chromiumOptions } from './e2e/driver/chromium.ts';
const [base, ...steps] = process.argv.slice(2);
const b = await chromium.launch(chromiumOptions());
for (const s of steps) {
  const [name, path, theme='light', size='1280x800', js=''] = s.split('|');
  const [width, height] = size.split('x').map(Number);
  const page = await b.newPage({ viewport: { width, height }, colorScheme: theme });
  const t=Date.now();
  await page.goto(base + path);
  await page.waitForTimeout(1500);
  if (js) { const f = new Function('page', 'return (async()=>{'+js+'})()'); await f(page); await page.waitForTimeout(900); }
  await page.screenshot({ path: `/tmp/shot-${name}.png` });
  await page.close();
}
await b.close();
