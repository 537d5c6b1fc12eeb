import type { MessagePort } from 'node:worker_threads';
import type { Actor } from '../../core/events/actor.ts';
import type { ArrivalRule } from '../db/tables/schema.ts';
import type { Limits } from '../limits.ts';
import type { Batch, BatchMedia, WaitingJob } from '../../core/layout/arrange/batches.ts';
import type { NestInput } from '../../core/layout/nestInput.ts';
import type { NestLayout } from '../../core/layout/nestLayout.ts';
import type { Fit } from '../../core/routing/fitList.ts';
import type { OrderAnswer } from '../../core/schedule/proposeOrder.ts';
import type { ChangesAsked, SeriesValue, ShopChanges } from '../../core/pace/shopChanges.ts';
import type { BestChange } from '../../core/pace/bestChanges.ts';
import type { WhatIfAnswer } from '../../core/pace/whatIf.ts';
import type { BestChangesOrder, WhatIfOrder } from '../usecases/pace/whatif/whatIfWork.ts';
import type { QuoteOrder, QuotedFit } from '../usecases/quote/quoteWork.ts';
import type { SpoolProposalAnswer } from '../../core/spools/proposeSpools.ts';
import type { FileFormat } from '../../core/ticket/fileFormat.ts';
import type { FileFacts } from '../render/facts.ts';
import type { AssemblyInput } from '../render/out/assemblyMap.ts';
import type { PlotFileOrder, ReadPlotAnswer, ReadPlotOrder } from '../render/out/checkPlotFiles.ts';
import type { JobSheetInput } from '../render/out/jobSheet.ts';
import type { WeekSheetInput } from '../render/out/weekSheet.ts';
import type { ListSheetInput } from '../render/out/listSheet.ts';
import type { LaidPdf, LayPdfInput } from '../render/out/layPdf.ts';
import type { ArtworkOrder } from '../render/colour/wideArtwork.ts';
import type { WidePictureOrder } from '../render/colour/widePicture.ts';
import type { CoatFile } from '../render/channels/coatFile.ts';
import type { PreviewAnswer, PreviewOrder } from '../render/colour/previewColour.ts';
import type { CoatOrder, PartIndex, PartOrder } from '../render/channels/renderPart.ts';
import type { InkSample } from '../render/channels/sampleInk.ts';
import type { UnscreenedOrder, UnscreenedTile } from '../render/channels/unscreenedTile.ts';
import type { RunPictureInput } from '../render/out/runPicture.ts';
import type { WorksheetAnswer, WorksheetInput } from '../render/out/worksheet.ts';
import type { Appearance } from '../render/picture/pictures.ts';
import type { PictureSize } from '../render/picture/pictureSizes.ts';
import type { FitAsk } from '../usecases/plan/fitWork.ts';
import type { Driver } from '../../core/away/drivers.ts';
import type { AwayOrder } from '../usecases/away/awayOrder.ts';
import type { NightAnswer } from '../../core/night/proposeNight.ts';
import type { NightOrder } from '../usecases/away/nightWork.ts';
import type { AwayPlanAnswer, DriversOrder, NightsAnswer, NightsOrder } from '../usecases/away/awayWork.ts';
import type { SpoolOrder } from '../usecases/media/spoolWork.ts';
import type { Floor } from '../usecases/plan/plannedFloor.ts';

/** What a file is found to be; its bytes are stored under their hash by then. */
export type FirstLookAnswer =
  | { readonly ok: true; readonly sha256: string; readonly bytes: number; readonly facts: FileFacts }
  | {
      readonly ok: false;
      readonly reason: string;
      /** What a library stumbled over, for the log. */
      readonly detail?: string;
    };

/** A run as PDF, or why it can't be one. */
export type RunPdfAnswer = LaidPdf | { readonly refused: string };

export interface PictureOrder {
  readonly sha256: string;
  readonly page: number;
  readonly size: PictureSize;
  readonly format: FileFormat;
  readonly appearance: Appearance | undefined;
}

export interface NestOrder {
  readonly input: NestInput;
  readonly seed: number;
  readonly stepBudget: number;
  readonly timeLimitMs: number;
}

export interface BatchOrder {
  readonly jobs: readonly WaitingJob[];
  /** By job id. */
  readonly media: Readonly<Record<string, BatchMedia>>;
  /** What all of them come to as one run, instead of what could be proposed. */
  readonly asOne?: boolean;
  readonly stepBudget: number;
  readonly timeLimitMs: number;
}

/** Lines of one floor to be put in order. */
export interface LineOrders {
  readonly floor: Floor;
  readonly lines: readonly { readonly printerId: string; readonly ratePerHourMinor: number }[];
  readonly timeLimitMs: number;
}

/**
 * Every kind of task: plain data in, plain data out. Where files are meant, they are named by the hash of what is in them, or
 * of what they are made of; only the first look, and that of a quote, is given a path, since it is what finds the hash.
 */
