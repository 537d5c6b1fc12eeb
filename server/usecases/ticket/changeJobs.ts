import { counted } from '../../../core/counted.ts';
import { TICKET_SETTINGS } from '../../../core/ticket/settings.ts';
import { type Actor } from '../../../core/events/actor.ts';
import { and, asc, eq, gte, inArray, ne } from 'drizzle-orm';
import type { JobChange, JobsChanged } from '../../../contract/api/ticket.ts';
import { partsOf } from '../../../core/ticket/parts.ts';
import {
  type Ticket,
  type TicketKey,
  changedKeys,
  makeTicket,
  putBack,
  rebaseTicket,
  sameValue,
  setHere,
  usePresetOf,
} from '../../../core/ticket/ticket.ts';
import { batches } from '../../db/batches.ts';
import type { Reader } from '../../db/open.ts';
import { jobPages, jobs, pieces, ticketChanges } from '../../db/tables/schema.ts';
import type { RunHow } from '../../ports/work.ts';
import { Refused, type Shop, type Work, newId, transact } from '../../shop.ts';
import { addOutstandingPieces, panelCount, pieceKinds } from './outstandingPieces.ts';
import { updateJobStates } from './jobStates.ts';
import { NO_NATURE, TicketService } from './ticketService.ts';

export type JobRow = typeof jobs.$inferSelect;

/** Jobs a transaction: a change of ten thousand doesn't hold the server up. */
const AT_ONCE = 100;

/** Changes one ticket; refused with its reason where it can't be. */
export function changeJob(shop: Shop, jobId: string, change: JobChange, actor: Actor): void {
  const changeId = newId('chg');
  transact(shop, (work) => {
    const job = jobRow(work.tx, jobId);
    const what = changeOne(work, new TicketService(work.tx), job, afterChange(change), changeId);
    if (what === '') return;
    work.note({
      kind: 'job.changed',
      subject: ['job', jobId],
      actor,
      data: { file: job.sourceName, what },
      undo: undoOf(changeId),
    });
  });
}

/** Changes many tickets; those that can't be changed are named with their reasons, the others go through. */
export async function changeJobs(
  shop: Shop,
  jobIds: readonly string[],
  change: JobChange,
  actor: Actor,
  how: RunHow = {},
): Promise<JobsChanged> {
  const changeId = newId('chg');
  const { changed, refused, what } = await changeAll(shop, jobIds, { actor, changeId, ...how }, (desk, job) =>
    afterChange(change)(desk, job),
  );
  if (changed > 0) {
    transact(shop, (work) => {
      work.note({
        kind: 'jobs.changed',
        subject: ['shop', changeId],
        actor,
        data: { jobs: changed, what, refused: refused.length },
        undo: undoOf(changeId),
      });
    });
  }
  return { changed, refused };
}

function undoOf(changeId: string) {
  return { label: 'Undo', method: 'POST' as const, path: `/api/changes/${changeId}/undo` };
}

/** Takes a change back, value by value: what was changed again since by others stays as it is now. */
export async function undoChange(shop: Shop, changeId: string, actor: Actor, how: RunHow = {}): Promise<JobsChanged> {
  const rows = shop.db.select().from(ticketChanges).where(eq(ticketChanges.changeId, changeId)).all();
  if (rows.length === 0) throw new Refused(404, 'no-such-change', `There is no change ${changeId}, or it is undone.`);
  const before = new Map(rows.map((row) => [row.jobId, row]));
  const back = newId('chg');
  const { changed, refused, changedIds } = await changeAll(
    shop,
    [...before.keys()],
    { actor, changeId: back, ...how },
    (_desk, job) => {
      const was = before.get(job.id);
      if (!was) return { ticket: job.ticket, queueId: job.queueId };
      if (was.queueId !== job.queueId || !sameValue(was.ticket.preset, job.ticket.preset)) {
        return { ticket: was.ticket, queueId: was.queueId };
      }
      const here: Record<string, unknown> = { ...job.ticket.layers['set here'] };
      for (const key of was.keys) {
        const old = was.ticket.layers['set here'];
        if (old && key in old) here[key] = old[key];
        else Reflect.deleteProperty(here, key);
      }
      // With the stock that it had, it gets what that stock gave it.
      const {
        printer = {},
        stock = {},
        queue = {},
      } = was.keys.includes('stockId') ? was.ticket.layers : job.ticket.layers;
      const layers = { ...job.ticket.layers, printer, stock, queue, 'set here': here };
      return { ticket: makeTicket(layers, job.ticket.preset), queueId: job.queueId };
    },
  );
  transact(shop, (work) => {
    // What could not be taken back keeps its row: the change can be undone for it later, once nothing holds it.
    for (const ids of batches(changedIds.concat(unchangedIds(before, changedIds, refused)))) {
      work.tx
        .delete(ticketChanges)
        .where(and(eq(ticketChanges.changeId, changeId), inArray(ticketChanges.jobId, ids)))
        .run();
    }
    const [one] = changedIds;
    const file = changed === 1 && one !== undefined ? jobRow(work.tx, one).sourceName : null;
    if (changed === 0) return;
    work.note({
      kind: 'jobs.changed-back',
      subject: changed === 1 && one !== undefined ? ['job', one] : ['shop', back],
      actor,
      data: { jobs: changed, file, refused: refused.length },
      undo: undoOf(back),
    });
  });
  return { changed, refused };
}

