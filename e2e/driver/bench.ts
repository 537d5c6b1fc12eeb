import { expect, type Page } from '@playwright/test';
import type { TestShop } from './shop.ts';

/** Chooses jobs on Intake and lays them out: a draft laid by the page itself, and kept. */
export async function layOutJobs(page: Page, shop: TestShop, ...names: string[]): Promise<string> {
  await page.goto(`${shop.url}/intake`);
  for (const name of names) await page.getByLabel(`Choose ${name}`).check();
  await page.getByRole('button', { name: /^Lay out/ }).click();
  return laidOut(page, shop);
}

/** Waits until the nest of the draft that is shown has ended and every piece has its place. */
export async function laidOut(page: Page, shop: TestShop): Promise<string> {
  await expect(page.getByRole('button', { name: 'Nest again' })).toBeVisible();
  const id = /bench\/(run-\w+)/.exec(page.url())?.[1] ?? '';
  await shop.until(async () => (await shop.run(id)).pieces.every((piece) => piece.placed));
  return id;
}
