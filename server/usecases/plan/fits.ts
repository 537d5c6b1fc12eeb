import type { RunItem, SpoolView } from '../../../contract/api/floor.ts';
import { cutPathOf, sheetsOf } from '../../../core/estimate/cutPath.ts';
import { inkMl } from '../../../core/estimate/ink.ts';
import { costOfRun, toMinor } from '../../../core/estimate/money.ts';
import { runTime } from '../../../core/estimate/runTime.ts';
import { turnedSize } from '../../../core/geometry/turn.ts';
import { nest } from '../../../core/layout/nest.ts';
import { type RunNestPiece, runNest } from '../../../core/layout/runNest.ts';
import { usableWidth } from '../../../core/layout/usableWidth.ts';
import { modeTrouble } from '../../../core/machine/constants.ts';
import { type Fit, type FitNeeds, type FitOption, fitList } from '../../../core/routing/fitList.ts';
import { planPrinter, planRun, rackOf } from '../../../core/schedule/planInput.ts';
import { type Line, type PlanRun, planLine } from '../../../core/schedule/planLine.ts';
import { Attendance, type TimeSpan } from '../../../core/schedule/shopHours.ts';
import { acceptsForm } from '../../../core/stock/form.ts';
import { neededMm } from '../../../core/stock/need.ts';
import type { PrinterBase } from '../../db/printerViews.ts';
import type { jobs, queues, stocks } from '../../db/schema.ts';
import { runMedia } from '../run/runMedia.ts';

/** Of a job, what a fit depends on. */
export type FitJob = Pick<typeof jobs.$inferSelect, 'id' | 'queueId' | 'ticket'>;

type StockRow = typeof stocks.$inferSelect;

/** A quick nest is enough to compare printers. */
const NEST_STEPS = 3;

/** Above so many pieces the printers are compared by a part of them, scaled up. */
const MOST_PIECES = 400;

/** Everything about the floor that fits are judged by, read once. */
export interface Floor {
  readonly printers: readonly PrinterBase[];
  readonly spools: readonly SpoolView[];
  readonly runs: readonly RunItem[];
  readonly queues: readonly (typeof queues.$inferSelect)[];
  /** By id. */
  readonly stocks: Readonly<Record<string, StockRow>>;
  /** When somebody is there. */
  readonly spans: readonly TimeSpan[];
  readonly nowMs: number;
}

/** What is to be printed together, as fits look at it. */
export interface FitWork {
  readonly jobs: readonly FitJob[];
  readonly pieces: readonly RunNestPiece[];
  /** By job and page. */
  readonly coverage: Readonly<Record<string, Readonly<Record<string, number>>>>;
  readonly cuts: Readonly<Record<string, readonly (readonly { readonly x: number; readonly y: number }[])[]>>;
}

/** The fit list of what these jobs owe, printed together. */
export function fitsOf(floor: Floor, work: FitWork, exceptRunId?: string): Fit[] {
  const [first] = work.jobs;
  const stock = first && floor.stocks[first.ticket.values.stockId];
  if (!first || !stock || work.pieces.length === 0) return [];
  const needs = { ...needsOf(work, stock), leastDpi: leastDpi(floor, first) };
  return fitList(
    needs,
    floor.printers.map((printer) => optionOf(floor, work, stock, printer, exceptRunId)),
  );
}

/** How sharp the ticket wants it: as its mode prints on the printer that the mode belongs to. */
function leastDpi({ queues: all, printers: known }: Floor, { queueId, ticket }: FitJob): number | null {
  const printerId = all.find(({ id }) => id === queueId)?.printerId;
  const mode = known.find(({ id }) => id === printerId)?.config.modes.find(({ id }) => id === ticket.values.modeId);
  return mode ? sharpness(mode) : null;
}

function sharpness({ dpiX, dpiY }: { readonly dpiX: number; readonly dpiY: number }): number {
  return Math.min(dpiX, dpiY);
}

