const FULL = /ENOSPC|EDQUOT|SQLITE_FULL|no space left|database or disk is full/i;
const LOCKED = /SQLITE_BUSY|SQLITE_LOCKED|database is locked|database table is locked/i;

/**
 * Whether an error says that the disk is full or that the database is held by another process. Errors that come from another
 * thread have lost their code, so the message is looked at, too.
 */
export function storageFault(error: unknown): 'full' | 'locked' | undefined {
  // Not by its class: errors of another thread or context are of another.
  if (typeof error !== 'object' || error === null) return undefined;
  const { code, message, cause } = error as {
    readonly code?: unknown;
    readonly message?: unknown;
    readonly cause?: unknown;
  };
  const text = [code, message].filter((each) => typeof each === 'string').join(' ');
  if (FULL.test(text)) return 'full';
  if (LOCKED.test(text)) return 'locked';
  return cause === undefined ? undefined : storageFault(cause);
}
