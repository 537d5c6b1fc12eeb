import { findPrinter, findRun } from '../../db/findRows.ts';
import { printerOf } from '../run/runRows.ts';
import type { EventData, EventKind } from '../../../core/events/eventData.ts';
import { PROGRAM, device } from '../../../core/events/actor.ts';
import { bookedMm } from '../../../core/stock/need.ts';
import { endOf } from '../../../core/layout/layoutFigures.ts';
import { beginSpell } from './printerSpells.ts';
import { recordFirings, recordOutcomes } from './runRecords.ts';
import { and, eq, inArray, sql } from 'drizzle-orm';
import type { MachineState, RunReport } from '../../../contract/machine/protocol.ts';
import { spoolLedger } from '../../db/tables/records.ts';
import { pieces, runs } from '../../db/tables/schema.ts';
import { printers } from '../../db/tables/floorTables.ts';
import { feedingOf } from '../../db/feeding.ts';
import { type Shop, type Work, transact } from '../../shop.ts';
import { updateJobStates, jobsOfRun } from '../ticket/jobStates.ts';
import { laidPieces } from '../layout/measureRun.ts';
import { type RunRow, transitionRun } from '../run/transitionRun.ts';
import { isBack } from '../layout/relayBack.ts';
import { releasePieces } from '../run/pieces.ts';
import { cancelBackOf } from '../run/cancelRun.ts';
import { recordCareReport } from '../care/careReports.ts';

/** Takes over what a printer says of itself; `undefined`: the line to it is lost. */
export function recordPrinterState(shop: Shop, printerId: string, state: MachineState | undefined): void {
  const linkStatus = state?.status ?? 'off';
  const linkReason = state ? state.reason : 'no answer from the printer';
  const printer = findPrinter(shop.db, printerId);
  if (!printer) return;
  if (state) keepMeasured(shop, printer, state);
  if (printer.linkStatus !== linkStatus || printer.linkReason !== linkReason) {
    transact(shop, (work) => {
      work.tx.update(printers).set({ linkStatus, linkReason }).where(eq(printers.id, printerId)).run();
      beginSpell(work, printerId, linkStatus, linkReason);
      work.note({
        kind: 'printer.state',
        subject: ['printer', printerId],
        actor: device(printerId, printer.name),
        data: { printer: printer.name, state: linkStatus, reason: linkReason },
      });
      work.touch({ type: 'printer', id: printerId });
    });
  }
  if (state?.run) recordRunReport(shop, state.run);
  if (state?.care) recordCareReport(shop, state.care);
}

const GATHERED_MM = 250;
/** Idle time is looked at in hours: a later firing is kept when it is so much later (ms). */
const FIRED_MS = 600_000;

/** What the device measures itself is kept when it changes by something that can be seen. */
function keepMeasured(shop: Shop, { id, measured }: typeof printers.$inferSelect, state: MachineState): void {
  if (!state.media && !state.inkMl) return;
  const next = {
    media: state.media ?? [],
    inkMl: state.inkMl ?? null,
    collectedMm: state.collectedMm ?? null,
    ...(state.firedMs === undefined ? {} : { firedMs: state.firedMs }),
  };
  const seen = (ml: number | undefined): number => Math.round(ml ?? -1);
  const sameInk =
    measured !== null &&
    (measured.inkMl === null) === (next.inkMl === null) &&
    Object.entries(next.inkMl ?? {}).every(([channel, ml]) => seen(measured.inkMl?.[channel]) === seen(ml));
  const apart = Math.abs((measured?.collectedMm ?? 0) - (next.collectedMm ?? 0));
  // What gathers while it prints is kept now and then; that it was emptied, at once.
  const gathered = apart > GATHERED_MM || (apart > 0 && next.collectedMm === 0);
  const fired = Object.entries(next.firedMs ?? {}).some(
    ([channel, ms]) => Math.abs(ms - (measured?.firedMs?.[channel] ?? 0)) > FIRED_MS,
  );
  if (sameInk && !gathered && !fired && JSON.stringify(measured.media) === JSON.stringify(next.media)) return;
  shop.db.update(printers).set({ measured: next }).where(eq(printers.id, id)).run();
  shop.bus.committed([], [{ type: 'printer', id }]);
}

/** Brings a run in line with its printer's report. Reports of another attempt, of an ended run, or older ones change nothing. */
export function recordRunReport(shop: Shop, report: RunReport): void {
  const run = findRun(shop.db, report.runId);
  if (!run || run.attempt !== report.attempt || !['sent', 'printing', 'paused'].includes(run.state)) return;
  // An answer that was long on its way must not undo what the printer has said since. An end is the last word in any case.
  if (report.seq < run.reportSeq && !ENDS.includes(report.status)) return;
  if (report.status === run.state) {
    keepProgress(shop, run, report);
    return;
  }
  transact(shop, (work) => {
    step(work, run, report);
  });
  if (ENDS.includes(report.status)) shop.wakeDispatcher();
}

const ENDS: readonly string[] = ['printed', 'failed', 'cancelled'];