/** What the work asks of a printer. One job that asks for more asks for all of them: they are printed together. */
function needsOf({ jobs: rows, pieces, coverage }: FitWork, stock: StockRow): Omit<FitNeeds, 'leastDpi'> {
  const values = rows.map((job) => job.ticket.values);
  const [first] = values;
  if (!first) throw new Error('a fit list of no jobs');
  const across = pieces.map(({ widthMm, heightMm, quarterTurn, grain }) =>
    quarterTurn && grain === 'free' ? Math.min(widthMm, heightMm) : grain === 'across' ? heightMm : widthMm,
  );
  const due = values.flatMap(({ dueMs }) => (dueMs === null ? [] : [dueMs]));
  return {
    stockId: stock.id,
    stockName: stock.name,
    leastWidthMm: Math.max(...across),
    // Colours that the picture needs are made of what the printer has; special inks it must have.
    channels: [...new Set(Object.values(coverage).flatMap((share) => Object.keys(share)))].filter(
      (channel) => channel === 'white',
    ),
    cutOff: first.cutOff,
    contour: values.some(({ contour }) => contour !== null),
    edgeToEdge: first.edgeToEdge,
    unattended: first.unattended,
    dueMs: due.length > 0 ? Math.min(...due) : null,
    latePerHMinor: values.reduce((sum, each) => sum + (each.dueMs === null ? 0 : each.latePerHMinor), 0),
    extraMinor: values.flatMap(({ charges }) => charges).reduce((sum, { minor }) => sum + minor, 0),
  };
}

/** The mode in which a printer would print it: the ticket's own, else the first that suits, is sound and sharp enough. */
function modeFor(
  { config }: PrinterBase,
  printerId: string,
  stock: StockRow,
  wanted: string,
  least: number | null,
): string | null {
  const allowed = stock.suits === null ? undefined : (stock.suits[printerId] ?? []);
  const modes = config.modes.filter((mode) => allowed === undefined || allowed.includes(mode.id));
  const own = modes.find(({ id }) => id === wanted);
  const sound = modes.filter((mode) => modeTrouble(mode, config.machine.nozzlesPerInch) === null);
  const sharp = sound.find((mode) => sharpness(mode) >= (least ?? 0));
  // The sharpest says best what the printer can't.
  const sharpest = [...sound].sort((a, b) => sharpness(b) - sharpness(a))[0];
  return (own ?? sharp ?? sharpest ?? modes[0])?.id ?? null;
}

function optionOf(
  floor: Floor,
  work: FitWork,
  stock: StockRow,
  printer: PrinterBase,
  exceptRunId: string | undefined,
): FitOption {
  const { config } = printer;
  const [first] = work.jobs;
  const wanted = first?.ticket.values.modeId ?? '';
  const queue = floor.queues.find((each) => each.printerId === printer.id);
  const takes = acceptsForm(config.sources, stock.form);
  const suits = takes && (stock.suits === null || (stock.suits[printer.id]?.length ?? 0) > 0);
  const modeId = suits ? modeFor(printer, printer.id, stock, wanted, first ? leastDpi(floor, first) : null) : null;
  const mode = config.modes.find(({ id }) => id === modeId);
  const spools = floor.spools.filter((spool) => spool.stockId === stock.id);
  const lengths = (which: (spool: SpoolView) => boolean): number | null => {
    const own = spools.filter(which).map(({ leftMm }) => leftMm);
    return own.length > 0 ? Math.max(...own) : null;
  };
  const loadedMm = lengths((spool) => spool.printerId === printer.id);
  const edgeToEdge = first?.ticket.values.edgeToEdge ?? false;
  const media = runMedia(config, stock, undefined, queue?.gapMm ?? 0, edgeToEdge, work.pieces);
  const { leftMm, rightMm } = media.settings;
  const { usableWidthMm } = usableWidth(config, media.mediaWidthMm, leftMm, rightMm);
  const laid =
    modeId === null || (takes && stock.form === 'roll' && stock.widthMm > config.widestMediaMm)
      ? null
      : layOn(floor, work, stock, printer, { modeId, media, usableWidthMm, exceptRunId });
  return {
    printerId: printer.id,
    printerName: printer.name,
    modeId,
    modeDpi: mode ? sharpness(mode) : null,
    usableWidthMm,
    widestMediaMm: config.widestMediaMm,
    stockWidthMm: stock.form === 'garment' ? 0 : stock.widthMm,
    longestMm: config.longestMm,
    laid,
    loadedMm,
    rackMm: lengths((spool) => spool.printerId !== printer.id),
    channels: config.channels.map(({ id }) => id),
    unfit: {},
    suits,
    finishing: config.finishing,
    edgeToEdge: config.edgeToEdge,
    needsHand: !config.unattended,
    hasQueue: queue !== undefined,
    state: printer.state,
    stateReason: printer.reason,
  };
}

