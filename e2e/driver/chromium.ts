import { existsSync } from 'node:fs';

/** Debian's Chromium, headless and kept off the network. */
export function chromiumOptions(): { readonly executablePath?: string; readonly args: string[] } {
  const executablePath = [
    process.env.CHROMIUM,
    // The same browser without what only a window needs: a good part of the time of each test.
    '/usr/bin/chromium-headless-shell',
    '/usr/bin/chromium',
    '/usr/bin/chromium-browser',
  ].find((path) => path !== undefined && existsSync(path));
  return {
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
  };
}
