import { eq, inArray } from 'drizzle-orm';
import type { Actor } from '../../../core/events/actor.ts';
import { type KeptUnit, type NightUndo, nightProposals } from '../../db/tables/awayTables.ts';
import { runName } from '../../../core/flow/runName.ts';
import { findRun } from '../../db/findRows.ts';
import { jobs } from '../../db/tables/schema.ts';
import type { RunHow } from '../../ports/work.ts';
import { Refused, type Shop, transact } from '../../shop.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { ensurePrintable } from '../output/ensurePrintable.ts';
import { readFloor } from '../plan/fit.ts';
import { queuedLine, setLineOrder } from '../plan/lineOrder.ts';
import { dissolveRun } from '../run/cancelRun.ts';
import { createRun } from '../run/createRun.ts';
import { queueRun } from '../run/queueRun.ts';
import { moveBack, rerouteRun } from '../run/rerouteRun.ts';
import { runRow } from '../run/runRows.ts';
import { returnToDraft } from '../run/returnToDraft.ts';
import { findProposal } from './night.ts';

const NEST_MS = 600;

interface Steps {
  readonly made: string[];
  readonly queued: string[];
  readonly moved: { readonly was: string; readonly is: string; readonly printerId: string; readonly modeId: string }[];
  readonly lines: Record<string, readonly string[]>;
}

/**
 * Does what a proposal says: runs are made from jobs and queued, drafts queued, runs moved to other printers, lines put in order. One
 * step takes all of it back. Where a part of it can't be done, what was done until then is taken back and the reason told.
 * @throws Refused where something that it moves has begun, or waits no longer
 */
export async function acceptNight(shop: Shop, id: string, actor: Actor, how: RunHow): Promise<void> {
  const row = findProposal(shop, id);
  if (!row) throw new Refused(404, 'no-such-proposal', 'That proposal is gone.', undefined, 'Ask for one again.');
  if (row.state !== 'offered') throw new Refused(409, 'proposal-taken', `That proposal is ${row.state} already.`);
  mustStillBe(shop, row.units, row.assignment);
  const steps: Steps = { made: [], queued: [], moved: [], lines: linesNow(shop) };
  const runOf = new Map<string, string>();
  try {
    for (const [printerId, unitIds] of Object.entries(row.assignment)) {
      for (const unitId of unitIds) {
        const unit = row.units.find((each) => each.id === unitId);
        if (unit) runOf.set(unitId, await bring(shop, unit, printerId, steps, actor, how));
      }
    }
    const ordered = orderLines(shop, row.assignment, runOf, actor);
    const { made, queued, moved } = steps;
    transact(shop, (work) => {
      work.tx.update(nightProposals).set({ state: 'accepted', undo: steps }).where(eq(nightProposals.id, id)).run();
      work.note({
        kind: 'night.accepted',
        subject: ['away', id],
        actor,
        data: { queued: made.length + queued.length, moved: moved.length, ordered },
        undo: { label: 'Undo', method: 'POST', path: `/api/away/proposals/${id}/undo` },
      });
    });
  } catch (error) {
    await takeBack(shop, steps, actor);
    throw error;
  }
  shop.wakeDispatcher();
}

/** What is to be moved or queued has to be where it was; what stays where it is may have begun meanwhile. */
function mustStillBe(
  shop: Shop,
  units: readonly KeptUnit[],
  assignment: Readonly<Record<string, readonly string[]>>,
): void {
  for (const [printerId, unitIds] of Object.entries(assignment)) {
    for (const unitId of unitIds) {
      const unit = units.find(({ id }) => id === unitId);
      if (!unit || (unit.kind === 'queued' && unit.standsOn === printerId)) continue;
      const gone = goneOf(shop, unit);
      if (gone === undefined) continue;
      throw new Refused(
        409,
        'floor-changed',
        `The floor has changed since this night was proposed: ${gone}.`,
        undefined,
        'Ask for a proposal of how it is now.',
      );
    }
  }
}

/** Why a unit is no longer what it was; undefined: it is. */
function goneOf(shop: Shop, { kind, ids }: KeptUnit): string | undefined {
  if (kind === 'jobs') {
    const rows = shop.db
      .select({ id: jobs.id, name: jobs.sourceName, state: jobs.state })
      .from(jobs)
      .where(inArray(jobs.id, [...ids]))
      .all();
    const other = rows.find(({ state }) => state !== 'ready' && state !== 'checked');
    if (other) return `${other.name} is ${other.state}`;
    return rows.length === ids.length ? undefined : 'a job is gone';
  }
  const run = findRun(shop.db, ids[0] ?? '');
  const meant = kind === 'draft' ? 'draft' : 'queued';
  return run?.state === meant ? undefined : run ? `${runName(run.number)} is ${run.state}` : 'a run is gone';
}

