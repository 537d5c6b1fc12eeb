import type { RunItem, SpoolView } from '../../../contract/api/floor.ts';
import { cutPathOf, sheetsOf } from '../../../core/estimate/cutPath.ts';
import { inkAsItGoes, timeAsItGoes } from '../../../core/estimate/learnedPrinter.ts';
import { inkMl, printedCoverage } from '../../../core/estimate/ink.ts';
import { toMinor } from '../../../core/estimate/money.ts';
import { runTime } from '../../../core/estimate/runTime.ts';
import { turnedSize } from '../../../core/geometry/turn.ts';
import { nest } from '../../../core/layout/nest.ts';
import type { NestRefusal } from '../../../core/layout/nestInput.ts';
import { type RunNestPiece, runNest } from '../../../core/layout/runNest.ts';
import { usableWidth } from '../../../core/layout/usableWidth.ts';
import { modeTrouble } from '../../../core/machine/constants.ts';
import { type Fit, type FitNeeds, type FitOption, fitList } from '../../../core/routing/fitList.ts';
import { unfitFor } from '../../../core/heads/printerHeads.ts';
import { acceptsForm } from '../../../core/stock/form.ts';
import { neededMm } from '../../../core/stock/need.ts';
import { type TicketValues, makeTicket } from '../../../core/ticket/ticket.ts';
import type { PrinterBase } from '../../db/printerViews.ts';
import type { stocks } from '../../db/tables/floorTables.ts';
import { runMedia } from '../run/runMedia.ts';
import { type Laid, priced } from './fitFigures.ts';
import type { FitAsk, FitJob, FitWork } from './fitWork.ts';
import { type Floor, PlannedFloor, queueFor } from './plannedFloor.ts';
import { mmText } from '../../../core/units/lengthText.ts';

type StockRow = typeof stocks.$inferSelect;

/** A quick nest is enough to compare printers. */
const NEST_STEPS = 3;

/** Above so many pieces the printers are compared by a part of them, scaled up. */
const MOST_PIECES = 400;

/**
 * The fit list of what these jobs owe, printed together.
 * @param exceptRunId the run that it is now, where there is one
 * @param nestSteps how long layouts are looked for
 */
