// npm start: installs, builds, then becomes the server; arguments go to it (--empty, --port N, --data DIR, --host, --rate N).
import { ensurePackages } from './install.mjs';

const [major = 0, minor = 0] = process.versions.node.split('.').map(Number);
if (major < 20 || (major === 20 && minor < 19)) {
  process.stderr.write(`Node ${process.versions.node} is too old: 20.19 or later is needed.\n`);
  process.exit(1);
}
ensurePackages();
const { buildIfNeeded } = await import('./build.mjs');
await buildIfNeeded();

// When npm is killed outright nobody would tell this process; a server that nobody watches must not linger on its port. It
// stops in order, though, also when it and npm were told at once: one that ends at once leaves its printers running.
const STOP_MS = 15_000;
if (process.env.npm_lifecycle_event === 'start') {
  const parent = process.ppid;
  const watch = setInterval(() => {
    if (process.ppid === parent) return;
    clearInterval(watch);
    setTimeout(() => process.exit(1), STOP_MS).unref();
    process.kill(process.pid, 'SIGTERM');
  }, 500).unref();
}
process.setSourceMapsEnabled(true);
await import('../dist/server/main.mjs');