/** Jobs that stand as they were before the change already: there is nothing left to undo for them. */
function unchangedIds(
  before: ReadonlyMap<string, unknown>,
  changed: readonly string[],
  refused: JobsChanged['refused'],
): string[] {
  const others = new Set([...changed, ...refused.map(({ jobId }) => jobId)]);
  return [...before.keys()].filter((id) => !others.has(id));
}

interface After {
  readonly ticket: Ticket;
  readonly queueId: string;
}
/** What becomes of one job; anything that it refuses is told for that job alone. */
type Step = (desk: TicketService, job: JobRow) => After;

/** A change as a step: preset first, then what is put back, then the new place, then single values. Later ones win. */
function afterChange(change: JobChange): Step {
  const { queueId, presetId, putBack: back, ...values } = change;
  return (desk, job) => {
    const nextQueue = queueId ?? job.queueId;
    let { ticket } = job;
    if (presetId !== undefined) ticket = usePresetOf(ticket, presetId === null ? null : desk.preset(presetId));
    if (back !== undefined) ticket = putBack(ticket, back);
    // What is set here is set against what holds at the new place.
    if (nextQueue !== job.queueId) ticket = anewFor(desk, ticket, nextQueue);
    ticket = setHere(ticket, values);
    const moved = nextQueue !== job.queueId || ticket.values.stockId !== job.ticket.values.stockId;
    return { ticket: moved ? anewFor(desk, ticket, nextQueue) : ticket, queueId: nextQueue };
  };
}

/** The layers of printer, stock and queue taken anew for the place where the job is going. */
export function anewFor(desk: TicketService, ticket: Ticket, queueId: string): Ticket {
  const { printer } = desk.queue(queueId);
  const known = {
    modeIds: printer.config.modes.map((mode) => mode.id),
    stockIds: desk.stockIdsFor(printer.config.widestMediaMm),
  };
  const rough = rebaseTicket(ticket, desk.anew(queueId, {}), known);
  return rebaseTicket(ticket, desk.anew(queueId, rough.layers), known);
}

async function changeAll(
  shop: Shop,
  jobIds: readonly string[],
  { actor, changeId, signal, progress }: RunHow & { readonly actor: Actor; readonly changeId: string },
  step: Step,
): Promise<JobsChanged & { readonly what: string; readonly changedIds: string[] }> {
  const refused: JobsChanged['refused'] = [];
  const whats = new Set<string>();
  const changedIds: string[] = [];
  for (let from = 0; from < jobIds.length; from += AT_ONCE) {
    transact(shop, (work) => {
      const desk = new TicketService(work.tx);
      const rows = work.tx
        .select()
        .from(jobs)
        .where(inArray(jobs.id, jobIds.slice(from, from + AT_ONCE)))
        .orderBy(asc(jobs.seq))
        .all();
      for (const job of rows) {
        try {
          const what = work.tx.transaction((tx) => changeOne({ ...work, tx }, desk, job, step, changeId));
          if (what === '') continue;
          changedIds.push(job.id);
          what.split(', ').forEach((each) => whats.add(each));
          // Each job's history tells it; the wire hears of all of them at once.
          work.note({
            kind: 'job.changed',
            subject: ['job', job.id],
            actor,
            data: { file: job.sourceName, what },
            quiet: true,
          });
        } catch (error) {
          if (!(error instanceof Refused)) throw error;
          refused.push({ jobId: job.id, sourceName: job.sourceName, reason: error.message });
        }
      }
    });
    progress?.(Math.min(1, (from + AT_ONCE) / jobIds.length));
    await new Promise((done) => setImmediate(done));
    if (signal?.aborted === true) break;
  }
  return { changed: changedIds.length, changedIds, refused, what: [...whats].join(', ') };
}

