import type { FloorSnapshot, PlanPrinter, PlanRun, PlanSource, RackSpool } from '../schedule/plan.ts';

/** Something that could be done before leaving, or otherwise: what it would change is simulated, nothing is done. */
export type AwayChange =
  | { readonly kind: 'load'; readonly printerId: string; readonly sourceId: string; readonly spoolId: string }
  | { readonly kind: 'add'; readonly spoolId: string; readonly mm: number }
  | { readonly kind: 'fill'; readonly printerId: string; readonly channelId: string; readonly ml: number }
  | { readonly kind: 'empty'; readonly printerId: string }
  | { readonly kind: 'turn'; readonly runId: string }
  | { readonly kind: 'clean'; readonly printerId: string }
  | { readonly kind: 'order'; readonly printerId: string; readonly runIds: readonly string[] }
  | { readonly kind: 'leave'; readonly runId: string }
  | { readonly kind: 'split'; readonly runId: string }
  | ({ readonly kind: 'move' } & AwayMove)
  | { readonly kind: 'thin'; readonly timerId: string; readonly share: number };

/** A run as it would be on another printer: laid out for it, at the end of its line. */
export interface AwayMove {
  readonly runId: string;
  readonly printerId: string;
  readonly modeId: string;
  readonly estimateMs: number;
  readonly needMm: number;
  readonly outMm: number;
}

/** Why a change makes no sense on this floor. */
export interface ChangeRefusal {
  readonly code: 'no-printer' | 'no-source' | 'no-spool' | 'no-run' | 'no-channel' | 'no-timer' | 'wrong-order';
  readonly what: string;
}

/** A change that names what is not there. */
export class ChangeRefused extends Error {
  constructor(readonly refusal: ChangeRefusal) {
    super(`${refusal.code}: ${refusal.what}`);
  }
}

/**
 * The floor as it would be with these changes, one after another.
 * @throws ChangeRefused where one names what is not there, or no longer is after those before it
 */
export function changedFloor(floor: FloorSnapshot, changes: readonly AwayChange[]): FloorSnapshot {
  return changes.reduce(changed, floor);
}

function changed(floor: FloorSnapshot, change: AwayChange): FloorSnapshot {
  switch (change.kind) {
    case 'load':
      return loaded(floor, change);
    case 'add':
      return added(floor, change);
    case 'fill':
      return onPrinter(floor, change.printerId, (printer) => {
        if (!(change.channelId in printer.inkLeftMl)) refuse('no-channel', change.channelId);
        return { ...printer, inkLeftMl: { ...printer.inkLeftMl, [change.channelId]: change.ml } };
      });
    case 'empty':
      return onPrinter(floor, change.printerId, (printer) => ({ ...printer, collectedMm: 0 }));
    case 'clean':
      return onPrinter(floor, change.printerId, (printer) => ({ ...printer, unfit: {} }));
    case 'turn':
      return onRun(floor, change.runId, (run) => [{ ...run, turn: false }]);
    case 'leave':
      return onRun(floor, change.runId, () => []);
    case 'split':
      return onRun(floor, change.runId, halves);
    case 'move':
      return moved(floor, change);
    case 'order':
      return ordered(floor, change.printerId, change.runIds);
    case 'thin':
      return thinned(floor, change);
  }
}

function refuse(code: ChangeRefusal['code'], what: string): never {
  throw new ChangeRefused({ code, what });
}

function onPrinter(
  floor: FloorSnapshot,
  printerId: string,
  change: (printer: PlanPrinter) => PlanPrinter,
): FloorSnapshot {
  if (!floor.printers.some(({ printer }) => printer.id === printerId)) refuse('no-printer', printerId);
  return {
    ...floor,
    printers: floor.printers.map((each) =>
      each.printer.id === printerId ? { ...each, printer: change(each.printer) } : each,
    ),
  };
}

/** Only what is queued can be changed: what prints is left alone. */
function onRun(floor: FloorSnapshot, runId: string, change: (run: PlanRun) => readonly PlanRun[]): FloorSnapshot {
  const isMeant = ({ id, state }: PlanRun): boolean => id === runId && state === 'queued';
  if (!floor.printers.some(({ runs }) => runs.some(isMeant))) refuse('no-run', runId);
  return {
    ...floor,
    printers: floor.printers.map(({ printer, runs }) => ({
      printer,
      runs: runs.flatMap((run) => (isMeant(run) ? change(run) : [run])),
    })),
  };
}

/** A spool of the rack is put into a source, and what was in it onto the rack. */
function loaded(floor: FloorSnapshot, { printerId, sourceId, spoolId }: Extract<AwayChange, { kind: 'load' }>) {
  const spool = floor.rack.find(({ id }) => id === spoolId);
  if (!spool) refuse('no-spool', spoolId);
  let out: PlanSource | undefined;
  const next = onPrinter(floor, printerId, (printer) => {
    out = printer.sources.find(({ id }) => id === sourceId) ?? refuse('no-source', sourceId);
    const { stockId, widthMm, leftMm, sheetMm, takeUp } = spool;
    const put = { id: sourceId, stockId, spoolId, widthMm, leftMm, sheetMm, takeUp };
    return { ...printer, sources: printer.sources.map((source) => (source.id === sourceId ? put : source)) };
  });
  const back = out && backOnRack(out);
  return { ...next, rack: [...floor.rack.filter(({ id }) => id !== spoolId), ...(back ? [back] : [])] };
}

