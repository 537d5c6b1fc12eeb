// npm start: installs, builds, then runs the server; arguments go to it (--empty, --port N, --data DIR, --host, --rate N).
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { ensurePackages, root } from './install.mjs';

const [major = 0, minor = 0] = process.versions.node.split('.').map(Number);
if (major < 20 || (major === 20 && minor < 19)) {
  process.stderr.write(`Node ${process.versions.node} is too old: 20.19 or later is needed.\n`);
  process.exit(1);
}
ensurePackages();
const { buildIfNeeded } = await import('./build.mjs');
await buildIfNeeded();
const server = spawn(
  process.execPath,
  ['--enable-source-maps', join(root, 'dist', 'server', 'main.mjs'), ...process.argv.slice(2)],
  {
    cwd: process.env.INIT_CWD ?? root,
    stdio: 'inherit',
  },
);
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code, signal) => process.exit(code ?? (signal ? 1 : 0)));