interface LayOn {
  readonly modeId: string;
  readonly media: ReturnType<typeof runMedia>;
  readonly usableWidthMm: number;
  readonly exceptRunId: string | undefined;
}

function layOn(
  floor: Floor,
  work: FitWork,
  stock: StockRow,
  printer: PrinterBase,
  { modeId, media, usableWidthMm, exceptRunId }: LayOn,
): FitOption['laid'] {
  const { config } = printer;
  const mode = config.modes.find(({ id }) => id === modeId);
  const [first] = work.jobs;
  if (!mode || !first) return null;
  const part = work.pieces.slice(0, MOST_PIECES);
  const scale = work.pieces.length / part.length;
  const problem = runNest(part, media.settings, usableWidthMm, config.registeredEdge);
  if (!problem.ok) return null;
  const layout = nest(problem.value.input, { seed: 1, stepBudget: NEST_STEPS, shouldStop: () => false });
  const sizes = new Map(part.map((piece) => [piece.pieceId, piece]));
  const laid = layout.placements.flatMap((placement) => {
    const { pieceId, xMm, yMm, angleDeg } = problem.value.place(placement);
    const piece = sizes.get(pieceId);
    if (!piece) return [];
    const key = `${piece.jobId}/${String(piece.page)}`;
    return [
      { piece, key, xMm, yMm, ...turnedSize(piece.widthMm, piece.heightMm, angleDeg), cut: work.cuts[key] ?? [] },
    ];
  });
  const sheetMm = media.settings.sheetMm ?? null;
  const lengthMm = layout.lengthMm;
  const { span, dryOut, cutOff } = first.ticket.values;
  const time = runTime(
    {
      lengthMm,
      mediaWidthMm: media.mediaWidthMm,
      mode,
      span,
      dryOut,
      cutOff,
      pieces: laid,
      sheets: sheetsOf(config.sources, sheetMm),
      contours: config.finishing.contourCut ? cutPathOf(laid) : undefined,
    },
    config.machine,
  );
  const timeMs = time.totalMs * scale * (printer.corrections[modeId]?.factor ?? 1);
  const needMm = neededMm({
    lengthMm: lengthMm * scale,
    sheetMm,
    packSheetMm: stock.sheetMm,
    trailerMm: time.block.byHand || sheetMm !== null ? 0 : config.machine.trailerMm,
    isBack: false,
  });
  const ink = inkOf(work, laid, printer, mode, scale);
  const cost = costOfRun({
    inkMl: ink,
    pricePerMlMicro: Object.fromEntries(config.channels.map(({ id, pricePerMlMicro }) => [id, pricePerMlMicro])),
    fedMm: needMm,
    mediaWidthMm: stock.widthMm,
    mediaPerM2Minor: stock.pricePerM2Minor,
    timeMs,
    ratePerHourMinor: config.ratePerHourMinor,
    extraMinor: 0,
  });
  const printedM2 = (laid.reduce((sum, { widthMm, heightMm }) => sum + widthMm * heightMm, 0) * scale) / 1e6;
  const fedM2 = (needMm * stock.widthMm) / 1e6;
  const wasteMinor = Math.round(Math.max(0, fedM2 - printedM2) * stock.pricePerM2Minor);
  const when = whenOn(
    floor,
    work,
    stock,
    printer,
    { modeId, timeMs, needMm, ink, byHand: time.block.byHand },
    exceptRunId,
  );
  return {
    lengthMm: lengthMm * scale,
    fedMm: needMm,
    wasteMinor,
    mediaMinor: toMinor(cost.mediaMicro) - wasteMinor,
    inkMinor: toMinor(cost.inkMicro),
    timeMs,
    timeMinor: toMinor(cost.timeMicro),
    startMs: Math.round(when.startMs),
    endMs: Math.round(when.endMs),
    changeOverMin: when.changeOverMin,
    changeOverMinor: Math.round((when.changeOverMin / 60) * config.ratePerHourMinor),
  };
}

