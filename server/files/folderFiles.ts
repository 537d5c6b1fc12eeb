import type { Dirent } from 'node:fs';
import { readdir, rename } from 'node:fs/promises';
import { join, parse } from 'node:path';
import { exists } from './atomic.ts';

/** Claims lie inside the hot folder itself, so that claiming is a rename on the same file system. */
export const CLAIMED = '.taken';
export const REFUSED = 'refused';
export const DONE = 'done';
/** How many folders down files are looked for. */
export const DEPTH = { 'not looked into': 0, customer: 1, order: 1, 'customer/order': 2 } as const;
const OURS = new Set([CLAIMED, REFUSED, DONE]);
const PARTIAL = /(\.part|\.partial|\.crdownload|\.tmp|\.filepart)$|^[.~]/i;

/** Files of a hot folder as paths within it, with `/` between. @param depth how many folders down */
export async function listFiles(root: string, depth: number): Promise<string[]> {
  const found: string[] = [];
  const walk = async (within: string, left: number): Promise<void> => {
    for (const entry of await entriesOf(join(root, within))) {
      const path = within === '' ? entry.name : `${within}/${entry.name}`;
      if (entry.isFile() && !PARTIAL.test(entry.name)) found.push(path);
      else if (
        entry.isDirectory() &&
        left > 0 &&
        !entry.name.startsWith('.') &&
        !(within === '' && OURS.has(entry.name))
      ) {
        await walk(path, left - 1);
      }
    }
  };
  await walk('', depth);
  return found;
}

/** What names hold whose letters can't be told. */
const UNTOLD = '\uFFFD';

/**
 * What lies in a folder. A name that an old machine wrote in its own letters can't be opened by it: such a file is renamed to what
 * its name means. One that can't be renamed, since somebody holds it, is left for the next look and holds up no other.
 */
async function entriesOf(dir: string): Promise<Dirent[]> {
  const entries = await readdir(dir, { withFileTypes: true });
  if (!entries.some(({ name }) => name.includes(UNTOLD))) return entries;
  for (const name of await readdir(dir, { encoding: 'buffer' })) {
    if (!name.toString('utf8').includes(UNTOLD)) continue;
    const from = Buffer.concat([Buffer.from(`${dir}/`), name]);
    await rename(from, await freeName(dir, new TextDecoder('windows-1252').decode(name))).catch(() => undefined);
  }
  const told = await readdir(dir, { withFileTypes: true });
  return told.filter(({ name }) => !name.includes(UNTOLD));
}

/** A path that nothing is called like yet, so that nothing is written over. */
async function freeName(dir: string, name: string): Promise<string> {
  const { name: stem, ext } = parse(name);
  for (let n = 1; ; n++) {
    const path = join(dir, n === 1 ? name : `${stem} (${String(n)})${ext}`);
    if (!(await exists(path))) return path;
  }
}
