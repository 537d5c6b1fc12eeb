import type { Page } from '@playwright/test';
import axe from 'axe-core';

/** What axe finds on the page as it is seen now; colours can be looked at alone, where nothing else differs. */
export async function faultsOf(page: Page, where: string, rules: 'all' | 'contrast'): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in globalThis))) await page.evaluate(axe.source);
  const { violations } = await page.evaluate(
    (options) => (globalThis as unknown as { axe: typeof axe }).axe.run(options),
    { resultTypes: ['violations' as const], ...(rules === 'contrast' ? { runOnly: ['color-contrast'] } : {}) },
  );
  return violations.map(
    ({ id, nodes }) => `${where} ${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(' | ')}`,
  );
}
