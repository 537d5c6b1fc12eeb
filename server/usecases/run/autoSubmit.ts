import { findRun } from '../../db/findRows.ts';
import { runWideDifference } from '../../../core/ticket/settings.ts';
import { PROGRAM, type Actor, timer } from '../../../core/events/actor.ts';
import { and, asc, eq, inArray, isNotNull, lte } from 'drizzle-orm';
import { jobs, pieces, queues, runs } from '../../db/tables/schema.ts';
import { type RunHow, isClosing } from '../../ports/work.ts';
import { Refused, type Shop, transact } from '../../shop.ts';
import type { TaskSteps } from '../../ports/shopTasks.ts';
import type { ShopTaskKinds } from '../../work/kinds.ts';
import type { RunRow } from './transitionRun.ts';
import { createRun, addJobsToRun } from './createRun.ts';
import { layOutRun } from '../layout/layOutRun.ts';
import { nestDraft } from '../layout/nestDraft.ts';
import { ensurePrintable } from '../output/ensurePrintable.ts';
import { queueRun } from './queueRun.ts';

/** A run that goes by itself is nested for so long; a person who wants more takes it on the Bench. */
const NEST_MS = 600;
/** How much of the work is done when it is nested. */
const NESTED_SHARE = 0.5;

interface AutoSubmitResult {
  readonly runIds: readonly string[];
  /** Jobs that could not go, and why. */
  readonly stayed: readonly { readonly jobId: string; readonly reason: string }[];
}

/**
 * Sends jobs on without a person: like jobs go into one run. A run of the rule *go* that has not been sent is joined; else a
 * new one is made, which is queued after `afterMin` minutes, or at once.
 */
export async function autoSubmit(
  shop: Shop,
  jobIds: readonly string[],
  afterMin: number,
  actor: Actor,
): Promise<AutoSubmitResult> {
  const touched = new Set<string>();
  const stayed: { jobId: string; reason: string }[] = [];
  for (const group of likeJobs(shop, jobIds)) {
    try {
      touched.add(intoRun(shop, group, afterMin, actor));
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      stayed.push(...group.map((jobId) => ({ jobId, reason: error.message })));
    }
  }
  const runIds = [...touched];
  for (const runId of runIds) if (afterMin === 0) await releaseRun(shop, runId, actor);
  return { runIds, stayed };
}

/** Jobs that may share a run: one queue, equal run-wide values. */
function likeJobs(shop: Shop, jobIds: readonly string[]): string[][] {
  const rows = shop.db
    .select()
    .from(jobs)
    .where(inArray(jobs.id, [...jobIds]))
    .orderBy(asc(jobs.seq))
    .all();
  const groups: (typeof rows)[] = [];
  for (const job of rows) {
    const like = groups.find(([first]) => {
      const same = first?.queueId === job.queueId;
      return same && runWideDifference(first.ticket.values, job.ticket.values) === undefined;
    });
    if (like) like.push(job);
    else groups.push([job]);
  }
  return groups.map((group) => group.map((job) => job.id));
}

/** Puts jobs into the draft that is waiting for more of their kind, or into a new one. */
function intoRun(shop: Shop, jobIds: readonly string[], afterMin: number, actor: Actor): string {
  const first = shop.db
    .select()
    .from(jobs)
    .where(eq(jobs.id, jobIds[0] ?? ''))
    .get();
  if (!first) throw new Refused(404, 'no-such-job', 'The job no longer exists.');
  const open =
    afterMin === 0
      ? undefined
      : shop.db
          .select()
          .from(runs)
          .where(and(eq(runs.state, 'draft'), isNotNull(runs.goAtMs), eq(runs.queueId, first.queueId)))
          .all()
          .find((run) => runWideDifference(run.ticket, first.ticket.values) === undefined);
  if (open) {
    addJobsToRun(shop, open.id, jobIds, actor);
    return open.id;
  }
  // In one: a run that is there without its instant would wait on the Bench for ever.
  return shop.db.transaction(() => {
    const runId = createRun(shop, jobIds, actor);
    transact(shop, ({ tx, nowMs, touch }) => {
      tx.update(runs)
        .set({ goAtMs: nowMs + afterMin * 60_000 })
        .where(eq(runs.id, runId))
        .run();
      touch({ type: 'run', id: runId });
    });
    return runId;
  });
}