function inkOf(
  work: FitWork,
  laid: readonly {
    readonly key: string;
    readonly piece: RunNestPiece;
    readonly widthMm: number;
    readonly heightMm: number;
  }[],
  { config }: PrinterBase,
  mode: PrinterBase['config']['modes'][number],
  scale: number,
): Record<string, number> {
  return Object.fromEntries(
    config.channels.map(({ id, heads }) => {
      const ml = laid.reduce((sum, { key, piece, widthMm, heightMm }) => {
        const share = work.coverage[key] ?? {};
        const covered = piece.part === null ? (share[id] ?? 0) : id === 'black' ? (share[piece.part] ?? 0) : 0;
        return sum + inkMl(covered, widthMm * heightMm, mode.dpiX, mode.dpiY, mode.dropPl, heads);
      }, 0);
      return [id, ml * scale];
    }),
  );
}

interface Candidate {
  readonly modeId: string;
  readonly timeMs: number;
  readonly needMm: number;
  readonly ink: Readonly<Record<string, number>>;
  readonly byHand: boolean;
}

/** At the end of the printer's line: when it would start and end, and which change-overs it brings. */
function whenOn(
  floor: Floor,
  work: FitWork,
  stock: StockRow,
  printer: PrinterBase,
  candidate: Candidate,
  exceptRunId: string | undefined,
): { readonly startMs: number; readonly endMs: number; readonly changeOverMin: number } {
  const own = floor.runs
    .filter((run) => run.printerId === printer.id && run.id !== exceptRunId && run.state !== 'draft')
    .map((run) => planRun(run, printer.corrections));
  const added: PlanRun = {
    id: 'candidate',
    state: 'queued',
    estimateMs: candidate.timeMs,
    startedMs: null,
    endedMs: null,
    msLeft: null,
    saidAtMs: null,
    stockId: stock.id,
    modeId: candidate.modeId,
    needMm: candidate.needMm,
    spoolId: null,
    fedMm: 0,
    inkMl: candidate.ink,
    byHand: candidate.byHand,
    unattended: work.jobs.every((job) => job.ticket.values.unattended),
    fixedStartMs: null,
    dueMs: null,
    latePerHMinor: 0,
  };
  const plan = (runs: readonly PlanRun[]): Line =>
    planLine(runs, planPrinter(printer), rackOf(floor.spools), new Attendance(floor.spans), floor.nowMs);
  const without = plan(own);
  const withIt = plan([...own, added]);
  const event = withIt.events.find((each) => each.kind === 'run' && each.id === 'candidate');
  return {
    startMs: event?.fromMs ?? floor.nowMs,
    endMs: event?.toMs ?? floor.nowMs,
    changeOverMin: withIt.changeOverMin - without.changeOverMin,
  };
}

/** The queue through which jobs go to a printer: the one that gives their stock, else the first. */
export function queueFor(floor: Pick<Floor, 'queues'>, printerId: string, stockId: string): string | undefined {
  const own = floor.queues.filter((queue) => queue.printerId === printerId);
  return (own.find((queue) => queue.settings.stockId === stockId) ?? own[0])?.id;
}

/** One question of many about the same floor: what is to be printed together, and the run that it is now, if any. */
export interface FitAsk {
  readonly work: FitWork;
  readonly exceptRunId?: string | undefined;
}

/** Fit lists of many works on one floor, as a task of a worker: it nests each on every printer. */
export function fitsOfAll(floor: Floor, asks: readonly FitAsk[], tell: (share: number) => void): Fit[][] {
  return asks.map(({ work, exceptRunId }, i) => {
    tell(i / asks.length);
    return fitsOf(floor, work, exceptRunId);
  });
}
