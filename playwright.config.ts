import { defineConfig } from '@playwright/test';
import { existsSync } from 'node:fs';

const chromium = [
  process.env.CHROMIUM,
  '/usr/bin/chromium',
  '/usr/bin/chromium-headless-shell',
  '/usr/bin/chromium-browser',
].find((path) => path !== undefined && existsSync(path));

export default defineConfig({
  testDir: 'e2e/tests',
  // Each file runs its own server and stand-ins; one at a time leaves the processors to them.
  workers: 1,
  timeout: 90_000,
  expect: { timeout: 15_000 },
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    screenshot: 'only-on-failure',
    launchOptions: {
      ...(chromium === undefined ? {} : { executablePath: chromium }),
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