function backOnRack({ stockId, spoolId, widthMm, leftMm, sheetMm, takeUp }: PlanSource): RackSpool | undefined {
  return stockId === null || spoolId === null ? undefined : { id: spoolId, stockId, widthMm, leftMm, sheetMm, takeUp };
}

function added(floor: FloorSnapshot, { spoolId, mm }: Extract<AwayChange, { kind: 'add' }>): FloorSnapshot {
  const isLoaded = floor.printers.some(({ printer }) => printer.sources.some((source) => source.spoolId === spoolId));
  if (!isLoaded && !floor.rack.some(({ id }) => id === spoolId)) refuse('no-spool', spoolId);
  const more = <T extends { readonly leftMm: number }>(each: T, id: string | null): T =>
    id === spoolId ? { ...each, leftMm: each.leftMm + mm } : each;
  return {
    ...floor,
    rack: floor.rack.map((spool) => more(spool, spool.id)),
    printers: floor.printers.map(({ printer, runs }) => ({
      printer: { ...printer, sources: printer.sources.map((source) => more(source, source.spoolId)) },
      runs,
    })),
  };
}

function ordered(floor: FloorSnapshot, printerId: string, runIds: readonly string[]): FloorSnapshot {
  const line = floor.printers.find(({ printer }) => printer.id === printerId) ?? refuse('no-printer', printerId);
  const queued = line.runs.filter(({ state }) => state === 'queued');
  const inOrder = runIds.map((id) => queued.find((run) => run.id === id) ?? refuse('no-run', id));
  if (new Set(runIds).size !== queued.length || runIds.length !== queued.length) refuse('wrong-order', printerId);
  const runs = [...line.runs.filter(({ state }) => state !== 'queued'), ...inOrder];
  return { ...floor, printers: floor.printers.map((each) => (each === line ? { ...each, runs } : each)) };
}

/** At the end of another printer's line; ink that the other one has not is not fired there. */
function moved(floor: FloorSnapshot, { runId, printerId, modeId, estimateMs, needMm, outMm }: AwayMove): FloorSnapshot {
  const run = floor.printers.flatMap(({ runs }) => runs).find(({ id, state }) => id === runId && state === 'queued');
  const there = floor.printers.find(({ printer }) => printer.id === printerId);
  if (!run) return refuse('no-run', runId);
  if (!there) return refuse('no-printer', printerId);
  const inkMl = Object.fromEntries(Object.entries(run.inkMl).filter(([id]) => id in there.printer.inkLeftMl));
  const next: PlanRun = { ...run, modeId, estimateMs, needMm, outMm, inkMl, spoolId: null };
  return {
    ...floor,
    printers: floor.printers.map(({ printer, runs }) => {
      const rest = runs.filter(({ id }) => id !== runId);
      return { printer, runs: printer.id === printerId ? [...rest, next] : rest };
    }),
  };
}

/** Two runs that come to what the one did. */
function halves(run: PlanRun): PlanRun[] {
  return [1, 2].map((no) => ({
    ...run,
    ...{ id: halfId(run.id, no), together: null, estimateMs: run.estimateMs / 2 },
    ...{ needMm: run.needMm / 2, outMm: run.outMm / 2 },
    inkMl: Object.fromEntries(Object.entries(run.inkMl).map(([id, ml]) => [id, ml / 2])),
  }));
}

const HALF = '#';

function halfId(runId: string, no: number): string {
  return `${runId}${HALF}${String(no)}`;
}

/** The run that a run of a plan is a part of; itself where it is whole. */
export function wholeRunId(runId: string): string {
  return runId.split(HALF)[0] ?? runId;
}

/** The purges of a timer, with a share of their ink. */
function thinned(floor: FloorSnapshot, { timerId, share }: Extract<AwayChange, { kind: 'thin' }>): FloorSnapshot {
  const isMeant = (care: PlanPrinter['care'][number]): boolean => care.timerId === timerId;
  if (!floor.printers.some(({ printer }) => printer.care.some(isMeant))) refuse('no-timer', timerId);
  return {
    ...floor,
    printers: floor.printers.map(({ printer, runs }) => ({
      printer: { ...printer, care: printer.care.map((care) => (isMeant(care) ? thinner(care, share) : care)) },
      runs,
    })),
  };
}

function thinner<T extends PlanPrinter['care'][number]>(care: T, share: number): T {
  return { ...care, inkMl: Object.fromEntries(Object.entries(care.inkMl).map(([id, ml]) => [id, ml * share])) };
}