async function releaseRun(shop: Shop, runId: string, actor: Actor): Promise<void> {
  shop.db.transaction((tx) => {
    shop.tasks.add(tx, 'send run', runId, { runId, actor });
  });
  await shop.tasks.perform('send run', runId);
}

/** Nests and queues a run that goes by itself. What can't go stays a draft for a person, and the wire says why. */
export async function sendRun(
  shop: Shop,
  { runId, actor }: ShopTaskKinds['send run'],
  { signal, progress }: TaskSteps<ShopTaskKinds['send run']>,
): Promise<void> {
  const row = () => findRun(shop.db, runId);
  const before = row();
  if (before?.goAtMs == null || before.state !== 'draft') return;
  try {
    // People who wait go first; this goes by itself, unless a person has sent it just now.
    const how: RunHow = { priority: actor.kind === 'person' ? 'a person waits' : 'the shop waits', signal };
    const layout = await nestDraft(shop, runId, NEST_MS, how);
    progress(NESTED_SHARE);
    // Who has laid it out meanwhile has taken it in hand; their layout stays.
    if (row()?.version !== before.version) return;
    layOutRun(shop, runId, layout, { by: PROGRAM, ifVersion: before.version });
    await ensurePrintable(shop, runId, how);
    if (row()?.goAtMs == null) return;
    queueRun(shop, runId, actor);
  } catch (error) {
    if (isClosing(error) || shop.storage.noticed(error)) throw error;
    if (!(error instanceof Refused) && !signal.aborted)
      shop.log.error({ err: error, runId }, 'a run could not be sent');
    staysDraft(shop, runId, actor, error instanceof Error ? error.message : 'it failed');
    if (signal.aborted) throw error;
  }
}

/** It no longer goes by itself; a person looks at it. */
function staysDraft(shop: Shop, runId: string, actor: Actor, reason: string): void {
  transact(shop, (work) => {
    const run = work.tx
      .update(runs)
      .set({ goAtMs: null })
      .where(and(eq(runs.id, runId), eq(runs.state, 'draft')))
      .returning()
      .get() as RunRow | undefined;
    if (!run) return;
    work.touch({ type: 'run', id: runId });
    work.note({ kind: 'run.stayed', subject: ['run', runId], actor, data: { run: run.number, reason } });
  });
}

/** Queues the runs whose time has come; those that a crash left behind are among them. */
export async function releaseDueRuns(shop: Shop): Promise<void> {
  const due = shop.db
    .select({ id: runs.id })
    .from(runs)
    .where(and(eq(runs.state, 'draft'), lte(runs.goAtMs, shop.clock.now())))
    .all();
  for (const { id } of due) await releaseRun(shop, id, timer('rule-go', 'rule go'));
}

/** Jobs that came in by the rule *go* and are ready, not yet in a run. */
export async function autoSubmitArrived(
  shop: Shop,
  jobIds: readonly string[],
  rule: string | null | undefined,
): Promise<void> {
  const first = shop.db
    .select({ job: jobs, queue: queues })
    .from(jobs)
    .innerJoin(queues, eq(queues.id, jobs.queueId))
    .where(eq(jobs.id, jobIds[0] ?? ''))
    .get();
  if (!first || (rule ?? first.queue.arrivalRule) !== 'go') return;
  const ready = shop.db
    .selectDistinct({ id: jobs.id })
    .from(jobs)
    .innerJoin(pieces, and(eq(pieces.jobId, jobs.id), eq(pieces.state, 'owed')))
    .where(and(inArray(jobs.id, [...jobIds]), eq(jobs.state, 'ready')))
    .all()
    .map((row) => row.id);
  if (ready.length > 0) await autoSubmit(shop, ready, first.queue.goAfterMin, PROGRAM);
}
