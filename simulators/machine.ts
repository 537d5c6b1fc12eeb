import type { FaultKind, FaultOrder, MachineRun, MachineState, RunReport } from '../contract/machine/protocol.ts';
import {
  PRESS_START,
  type PressPlan,
  type PressState,
  fedLengthMm,
  finishedLengthMm,
  pressMsLeft,
  stepPress,
} from '../core/machine/press.ts';
import { seededRandom } from '../core/random.ts';

interface Job {
  readonly runId: string;
  readonly attempt: number;
  readonly plan: PressPlan;
  readonly inkMl: Record<string, number>;
  readonly startedMs: number;
  press: PressState;
  paused: string | null;
}

/** All that a stand-in must remember over a restart. */
export interface MachineMemory {
  seq: number;
  job: Job | null;
  ended: Record<string, RunReport>;
  fault: FaultKind | null;
  due: FaultOrder[];
}

/** How this one printer differs from its data sheet, as in life: fixed for a machine, unknown to the server. */
interface Deviation {
  readonly speed: number;
  readonly ink: number;
  readonly startUp: number;
}

/** Ended runs are remembered so that a late question still gets its answer. */
const REMEMBERED = 500;

function deviationOf(machineId: string): Deviation {
  let seed = 7;
  for (const char of machineId) seed = (Math.imul(seed, 31) + (char.codePointAt(0) ?? 0)) | 0;
  const random = seededRandom(seed);
  const off = (): number => 1 + (random() < 0.5 ? -1 : 1) * (0.05 + random() * 0.15);
  return { speed: off(), ink: off(), startUp: off() };
}

export function emptyMemory(): MachineMemory {
  return { seq: 0, job: null, ended: {}, fault: null, due: [] };
}

/** One simulated printer: takes a run, prints it in shop time, can be paused, cancelled and struck by faults. */
export class StandIn {
  private readonly deviation: Deviation;
  private readonly listeners = new Set<(state: MachineState) => void>();
  private lastSent = '';
  lostUntilReal = 0;

  constructor(
    readonly id: string,
    readonly memory: MachineMemory,
    private readonly now: () => number,
    private readonly save: () => void,
  ) {
    this.deviation = deviationOf(id);
  }

  /** After a power cut nobody knows how far the carriage was: the run ends where it was last noted. */
  powerWasLost(): void {
    const { job } = this.memory;
    if (job) this.endJob(job, 'failed', 'the printer lost power');
  }

  state(): MachineState {
    const { job, fault, seq } = this.memory;
    const status =
      fault === 'head strike'
        ? 'faulted'
        : fault !== null && fault !== 'link lost'
          ? 'waiting'
          : job?.paused != null
            ? 'waiting'
            : job
              ? 'printing'
              : 'idle';
    const reason = fault !== null && fault !== 'link lost' ? fault : (job?.paused ?? null);
    return {
      machineId: this.id,
      seq,
      atMs: this.now(),
      status,
      reason,
      run: job ? this.reportOf(job) : this.latestEnded(),
    };
  }

  report(runId: string, attempt: number): RunReport | undefined {
    const { job, ended } = this.memory;
    if (job?.runId === runId && job.attempt === attempt) return this.reportOf(job);
    return ended[key(runId, attempt)];
  }

  /** @returns undefined while another run is on the machine or a fault stands */
  accept(runId: string, attempt: number, run: MachineRun): RunReport | undefined {
    const known = this.report(runId, attempt);
    if (known) return known;
    if (this.memory.job || this.memory.fault !== null) return undefined;
    const { speed, startUp, ink } = this.deviation;
    const plan: PressPlan = {
      lengthMm: run.lengthMm,
      trailerMm: run.trailerMm,
      advanceMm: run.advanceMm,
      passes: run.passes,
      startUpMs: run.startUpMs * startUp,
      strokesMs: run.strokesMs.map((ms) => ms * speed),
      dryOutMs: run.dryOutMs * speed,
      cutMs: run.cutMs,
    };
    const inkMl = Object.fromEntries(Object.entries(run.inkMl).map(([channel, ml]) => [channel, ml * ink]));
    const job: Job = { runId, attempt, plan, inkMl, startedMs: this.now(), press: PRESS_START, paused: null };
    this.memory.job = job;
    this.changed();
    return this.reportOf(job);
  }

