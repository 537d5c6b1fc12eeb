import { existsSync } from 'node:fs';
import { type Browser, chromium } from '@playwright/test';

/** Debian's Chromium, headless, kept off the network. */
export async function openBrowser(): Promise<Browser> {
  const executablePath = [process.env.CHROMIUM, '/usr/bin/chromium', '/usr/bin/chromium-headless-shell'].find(
    (path) => path !== undefined && existsSync(path),
  );
  return chromium.launch({
    ...(executablePath === undefined ? {} : { executablePath }),
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  });
}
