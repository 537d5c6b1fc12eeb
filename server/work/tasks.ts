import { type Batch, type BatchMedia, type WaitingJob, proposeBatches } from '../../core/layout/arrange/batches.ts';
import { seededRandom } from '../../core/random.ts';
import { type OrderAnswer, type OrderQuestion, proposeOrder } from '../../core/schedule/proposeOrder.ts';
import { Attendance, type TimeSpan } from '../../core/schedule/shopHours.ts';
import type { NestLayout } from '../../core/layout/nestLayout.ts';
import { nest as nestPieces } from '../../core/layout/nest.ts';
import type { NestInput } from '../../core/layout/nestInput.ts';
import { storeFile } from '../files/atomic.ts';
import { DataPaths } from '../files/paths.ts';
import { inspectFile } from '../render/completeness.ts';
import type { Limits } from '../limits.ts';
import { FORMAT_NAMES, type FileFormat } from '../../core/ticket/fileFormat.ts';
import { type FileFacts, Unreadable } from '../render/facts.ts';
import { type JobSheetInput, jobSheet } from '../render/out/jobSheet.ts';
import { type LaidPdf, type LayPdfInput, layPdf } from '../render/out/layPdf.ts';
import type { Appearance } from '../render/picture/pictures.ts';
import { drawPdfPage, readPdf } from '../render/pdf/readPdf.ts';
import { readSvg, svgAsPdf } from '../render/svg/readSvg.ts';
import type { PictureSize } from '../render/picture/pictureSizes.ts';
import { type AssemblyInput, assemblyMap } from '../render/out/assemblyMap.ts';
import { type RunPictureInput, runPicture } from '../render/out/runPicture.ts';
import { type WorksheetInput, worksheet } from '../render/out/worksheet.ts';
import { drawPicture, readPicture } from '../render/picture/readPicture.ts';

/** What a worker thread can be asked; answers are plain data, refusals are answers. */
/** A run as PDF, or why it can't be one. */
export type LayAnswer = LaidPdf | { readonly refused: string };

export type Task =
  | { readonly kind: 'take'; readonly path: string; readonly root: string; readonly limits: Limits }
  | {
      readonly kind: 'draw';
      readonly sha256: string;
      readonly page: number;
      readonly size: PictureSize;
      readonly format: FileFormat;
      readonly appearance: Appearance | undefined;
      readonly root: string;
      readonly limits: Limits;
    }
  | { readonly kind: 'lay'; readonly root: string; readonly limits: Limits; readonly input: LayPdfInput }
  | { readonly kind: 'ready' }
  | { readonly kind: 'sheet'; readonly input: JobSheetInput }
  | { readonly kind: 'worksheet'; readonly input: WorksheetInput }
  | { readonly kind: 'run picture'; readonly input: RunPictureInput }
  | ({ readonly kind: 'batches' } & BatchOrder)
  | ({ readonly kind: 'orders' } & LineOrders)
  | { readonly kind: 'assembly'; readonly input: AssemblyInput }
  | {
      readonly kind: 'nest';
      readonly input: NestInput;
      readonly seed: number;
      readonly stepBudget: number;
      readonly timeLimitMs: number;
    };

export type FirstLookAnswer =
  | { readonly ok: true; readonly sha256: string; readonly bytes: number; readonly facts: FileFacts }
  | {
      readonly ok: false;
      readonly reason: string;
      /** What a library stumbled over, for the log. */
      readonly detail?: string;
    };

export async function take(path: string, root: string, limits: Limits): Promise<FirstLookAnswer> {
  const paths = new DataPaths(root);
  try {
    const found = await inspectFile(path);
    if (found.kind === 'empty') throw new Unreadable('The file is empty.');
    if (found.kind === 'unsupported') {
      throw new Unreadable(`This is ${found.looksLike}. PDF, PNG, JPEG, TIFF and SVG can be printed.`);
    }
    if (found.kind === 'incomplete' && found.format === undefined)
      throw new Unreadable(`The file lacks ${found.lacks}.`);
    if (found.kind === 'incomplete') {
      throw new Unreadable(
        `The ${FORMAT_NAMES[found.format ?? 'pdf']} is cut short: it lacks ${found.lacks}. Copy it again.`,
      );
    }
    const { sha256, bytes } = await storeFile(path, paths.temporary, (hash) => paths.source(hash));
    const source = paths.source(sha256);
    try {
      return { ok: true, sha256, bytes, facts: await readFacts(found.format, source, sha256, paths, limits) };
    } catch (error) {
      if (error instanceof Unreadable || !(error instanceof Error) || 'code' in error) throw error;
      // A library that gives up on a file has met what no such file may hold.
      const reason = `The ${FORMAT_NAMES[found.format]} is damaged and cannot be read. Save it again from the program that made it.`;
      return { ok: false, reason, detail: error.stack ?? error.message };
    }
  } catch (error) {
    if (error instanceof Unreadable) return { ok: false, reason: error.message };
    throw error;
  }
}