/** @returns what was changed, in words; empty where nothing was */
export function changeOne(work: Work, desk: TicketService, job: JobRow, step: Step, changeId: string): string {
  if (['arriving', 'arrived', 'cancelled', 'dropped'].includes(job.state)) {
    throw new Refused(409, 'wrong-state', `${job.sourceName} is ${job.state}; its ticket can't be changed.`, {
      state: job.state,
    });
  }
  const { ticket, queueId } = step(desk, job);
  const keys = changedKeys(ticket.values, job.ticket.values);
  const moved = queueId !== job.queueId;
  if (keys.length === 0 && !moved && sameValue(ticket, job.ticket)) return '';
  mustBeFree(work, job, keys, moved);
  const pages = work.tx.select().from(jobPages).where(eq(jobPages.jobId, job.id)).orderBy(jobPages.page).all();
  const { findings, finished } = desk.judge(queueId, ticket, job.nature ?? NO_NATURE, pages);
  const panelsBefore = pages.map((page) => panelCount(page.finished));
  changePieces(work, job, ticket, keys, finished.map(panelCount), panelsBefore);
  pages.forEach(({ page }, index) => {
    work.tx
      .update(jobPages)
      .set({ finished: finished[index] ?? null })
      .where(and(eq(jobPages.jobId, job.id), eq(jobPages.page, page)))
      .run();
  });
  const blocked = findings.some((finding) => finding.severity === 'block');
  const waits = job.state === 'ready' || job.state === 'checked';
  // More copies of a kept job are owed: it comes back from the Shelf, to be laid out.
  const kept = job.state === 'shelved' && keys.includes('copies') ? 'printed' : job.state;
  const state = blocked && waits ? 'blocked' : !blocked && job.state === 'blocked' ? 'checked' : kept;
  const first = finished[0];
  work.tx
    .update(jobs)
    .set({
      ticket,
      findings,
      queueId,
      // A person who has mended a job has looked at it.
      state: state === 'checked' && job.state === 'blocked' ? 'ready' : state,
      ...(first ? { widthMm: first.widthMm, heightMm: first.heightMm } : {}),
      // Its keep rule may be another now.
      ...(keys.includes('keep') ? { keepDueMs: work.nowMs } : {}),
    })
    .where(eq(jobs.id, job.id))
    .run();
  work.tx
    .insert(ticketChanges)
    .values({ changeId, jobId: job.id, queueId: job.queueId, ticket: job.ticket, keys })
    .run();
  updateJobStates(work, [job.id]);
  work.touch({ type: 'job', id: job.id });
  const preset = sameValue(ticket.preset, job.ticket.preset) ? [] : ['preset'];
  const words = [...(moved ? ['queue'] : []), ...preset, ...keys.map((key) => TICKET_SETTINGS[key].label)];
  return words.length > 0 ? words.join(', ') : 'origins';
}

/** A job by its id; refused where there is none. */
export function jobRow(db: Reader, id: string): JobRow {
  const job = db.select().from(jobs).where(eq(jobs.id, id)).get();
  if (!job) throw new Refused(404, 'no-such-job', `There is no job ${id}.`);
  return job;
}

/** What a run has been laid out by can't change under it. */
function mustBeFree({ tx }: Work, job: JobRow, keys: readonly TicketKey[], moved: boolean): void {
  if (!moved && !keys.some((key) => TICKET_SETTINGS[key].scope !== 'job')) return;
  const held = tx
    .select({ id: pieces.id })
    .from(pieces)
    .where(and(eq(pieces.jobId, job.id), eq(pieces.state, 'placed')))
    .all();
  if (held.length > 0) {
    throw new Refused(
      409,
      'in-a-run',
      `${counted(held.length, 'piece')} of ${job.sourceName} ${held.length === 1 ? 'is' : 'are'} in a run; take it back to the Bench first.`,
      { held: held.length },
    );
  }
}

/** Panels of each page, as they will be and as they were. */
function changePieces(
  work: Work,
  job: JobRow,
  ticket: Ticket,
  keys: readonly TicketKey[],
  panels: readonly number[],
  panelsBefore: readonly number[],
): void {
  const { tx } = work;
  const kinds = pieceKinds(panels, partsOf(ticket.values.separations, job.nature?.spots ?? []));
  const { copies } = ticket.values;
  if (keys.includes('separations') || !sameValue(panels, panelsBefore)) {
    const done = tx
      .select({ id: pieces.id })
      .from(pieces)
      .where(and(eq(pieces.jobId, job.id), ne(pieces.state, 'owed')))
      .all();
    if (done.length > 0) {
      throw new Refused(
        409,
        'in-a-run',
        `${counted(done.length, 'piece')} of ${job.sourceName} ${done.length === 1 ? 'is' : 'are'} in a run or printed; it can't be parted in another way now.`,
        { held: done.length },
        'Bring the file in once more for what is to be parted.',
      );
    }
    // Other parts and panels are other pieces: the owed ones are owed anew.
    tx.delete(pieces)
      .where(and(eq(pieces.jobId, job.id), eq(pieces.state, 'owed')))
      .run();
    addOutstandingPieces(work, job.id, kinds, 0, copies);
    return;
  }
  if (!keys.includes('copies')) return;
  const before = job.ticket.values.copies;
  if (copies > before) {
    addOutstandingPieces(work, job.id, kinds, before, copies);
    return;
  }
  const surplus = and(eq(pieces.jobId, job.id), gte(pieces.copy, copies));
  const held = tx
    .select({ id: pieces.id })
    .from(pieces)
    .where(and(surplus, ne(pieces.state, 'owed')))
    .all();
  if (held.length > 0) {
    throw new Refused(
      409,
      'in-a-run',
      `${counted(held.length, 'piece')} of the copies beyond ${copies} ${held.length === 1 ? 'is' : 'are'} in a run or printed.`,
      { held: held.length },
    );
  }
  tx.delete(pieces).where(surplus).run();
}
