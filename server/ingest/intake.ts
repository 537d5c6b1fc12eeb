import { TaskStopped, isClosing } from '../ports/work.ts';
import { mkdir, readFile, readdir, rename, rm, rmdir, unlink } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { eq } from 'drizzle-orm';
import { refusals } from '../db/tables/schema.ts';
import { exists, writeWhole } from '../files/atomic.ts';
import { Refused, type Shop } from '../shop.ts';
import { type Arrival, admitJob, jobsOfClaim } from '../usecases/arrival/admitJob.ts';
import { refuseFile } from '../usecases/arrival/refuseFile.ts';

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
        .finally(() => {
          // The slot is for reading files: what follows an arrival waits for nests and PDFs, and holds nobody up.
          this.working -= 1;
          this.pump();
        })
        .then(async (outcome) => {
          if ('jobIds' in outcome) await this.follow(next.claim.claimId);
          return outcome;
        })
        .then(next.done, next.failed);
    }
  }

  private async follow(claimId: string): Promise<void> {
    try {
      await this.shop.tasks.perform('arrival', claimId);
    } catch (error) {
      // It is written down that it is still to be done; the next look does it.
      this.shop.log.warn({ err: error, claimId }, 'what follows the arrival of jobs waits');
    }
  }

  private async bringIn(claim: Claim): Promise<IntakeOutcome> {
    const { shop } = this;
    const known = jobsOfClaim(shop.db, claim.claimId);
    if (known.length > 0) return this.admitted(claim, known);
    const before = shop.db.select().from(refusals).where(eq(refusals.claimId, claim.claimId)).get();
    if (before) return this.setAside(claim, before.reason, before.sidePath);
    const read = claim.problem ?? (await this.read(claim));
    return typeof read === 'string' ? this.refuse(claim, read) : this.admitted(claim, read.jobIds);
  }

  /** From here on the file is a job, whatever becomes of its claim: one that can't be cleared away now is at the next start. */
  private async admitted(claim: Claim, jobIds: readonly string[]): Promise<IntakeOutcome> {
    try {
      await this.release(claim);
    } catch (error) {
      this.shop.storage.noticed(error);
      this.shop.log.warn({ err: error, file: claim.sourceName }, 'a claim could not be cleared away');
    }
    return { jobIds };
  }

  /**
   * @returns the jobs, or why there are none
   * @throws where disk, database or the end of the server were the cause: the file stays claimed, and is brought in later
   */
  private async read(claim: Claim): Promise<{ jobIds: readonly string[] } | string> {
    const { shop } = this;
    try {
      const answer = await shop.work.run('first look', { path: claim.path }, { priority: 'the shop waits' });
      if (!answer.ok) {
        const { reason, detail } = answer;
        if (detail !== undefined) shop.log.warn({ file: claim.sourceName, detail }, 'a damaged file');
        return reason;
      }
      return { jobIds: admitJob(shop, claim, answer) };
    } catch (error) {
      if (isClosing(error) || shop.storage.noticed(error)) throw error;
      if (error instanceof Refused) return [error.message, error.remedy].filter(Boolean).join(' ');
      shop.log.error({ err: error, file: claim.sourceName }, 'a file could not be brought in');
      if (error instanceof TaskStopped && error.why === 'time') {
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
    await writeWhole(`${sidePath}${REASON_ENDING}`, `${claim.sourceName}\n${reason}\n`);
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

export const REASON_ENDING = '.reason.txt';
/** What file systems take for a name, in bytes, and what is added to one while it is written. */
const NAME_BYTES = 255;
const ADDED_BYTES = 24;

/** A name in a folder that is not taken yet; shortened where the reason beside it would have too long a name. */
export async function freePath(dir: string, name: string): Promise<string> {
  const dot = name.lastIndexOf('.');
  const isEnding = dot > 0 && name.length - dot <= 12;
  const stem = isEnding ? name.slice(0, dot) : name;
  const ending = isEnding ? name.slice(dot) : '';
  for (let n = 1; ; n++) {
    const number = n === 1 ? '' : ` (${String(n)})`;
    const room = NAME_BYTES - Buffer.byteLength(number + ending + REASON_ENDING) - ADDED_BYTES;
    const path = join(dir, `${within(stem, room)}${number}${ending}`);
    if (!(await exists(path)) && !(await exists(path + REASON_ENDING))) return path;
  }
}

/** As much of a text as fits into so many bytes, never half a character. */
function within(text: string, bytes: number): string {
  let short = text;
  while (Buffer.byteLength(short) > bytes) short = Array.from(short).slice(0, -1).join('');
  return short;
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
