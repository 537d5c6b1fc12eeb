import { type NameContext, compilePattern, readFolders, readName } from '../../core/ticket/namePattern.ts';
import type { TicketPart } from '../../core/ticket/ticket.ts';
import type { hotFolders } from '../db/tables/schema.ts';

/**
 * What folders and name of a file say, by the rules of its hot folder. A name that doesn't match says nothing; one that matches
 * and says what can't be is a problem: without it the file would print by the plain settings of its queue.
 */
export function nameSays(
  row: Pick<typeof hotFolders.$inferSelect, 'namePattern' | 'subfolders'>,
  path: string,
  context: NameContext,
): { readonly values: TicketPart; readonly problem?: string } {
  const segments = path.split('/');
  const fileName = segments.pop() ?? '';
  const byFolder = readFolders(row.subfolders, segments);
  const pattern = row.namePattern === null ? undefined : compilePattern(row.namePattern);
  if (!pattern?.ok) return { values: byFolder };
  const read = readName(pattern.value, fileName, context);
  if (read.ok) return { values: { ...byFolder, ...read.value.values } };
  if (read.reason.code === 'no-match') return { values: byFolder };
  const { part, got } = read.reason;
  return {
    values: byFolder,
    problem: `Its name says “${got}” for ${part}, which can't be used. Rename the file, and bring it in again.`,
  };
}
