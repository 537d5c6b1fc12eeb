import { awayDriversOf, awayNightsOf, awayPlanOf } from '../usecases/away/awayWork.ts';
import { nightOf } from '../usecases/away/nightWork.ts';
import { fitsOfAll } from '../usecases/plan/fits.ts';
import { snapshotFor } from '../usecases/plan/plannedFloor.ts';
import type {
  BatchOrder,
  FirstLookAnswer,
  LineOrders,
  NestOrder,
  PictureOrder,
  WorkerPlace,
  WorkerTask,
} from './kinds.ts';
import {
  type Batch,
  type BatchMedia,
  type WaitingJob,
  batchOf,
  proposeBatches,
} from '../../core/layout/arrange/batches.ts';
import { seededRandom } from '../../core/random.ts';
import { type OrderAnswer, proposeOrder } from '../../core/schedule/proposeOrder.ts';
import type { NestLayout } from '../../core/layout/nestLayout.ts';
import { nest as nestPieces } from '../../core/layout/nest.ts';
import { type Tell, nowAndThen, untilTimeIsUp } from './progress.ts';
import { storeFile } from '../files/atomic.ts';
import { DataPaths } from '../files/paths.ts';
import { inspectFile } from '../render/completeness.ts';
import type { Limits } from '../limits.ts';
import { FORMAT_NAMES, type FileFormat } from '../../core/ticket/fileFormat.ts';
import { type FileFacts, Unreadable } from '../render/facts.ts';
import { checkPlotFile, readCheckPlot } from '../render/out/checkPlotFiles.ts';
import { jobSheet } from '../render/out/jobSheet.ts';
import { layPdf } from '../render/out/layPdf.ts';
import { drawPdfPage, readPdf } from '../render/pdf/readPdf.ts';
import { readSvg, svgAsPdf } from '../render/svg/readSvg.ts';
import { coatFile, partFile } from '../render/channels/coatFile.ts';
import { widePicture } from '../render/colour/widePicture.ts';
import { wideArtwork } from '../render/colour/wideArtwork.ts';
import { previewColour } from '../render/colour/previewColour.ts';
import { renderPart, underOf } from '../render/channels/renderPart.ts';
import { sampleInk } from '../render/channels/sampleInk.ts';
import { unscreenedTile } from '../render/channels/unscreenedTile.ts';
import { assemblyMap } from '../render/out/assemblyMap.ts';
import { runPicture } from '../render/out/runPicture.ts';
import { shopChanges } from '../../core/pace/shopChanges.ts';
import { bestChangesOf, whatIfOf } from '../usecases/pace/whatif/whatIfWork.ts';
import { quotesOf } from '../usecases/quote/quoteWork.ts';
import { spoolsFor } from '../usecases/media/spoolWork.ts';
import { weekSheet } from '../render/out/weekSheet.ts';
import { listSheet } from '../render/out/listSheet.ts';
import { worksheet } from '../render/out/worksheet.ts';
import { drawPicture as drawRaster, readPicture } from '../render/picture/readPicture.ts';

