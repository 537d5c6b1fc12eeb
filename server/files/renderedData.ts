import { readdir, rm, stat, utimes } from 'node:fs/promises';
import { join } from 'node:path';

interface Rendered {
  readonly path: string;
  readonly key: string;
  readonly bytes: number;
  readonly usedMs: number;
}

/** Everything that was rendered for runs. It can always be made again from the sources. */
async function rendered(dir: string): Promise<Rendered[]> {
  const names = await readdir(dir).catch(() => []);
  const found: Rendered[] = [];
  for (const name of names) {
    const path = join(dir, name);
    const facts = await stat(path).catch(() => undefined);
    if (facts?.isFile())
      found.push({ path, key: name.replace(/\.pdf$/, ''), bytes: facts.size, usedMs: facts.mtimeMs });
  }
  return found;
}

/** How many files of rendered data there are, and how large they are together. */
export async function renderedBytes(dir: string): Promise<{ readonly files: number; readonly bytes: number }> {
  const all = await rendered(dir);
  return { files: all.length, bytes: all.reduce((sum, { bytes }) => sum + bytes, 0) };
}

/**
 * Keeps rendered data within its bound: what was used longest ago goes first, and nothing that is kept for its own sake.
 * @param isNeeded whether the file with this key must stay
 * @returns how many files went
 */
export async function pruneRendered(
  dir: string,
  mostBytes: number,
  isNeeded: (key: string) => boolean,
): Promise<number> {
  const all = await rendered(dir);
  let bytes = all.reduce((sum, each) => sum + each.bytes, 0);
  let gone = 0;
  if (bytes <= mostBytes) return 0;
  for (const each of all.sort((a, b) => a.usedMs - b.usedMs)) {
    if (bytes <= mostBytes) break;
    if (isNeeded(each.key)) continue;
    await rm(each.path, { force: true });
    bytes -= each.bytes;
    gone += 1;
  }
  return gone;
}

/** Says that a file was used now, so that it is among the last to go. */
export async function wasUsed(path: string): Promise<void> {
  const now = new Date();
  await utimes(path, now, now).catch(() => undefined);
}