export type TaskKinds = {
  'first look': { readonly input: { readonly path: string }; readonly output: FirstLookAnswer };
  picture: { readonly input: PictureOrder; readonly output: null };
  'run pdf': { readonly input: LayPdfInput; readonly output: RunPdfAnswer };
  'run picture': { readonly input: RunPictureInput; readonly output: Uint8Array };
  'list sheet': { readonly input: ListSheetInput; readonly output: Uint8Array };
  'week sheet': { readonly input: WeekSheetInput; readonly output: Uint8Array };
  'job sheet': { readonly input: JobSheetInput; readonly output: Uint8Array };
  worksheet: { readonly input: WorksheetInput; readonly output: WorksheetAnswer };
  'assembly map': { readonly input: AssemblyInput; readonly output: Uint8Array };
  'check plot': { readonly input: PlotFileOrder; readonly output: Uint8Array };
  'read check plot': { readonly input: ReadPlotOrder; readonly output: ReadPlotAnswer };
  'wide artwork': { readonly input: ArtworkOrder; readonly output: { readonly refused?: string } };
  'wide picture': { readonly input: WidePictureOrder; readonly output: null };
  'coat pictures': { readonly input: CoatOrder; readonly output: null | { readonly refused: string } };
  'coat part': { readonly input: PartOrder; readonly output: PartIndex | { readonly refused: string } };
  'coat preview': { readonly input: PreviewOrder; readonly output: PreviewAnswer | { readonly refused: string } };
  'ink sample': {
    readonly input: { readonly coat: CoatOrder; readonly mostMs: number };
    readonly output: InkSample | { readonly refused: string };
  };
  'unscreened tile': {
    readonly input: UnscreenedOrder;
    readonly output: UnscreenedTile | null | { readonly refused: string };
  };
  'coat part file': {
    readonly input: { readonly order: CoatOrder; readonly part: number };
    readonly output: CoatFile | null;
  };
  'coat file': { readonly input: CoatOrder; readonly output: CoatFile };
  nest: { readonly input: NestOrder; readonly output: NestLayout };
  fits: { readonly input: { readonly floor: Floor; readonly asks: readonly FitAsk[] }; readonly output: Fit[][] };
  batches: { readonly input: BatchOrder; readonly output: Batch[] };
  orders: { readonly input: LineOrders; readonly output: OrderAnswer[] };
  'pace changes': {
    readonly input: { readonly values: readonly SeriesValue[]; readonly asked: ChangesAsked };
    readonly output: ShopChanges;
  };
  'quote look': { readonly input: { readonly path: string; readonly place: string }; readonly output: FirstLookAnswer };
  quote: { readonly input: QuoteOrder; readonly output: QuotedFit[][] };
  'what if': { readonly input: WhatIfOrder; readonly output: WhatIfAnswer };
  'best changes': { readonly input: BestChangesOrder; readonly output: BestChange[] };
  spools: { readonly input: SpoolOrder; readonly output: SpoolProposalAnswer };
  'away plan': { readonly input: AwayOrder; readonly output: AwayPlanAnswer };
  'away nights': { readonly input: NightsOrder; readonly output: NightsAnswer };
  'away night': { readonly input: NightOrder; readonly output: NightAnswer };
  'away drivers': { readonly input: DriversOrder; readonly output: Driver[] };
};

export type TaskKind = keyof TaskKinds;

/**
 * Kinds whose answer is a file on the disk. They are worth ending after a crash, so their input is written down; and since the
 * file may be gone the next time, whoever asks looks there first. The others answer a question of the moment: after a crash
 * nobody waits for that answer any more.
 */
export const LEAVES_FILES: ReadonlySet<string> = new Set<TaskKind>(['first look', 'picture', 'run pdf', 'coat part']);

/** Kinds that consist of many equal steps, or have a time limit of their own: they know how far they are. */
export const TELLS_PROGRESS: ReadonlySet<string> = new Set<TaskKind>([
  'run pdf',
  'coat part',
  'nest',
  'fits',
  'batches',
  'orders',
  'spools',
  'quote',
  'what if',
  'away nights',
  'away drivers',
  'away night',
]);

/** What the shop does by itself, in several steps: kinds, each with what it is given. */
export interface ShopTaskKinds {
  /** What follows the arrival of the jobs of one claim: they are routed, then, by the arrival rule *go*, sent on. */
  readonly arrival: {
    readonly jobIds: readonly string[];
    readonly rule: ArrivalRule | null;
    readonly step: 'route' | 'go';
  };
  /** A run that goes by itself is nested, laid out and queued. */
  readonly 'send run': { readonly runId: string; readonly actor: Actor };
}

export type ShopTaskKind = keyof ShopTaskKinds;

export const SHOP_TASK_KINDS = ['arrival', 'send run'] as const satisfies readonly ShopTaskKind[];

/** What a worker is handed: the task, and where this machine keeps its files. */
export type WorkerTask =
  | { readonly [K in TaskKind]: { readonly kind: K; readonly input: TaskKinds[K]['input'] } & WorkerPlace }[TaskKind]
  | ({ readonly kind: 'ready' } & WorkerPlace);

/** What a worker needs of the machine that it runs on; no part of the task, so that another machine can take it. */
export interface WorkerPlace {
  readonly root: string;
  readonly limits: Limits;
  /** Where the share that is done is told; left out where nobody listens. */
  readonly told?: MessagePort;
}
