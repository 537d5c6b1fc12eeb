import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { jobs, refusals } from '../db/schema.ts';
import type { Intake } from '../ingest/intake.ts';
import { Refused, type Shop, newId } from '../shop.ts';
import { changeJob } from '../usecases/changeJobs.ts';
import { createRun } from '../usecases/createRun.ts';
import { layOutRun } from '../usecases/layOutRun.ts';
import { nestDraft } from '../usecases/nestDraft.ts';
import { queueRun } from '../usecases/runSteps.ts';
import { demoJobs } from './demoJobs.ts';
import { demoIsDone } from './seedFloor.ts';

/**
 * Fills the demo the way its people would: files come in, tickets are set, some runs are laid out and queued. What is there
 * already is left as it is, so that a start that was broken off is ended by the next one.
 */
export async function seedDemo(shop: Shop, intake: Intake): Promise<void> {
  const there = new Set(
    shop.db
      .select({ name: jobs.sourceName })
      .from(jobs)
      .all()
      .map((job) => job.name),
  );
  const refused = new Set(
    shop.db
      .select({ name: refusals.sourceName })
      .from(refusals)
      .all()
      .map((file) => file.name),
  );
  const ids = new Map<string, string[]>();
  for (const job of await demoJobs(shop.clock.now())) {
    if (there.has(job.name) || refused.has(job.name)) continue;
    const jobId = await bringIn(shop, intake, job.queueId, job.name, await job.file());
    if (jobId === undefined) continue;
    changeJob(shop, jobId, job.ticket, 'demo');
    if (job.run !== undefined) ids.set(job.run, [...(ids.get(job.run) ?? []), jobId]);
  }
  for (const jobIds of ids.values()) {
    const runId = createRun(shop, jobIds, 'demo');
    layOutRun(shop, runId, await nestDraft(shop, runId, 400));
    try {
      queueRun(shop, runId, 'demo');
    } catch (error) {
      // It waits on the Bench, as it would for anybody; the shop opens all the same.
      if (!(error instanceof Refused)) throw error;
      shop.log.warn({ err: error, run: runId }, 'a run of the demo could not be queued');
    }
  }
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
