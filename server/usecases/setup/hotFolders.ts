import { type Actor } from '../../../core/events/actor.ts';
import { sep } from 'node:path';
import { and, eq } from 'drizzle-orm';
import type { HotFolderChange, HotFolderCreate } from '../../../contract/api/ticket.ts';
import { compilePattern } from '../../../core/ticket/namePattern.ts';
import { hotFolders, jobs } from '../../db/tables/schema.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { mustBeConfirmed, placeOf } from './hotFolderPlace.ts';
import { TicketService } from '../ticket/ticketService.ts';

/** Describes a new hot folder; one that holds files already only where whoever asks knows that they will be taken. */
export async function createHotFolder(shop: Shop, order: HotFolderCreate, actor: Actor): Promise<string> {
  const { admitExisting = false, ...folder } = order;
  const path = placeOf(shop, folder.path);
  await mustBeConfirmed(path, folder.subfolders ?? 'not looked into', admitExisting);
  return transact(shop, (work) => {
    const { queue } = new TicketService(work.tx).queue(folder.queueId);
    mustStandAlone(work, path, undefined);
    mustMakeSense(work, folder);
    const id = newId('folder');
    const { queueId, path: _path, ...settings } = folder;
    work.tx
      .insert(hotFolders)
      .values({ id, queueId, path, ...settings })
      .run();
    work.touch({ type: 'queue', id: queueId });
    work.note({
      kind: 'folder.created',
      subject: ['hot folder', id],
      actor,
      data: { path, queue: queue.name },
    });
    return id;
  });
}

/** Two watches must not take each other's files. */
function mustStandAlone({ tx }: Work, path: string, own: string | undefined): void {
  for (const other of tx.select().from(hotFolders).all()) {
    if (other.id === own) continue;
    const inside = path.startsWith(other.path + sep) || other.path.startsWith(path + sep);
    if (other.path === path || inside) {
      throw new Refused(
        409,
        'path-taken',
        `${path} ${other.path === path ? 'is a hot folder already' : `lies in one line with the hot folder ${other.path}`}.`,
        undefined,
        'Choose another place.',
      );
    }
  }
}

function mustMakeSense({ tx }: Work, { namePattern, presetId }: HotFolderChange): void {
  if (presetId != null) new TicketService(tx).preset(presetId);
  if (namePattern == null) return;
  const pattern = compilePattern(namePattern);
  if (pattern.ok) return;
  const why = {
    empty: 'it is empty',
    'unknown-part': `there is no part {${'part' in pattern.reason ? pattern.reason.part : ''}}`,
    'part-twice': `{${'part' in pattern.reason ? pattern.reason.part : ''}} is there twice`,
    brackets: 'its brackets do not match',
  }[pattern.reason.code];
  throw new Refused(422, 'bad-pattern', `The name pattern can't be used: ${why}.`, { ...pattern.reason });
}

/** Changes what a hot folder gives to its files, or pauses it. Files that are in already keep what they got. */
export function changeHotFolder(shop: Shop, id: string, change: HotFolderChange, actor: Actor): void {
  transact(shop, (work) => {
    const before = folderRow(work, id);
    if (Object.keys(change).length === 0) return;
    mustMakeSense(work, change);
    work.tx.update(hotFolders).set(change).where(eq(hotFolders.id, id)).run();
    work.touch({ type: 'queue', id: before.queueId });
    const was = Object.fromEntries(Object.keys(change).map((key) => [key, before[key as keyof HotFolderChange]]));
    work.note({
      kind: 'folder.changed',
      subject: ['hot folder', id],
      actor,
      data: { path: before.path, paused: change.paused ?? null },
      undo: { label: 'Undo', method: 'PATCH', path: `/api/hot-folders/${id}`, body: was },
    });
  });
}

/** Gives a folder up; files that lie in it stay there. */
export function removeHotFolder(shop: Shop, id: string, actor: Actor): void {
  transact(shop, (work) => {
    const { queueId, path, presetId, arrivalRule, namePattern, subfolders, afterwards } = folderRow(work, id);
    work.tx
      .delete(jobs)
      .where(and(eq(jobs.hotFolderId, id), eq(jobs.state, 'arriving')))
      .run();
    work.tx.update(jobs).set({ hotFolderId: null }).where(eq(jobs.hotFolderId, id)).run();
    work.tx.delete(hotFolders).where(eq(hotFolders.id, id)).run();
    work.touch({ type: 'queue', id: queueId });
    work.note({
      kind: 'folder.removed',
      subject: ['hot folder', id],
      actor,
      data: { path },
      undo: {
        label: 'Undo',
        method: 'POST',
        path: '/api/hot-folders',
        // Its files are taken again: they were dropped there to be.
        body: { queueId, path, presetId, arrivalRule, namePattern, subfolders, afterwards, admitExisting: true },
      },
    });
  });
}

function folderRow({ tx }: Work, id: string): typeof hotFolders.$inferSelect {
  const row = tx.select().from(hotFolders).where(eq(hotFolders.id, id)).get();
  if (!row) throw new Refused(404, 'no-such-folder', `There is no hot folder ${id}.`);
  return row;
}
