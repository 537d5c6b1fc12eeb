import { findPrinter, findRun } from '../db/findRows.ts';
import { COORDINATOR } from '../../core/events/actor.ts';
import { nest } from '../../core/layout/nest.ts';
import { runNest } from '../../core/layout/runNest.ts';
import { type Deviation, deviationOf } from '../../core/machine/deviation.ts';
import type { Random } from '../../core/random.ts';
import { feedingOf } from '../db/feeding.ts';
import { runDetail } from '../db/runViews.ts';
import { type Shop, transact } from '../shop.ts';
import { createRun } from '../usecases/run/createRun.ts';
import { layOutRun } from '../usecases/layout/layOutRun.ts';
import { recordRunReport } from '../usecases/device/machineReports.ts';
import { laidPieces, timeOfRun } from '../usecases/layout/measureRun.ts';
import { type RunRow, transitionRun } from '../usecases/run/transitionRun.ts';
import { queueRun } from '../usecases/run/queueRun.ts';
import { dissolveRun } from '../usecases/run/cancelRun.ts';
import type { PastClock } from './pastClock.ts';
import { pastSpool } from './pastSupplies.ts';

const MIN = 60_000;
/** One run in so many fails, or stands for a while. */
const FAILS = 24;
const STOP_ODDS = 18;
const FAULTS = ['jam', 'head strike'] as const;
const STOPS = ['media out', 'cover open', 'ink out'] as const;
/** From one run to the next with nobody in a hurry (ms). */
const BETWEEN_MS = 90_000;

/** One day of printing: steps in the order of time, each printer one run after another as long as somebody is there. */
export class PastPrinting {
  private readonly agenda: { atMs: number; act: () => void }[] = [];
  private readonly freeMs = new Map<string, number>();

  constructor(
    private readonly past: Shop,
    private readonly clock: PastClock,
    private readonly random: Random,
    /** What would not be printed by then is left to those who have the demo. */
    private readonly untilMs: number,
  ) {}

  at(atMs: number, act: () => void): void {
    this.agenda.push({ atMs, act });
  }

  run(): void {
    for (;;) {
      const next = this.agenda.reduce<{ atMs: number; act: () => void } | undefined>(
        (first, step) => (!first || step.atMs < first.atMs ? step : first),
        undefined,
      );
      if (!next) return;
      this.agenda.splice(this.agenda.indexOf(next), 1);
      this.clock.atMs = next.atMs;
      next.act();
    }
  }

  /** Lays what a job owes out, and has it printed when its printer is free. */
  layOut(jobId: string, atMs: number): void {
    this.at(atMs, () => {
      const { past } = this;
      const id = createRun(past, [jobId], COORDINATOR);
      const run = runDetail(past.db, id);
      if (!run) throw new Error(`run ${id} is missing`);
      const parsed = runNest(run.pieces, run.settings, run.usableWidthMm, run.registeredEdge);
      if (!parsed.ok) throw new Error(`${run.name}: ${parsed.reason.code}`);
      const laid = nest(parsed.value.input, { seed: 1, stepBudget: 2, shouldStop: () => false });
      layOutRun(
        past,
        id,
        { settings: run.settings, placements: laid.placements.map(parsed.value.place) },
        { by: COORDINATOR },
      );
      const startMs = Math.max(this.clock.atMs + MIN, this.freeMs.get(run.printerId) ?? 0);
      const times = this.timesOf(this.rowOf(id), startMs);
      if (times.endMs > this.untilMs) {
        dissolveRun(past, id, COORDINATOR);
        return;
      }
      const spoolId = pastSpool(past, run.stockId, laid.lengthMm + 2000);
      this.freeMs.set(run.printerId, times.endMs + BETWEEN_MS);
      queueRun(past, id, COORDINATOR);
      this.print(id, times, spoolId, jobId);
    });
  }

