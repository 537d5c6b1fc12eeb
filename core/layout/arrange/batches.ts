import type { RectMm } from '../../geometry/frame.ts';
import { turnedSize } from '../../geometry/turn.ts';
import { nest } from '../nest.ts';
import { type NestRules, type RunNestPiece, runNest } from '../runNest.ts';
import type { RegisteredEdge } from '../usableWidth.ts';

/** A job that waits, with what it still owes. */
export interface WaitingJob {
  readonly jobId: string;
  /** Of the printer that its queue feeds. */
  readonly printerId: string;
  /** Values that must be equal in a run: name and value of each. */
  readonly runWide: Readonly<Record<string, string>>;
  readonly dueMs: number | null;
  readonly pieces: readonly RunNestPiece[];
}

/** How runs lie on one printer and stock. */
export interface BatchMedia {
  readonly usableWidthMm: number;
  readonly registeredEdge: RegisteredEdge;
  readonly rules: NestRules;
  /** Fed behind each run. */
  readonly trailerMm: number;
  readonly longestMm: number;
}

export interface Batch {
  readonly printerId: string;
  readonly jobIds: readonly string[];
  /** Length of the batch, and of its jobs as runs of their own, trailers included (mm). */
  readonly lengthMm: number;
  readonly aloneMm: number;
  readonly laid: readonly RectMm[];
  /** Each job as a run of its own. */
  readonly alone: readonly JobAlone[];
  /** The earliest of its jobs. */
  readonly dueMs: number | null;
  /** Jobs that would go along if one value were another. */
  readonly nearly: readonly { readonly jobId: string; readonly differs: string }[];
}

export interface JobAlone {
  readonly jobId: string;
  /** Trailer included (mm). */
  readonly lengthMm: number;
  readonly laid: readonly RectMm[];
}

export interface BatchControl {
  /** Packings tried for each nest. */
  readonly stepBudget: number;
  readonly shouldStop: () => boolean;
}

/**
 * What would go together in one run: jobs of one printer whose run-wide values are equal. Each group is nested whole and job
 * by job, so that what is saved is measured, not guessed. A group that would be longer than the printer prints in one go
 * is parted, the earlier due dates first. Groups of one job are no batch.
 * @param mediaOf for the first job of a group
 */
export function proposeBatches(
  jobs: readonly WaitingJob[],
  mediaOf: (job: WaitingJob) => BatchMedia,
  control: BatchControl,
): Batch[] {
  const groups = new Map<string, WaitingJob[]>();
  const byDue = [...jobs].sort((a, b) => (a.dueMs ?? Infinity) - (b.dueMs ?? Infinity));
  for (const job of byDue) {
    const key = `${job.printerId}|${JSON.stringify(job.runWide)}`;
    const same = groups.get(key);
    if (same) same.push(job);
    else groups.set(key, [job]);
  }
  return [...groups.values()]
    .filter((group) => group.length > 1)
    .flatMap((group) => batchesOf(group, mediaOf, control))
    .map(({ members, ...batch }) => ({ ...batch, nearly: nearlyOf(members, jobs) }))
    .sort((a, b) => (a.dueMs ?? Infinity) - (b.dueMs ?? Infinity));
}

type Made = Omit<Batch, 'nearly'> & { readonly members: readonly WaitingJob[] };

function batchesOf(
  group: readonly WaitingJob[],
  mediaOf: (job: WaitingJob) => BatchMedia,
  control: BatchControl,
): Made[] {
  const [first] = group;
  if (!first || group.length < 2) return [];
  const media = mediaOf(first);
  const whole = nested(group, media, control);
  if (!whole) return [];
  if (whole.lengthMm > media.longestMm && group.length > 2) {
    const half = Math.ceil(group.length / 2);
    return [...batchesOf(group.slice(0, half), mediaOf, control), ...batchesOf(group.slice(half), mediaOf, control)];
  }
  return [made(group, whole, media, control)];
}

function made(group: readonly WaitingJob[], whole: NestedJobs, media: BatchMedia, control: BatchControl): Made {
  const alone = group.map((job): JobAlone => {
    const { lengthMm = 0, laid = [] } = nested([job], media, control) ?? {};
    return { jobId: job.jobId, lengthMm: lengthMm + media.trailerMm, laid };
  });
  return {
    printerId: group[0]?.printerId ?? '',
    jobIds: group.map((job) => job.jobId),
    lengthMm: whole.lengthMm + media.trailerMm,
    aloneMm: alone.reduce((sum, { lengthMm }) => sum + lengthMm, 0),
    laid: whole.laid,
    alone,
    dueMs: group.reduce<number | null>((least, { dueMs }) => earlier(least, dueMs), null),
    members: group,
  };
}

function earlier(a: number | null, b: number | null): number | null {
  return a === null || b === null ? (a ?? b) : Math.min(a, b);
}

/** What some jobs come to as one run, as a person has chosen them; undefined where they can't be laid out together. */
export function batchOf(
  jobs: readonly WaitingJob[],
  mediaOf: (job: WaitingJob) => BatchMedia,
  control: BatchControl,
): Batch | undefined {
  const [first] = jobs;
  if (!first || jobs.some(({ runWide }) => JSON.stringify(runWide) !== JSON.stringify(first.runWide))) return undefined;
  const media = mediaOf(first);
  const whole = nested(jobs, media, control);
  if (!whole) return undefined;
  const { members: _members, ...batch } = made(jobs, whole, media, control);
  return { ...batch, nearly: [] };
}

interface NestedJobs {
  readonly lengthMm: number;
  readonly laid: readonly RectMm[];
}

function nested(
  jobs: readonly WaitingJob[],
  { usableWidthMm, registeredEdge, rules }: BatchMedia,
  { stepBudget, shouldStop }: BatchControl,
): NestedJobs | undefined {
  const pieces = jobs.flatMap((job) => job.pieces);
  const problem = runNest(pieces, rules, usableWidthMm, registeredEdge);
  if (!problem.ok) return undefined;
  const layout = nest(problem.value.input, { seed: 1, stepBudget, shouldStop });
  const sizes = new Map(pieces.map((piece) => [piece.pieceId, piece]));
  const laid = layout.placements.flatMap((placement) => {
    const { pieceId, xMm, yMm, angleDeg } = problem.value.place(placement);
    const piece = sizes.get(pieceId);
    return piece ? [{ xMm, yMm, ...turnedSize(piece.widthMm, piece.heightMm, angleDeg) }] : [];
  });
  return { lengthMm: layout.lengthMm, laid };
}

/** Jobs of the same printer that differ from a batch in exactly one run-wide value. */
function nearlyOf(
  batch: readonly WaitingJob[],
  jobs: readonly WaitingJob[],
): { readonly jobId: string; readonly differs: string }[] {
  const [first] = batch;
  if (!first) return [];
  return jobs
    .filter((job) => job.printerId === first.printerId)
    .flatMap(({ jobId, runWide }) => {
      const differing = Object.keys(first.runWide).filter((key) => runWide[key] !== first.runWide[key]);
      const [only, more] = differing;
      return only !== undefined && more === undefined ? [{ jobId, differs: only }] : [];
    });
}

/**
 * How often media or mode change between neighbours of a line.
 * @param line what each run needs, in order
 */
export function changeOvers(line: readonly string[]): number {
  return line.filter((needs, i) => i > 0 && needs !== line[i - 1]).length;
}
