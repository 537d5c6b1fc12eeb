import { type Actor } from '../../../core/events/actor.ts';
import { eq, sql } from 'drizzle-orm';
import type { PresetChange, PresetCreate, PresetFile } from '../../../contract/api/ticket.ts';
import { hotFolders, presets } from '../../db/tables/schema.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';

const FORMER_PRESET = 'A preset of that name exists';

/** Names a set of ticket settings. A name that is taken is refused: nothing is written over silently. */
export function createPreset(shop: Shop, preset: PresetCreate, actor: Actor): string {
  return transact(shop, (work) => {
    const name = freeName(work, preset.name, undefined);
    return insert(work, name, preset, actor);
  });
}

function insert({ tx, note, nowMs, touch }: Work, name: string, preset: PresetCreate, actor: Actor): string {
  const id = newId('preset');
  tx.insert(presets).values({ id, name, settings: preset.settings, changedMs: nowMs }).run();
  note({ kind: 'preset.created', subject: ['preset', id], actor, data: { preset: name } });
  touch({ type: 'preset', id });
  return id;
}

function freeName({ tx }: Work, wanted: string, own: string | undefined): string {
  const name = wanted.trim();
  const taken = tx
    .select({ id: presets.id })
    .from(presets)
    .where(sql`lower(${presets.name}) = ${name.toLowerCase()}`)
    .get();
  if (taken && taken.id !== own) {
    throw new Refused(409, 'name-taken', `${FORMER_PRESET}: ${name}.`, undefined, 'Choose another name.');
  }
  return name;
}

function presetRow({ tx }: Work, id: string): typeof presets.$inferSelect {
  const row = tx.select().from(presets).where(eq(presets.id, id)).get();
  if (!row) throw new Refused(404, 'no-such-preset', `There is no preset ${id}.`);
  return row;
}

/** Renames a preset or sets its values. Tickets that carry it keep the copy they have. */
export function changePreset(shop: Shop, id: string, change: PresetChange, actor: Actor): void {
  transact(shop, (work) => {
    const before = presetRow(work, id);
    const name = change.name === undefined ? before.name : freeName(work, change.name, id);
    const settings = change.settings ?? before.settings;
    work.tx.update(presets).set({ name, settings, changedMs: work.nowMs }).where(eq(presets.id, id)).run();
    work.touch({ type: 'preset', id });
    work.note({
      kind: 'preset.changed',
      subject: ['preset', id],
      actor,
      data: { preset: name, before: before.name },
      undo: {
        label: 'Undo',
        method: 'PATCH',
        path: `/api/presets/${id}`,
        body: { name: before.name, settings: before.settings },
      },
    });
  });
}

/** Makes a preset with the same settings under a name that is free. */
export function copyPreset(shop: Shop, id: string, actor: Actor): string {
  return transact(shop, (work) => {
    const { name, settings } = presetRow(work, id);
    return insert(work, nextName(work, `${name} copy`), { name, settings }, actor);
  });
}

function nextName({ tx }: Work, wanted: string): string {
  const taken = new Set(
    tx
      .select({ name: presets.name })
      .from(presets)
      .all()
      .map((row) => row.name.toLowerCase()),
  );
  for (let n = 1; ; n++) {
    const name = n === 1 ? wanted : `${wanted} ${String(n)}`;
    if (!taken.has(name.toLowerCase())) return name;
  }
}

/** Deletes a preset that no hot folder gives; jobs keep the values they got from it. */
export function deletePreset(shop: Shop, id: string, actor: Actor): void {
  transact(shop, (work) => {
    const { name, settings } = presetRow(work, id);
    const givers = work.tx.select({ path: hotFolders.path }).from(hotFolders).where(eq(hotFolders.presetId, id)).all();
    if (givers.length > 0) {
      throw new Refused(
        409,
        'in-use',
        `${name} is given by ${givers.length === 1 ? 'a hot folder' : `${String(givers.length)} hot folders`}: ${givers[0]?.path ?? ''}.`,
        { hotFolders: givers.length },
        'Give those another preset first.',
      );
    }
    work.tx.delete(presets).where(eq(presets.id, id)).run();
    work.touch({ type: 'preset', id });
    work.note({
      kind: 'preset.deleted',
      subject: ['preset', id],
      actor,
      data: { preset: name },
      undo: { label: 'Undo', method: 'POST', path: '/api/presets', body: { name, settings } },
    });
  });
}

/** Takes presets in from a file; names that are taken get a number, nothing is written over. */
export function importPresets(shop: Shop, file: PresetFile, actor: Actor): string[] {
  return transact(shop, (work) =>
    file.presets.map((preset) => insert(work, nextName(work, preset.name.trim()), preset, actor)),
  );
}
