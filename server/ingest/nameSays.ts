import { type NameContext, compilePattern, readFolders, readName } from '../../core/ticket/namePattern.ts';
import type { TicketPart } from '../../core/ticket/ticket.ts';
import type { hotFolders } from '../db/schema.ts';

/** What folders and name of a file say, by the rules of its hot folder. A name that doesn't match says nothing. */
export function nameSays(
  row: Pick<typeof hotFolders.$inferSelect, 'namePattern' | 'subfolders'>,
  path: string,
  context: NameContext,
): TicketPart {
  const segments = path.split('/');
  const fileName = segments.pop() ?? '';
  const byFolder = readFolders(row.subfolders, segments);
  const pattern = row.namePattern === null ? undefined : compilePattern(row.namePattern);
  if (!pattern?.ok) return byFolder;
  const read = readName(pattern.value, fileName, context);
  return read.ok ? { ...byFolder, ...read.value.values } : byFolder;
}