export function fitsOf(planned: PlannedFloor, work: FitWork, exceptRunId = '', nestSteps = NEST_STEPS): Fit[] {
  const { floor } = planned;
  const [first] = work.jobs;
  const stock = first && floor.stocks[first.ticket.values.stockId];
  if (!first || !stock || work.pieces.length === 0) return [];
  const needs = { ...needsOf(work, stock), leastDpi: leastDpi(floor, first) };
  return fitList(
    needs,
    floor.printers.map((printer) => optionOf(planned, work, stock, printer, { exceptRunId, nestSteps })),
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
  return {
    stockId: stock.id,
    stockName: stock.name,
    leastWidthMm: Math.max(...across),
    // Colours that the picture needs are made of what the printer has; special inks it must have.
    channels: [...new Set(Object.values(coverage).flatMap((share) => Object.keys(share)))].filter(
      (channel) => channel === 'white',
    ),
    contour: values.some(({ contour }) => contour !== null),
    unattended: first.unattended,
    dues: values.flatMap(({ dueMs, latePerHMinor }) => (dueMs === null ? [] : [{ dueMs, latePerHMinor }])),
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

/** What a ticket says on another printer: what comes from printer, stock and queue is taken anew there. */
function valuesOn(floor: Floor, { queueId, ticket }: FitJob, printer: PrinterBase): TicketValues {
  const own = floor.queues.find(({ id }) => id === queueId)?.printerId === printer.id;
  const there = queueFor(floor, printer.id, ticket.values.stockId);
  if (own || there === undefined) return ticket.values;
  const { stockId, modeId } = ticket.values;
  const layers = {
    ...ticket.layers,
    printer: printer.config.defaults,
    queue: floor.queues.find(({ id }) => id === there)?.settings ?? {},
    stock: floor.runSettings[`${printer.id}/${stockId}`] ?? {},
    // The same work on the same stock; the mode is chosen for the printer.
    'set here': { ...ticket.layers['set here'], stockId, modeId },
  };
  return makeTicket(layers, ticket.preset).values;
}

function optionOf(
  planned: PlannedFloor,
  work: FitWork,
  stock: StockRow,
  printer: PrinterBase,
  { exceptRunId, nestSteps }: { readonly exceptRunId: string; readonly nestSteps: number },
): FitOption {
  const { floor } = planned;
  const { config } = printer;
  const [first] = work.jobs;
  if (!first) throw new Error('a fit list of no jobs');
  const values = valuesOn(floor, first, printer);
  // Gaps are those of the queue through which it would go there.
  const isOwn = floor.queues.find(({ id }) => id === first.queueId)?.printerId === printer.id;
  const queueId = isOwn ? first.queueId : queueFor(floor, printer.id, stock.id);
  const queue = floor.queues.find(({ id }) => id === queueId);
  const takes = acceptsForm(config.sources, stock.form);
  const suits = takes && (stock.suits === null || (stock.suits[printer.id]?.length ?? 0) > 0);
  const modeId = suits ? modeFor(printer, printer.id, stock, first.ticket.values.modeId, leastDpi(floor, first)) : null;
  const mode = config.modes.find(({ id }) => id === modeId);
  const spools = floor.spools.filter((spool) => spool.stockId === stock.id);
  const longest = (which: (spool: SpoolView) => boolean): number | null => {
    const own = spools
      .filter(which)
      .map(({ leftMm: now, takenMm, printerId, leaderMm }) => now - takenMm - (printerId === null ? leaderMm : 0));
    return own.length > 0 ? Math.max(...own) : null;
  };
  const { edgeToEdge, cutOff } = values;
  const media = runMedia(config, stock, undefined, queue?.gapMm ?? 0, edgeToEdge, work.pieces);
  const { leftMm, rightMm } = media.settings;
  const { usableWidthMm } = usableWidth(config, media.mediaWidthMm, leftMm, rightMm);
  const own = ownRun(floor, work, printer.id, exceptRunId);
  const laid: Laid | { readonly trouble: FitOption['layTrouble'] } =
    !mode || (takes && stock.form === 'roll' && stock.widthMm > config.widestMediaMm)
      ? { trouble: null }
      : own
        ? figuresOfRun(own, printer)
        : layOn(work, stock, printer, mode, values, { media, usableWidthMm, nestSteps });
  return {
    printerId: printer.id,
    printerName: printer.name,
    modeId,
    modeDpi: mode ? sharpness(mode) : null,
    usableWidthMm,
    widestMediaMm: config.widestMediaMm,
    stockWidthMm: stock.form === 'garment' ? 0 : stock.widthMm,
    longestMm: config.longestMm,
    asks: { cutOff, edgeToEdge },
    laid:
      mode && !('trouble' in laid) ? priced(planned, work, stock, printer, mode.id, laid, { own, exceptRunId }) : null,
    layTrouble: 'trouble' in laid ? laid.trouble : null,
    loadedMm: longest((spool) => spool.printerId === printer.id),
    rackMm: longest((spool) => spool.printerId === null),
    elsewhere: spools
      .filter((spool) => spool.printerId !== null && spool.printerId !== printer.id)
      .map(({ label, printerId }) => `${label} of ${floor.printers.find(({ id }) => id === printerId)?.name ?? ''}`),
    channels: config.channels.map(({ id }) => id),
    unfit: mode && !('trouble' in laid) ? unfitHere(printer, mode.id, laid.inkMl, floor.currency) : {},
    suits,
    finishing: config.finishing,
    edgeToEdge: config.edgeToEdge,
    needsHand: !config.unattended,
    hasQueue: queue !== undefined,
    state: printer.state,
    stateReason: printer.reason,
  };
}

/** Channels that the work fires there and that can't print in the mode, by name, with the reason and the cheapest way out. */
function unfitHere(
  { config, unfit }: PrinterBase,
  modeId: string,
  inkMl: Laid['inkMl'],
  currency: string,
): FitOption['unfit'] {
  return Object.fromEntries(
    unfitFor(unfit, { modeId, inkMl }).map(({ channelId, text }) => {
      const channel = config.channels.find(({ id }) => id === channelId);
      const { minutes, mlPerHead } = config.care.light;
      const inkMicro = mlPerHead * (channel?.heads ?? 1) * (channel?.pricePerMlMicro ?? 0);
      const minor = toMinor(inkMicro) + Math.round((minutes / 60) * config.ratePerHourMinor);
      const remedy = `a light clean takes ${String(minutes)} min and costs ${(minor / 100).toFixed(2)} ${currency}`;
      return [channelId, { name: channel?.name ?? channelId, text, remedy }];
    }),
  );
}

/** The run that the work is now, where all of it is asked for on its own printer: it is laid out already. */
function ownRun({ runs }: Floor, { pieces }: FitWork, printerId: string, runId: string): RunItem | undefined {
  const run = runs.find(({ id }) => id === runId);
  return run?.printerId === printerId && run.pieceCount === pieces.length && run.lengthMm > 0 ? run : undefined;
}

function figuresOfRun(run: RunItem, printer: PrinterBase): Laid {
  const { lengthMm, needMm, byHand } = run;
  const { learned } = printer;
  return {
    lengthMm,
    needMm,
    timeMs: timeAsItGoes(run.estimateMs, learned, run.modeId, run.stockId),
    inkMl: inkAsItGoes(run, learned),
    byHand,
  };
}

function layOn(
  work: FitWork,
  stock: StockRow,
  printer: PrinterBase,
  mode: PrinterBase['config']['modes'][number],
  values: TicketValues,
  {
    media,
    usableWidthMm,
    nestSteps,
  }: {
    readonly media: ReturnType<typeof runMedia>;
    readonly usableWidthMm: number;
    readonly nestSteps: number;
  },
): Laid | { readonly trouble: FitOption['layTrouble'] } {
  const { config } = printer;
  const part = work.pieces.slice(0, MOST_PIECES);
  const scale = work.pieces.length / part.length;
  const problem = runNest(part, media.settings, usableWidthMm, config.registeredEdge);
  if (!problem.ok) return { trouble: layTrouble(problem.reason, printer.name) };
  const layout = nest(problem.value.input, { seed: 1, stepBudget: nestSteps, shouldStop: () => false });
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
  const { span, dryOut, dryMin, cutOff } = values;
  const time = runTime(
    {
      lengthMm,
      mediaWidthMm: media.mediaWidthMm,
      mode,
      span,
      dryOut,
      dryMin,
      cutOff,
      pieces: laid,
      sheets: sheetsOf(config.sources, sheetMm),
      contours: config.finishing.contourCut ? cutPathOf(laid) : undefined,
    },
    config.machine,
  );
  return {
    lengthMm: lengthMm * scale,
    needMm: neededMm({
      lengthMm: lengthMm * scale,
      sheetMm,
      packSheetMm: stock.sheetMm,
      trailerMm: time.block.byHand || sheetMm !== null ? 0 : config.machine.trailerMm,
      isBack: false,
    }),
    timeMs: timeAsItGoes(time.totalMs * scale, printer.learned, mode.id, stock.id),
    inkMl: inkAsItGoes(
      { modeId: mode.id, inkMl: inkOf(work, laid, printer, mode, scale, values.inkLimit), inkCounted: false },
      printer.learned,
    ),
    byHand: time.block.byHand,
  };
}

function layTrouble(reason: NestRefusal, name: string): FitOption['layTrouble'] {
  if (reason.code === 'too-wide')
    return {
      text: `Wider than ${name} prints on it: ${mmText(reason.leastWidthMm)} of ${mmText(reason.usableWidthMm)}`,
      way: 'Make it smaller, or tile it.',
    };
  if (reason.code === 'too-long')
    return {
      text: `Longer than ${name} takes: ${mmText(reason.leastLengthMm)} of ${mmText(reason.usableLengthMm)}`,
      way: 'Make it smaller, or tile it.',
    };
  return { text: `It can’t be laid out for ${name} (${reason.code})`, way: 'Look at it on the Bench.' };
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
  inkLimit: number | null,
): Record<string, number> {
  const { dpiX, dpiY, dropPl } = mode;
  const printed = laid.map(({ key, piece, widthMm, heightMm }) => ({
    areaMm2: widthMm * heightMm,
    coverage: printedCoverage(work.coverage[key] ?? {}, piece.part, inkLimit),
  }));
  return Object.fromEntries(
    config.channels.map(({ id, heads }) => {
      const ml = printed.reduce(
        (sum, { areaMm2, coverage }) => sum + inkMl(coverage[id] ?? 0, areaMm2, dpiX, dpiY, dropPl, heads),
        0,
      );
      return [id, ml * scale];
    }),
  );
}

/** Fit lists of many works on one floor, as a task of a worker: it nests each on every printer. */
export function fitsOfAll(floor: Floor, asks: readonly FitAsk[], tell: (share: number) => void): Fit[][] {
  const planned = new PlannedFloor(floor);
  return asks.map(({ work, exceptRunId }, i) => {
    tell(i / asks.length);
    return fitsOf(planned, work, exceptRunId);
  });
}
