import { nestOnRoll, type NestLayout } from '../../core/layout/nest.ts';
import type { NestInput } from '../../core/layout/nestInput.ts';
import { storeFile } from '../files/atomic.ts';
import { DataPaths } from '../files/paths.ts';
import { lookAt } from '../ingest/wholeness.ts';
import type { Limits } from '../limits.ts';
import { type FileFacts, type FileFormat, Unreadable } from './facts.ts';
import { type LayPdfInput, layPdf } from './layPdf.ts';
import { drawPdfPage, readPdf } from './readPdf.ts';
import type { PictureSize } from './pictureSizes.ts';
import { drawPicture, readPicture } from './readPicture.ts';

/** What a worker thread can be asked; answers are plain data, refusals are answers. */
export type Task =
  | { readonly kind: 'take'; readonly path: string; readonly root: string; readonly limits: Limits }
  | {
      readonly kind: 'draw';
      readonly sha256: string;
      readonly page: number;
      readonly size: PictureSize;
      readonly format: FileFormat;
      readonly root: string;
      readonly limits: Limits;
    }
  | { readonly kind: 'lay'; readonly root: string; readonly input: LayPdfInput }
  | {
      readonly kind: 'nest';
      readonly input: NestInput;
      readonly seed: number;
      readonly stepBudget: number;
      readonly timeLimitMs: number;
    };

export type TakeAnswer =
  | { readonly ok: true; readonly sha256: string; readonly bytes: number; readonly facts: FileFacts }
  | { readonly ok: false; readonly reason: string };

export async function take(path: string, root: string, limits: Limits): Promise<TakeAnswer> {
  const paths = new DataPaths(root);
  try {
    const look = await lookAt(path);
    if (look.kind === 'empty') throw new Unreadable('The file is empty.');
    if (look.kind === 'unsupported') {
      throw new Unreadable(`This is ${look.looksLike}. PDF, PNG and JPEG can be printed.`);
    }
    if (look.kind === 'incomplete' && look.format === undefined) throw new Unreadable(`The file lacks ${look.lacks}.`);
    if (look.kind === 'incomplete') {
      throw new Unreadable(
        `The ${look.format === 'jpeg' ? 'JPEG' : (look.format ?? '').toUpperCase()} is cut short: it lacks ${look.lacks}. Copy it again.`,
      );
    }
    const { sha256, bytes } = await storeFile(path, paths.temporary, (hash) => paths.source(hash));
    const source = paths.source(sha256);
    const facts =
      look.format === 'pdf'
        ? await readPdf(source, sha256, paths, limits)
        : await readPicture(source, look.format, sha256, paths, limits);
    return { ok: true, sha256, bytes, facts };
  } catch (error) {
    if (error instanceof Unreadable) return { ok: false, reason: error.message };
    throw error;
  }
}

export function nest(task: Extract<Task, { kind: 'nest' }>): NestLayout {
  const end = performance.now() + task.timeLimitMs;
  return nestOnRoll(task.input, {
    seed: task.seed,
    stepBudget: task.stepBudget,
    shouldStop: () => performance.now() > end,
  });
}

export async function runTask(task: Task): Promise<unknown> {
  switch (task.kind) {
    case 'take':
      return take(task.path, task.root, task.limits);
    case 'draw': {
      const paths = new DataPaths(task.root);
      const source = paths.source(task.sha256);
      if (task.format === 'pdf') await drawPdfPage(source, task.sha256, task.page, task.size, paths);
      else await drawPicture(source, task.sha256, task.size, paths, task.limits);
      return undefined;
    }
    case 'lay':
      return layPdf(task.input, new DataPaths(task.root));
    case 'nest':
      return nest(task);
  }
}
