import type { Stats } from 'node:fs';
import { readdir, rm, stat, utimes } from 'node:fs/promises';
import { join } from 'node:path';

/** Where what was rendered for runs lies: laid-out runs, each a file, and coats, each a folder of its parts. */
export interface RenderedPlaces {
  readonly laidOut: string;
  readonly coats: string;
}

interface Rendered {
  readonly path: string;
  readonly kind: 'pdf' | 'coat';
  readonly key: string;
  readonly bytes: number;
  readonly usedMs: number;
}

/** Everything that was rendered for runs. It can always be made again from the sources. */
async function rendered({ laidOut, coats }: RenderedPlaces): Promise<Rendered[]> {
  const found: Rendered[] = [];
  for (const { path, name, facts } of await entriesOf(laidOut)) {
    if (!facts.isFile()) continue;
    found.push({
      path,
      kind: 'pdf',
      key: name.replace(/\.pdf$/, ''),
      bytes: facts.size,
      usedMs: facts.mtimeMs,
    });
  }
  for (const { path, name, facts } of await entriesOf(coats)) {
    if (!facts.isDirectory()) continue;
    const parts = await entriesOf(path);
    const bytes = parts.reduce((sum, part) => sum + part.facts.size, 0);
    found.push({ path, kind: 'coat', key: name, bytes, usedMs: facts.mtimeMs });
  }
  return found;
}

async function entriesOf(
  dir: string,
): Promise<{ readonly path: string; readonly name: string; readonly facts: Stats }[]> {
  const found = [];
  for (const name of await readdir(dir).catch(() => [])) {
    const path = join(dir, name);
    const facts = await stat(path).catch(() => undefined);
    if (facts) found.push({ path, name, facts });
  }
  return found;
}

/** How many pieces of rendered data there are, and how large they are together. */
export async function renderedBytes(
  places: RenderedPlaces,
): Promise<{ readonly files: number; readonly bytes: number }> {
  const all = await rendered(places);
  return { files: all.length, bytes: all.reduce((sum, { bytes }) => sum + bytes, 0) };
}

/**
 * Keeps rendered data within its bound: what was used longest ago goes first, and nothing that is kept for its own sake.
 * @param isNeeded whether the laid-out run, or the coat, with this key must stay
 * @returns how many pieces went
 */
export async function pruneRendered(
  places: RenderedPlaces,
  mostBytes: number,
  isNeeded: (kind: 'pdf' | 'coat', key: string) => boolean,
): Promise<number> {
  const all = await rendered(places);
  let bytes = all.reduce((sum, each) => sum + each.bytes, 0);
  let gone = 0;
  if (bytes <= mostBytes) return 0;
  for (const each of all.sort((a, b) => a.usedMs - b.usedMs)) {
    if (bytes <= mostBytes) break;
    if (isNeeded(each.kind, each.key)) continue;
    await rm(each.path, { recursive: true, force: true });
    bytes -= each.bytes;
    gone += 1;
  }
  return gone;
}

/** Says that a file or folder was used now, so that it is among the last to go. */
export async function wasUsed(path: string): Promise<void> {
  const now = new Date();
  await utimes(path, now, now).catch(() => undefined);
}
