import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { expect, test } from '@playwright/test';
import type { PrinterView } from '../../contract/api/floor.ts';
import { TestShop } from '../driver/shop.ts';

interface Ended {
  readonly code: number | null;
  readonly said: string;
}

interface Started {
  readonly process: ChildProcess;
  readonly said: () => string;
  readonly ended: Promise<Ended>;
}

function listenTo(child: ChildProcess): Started {
  let said = '';
  child.stdout?.on('data', (chunk: Buffer) => (said += chunk.toString()));
  child.stderr?.on('data', (chunk: Buffer) => (said += chunk.toString()));
  const ended = new Promise<Ended>((done) =>
    child.once('exit', (code) => {
      done({ code, said });
    }),
  );
  return { process: child, said: () => said, ended };
}

const npmStart = (...args: string[]): Started => listenTo(spawn('npm', ['start', '--', ...args], { detached: true }));

/** The built server alone, without npm around it. */
const serverStart = (...args: string[]): Started =>
  listenTo(spawn(process.execPath, [resolve('dist/server/main.mjs'), ...args]));

test('npm start prints its address; a second one on the same data, or on a taken port, ends with the way out; a stop is clean', async () => {
  const data = await mkdtemp(join(tmpdir(), 'yellow-spool-npm-'));
  const first = npmStart('--empty', '--data', data, '--port', '19951');
  await expect.poll(first.said, { timeout: 60_000 }).toContain('Yellow Spool is at http://127.0.0.1:19951');
  expect(first.said()).toContain(`Hot folders are in ${data}/hot-folders`);
  expect((await fetch('http://127.0.0.1:19951/')).status).toBe(200);
  expect(await (await fetch('http://127.0.0.1:19951/api/health')).json()).toEqual({ status: 'ready', dataDir: data });
  const second = await npmStart('--data', data, '--port', '19952').ended;
  expect(second.code).not.toBe(0);
  expect(second.said).toContain('is running on this data folder already: http://127.0.0.1:19951');
  const elsewhere = await mkdtemp(join(tmpdir(), 'yellow-spool-npm-'));
  const third = await npmStart('--empty', '--data', elsewhere, '--port', '19951').ended;
  expect(third.said).toContain('Port 19951 is taken. Try: npm start -- --port 19952');
  const { pid } = JSON.parse(await readFile(join(data, 'stand-ins', 'address.json'), 'utf8')) as { pid: number };
  if (first.process.pid !== undefined) process.kill(-first.process.pid, 'SIGTERM');
  await first.ended;
  await expect
    .poll(() => {
      try {
        process.kill(pid, 0);
        return 'running';
      } catch {
        return 'gone';
      }
    })
    .toBe('gone');
  for (const dir of [data, elsewhere]) await rm(dir, { recursive: true, force: true });
});

test('a data folder is held by one server, also while that one is being set up or hangs; a killed one leaves it free', async () => {
  const data = await mkdtemp(join(tmpdir(), 'yellow-spool-held-'));
  const args = ['--empty', '--data', data, '--port', '0'];
  // At the same moment: just one of them seeds the shop.
  const both = [serverStart(...args), serverStart(...args)] as const;
  const loser = await Promise.race(both.map(async (each, i) => ({ i, ...(await each.ended) })));
  expect([loser.code, loser.said]).toEqual([1, expect.stringContaining('is running on this data folder already')]);
  const winner = both[1 - loser.i] ?? both[0];
  await expect.poll(winner.said, { timeout: 60_000 }).toContain('Yellow Spool is at');
  winner.process.kill('SIGSTOP');
  const third = await serverStart(...args).ended;
  expect([third.code, third.said]).toEqual([1, expect.stringContaining('already: http://127.0.0.1:')]);
  winner.process.kill('SIGKILL');
  await winner.ended;
  const fourth = serverStart(...args);
  await expect.poll(fourth.said, { timeout: 60_000 }).toContain('Yellow Spool is at');
  fourth.process.kill('SIGTERM');
  await fourth.ended;
  await rm(data, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 });
});

test('what is wrong with how it was started is said in a sentence, and nothing is stored of it', async () => {
  const data = await mkdtemp(join(tmpdir(), 'yellow-spool-options-'));
  const end = async (...args: string[]): Promise<Ended> => serverStart('--empty', '--data', data, ...args).ended;
  for (const [args, why] of [
    [['--rate', 'abc'], "--rate abc is no speed of the shop's time"],
    [['--port', 'eighty'], '--port eighty is no port'],
    [['--host', 'shop.example'], '--host shop.example is no address of a machine'],
    [['--speed', '9'], '--rate N'],
  ] as const) {
    const { code, said } = await end(...args);
    expect([code, said]).toEqual([1, expect.stringContaining(why)]);
    expect(said).not.toMatch(/\n\s+at /);
  }
  const file = join(data, 'a-file');
  await writeFile(file, '');
  const { code, said } = await serverStart('--empty', '--data', join(file, 'shop')).ended;
  expect([code, said]).toEqual([1, expect.stringContaining("can't be written: there is a file of that name")]);
  expect(said).not.toMatch(/\n\s+at /);
  await rm(data, { recursive: true, force: true });
});

test('a printer that is off keeps nobody from starting', async () => {
  const shop = await TestShop.open();
  try {
    await shop.power('heron', false);
    await shop.stop();
    await shop.start();
    const health = await fetch(`${shop.url}/api/health`);
    expect([health.status, await health.json()]).toMatchObject([200, { status: 'ready' }]);
    const heron = (await shop.get<PrinterView[]>('/api/printers')).find(({ id }) => id === 'heron');
    expect(heron?.state).toBe('off');
  } finally {
    await shop.close();
  }
});
