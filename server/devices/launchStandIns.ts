import { type ChildProcess, spawn } from 'node:child_process';
import { openSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';

interface Address {
  readonly port: number;
  readonly pid: number;
}

/** However busy the machine is: a stand-in that lives answers within this. */
const PATIENCE_MS = 60_000;
const ASK_MS = 5_000;
const LOOK_MS = 100;

/**
 * Finds the stand-ins that belong to this data folder, or starts them. They run on their own, so that a server that dies
 * leaves them printing; a later server finds them again by their address file. While their process lives it is waited
 * for, never doubled: two stand-ins for one printer would print everything twice.
 */
export async function findOrLaunchStandIns(dataDir: string, program: string, rate: number): Promise<string> {
  const known = await addressIn(dataDir);
  if (known && (await isStandIn(known.pid, dataDir))) {
    const base = await waitFor(dataDir, () => isStandIn(known.pid, dataDir));
    if (base !== undefined) return base;
  }
  const log = openSync(join(dataDir, 'stand-ins.log'), 'a');
  const child = spawn(process.execPath, [program, '--data', dataDir, '--rate', String(rate)], {
    detached: true,
    stdio: ['ignore', log, log],
  });
  child.unref();
  const base = await waitFor(dataDir, () => Promise.resolve(isRunning(child)), child.pid);
  if (base === undefined) throw new Error(`the printer stand-ins did not start; see ${join(dataDir, 'stand-ins.log')}`);
  return base;
}

/** Asks until it answers, as long as its process is there. */
async function waitFor(dataDir: string, alive: () => Promise<boolean>, pid?: number): Promise<string | undefined> {
  const end = performance.now() + PATIENCE_MS;
  while (performance.now() < end) {
    const address = await addressIn(dataDir);
    if (address && (pid === undefined || address.pid === pid)) {
      const base = `http://127.0.0.1:${address.port}`;
      if (await answers(base, dataDir)) return base;
    }
    if (!(await alive())) return undefined;
    await new Promise((done) => setTimeout(done, LOOK_MS));
  }
  return undefined;
}

async function addressIn(dataDir: string): Promise<Address | undefined> {
  try {
    return JSON.parse(await readFile(join(dataDir, 'address.json'), 'utf8')) as Address;
  } catch {
    return undefined;
  }
}

async function answers(base: string, dataDir: string): Promise<boolean> {
  try {
    const answer = await fetch(`${base}/control`, { signal: AbortSignal.timeout(ASK_MS) });
    const actor = (await answer.json()) as { product?: string; dataDir?: string };
    return actor.product === 'yellow-spool stand-ins' && actor.dataDir === dataDir;
  } catch {
    return false;
  }
}

function isRunning(child: ChildProcess): boolean {
  return child.exitCode === null && child.signalCode === null;
}

/** Process numbers are used again: where the system tells, the process must be a stand-in of this folder. */
async function isStandIn(pid: number, dataDir: string): Promise<boolean> {
  try {
    process.kill(pid, 0);
  } catch {
    return false;
  }
  try {
    return (await readFile(`/proc/${pid}/cmdline`, 'utf8')).split('\0').includes(dataDir);
  } catch {
    return process.platform !== 'linux';
  }
}
