// Installs what is missing, and nothing else. Plain Node: it runs before any package is there.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';

export const root = resolve(import.meta.dirname, '..');

export function run(command, args, options = {}) {
  const done = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (done.error) throw done.error;
  return done.status ?? 1;
}

/** The packages of the lock file, once for each lock file. */
export function ensurePackages() {
  const stamp = join(root, 'node_modules', '.installed-lock');
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  process.stdout.write('Installing packages (2 to 3 minutes the first time)…\n');
  const status = run('npm', ['ci', '--no-audit', '--no-fund']);
  if (status !== 0) throw new Error('npm ci failed; see above.');
  writeFileSync(stamp, lock);
}

const CHROMIUM = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium', '/usr/bin/chromium-browser'];

function missingForBrowserTests() {
  const missing = [];
  if (!process.env.CHROMIUM && !CHROMIUM.some((path) => existsSync(path))) missing.push('chromium-headless-shell');
  if (spawnSync('pdfinfo', ['-v']).error) missing.push('poppler-utils');
  if (spawnSync('rsvg-convert', ['-v']).error) missing.push('librsvg2-bin');
  if (spawnSync('ip', ['-V']).error) missing.push('iproute2');
  return missing;
}

/** Debian's Chromium, readers of PDF and SVG that ours are compared with, and what makes a network; only the tests need them. */
export function ensureBrowser() {
  if (missingForBrowserTests().length === 0) return;
  const packages = missingForBrowserTests();
  process.stdout.write(`Installing ${packages.join(', ')}…\n`);
  run('apt-get', ['update', '-qq']);
  run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...packages], {
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  });
  const still = missingForBrowserTests();
  if (still.length > 0) throw new Error(`Install these by hand, then run npm test again: ${still.join(', ')}`);
}