function linesNow(shop: Shop): Record<string, readonly string[]> {
  const ids = readFloor(shop).printers.map(({ id }) => id);
  return Object.fromEntries(ids.map((id) => [id, queuedLine(shop.db, id).map((run) => run.id)]));
}

/** Brings a unit into the line of a printer. @returns the run that it is there */
async function bring(
  shop: Shop,
  { kind, ids, standsOn }: KeptUnit,
  printerId: string,
  { made, queued, moved }: Steps,
  actor: Actor,
  how: RunHow,
): Promise<string> {
  const [first = ''] = ids;
  if (kind === 'queued') {
    if (standsOn === printerId) return first;
    const { modeId } = runRow(shop.db, first).ticket;
    const is = await rerouteRun(shop, first, printerId, null, actor, how);
    moved.push({ was: first, is, printerId: standsOn ?? printerId, modeId });
    return is;
  }
  if (kind === 'draft') {
    await ensurePrintable(shop, first, how);
    queueRun(shop, first, actor);
    queued.push(first);
    return first;
  }
  let runId = createRun(shop, ids, actor);
  made.push(runId);
  if (findRun(shop.db, runId)?.printerId !== printerId) {
    runId = await rerouteRun(shop, runId, printerId, null, actor, how);
    made[made.length - 1] = runId;
  } else layOutRun(shop, runId, await nestDraft(shop, runId, NEST_MS, how), { by: actor });
  await ensurePrintable(shop, runId, how);
  queueRun(shop, runId, actor);
  return runId;
}

/** Lines as the proposal has them; what came meanwhile stays behind. @returns how many are in another order */
function orderLines(
  shop: Shop,
  assignment: Readonly<Record<string, readonly string[]>>,
  runOf: ReadonlyMap<string, string>,
  actor: Actor,
): number {
  let ordered = 0;
  for (const [printerId, unitIds] of Object.entries(assignment)) {
    const line = queuedLine(shop.db, printerId).map(({ id }) => id);
    const wanted = unitIds.flatMap((id) => runOf.get(id) ?? []).filter((id) => line.includes(id));
    const next = [...wanted, ...line.filter((id) => !wanted.includes(id))];
    if (next.join() === line.join()) continue;
    setLineOrder(shop, printerId, next, actor);
    ordered += 1;
  }
  return ordered;
}

/** Takes an accepted proposal back. What has begun by then stays, and is counted. */
export async function undoNight(shop: Shop, id: string, actor: Actor): Promise<void> {
  const row = findProposal(shop, id);
  if (row?.state !== 'accepted' || !row.undo) {
    throw new Refused(409, 'nothing-to-undo', 'That night was not accepted, or is taken back already.');
  }
  const stayed = await takeBack(shop, row.undo, actor);
  transact(shop, (work) => {
    work.tx.update(nightProposals).set({ state: 'taken back' }).where(eq(nightProposals.id, id)).run();
    work.note({ kind: 'night.taken-back', subject: ['away', id], actor, data: { stayed } });
  });
  shop.wakeDispatcher();
}

async function takeBack(shop: Shop, { made, queued, moved, lines }: NightUndo, actor: Actor): Promise<number> {
  let stayed = 0;
  const stateOf = (id: string): string => findRun(shop.db, id)?.state ?? 'gone';
  for (const id of made) {
    if (stateOf(id) === 'queued') dissolveRun(shop, returnToDraft(shop, id, actor), actor);
    else if (stateOf(id) === 'draft') dissolveRun(shop, id, actor);
    else stayed += 1;
  }
  for (const id of queued) {
    if (stateOf(id) === 'queued') returnToDraft(shop, id, actor);
    else if (stateOf(id) !== 'draft') stayed += 1;
  }
  const nowCalled = new Map<string, string>();
  for (const { was, is, ...place } of moved) {
    if (stateOf(is) === 'queued') nowCalled.set(was, await moveBack(shop, is, place, actor));
    else stayed += 1;
  }
  for (const [printerId, ids] of Object.entries(lines)) {
    const line = queuedLine(shop.db, printerId).map(({ id }) => id);
    const before = ids.map((id) => nowCalled.get(id) ?? id).filter((id) => line.includes(id));
    const next = [...before, ...line.filter((id) => !before.includes(id))];
    if (next.join() !== line.join()) setLineOrder(shop, printerId, next, actor);
  }
  return stayed;
}
