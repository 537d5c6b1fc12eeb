import { mkdir, readdir, rename, rm, rmdir, unlink } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { eq } from 'drizzle-orm';
import { jobs, refusals } from '../db/schema.ts';
import { exists, writeWhole } from '../files/atomic.ts';
import type { Shop } from '../shop.ts';
import { type Arrival, admitJob } from '../usecases/admitJob.ts';
import { refuseFile } from '../usecases/refuseFile.ts';

/** A file that has been claimed: it lies alone in a folder named after the claim, under its own name. */
export interface Claim extends Arrival {
  readonly path: string;
  /** Where it goes if it can't be read. */
  readonly sideDir: string;
}

export type IntakeOutcome = { readonly jobId: string } | { readonly refused: string };

/** Claims worked on at once; the pool holds the rest back. */
const AT_ONCE = 3;

/**
 * Turns claims into jobs or refusals. Whatever happens in between, a claimed file is found again at the next start: it is
 * removed only after its job is committed, and moved aside only after its refusal is.
 */
export class Intake {
  private readonly waiting: {
    claim: Claim;
    done: (outcome: IntakeOutcome) => void;
    failed: (error: unknown) => void;
  }[] = [];
  private working = 0;

  constructor(private readonly shop: Shop) {}

  get backlog(): number {
    return this.waiting.length + this.working;
  }

  accept(claim: Claim): Promise<IntakeOutcome> {
    return new Promise((done, failed) => {
      this.waiting.push({ claim, done, failed });
      this.pump();
    });
  }

  private pump(): void {
    while (this.working < AT_ONCE) {
      const next = this.waiting.shift();
      if (!next) return;
      this.working += 1;
      this.bringIn(next.claim)
        .then(next.done, next.failed)
        .finally(() => {
          this.working -= 1;
          this.pump();
        });
    }
  }

  private async bringIn(claim: Claim): Promise<IntakeOutcome> {
    const { shop } = this;
    const known = shop.db.select({ id: jobs.id }).from(jobs).where(eq(jobs.claimId, claim.claimId)).get();
    if (known) {
      await this.release(claim);
      return { jobId: known.id };
    }
    const before = shop.db.select().from(refusals).where(eq(refusals.claimId, claim.claimId)).get();
    if (before) return this.setAside(claim, before.reason, before.sidePath);
    const reason = await this.read(claim);
    return typeof reason === 'string' ? this.refuse(claim, reason) : reason;
  }

  /** @returns the job, or why there is none */
  private async read(claim: Claim): Promise<{ jobId: string } | string> {
    const { shop } = this;
    try {
      const answer = await shop.pool.take(claim.path);
      if (!answer.ok) return answer.reason;
      const jobId = admitJob(shop, claim, answer);
      await this.release(claim);
      return { jobId };
    } catch (error) {
      shop.log.error({ err: error, file: claim.sourceName }, 'a file could not be brought in');
      if (error instanceof Error && error.name === 'AbortError') {
        return `Reading it took longer than ${String(shop.limits.taskMs / 1000)} s and was stopped.`;
      }
      return 'Reading it failed inside the program; the log says more. The file is kept here.';
    }
  }

  private async refuse(claim: Claim, reason: string): Promise<IntakeOutcome> {
    const sidePath = await freePath(claim.sideDir, claim.sourceName);
    refuseFile(this.shop, claim, reason, sidePath);
    return this.setAside(claim, reason, sidePath);
  }

  private async setAside(claim: Claim, reason: string, sidePath: string): Promise<IntakeOutcome> {
    await mkdir(dirname(sidePath), { recursive: true });
    await writeWhole(`${sidePath}.reason.txt`, `${claim.sourceName}\n${reason}\n`);
    if (await exists(claim.path)) await rename(claim.path, sidePath);
    await removeEmpty(dirname(claim.path));
    return { refused: reason };
  }

  private async release(claim: Claim): Promise<void> {
    await rm(claim.path, { force: true });
    await removeEmpty(dirname(claim.path));
  }
}

/** A name in the side folder that is not taken yet. */
async function freePath(dir: string, name: string): Promise<string> {
  const dot = name.lastIndexOf('.');
  const stem = dot > 0 ? name.slice(0, dot) : name;
  const ending = dot > 0 ? name.slice(dot) : '';
  for (let n = 1; ; n++) {
    const path = join(dir, n === 1 ? name : `${stem} (${String(n)})${ending}`);
    if (!(await exists(path)) && !(await exists(`${path}.reason.txt`))) return path;
  }
}

async function removeEmpty(dir: string): Promise<void> {
  try {
    await rmdir(dir);
  } catch {
    // Not empty or gone already: the next start looks at it again.
  }
}

/** Claims found in a folder of claims: each is a folder with one file. Empty ones are removed. */
export async function leftoverClaims(dir: string): Promise<{ claimId: string; path: string }[]> {
  if (!(await exists(dir))) return [];
  const found: { claimId: string; path: string }[] = [];
  for (const entry of await readdir(dir, { withFileTypes: true })) {
    if (!entry.isDirectory()) {
      await unlink(join(dir, entry.name));
      continue;
    }
    const files = await readdir(join(dir, entry.name));
    const [file] = files;
    if (file === undefined) await removeEmpty(join(dir, entry.name));
    else found.push({ claimId: entry.name, path: join(dir, entry.name, file) });
  }
  return found;
}
