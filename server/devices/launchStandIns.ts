import { spawn } from 'node:child_process';
import { openSync } from 'node:fs';
import { readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';

interface Address {
  readonly port: number;
  readonly pid: number;
}

/**
 * Finds the stand-ins that belong to this data folder, or starts them. They run on their own, so that a server that dies
 * leaves them printing; a later server finds them again by their address file.
 */
export async function findOrLaunchStandIns(dataDir: string, program: string, rate: number): Promise<string> {
  const known = await answering(dataDir);
  if (known !== undefined) return known;
  await rm(join(dataDir, 'address.json'), { force: true });
  const log = openSync(join(dataDir, 'stand-ins.log'), 'a');
  spawn(process.execPath, [program, '--data', dataDir, '--rate', String(rate)], {
    detached: true,
    stdio: ['ignore', log, log],
  }).unref();
  for (let tries = 0; tries < 100; tries++) {
    await new Promise((done) => setTimeout(done, 100));
    const base = await answering(dataDir);
    if (base !== undefined) return base;
  }
  throw new Error(`the printer stand-ins did not start; see ${join(dataDir, 'stand-ins.log')}`);
}

async function answering(dataDir: string): Promise<string | undefined> {
  try {
    const { port } = JSON.parse(await readFile(join(dataDir, 'address.json'), 'utf8')) as Address;
    const base = `http://127.0.0.1:${String(port)}`;
    const answer = await fetch(`${base}/control`, { signal: AbortSignal.timeout(1000) });
    const who = (await answer.json()) as { product?: string; dataDir?: string };
    return who.product === 'yellow-spool stand-ins' && who.dataDir === dataDir ? base : undefined;
  } catch {
    return undefined;
  }
}
