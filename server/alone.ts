import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { writeWhole } from './files/atomic.ts';

const FILE = 'server.json';

/** Two servers on one data folder would both feed its printers: the second one ends with a word on where the first is. */
export async function mustBeAlone(dataDir: string): Promise<void> {
  const url = await otherServer(dataDir);
  if (url === undefined) return;
  process.stderr.write(
    `Yellow Spool is running on this data folder already: ${url}\nFor a second one: npm start -- --data DIR --port N\n`,
  );
  process.exit(1);
}

async function otherServer(dataDir: string): Promise<string | undefined> {
  try {
    const { port } = JSON.parse(await readFile(join(dataDir, FILE), 'utf8')) as { port: number };
    const url = `http://127.0.0.1:${port}`;
    const answer = await fetch(`${url}/api/health`, { signal: AbortSignal.timeout(1500) });
    return ((await answer.json()) as { dataDir?: string }).dataDir === dataDir ? url : undefined;
  } catch {
    return undefined;
  }
}

export async function noteAddress(dataDir: string, port: number): Promise<void> {
  await writeWhole(join(dataDir, FILE), JSON.stringify({ port, pid: process.pid }));
}