  private timesOf(row: RunRow, startMs: number): RunTimes {
    const { random } = this;
    const actualMs = this.actualOf(row);
    const share = random() < 1 / FAILS && row.lengthMm > 800 ? 0.25 + random() * 0.6 : 1;
    const stoppedMs = random() < 1 / STOP_ODDS ? (3 + random() * 15) * MIN : 0;
    return {
      startMs,
      share,
      stoppedMs,
      pauseMs: startMs + actualMs * share * 0.4,
      endMs: startMs + actualMs * share + stoppedMs,
    };
  }

  private print(
    runId: string,
    { startMs, share, stoppedMs, pauseMs, endMs }: RunTimes,
    spoolId: string,
    jobId: string,
  ): void {
    this.at(startMs, () => {
      transact(this.past, (work) => {
        transitionRun(work, runId, 'send', { attempt: 1, spoolId });
      });
      this.report(runId, { status: 'printing', share: 0, startMs });
    });
    if (stoppedMs > 0) {
      const reason = this.oneOf(STOPS);
      this.at(pauseMs, () => {
        this.report(runId, { status: 'paused', share: 0.4 * share, startMs, reason });
      });
      this.at(pauseMs + stoppedMs, () => {
        this.report(runId, { status: 'printing', share: 0.4 * share, startMs });
      });
    }
    this.at(endMs, () => {
      if (share === 1) {
        this.report(runId, { status: 'printed', share, startMs });
        return;
      }
      this.report(runId, { status: 'failed', share, startMs, reason: this.oneOf(FAULTS) });
      this.layOut(jobId, endMs + 4 * MIN);
    });
  }

  /** What the printer really took: its own deviation in speed and start-up, and a little of chance in each run. */
  private actualOf(run: RunRow): number {
    const printer = findPrinter(this.past.db, run.printerId);
    if (!printer) throw new Error(`printer of ${run.id} is missing`);
    const time = timeOfRun(run, printer.config, laidPieces(this.past.db, run.id));
    const { speed, startUp } = deviationOf(run.printerId);
    const strokesMs = time.strokesMs.reduce((sum, ms) => sum + ms, 0);
    const moved =
      (strokesMs + time.dryOutMs) * speed + time.startUpMs * startUp + time.dryingMs + time.cutMs + time.contourMs;
    return moved * (0.985 + this.random() * 0.03) + time.handMs * (0.8 + this.random() * 0.5);
  }

  private report(runId: string, { status, share, startMs, reason = null }: Reported): void {
    const run = this.rowOf(runId);
    const { ink }: Deviation = deviationOf(run.printerId);
    const { trailerMm } = feedingOf(this.past.db)(run);
    recordRunReport(this.past, {
      runId,
      attempt: run.attempt,
      seq: run.reportSeq + 1,
      status,
      phase: status === 'printed' ? 'done' : 'print',
      lengthMm: run.lengthMm * share,
      fedMm: run.lengthMm * share + (status === 'printed' ? trailerMm : 0),
      msLeft: status === 'printed' ? 0 : run.estimateMs * (1 - share),
      inkMl: Object.fromEntries(Object.entries(run.inkMl).map(([channel, ml]) => [channel, ml * ink * share])),
      reason,
      startedMs: Math.round(startMs),
      endedMs: status === 'printed' || status === 'failed' ? this.clock.now() : null,
    });
  }

  private rowOf(runId: string): RunRow {
    const row = findRun(this.past.db, runId);
    if (!row) throw new Error(`run ${runId} is missing`);
    return row;
  }

  private oneOf(reasons: readonly string[]): string {
    return reasons[Math.floor(this.random() * reasons.length)] ?? '';
  }
}

interface RunTimes {
  readonly startMs: number;
  /** Of its length; less than 1: it fails there. */
  readonly share: number;
  readonly pauseMs: number;
  readonly stoppedMs: number;
  readonly endMs: number;
}

interface Reported {
  readonly status: 'printing' | 'paused' | 'printed' | 'failed';
  readonly share: number;
  readonly startMs: number;
  readonly reason?: string | null;
}