  command(runId: string, attempt: number, command: 'pause' | 'resume' | 'cancel'): RunReport | undefined {
    const { job } = this.memory;
    if (job?.runId !== runId || job.attempt !== attempt) return this.report(runId, attempt);
    if (command === 'pause') job.paused ??= 'paused by hand';
    if (command === 'resume' && this.memory.fault === null) job.paused = null;
    if (command === 'cancel') return this.endJob(job, 'cancelled', 'cancelled');
    this.changed();
    return this.reportOf(job);
  }

  strike(order: FaultOrder, realNow: number): void {
    if (order.atMm !== undefined) {
      this.memory.due.push(order);
      this.changed();
      return;
    }
    if (order.kind === 'link lost') {
      this.lostUntilReal = realNow + (order.forMs ?? 3000);
      return;
    }
    this.memory.fault = order.kind;
    const { job } = this.memory;
    if (job && order.kind === 'head strike') this.endJob(job, 'failed', 'head strike');
    else if (job) job.paused ??= order.kind;
    this.changed();
  }

  /** The cause is gone; a run that it stopped still waits for somebody to let it go on. */
  mend(): void {
    const { job, fault } = this.memory;
    if (job && fault !== null && job.paused === fault) job.paused = `${fault} mended, waits to go on`;
    this.memory.fault = null;
    this.memory.due = [];
    this.lostUntilReal = 0;
    this.changed();
  }

  /** Lets shop time pass. */
  tick(elapsedMs: number, realNow: number): void {
    const { job } = this.memory;
    if (!job || job.paused !== null || elapsedMs <= 0) return;
    job.press = stepPress(job.plan, job.press, elapsedMs);
    const fed = fedLengthMm(job.plan, job.press);
    const due = this.memory.due.find((order) => fed >= (order.atMm ?? 0));
    if (due) {
      this.memory.due = this.memory.due.filter((order) => order !== due);
      this.strike({ kind: due.kind, ...(due.forMs === undefined ? {} : { forMs: due.forMs }) }, realNow);
      return;
    }
    if (job.press.phase === 'done') this.endJob(job, 'printed', null);
    else this.changed();
  }

  subscribe(listener: (state: MachineState) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  private reportOf(job: Job): RunReport {
    const fedMm = fedLengthMm(job.plan, job.press);
    const share = job.plan.lengthMm > 0 ? Math.min(1, fedMm / job.plan.lengthMm) : 0;
    return {
      runId: job.runId,
      attempt: job.attempt,
      status: job.paused === null ? 'printing' : 'paused',
      phase: job.press.phase,
      lengthMm: finishedLengthMm(job.plan, job.press),
      fedMm,
      msLeft: pressMsLeft(job.plan, job.press),
      inkMl: Object.fromEntries(Object.entries(job.inkMl).map(([channel, ml]) => [channel, ml * share])),
      reason: job.paused,
      startedMs: job.startedMs,
      endedMs: null,
    };
  }

  private endJob(job: Job, status: 'printed' | 'failed' | 'cancelled', reason: string | null): RunReport {
    const report: RunReport = { ...this.reportOf(job), status, reason, msLeft: 0, endedMs: this.now() };
    const ended = Object.entries({ ...this.memory.ended, [key(job.runId, job.attempt)]: report });
    this.memory.ended = Object.fromEntries(ended.slice(-REMEMBERED));
    this.memory.job = null;
    this.changed();
    return report;
  }

  private latestEnded(): RunReport | null {
    const all = Object.values(this.memory.ended);
    return all[all.length - 1] ?? null;
  }

  private changed(): void {
    this.memory.seq += 1;
    this.save();
    const state = this.state();
    const text = JSON.stringify({ ...state, seq: 0, atMs: 0 });
    if (text === this.lastSent) return;
    this.lastSent = text;
    for (const listener of this.listeners) listener(state);
  }
}

function key(runId: string, attempt: number): string {
  return `${runId}/${String(attempt)}`;
}
