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

// When npm is killed outright nobody would tell this process; a server that nobody watches must not linger on its port.
if (process.env.npm_lifecycle_event === 'start') {
  const parent = process.ppid;
  setInterval(() => {
    if (process.ppid !== parent) process.exit(1);
  }, 500).unref();
}
process.setSourceMapsEnabled(true);
await import('../dist/server/main.mjs');
