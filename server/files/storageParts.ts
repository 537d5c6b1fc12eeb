import { open, rm, statfs } from 'node:fs/promises';
import { join } from 'node:path';
import type { OpenDb } from '../db/open.ts';
import type { DataPaths } from './paths.ts';
import type { StorageParts } from './storageGuard.ts';

/** A write of this size must go through before anything new is taken again. */
const TRIAL_BYTES = 256 * 1024;

/** How disk and database of a data folder are asked. */
export function storageParts(
  paths: DataPaths,
  database: Pick<OpenDb, 'tryLock' | 'waitForLock'>,
): Pick<StorageParts, 'freeBytes' | 'tryOut' | 'waitForLock'> {
  return {
    freeBytes: async () => {
      const { bavail, bsize } = await statfs(paths.root);
      return bavail * bsize;
    },
    tryOut: async () => {
      database.tryLock();
      const path = join(paths.temporary, 'trial.part');
      const file = await open(path, 'w');
      try {
        await file.writeFile(Buffer.alloc(TRIAL_BYTES, 1));
        await file.sync();
      } finally {
        await file.close();
        await rm(path, { force: true });
      }
    },
    waitForLock: (patiently) => {
      database.waitForLock(patiently);
    },
  };
}

/** Why a folder can't be written, in words. */
export function whyUnwritable(error: unknown): string {
  const { code } = error as { readonly code?: string };
  switch (code) {
    case 'EACCES':
    case 'EPERM':
    case 'SQLITE_CANTOPEN':
    case 'SQLITE_READONLY':
      return 'it belongs to somebody else, or may only be read';
    case 'EROFS':
      return 'its disk may only be read';
    case 'ENOSPC':
    case 'SQLITE_FULL':
      return 'its disk is full';
    case 'SQLITE_BUSY':
    case 'SQLITE_LOCKED':
      return 'another program holds it';
    case 'ENOTDIR':
    case 'EEXIST':
      return 'there is a file of that name';
    default:
      return error instanceof Error ? error.message : 'something failed';
  }
}