function progressOf(report: RunReport, nowMs: number): Partial<RunRow> {
  return {
    phase: report.phase,
    reachedMm: report.lengthMm,
    fedMm: report.fedMm,
    msLeft: report.msLeft,
    progressMs: nowMs,
    reportSeq: report.seq,
  };
}

function keepProgress(shop: Shop, run: RunRow, report: RunReport): void {
  if (run.reachedMm === report.lengthMm && run.phase === report.phase && run.msLeft === report.msLeft) return;
  const now = shop.clock.now();
  shop.db
    .update(runs)
    .set(progressOf(report, now))
    .where(and(eq(runs.id, run.id), inArray(runs.state, ['sent', 'printing', 'paused'])))
    .run();
  shop.bus.committed(
    [],
    [{ type: 'run', id: run.id }, ...(run.spoolId === null ? [] : [{ type: 'spool' as const, id: run.spoolId }])],
  );
}

/**
 * Takes one report over: the state of the run, its figures, and what follows for pieces and media. A report that tells nothing new
 * changes nothing.
 */
function step(work: Work, run: RunRow, report: RunReport): void {
  const progress = progressOf(report, work.nowMs);
  const actor = device(run.printerId, printerOf(work.tx, run).name);
  const note = <K extends EventKind>(kind: K, data: EventData[K]): void => {
    work.note({ kind, subject: ['run', run.id], actor, data });
  };
  switch (report.status) {
    case 'printing':
      transitionRun(work, run.id, run.state === 'paused' ? 'resume' : 'start', {
        ...progress,
        startedMs: run.startedMs ?? Math.round(report.startedMs),
        reason: null,
        ...stood(run, work.nowMs),
      });
      updateJobStates(work, jobsOfRun(work, run.id));
      note('run.printing', { run: run.number, resumedMm: run.state === 'paused' ? report.lengthMm : null });
      return;
    case 'paused':
      transitionRun(work, run.id, 'pause', {
        ...progress,
        pausedSinceMs: work.nowMs,
        reason: report.reason,
        startedMs: run.startedMs ?? Math.round(report.startedMs),
      });
      updateJobStates(work, jobsOfRun(work, run.id));
      note('run.paused', { run: run.number, atMm: report.lengthMm, reason: report.reason });
      return;
    case 'printed':
      end(work, run, report, 'finish');
      note('run.printed', { run: run.number, lengthMm: report.lengthMm, fedMm: report.fedMm });
      return;
    case 'failed':
      end(work, run, report, 'fail');
      note('run.failed', { run: run.number, atMm: report.lengthMm, reason: report.reason });
      return;
    case 'cancelled':
      end(work, run, report, 'cancel');
      note('run.cancelled', { run: run.number, atMm: report.lengthMm });
      return;
  }
}

/** How long it stood still until now. */
function stood({ pausedMs, pausedSinceMs }: RunRow, nowMs: number): Pick<RunRow, 'pausedMs' | 'pausedSinceMs'> {
  return {
    pausedMs: pausedMs + (pausedSinceMs === null ? 0 : Math.max(0, nowMs - pausedSinceMs)),
    pausedSinceMs: null,
  };
}

/** The end of a run in one transaction: state, what was fed and fired, and what became of each piece. */
function end(work: Work, run: RunRow, report: RunReport, action: 'finish' | 'fail' | 'cancel'): void {
  const { tx, nowMs } = work;
  const endedMs = Math.round(report.endedMs ?? nowMs);
  transitionRun(work, run.id, action, {
    ...progressOf(report, nowMs),
    startedMs: run.startedMs ?? Math.round(report.startedMs),
    endedMs,
    reason: report.reason,
    ...stood(run, nowMs),
  });
  // A back is fed through on media that its front has taken from the spool already.
  const fedMm = report.fedMm - run.bookedMm;
  if (run.spoolId !== null && fedMm > 0 && !isBack(run)) {
    tx.insert(spoolLedger)
      .values({
        spoolId: run.spoolId,
        kind: 'run',
        mm: -bookedMm(fedMm, feedingOf(tx)(run)),
        runId: run.id,
        attempt: run.attempt,
        atMs: endedMs,
      })
      .onConflictDoNothing()
      .run();
  }
  const fromMs = run.startedMs ?? Math.round(report.startedMs);
  recordFirings(work, run, report.inkMl, { fromMs, endedMs, isWhole: action === 'finish' });
  const held = and(eq(pieces.runId, run.id), eq(pieces.state, 'placed'));
  if (action === 'finish') tx.update(pieces).set({ state: 'printed' }).where(held).run();
  else {
    // Pieces that came out whole are printed, also of a run that failed further on.
    const print = tx
      .update(pieces)
      .set({ state: 'printed' })
      .where(and(eq(pieces.id, sql.placeholder('id')), held))
      .prepare();
    const whole = laidPieces(tx, run.id).filter((piece) => endOf([piece]) <= report.lengthMm + 1e-6);
    for (const piece of whole) print.run({ id: piece.pieceId });
  }
  recordOutcomes(work, run, endedMs, report.reason);
  releasePieces(work, run.id);
  if (action !== 'finish') cancelBackOf(work, run, PROGRAM);
}
