import { TestShop } from '../e2e/driver/shop.ts';
import { addPerson, haveSignIn, signInAt } from '../e2e/driver/people.ts';
import { openBrowser } from './browser.ts';
const shop = await TestShop.open({ demo: true });
const browser = await openBrowser();
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  page.on('console', (m) => {
    if (m.type() === 'error') console.log('console', m.text().slice(0, 300));
  });
  const shot = (n: string) => page.screenshot({ path: `/tmp/zz-${n}.png` });
  await page.goto(shop.url + '/setup?people');
  await page.waitForTimeout(1500);
  await shot('people-off');
  await haveSignIn(shop);
  await addPerson(shop, 'Bram Teller', 'operator', 'bram');
  await addPerson(shop, 'Ada Quill', 'viewer', 'ada');
  await page.waitForTimeout(1500);
  await shot('over');
  await page.goto(shop.url);
  await page.waitForTimeout(1000);
  await shot('signin');
  await signInAt(page, 'odile');
  await page.waitForTimeout(2500);
  await shot('floor-owner');
  await page.goto(shop.url + '/me');
  await page.waitForTimeout(1500);
  await shot('me');
  await page.getByRole('button', { name: 'Use one-time codes' }).click();
  await page.waitForTimeout(700);
  await page.evaluate(() => document.querySelector('#view > div')?.scrollTo(0, 500));
  await shot('me2');
  await page.goto(shop.url + '/setup?people');
  await page.waitForTimeout(1500);
  await shot('people');
  await page.getByRole('button', { name: 'Bram Teller' }).first().click();
  await page.waitForTimeout(500);
  await page.getByRole('button', { name: 'New password by a code' }).click();
  await page.waitForTimeout(500);
  await shot('person');
  const ada = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const ctx = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  await ada.close();
  const p2 = await ctx.newPage();
  p2.on('console', (m) => {
    if (m.type() === 'error') console.log('ada console', m.text().slice(0, 300));
  });
  await p2.goto(shop.url);
  await signInAt(p2, 'ada');
  await p2.waitForTimeout(2500);
  await p2.goto(shop.url + '/floor?printer=heron');
  await p2.waitForTimeout(2000);
  await p2.screenshot({ path: '/tmp/zz-ada-floor.png' });
  await p2.goto(shop.url + '/setup');
  await p2.waitForTimeout(1500);
  await p2.screenshot({ path: '/tmp/zz-ada-setup.png' });
  await p2.goto(shop.url + '/intake');
  await p2.waitForTimeout(1500);
  await p2
    .locator('tbody tr, [role=row]')
    .nth(2)
    .click()
    .catch(() => undefined);
  await p2.waitForTimeout(1500);
  await p2.screenshot({ path: '/tmp/zz-ada-intake.png' });
  await p2.goto(shop.url + '/bench');
  await p2.waitForTimeout(2500);
  await p2.screenshot({ path: '/tmp/zz-ada-bench.png' });
} finally {
  await browser.close();
  await shop.close();
}
