import { mkdir, readFile, readdir, rename, rm, rmdir, unlink } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { eq } from 'drizzle-orm';
import { refusals } from '../db/schema.ts';
import { exists, writeWhole } from '../files/atomic.ts';
import { Refused, type Shop } from '../shop.ts';
import { type Arrival, admitJob, jobsOfClaim } from '../usecases/admitJob.ts';
import { routeArrived } from '../usecases/routeJobs.ts';
import { goOnArrived } from '../usecases/goOn.ts';
import { refuseFile } from '../usecases/refuseFile.ts';

/** A file that has been claimed: it lies alone in a folder named after the claim, under its own name. */
export interface Claim extends Arrival {
  readonly path: string;
  /** Where it goes if it can't be read. */
  readonly sideDir: string;
  /** Where it goes once its job is there; null: it is removed. */
  readonly doneDir: string | null;
  /** Its ticket is wrong: it is put aside for that. */
  readonly problem?: string;
}

export type IntakeOutcome = { readonly jobIds: readonly string[] } | { readonly refused: string };

/** Beside a claimed file: what its name and its ticket said. */
export const SAID = '.said.json';

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
    const jobIds = jobsOfClaim(shop.db, claim.claimId);
    if (jobIds.length > 0) {
      await this.release(claim);
      return { jobIds };
    }
    const before = shop.db.select().from(refusals).where(eq(refusals.claimId, claim.claimId)).get();
    if (before) return this.setAside(claim, before.reason, before.sidePath);
    const reason = claim.problem ?? (await this.read(claim));
    return typeof reason === 'string' ? this.refuse(claim, reason) : reason;
  }

  /** @returns the job, or why there is none */
  private async read(claim: Claim): Promise<{ jobIds: readonly string[] } | string> {
    const { shop } = this;
    try {
      const answer = await shop.pool.take(claim.path);
      if (!answer.ok) {
        const { reason, detail } = answer;
        if (detail !== undefined) shop.log.warn({ file: claim.sourceName, detail }, 'a damaged file');
        return reason;
      }
      const jobIds = admitJob(shop, claim, answer);
      await this.release(claim);
      await routeArrived(shop, jobIds).catch((error: unknown) => {
        shop.log.error({ err: error, jobIds }, 'jobs that arrived could not be routed; they stay in their queue');
      });
      await goOnArrived(shop, jobIds, claim.arrivalRule).catch((error: unknown) => {
        shop.log.error({ err: error, file: claim.sourceName }, 'a job that should go on by itself waits');
      });
      return { jobIds };
    } catch (error) {
      if (error instanceof Refused) return [error.message, error.remedy].filter(Boolean).join(' ');
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
    await removeClaim(claim.path);
    return { refused: reason };
  }

  private async release(claim: Claim): Promise<void> {
    if (claim.doneDir !== null && (await exists(claim.path))) {
      await mkdir(claim.doneDir, { recursive: true });
      await rename(claim.path, await freePath(claim.doneDir, claim.sourceName));
    }
    await rm(claim.path, { force: true });
    await removeClaim(claim.path);
  }
}

/** A name in a folder that is not taken yet. */
export async function freePath(dir: string, name: string): Promise<string> {
  const dot = name.lastIndexOf('.');
  const stem = dot > 0 ? name.slice(0, dot) : name;
  const ending = dot > 0 ? name.slice(dot) : '';
  for (let n = 1; ; n++) {
    const path = join(dir, n === 1 ? name : `${stem} (${String(n)})${ending}`);
    if (!(await exists(path)) && !(await exists(`${path}.reason.txt`))) return path;
  }
}

async function removeClaim(path: string): Promise<void> {
  await rm(join(dirname(path), SAID), { force: true });
  await removeEmpty(dirname(path));
}

async function removeEmpty(dir: string): Promise<void> {
  try {
    await rmdir(dir);
  } catch {
    // Not empty or gone already: the next start looks at it again.
  }
}

export interface LeftClaim {
  readonly claimId: string;
  readonly path: string;
  readonly said: Pick<Claim, 'fileName' | 'ticketFile' | 'problem'>;
}

/** Claims found in a folder of claims: each is a folder with one file, and what was said of it. Empty ones are removed. */
export async function leftoverClaims(dir: string): Promise<LeftClaim[]> {
  if (!(await exists(dir))) return [];
  const found: LeftClaim[] = [];
  for (const entry of await readdir(dir, { withFileTypes: true })) {
    if (!entry.isDirectory()) {
      await unlink(join(dir, entry.name));
      continue;
    }
    const files = await readdir(join(dir, entry.name));
    const file = files.find((name) => name !== SAID && !name.endsWith('.part'));
    if (file === undefined) await rm(join(dir, entry.name), { recursive: true, force: true });
    else
      found.push({ claimId: entry.name, path: join(dir, entry.name, file), said: await saidOf(join(dir, entry.name)) });
  }
  return found;
}

async function saidOf(dir: string): Promise<LeftClaim['said']> {
  try {
    return JSON.parse(await readFile(join(dir, SAID), 'utf8')) as LeftClaim['said'];
  } catch {
    // Claimed by an earlier version, or never written: the file speaks for itself.
    return {};
  }
}
