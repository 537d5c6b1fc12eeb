const FULL = /ENOSPC|EDQUOT|SQLITE_FULL|no space left|database or disk is full/i;
const LOCKED = /SQLITE_BUSY|SQLITE_LOCKED|database is locked|database table is locked/i;

/**
 * Whether an error says that the disk is full or that the database is held by another process. Errors that come from another
 * thread have lost their code, so the message is looked at, too.
 */
export function storageFault(error: unknown): 'full' | 'locked' | undefined {
  if (!(error instanceof Error)) return undefined;
  const { code, cause } = error as Error & { readonly code?: unknown; readonly cause?: unknown };
  const text = `${typeof code === 'string' ? code : ''} ${error.message}`;
  if (FULL.test(text)) return 'full';
  if (LOCKED.test(text)) return 'locked';
  return cause === undefined ? undefined : storageFault(cause);
}
