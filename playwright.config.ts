import { defineConfig } from '@playwright/test';
import { chromiumOptions } from './e2e/driver/chromium.ts';

export default defineConfig({
  testDir: 'e2e/tests',
  // Each file runs its own server and stand-ins, which mostly wait for paper: three at a time keep two processors busy.
  workers: 3,
  // Safety nets, for machines that are many times slower: no test is decided by them.
  timeout: 300_000,
  expect: { timeout: 60_000 },
  reporter: [['list']],
  use: {
    // Longer than any answer takes: what isn't there by then is missing, and its name is said.
    actionTimeout: 90_000,
    viewport: { width: 1280, height: 800 },
    screenshot: 'only-on-failure',
    launchOptions: chromiumOptions(),
  },
});