/** Looks at a file for the first time: stores it under its hash, and reads what it is. A refusal is an answer. */
export async function firstLook(path: string, root: string, limits: Limits): Promise<FirstLookAnswer> {
  const paths = new DataPaths(root);
  try {
    const found = await inspectFile(path);
    if (found.kind === 'empty') throw new Unreadable('The file is empty.');
    if (found.kind === 'unsupported') {
      throw new Unreadable(`Not supported: this is ${found.looksLike}. ${found.instead}`);
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

async function drawPicture(order: PictureOrder, { root, limits }: WorkerPlace): Promise<null> {
  const { sha256, page, size, appearance, format } = order;
  const paths = new DataPaths(root);
  const source = paths.source(sha256);
  if (format === 'pdf' || format === 'svg') {
    const dropped = appearance?.without?.name ?? undefined;
    const pdf = format === 'svg' ? await svgAsPdf(source, sha256, paths, limits, dropped) : source;
    await drawPdfPage(pdf, sha256, page, size, appearance, paths);
  } else await drawRaster(source, page, format, { sha256, size, appearance }, paths, limits);
  return null;
}

const clock = (): number => performance.now();

function nest({ input, seed, stepBudget, timeLimitMs }: NestOrder, tell: Tell): NestLayout {
  const start = clock();
  return nestPieces(input, {
    seed,
    stepBudget,
    shouldStop: untilTimeIsUp(timeLimitMs, tell, clock),
    spentShare: () => (clock() - start) / timeLimitMs,
  });
}

function batchesOf({ jobs, media, asOne, stepBudget, timeLimitMs }: BatchOrder, tell: Tell): Batch[] {
  const mediaOf = ({ jobId }: WaitingJob): BatchMedia => {
    const known = media[jobId];
    if (!known) throw new Error(`job ${jobId} has no media`);
    return known;
  };
  const control = { stepBudget, shouldStop: untilTimeIsUp(timeLimitMs, tell, clock) };
  if (asOne !== true) return proposeBatches(jobs, mediaOf, control);
  const batch = batchOf(jobs, mediaOf, control);
  return batch ? [batch] : [];
}

function ordersOf({ floor, lines, timeLimitMs }: LineOrders, tell: Tell): OrderAnswer[] {
  const snapshot = snapshotFor(floor);
  const start = clock();
  return lines.map((line, i) => {
    // Each line has its share of the time, and what the ones before it left.
    const end = start + (timeLimitMs * (i + 1)) / lines.length;
    return proposeOrder({ floor: snapshot, ...line }, seededRandom(1), 1e6, () => {
      tell((clock() - start) / timeLimitMs);
      return clock() > end;
    });
  });
}

/** Does one task, in whatever thread it is called. */
export async function runTask(task: WorkerTask): Promise<unknown> {
  const { told } = task;
  const tell = nowAndThen(
    told &&
      ((share) => {
        told.postMessage(share);
      }),
    clock,
  );
  switch (task.kind) {
    case 'first look':
      return firstLook(task.input.path, task.root, task.limits);
    case 'picture':
      return drawPicture(task.input, task);
    case 'run pdf':
      return orRefused(layPdf(task.input, new DataPaths(task.root), task.limits, tell));
    case 'wide artwork':
      return orRefused(wideArtwork(task.input, new DataPaths(task.root), task.limits));
    case 'wide picture':
      return widePicture(task.input);
    case 'coat pictures':
      return orRefused(underOf(task.input, new DataPaths(task.root)).then(() => null));
    case 'coat part':
      return orRefused(renderPart(task.input, new DataPaths(task.root), tell));
    case 'coat preview':
      return orRefused(previewColour(task.input, new DataPaths(task.root)));
    case 'ink sample':
      return orRefused(sampleInk(task.input.coat, new DataPaths(task.root), task.input.mostMs));
    case 'unscreened tile':
      return orRefused(unscreenedTile(task.input, new DataPaths(task.root)));
    case 'coat part file':
      return (await partFile(new DataPaths(task.root), task.input.order, task.input.part)) ?? null;
    case 'coat file':
      return coatFile(new DataPaths(task.root), task.input);
    case 'ready':
      return undefined;
    case 'list sheet':
      return listSheet(task.input);
    case 'week sheet':
      return weekSheet(task.input);
    case 'job sheet':
      return jobSheet(task.input);
    case 'worksheet':
      return worksheet(task.input);
    case 'run picture':
      return runPicture(task.input);
    case 'batches':
      return batchesOf(task.input, tell);
    case 'pace changes':
      return shopChanges(task.input.values, task.input.asked);
    case 'quote look':
      return firstLook(task.input.path, task.input.place, task.limits);
    case 'quote':
      return quotesOf(task.input, tell);
    case 'what if':
      return whatIfOf(task.input, tell);
    case 'best changes':
      return bestChangesOf(task.input);
    case 'spools':
      return spoolsFor(task.input, clock, tell);
    case 'orders':
      return ordersOf(task.input, tell);
    case 'assembly map':
      return assemblyMap(task.input);
    case 'check plot':
      return checkPlotFile(task.input);
    case 'read check plot':
      return readCheckPlot(task.input);
    case 'nest':
      return nest(task.input, tell);
    case 'away plan':
      return awayPlanOf(task.input);
    case 'away nights':
      return awayNightsOf(task.input, tell);
    case 'away night':
      return nightOf(task.input, tell, clock);
    case 'away drivers':
      return awayDriversOf(task.input, tell);
    case 'fits':
      return fitsOfAll(task.input.floor, task.input.asks, tell);
  }
}

/** What can't be made says so as an answer: an error loses its class between threads. */
async function orRefused<T>(made: Promise<T>): Promise<T | { readonly refused: string }> {
  try {
    return await made;
  } catch (error) {
    if (error instanceof Unreadable) return { refused: error.message };
    throw error;
  }
}