function readFacts(
  format: FileFormat,
  source: string,
  sha256: string,
  paths: DataPaths,
  limits: Limits,
): Promise<FileFacts> {
  switch (format) {
    case 'pdf':
      return readPdf(source, sha256, paths, limits);
    case 'svg':
      return readSvg(source, sha256, paths, limits);
    default:
      return readPicture(source, format, sha256, paths, limits);
  }
}

async function draw(task: Extract<Task, { kind: 'draw' }>): Promise<void> {
  const { sha256, page, size, appearance, format, limits } = task;
  const paths = new DataPaths(task.root);
  const source = paths.source(sha256);
  if (format === 'pdf' || format === 'svg') {
    const dropped = appearance?.without?.name ?? undefined;
    const pdf = format === 'svg' ? await svgAsPdf(source, sha256, paths, limits, dropped) : source;
    await drawPdfPage(pdf, sha256, page, size, appearance, paths);
  } else await drawPicture(source, page, format, { sha256, size, appearance }, paths, limits);
}

export function nest(task: Extract<Task, { kind: 'nest' }>): NestLayout {
  const end = performance.now() + task.timeLimitMs;
  return nestPieces(task.input, {
    seed: task.seed,
    stepBudget: task.stepBudget,
    shouldStop: () => performance.now() > end,
  });
}

export interface BatchOrder {
  readonly jobs: readonly WaitingJob[];
  /** By job id. */
  readonly media: Readonly<Record<string, BatchMedia>>;
  readonly stepBudget: number;
  readonly timeLimitMs: number;
}

function batchesOf({ jobs, media, stepBudget, timeLimitMs }: BatchOrder): Batch[] {
  const end = performance.now() + timeLimitMs;
  const mediaOf = ({ jobId }: WaitingJob): BatchMedia => {
    const known = media[jobId];
    if (!known) throw new Error(`job ${jobId} has no media`);
    return known;
  };
  return proposeBatches(jobs, mediaOf, { stepBudget, shouldStop: () => performance.now() > end });
}

/** Lines to be put in order, all with the same people and the same now. */
export interface LineOrders {
  readonly questions: readonly OrderQuestion[];
  readonly spans: readonly TimeSpan[];
  readonly nowMs: number;
  readonly timeLimitMs: number;
}

function ordersOf({ questions, spans, nowMs, timeLimitMs }: LineOrders): OrderAnswer[] {
  const people = new Attendance(spans);
  const start = performance.now();
  return questions.map((question, i) => {
    // Each line has its share of the time, and what the ones before it left.
    const end = start + (timeLimitMs * (i + 1)) / questions.length;
    return proposeOrder(question, people, nowMs, seededRandom(1), 1e6, () => performance.now() > end);
  });
}

export async function runTask(task: Task): Promise<unknown> {
  switch (task.kind) {
    case 'take':
      return take(task.path, task.root, task.limits);
    case 'draw':
      await draw(task);
      return undefined;
    case 'lay':
      return orRefused(layPdf(task.input, new DataPaths(task.root), task.limits));
    case 'ready':
      return undefined;
    case 'sheet':
      return jobSheet(task.input);
    case 'worksheet':
      return worksheet(task.input);
    case 'run picture':
      return runPicture(task.input);
    case 'batches':
      return batchesOf(task);
    case 'orders':
      return ordersOf(task);
    case 'assembly':
      return assemblyMap(task.input);
    case 'nest':
      return nest(task);
  }
}

/** What can't be laid out says so as an answer: an error loses its class between threads. */
async function orRefused(laid: Promise<LaidPdf>): Promise<LayAnswer> {
  try {
    return await laid;
  } catch (error) {
    if (error instanceof Unreadable) return { refused: error.message };
    throw error;
  }
}
