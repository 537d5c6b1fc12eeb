import { defineConfig } from '@playwright/test';
import { chromiumOptions } from './e2e/driver/chromium.ts';

export default defineConfig({
  testDir: 'e2e/tests',
  // Each file runs its own server and stand-ins: two at a time keep two processors busy, more would starve the stand-ins.
  workers: 2,
  timeout: 90_000,
  expect: { timeout: 15_000 },
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    screenshot: 'only-on-failure',
    launchOptions: chromiumOptions(),
  },
});
