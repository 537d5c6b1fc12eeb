import { realpathSync } from 'node:fs';
import { homedir } from 'node:os';
import { basename, dirname, extname, isAbsolute, join, normalize, parse, sep } from 'node:path';
import { DEPTH, listFiles } from '../../files/folderFiles.ts';
import type { Subfolders } from '../../../core/ticket/namePattern.ts';
import { Refused, type Shop } from '../../shop.ts';

/** With everything in them: no prints are ever dropped there. */
const SYSTEM_TREES = [
  '/bin',
  '/boot',
  '/dev',
  '/etc',
  '/lib',
  '/lib32',
  '/lib64',
  '/proc',
  '/run',
  '/sbin',
  '/sys',
  '/usr',
  '/System',
  '/Library',
  'C:\\Windows',
  'C:\\Program Files',
  'C:\\Program Files (x86)',
];
/** These alone: folders within them may well be hot folders. */
const SYSTEM_FOLDERS = [
  '/home',
  '/media',
  '/mnt',
  '/opt',
  '/private',
  '/root',
  '/srv',
  '/tmp',
  '/Users',
  '/var',
  '/Volumes',
  'C:\\Users',
];

/** So many kinds of files are named before the rest is summed up. */
const KINDS_NAMED = 5;

/** A plain name lies in the shop's own folder of hot folders; a full path may lie anywhere but where it would do harm. */
export function placeOf(shop: Shop, wanted: string): string {
  if (Array.from(wanted).some((char) => char < ' ' || char === '\u007f')) {
    throw badPath('The path has control characters in it.');
  }
  const path = normalize(wanted.trim());
  const whole = isAbsolute(path) ? (path.length > 1 && path.endsWith(sep) ? path.slice(0, -1) : path) : undefined;
  if (whole === undefined) {
    if (path.includes('..') || path === '.' || /[\\/]/.test(path)) {
      throw badPath(
        `${wanted} is neither a plain name nor a full path.`,
        'Write a name, or the path from the root on.',
      );
    }
    return join(shop.paths.hotFolders, path);
  }
  mustBeHarmless(shop, whole);
  // What it really is, whatever links lead there.
  mustBeHarmless(shop, realPathOf(whole));
  return whole;
}

/** Everything in a hot folder is taken away, so none may be where other programs or people keep what is theirs. */
function mustBeHarmless({ paths }: Shop, path: string): void {
  const otherPlace = 'Choose a folder that is there for prints only.';
  const tree = SYSTEM_TREES.find((each) => isWithin(path, each));
  if (path === parse(path).root || tree !== undefined) {
    throw badPath(`${path} belongs to the system; everything in it would be taken away.`, otherPlace);
  }
  if (SYSTEM_FOLDERS.includes(path) || path === homedir()) {
    throw badPath(`${path} holds much more than prints; everything in it would be taken away.`, otherPlace);
  }
  const own = [paths.root, realPathOf(paths.root)];
  const hot = [paths.hotFolders, realPathOf(paths.hotFolders)];
  const inOwn = own.some((root) => isWithin(path, root) || isWithin(root, path));
  const inHot = hot.some((root) => path !== root && isWithin(path, root));
  if (inOwn && !inHot) {
    throw badPath(
      `${path} is a part of the shop's own data, or holds it.`,
      `Write a plain name: the folder then lies in ${paths.hotFolders}.`,
    );
  }
}

function badPath(why: string, remedy?: string): Refused {
  return new Refused(422, 'bad-path', why, undefined, remedy);
}

function isWithin(path: string, folder: string): boolean {
  return path === folder || path.startsWith(folder.endsWith(sep) ? folder : folder + sep);
}

/** The place behind links; of what is not there yet, that of the nearest folder that is. */
function realPathOf(path: string): string {
  try {
    return realpathSync(path);
  } catch {
    const parent = dirname(path);
    return parent === path ? path : join(realPathOf(parent), basename(path));
  }
}

/**
 * What a new hot folder would take at once. It is asked before: a folder with somebody's files in it must not be emptied by a
 * slip of the pen.
 */
export async function mustBeConfirmed(path: string, subfolders: Subfolders, confirmed: boolean): Promise<void> {
  if (confirmed) return;
  const names = await listFiles(path, DEPTH[subfolders]).catch(() => []);
  if (names.length === 0) return;
  const kinds = new Map<string, number>();
  for (const name of names) {
    const kind = extname(name).slice(1).toUpperCase() || 'without an ending';
    kinds.set(kind, (kinds.get(kind) ?? 0) + 1);
  }
  const sorted = [...kinds].sort((a, b) => b[1] - a[1]);
  const named = sorted.slice(0, KINDS_NAMED).map(([kind, n]) => `${String(n)} ${kind}`);
  const rest = sorted.slice(KINDS_NAMED).reduce((sum, [, n]) => sum + n, 0);
  const what = [...named, ...(rest > 0 ? [`${String(rest)} others`] : [])].join(', ');
  throw new Refused(
    409,
    'holds-files',
    `${path} holds ${names.length === 1 ? 'a file' : `${String(names.length)} files`} already: ${what}. As a hot folder it would take ${names.length === 1 ? 'it' : 'them'} away at once.`,
    { files: names.length, kinds: Object.fromEntries(sorted) },
    'Choose an empty folder, or confirm that they are to be taken.',
  );
}
