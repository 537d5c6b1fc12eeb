import { COORDINATOR } from '../../core/events/actor.ts';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { inArray } from 'drizzle-orm';
import { jobs, refusals } from '../db/tables/schema.ts';
import { Intake } from '../ingest/intake.ts';
import { Refused, type Shop, newId } from '../shop.ts';
import { cancelJob } from '../usecases/ticket/closeJob.ts';
import { changeJob } from '../usecases/ticket/changeJobs.ts';
import { createRun } from '../usecases/run/createRun.ts';
import { fixStart } from '../usecases/plan/lineOrder.ts';
import { layOutRun } from '../usecases/layout/layOutRun.ts';
import { nestDraft } from '../usecases/layout/nestDraft.ts';
import { queueRun } from '../usecases/run/queueRun.ts';
import { demoJobs } from './demoJobs.ts';
import { SHOP } from './floorData.ts';
import { demoIsDone } from './seedFloor.ts';
import { timers } from '../db/tables/careTables.ts';
import { seedCare } from './seedCare.ts';
import { QUIET_QUEUE, seedHistory } from './seedHistory.ts';

const NEST_MS = 200;
const HOUR_MS = 3_600_000;

/**
 * Fills the demo the way its people would: files come in, tickets are set, some runs are laid out and queued. What is there
 * already is left as it is, so that a start that was broken off is ended by the next one.
 */
export async function seedDemo(shop: Shop, intake: Intake): Promise<void> {
  await seedHistory(shop, async (past, queueId, name, bytes) => bringIn(past, new Intake(past), queueId, name, bytes));
  const ids = new Map<string, string[]>();
  const openMs = shop.clock.now();
  const all = await demoJobs(shop.clock.now());
  const names = all.map(({ name }) => name);
  const there = new Set(
    [
      ...shop.db.select({ name: jobs.sourceName }).from(jobs).where(inArray(jobs.sourceName, names)).all(),
      ...shop.db.select({ name: refusals.sourceName }).from(refusals).where(inArray(refusals.sourceName, names)).all(),
    ].map(({ name }) => name),
  );
  const owed = all.filter(({ name }) => !there.has(name));
  const arrived = await Promise.all(
    owed.map(async (job) => {
      // Nothing goes by itself before all of it is there.
      const jobId = await bringIn(shop, intake, QUIET_QUEUE, job.name, await job.file());
      if (jobId !== undefined) changeJob(shop, jobId, { ...job.ticket, queueId: job.queueId }, COORDINATOR);
      if (jobId !== undefined && job.cancelled === true) cancelJob(shop, jobId, COORDINATOR);
      return { job, jobId };
    }),
  );
  for (const { job, jobId } of arrived) {
    if (jobId !== undefined && job.run !== undefined) ids.set(job.run, [...(ids.get(job.run) ?? []), jobId]);
  }
  const starts = new Map(owed.map(({ run = '', startsH }) => [run, startsH] as const));
  for (const [name, jobIds] of ids) {
    try {
      const runId = createRun(shop, jobIds, COORDINATOR);
      layOutRun(shop, runId, await nestDraft(shop, runId, NEST_MS), { by: COORDINATOR });
      const startsH = starts.get(name);
      if (startsH !== undefined) fixStart(shop, runId, openMs + startsH * HOUR_MS, COORDINATOR);
      queueRun(shop, runId, COORDINATOR);
    } catch (error) {
      // It waits on the Bench, as it would for anybody; the shop opens all the same.
      if (!(error instanceof Refused)) throw error;
      shop.log.warn({ err: error, jobIds }, 'a run of the demo could not be queued');
    }
  }
  if (shop.db.select().from(timers).limit(1).all().length === 0) seedCare(shop);
}

/** Lets the demo's morning go by, then time as it is wanted. From here on the demo is a shop like any other. */
export async function openDemo(shop: Shop, rate: number): Promise<void> {
  const { clock, link } = shop;
  const leadMs = Date.parse(SHOP.opensAt) - clock.now();
  if (leadMs > 0) {
    clock.step(leadMs);
    await link.setClock(clock.rate, clock.now(), clock.untilMs);
    while (clock.rate > 0) await new Promise((done) => setTimeout(done, 50));
  }
  clock.setRate(rate);
  await link.setClock(clock.rate, clock.now(), clock.untilMs);
  demoIsDone(shop.db);
}

async function bringIn(
  shop: Shop,
  intake: Intake,
  queueId: string,
  name: string,
  bytes: Uint8Array,
): Promise<string | undefined> {
  const claimId = newId('claim');
  const dir = join(shop.paths.uploads, claimId);
  await mkdir(dir, { recursive: true });
  const path = join(dir, 'file');
  await writeFile(path, bytes);
  const outcome = await intake.accept({
    claimId,
    path,
    queueId,
    hotFolderId: null,
    sourceName: name,
    sideDir: shop.paths.refused,
    doneDir: null,
  });
  return 'jobIds' in outcome ? outcome.jobIds[0] : undefined;
}
