import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { writeWhole } from './files/atomic.ts';

const ADDRESS = 'server.json';
const LOCK = 'server.lock';

/**
 * Holds a data folder for this process: a lock of the operating system, which is gone with the process however it ends, and
 * is there from the first moment on, also while the server seeds, hangs or is stopped.
 * @returns undefined where another process holds it
 */
export function holdFolder(dataDir: string): { release: () => void } | undefined {
  const lock = new Database(join(dataDir, LOCK), { timeout: 0 });
  try {
    lock.exec('BEGIN EXCLUSIVE');
  } catch (error) {
    lock.close();
    if ((error as { code?: string }).code === 'SQLITE_BUSY') return undefined;
    throw error;
  }
  return {
    release: () => {
      lock.close();
    },
  };
}

/** Two servers on one data folder would both feed its printers: what the second one says before it ends. */
export async function whoHolds(dataDir: string): Promise<string> {
  const address = await addressOf(dataDir);
  const where = address === undefined ? ' It has no address yet: it may still be starting.' : `: ${address}`;
  return `Yellow Spool is running on this data folder already${where}\nFor a second one: npm start -- --data DIR --port N\n`;
}

async function addressOf(dataDir: string): Promise<string | undefined> {
  try {
    const { address, pid } = JSON.parse(await readFile(join(dataDir, ADDRESS), 'utf8')) as Record<string, unknown>;
    if (typeof address !== 'string' || typeof pid !== 'number') return undefined;
    // One that was left behind by a server that is gone names nobody.
    process.kill(pid, 0);
    return address;
  } catch {
    return undefined;
  }
}

/** Leaves in the data folder where this server is reached, for a second one that is started on it. */
export async function noteAddress(dataDir: string, address: string): Promise<void> {
  await writeWhole(join(dataDir, ADDRESS), JSON.stringify({ address, pid: process.pid }));
}
