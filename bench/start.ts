/*
 * A second npm start with unchanged sources: time until / answers 200. Usage: npm run bench:start
 */
import { spawn } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const PORT = '47911';
const data = await mkdtemp(join(tmpdir(), 'yellow-spool-start-'));

async function startOnce(): Promise<number> {
  const start = performance.now();
  const server = spawn('npm', ['start', '--', '--data', data, '--port', PORT], { stdio: 'ignore', detached: true });
  for (;;) {
    const answer = await fetch(`http://127.0.0.1:${PORT}/`).catch(() => undefined);
    if (answer?.status === 200) break;
    if (performance.now() - start > 300_000) throw new Error('it did not start');
    await new Promise((done) => setTimeout(done, 25));
  }
  const ms = performance.now() - start;
  const gone = new Promise((done) => server.once('exit', done));
  if (server.pid !== undefined) process.kill(-server.pid, 'SIGTERM');
  await gone;
  return ms;
}

const times: number[] = [];
for (let i = 0; i < 4; i++) times.push(await startOnce());
process.stdout.write(
  `npm start to 200 on /: first ${((times[0] ?? 0) / 1000).toFixed(2)} s, then ${times
    .slice(1)
    .map((ms) => (ms / 1000).toFixed(2))
    .join(', ')} s\n`,
);
await rm(data, { recursive: true, force: true });
