import { type Browser, chromium } from '@playwright/test';
import { chromiumOptions } from '../e2e/driver/chromium.ts';

export async function openBrowser(): Promise<Browser> {
  return chromium.launch(chromiumOptions());
}
