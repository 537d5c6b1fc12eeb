import type { CutReport, CutterAbout, CutterFault, CutterState } from '../contract/machine/cutter.ts';
import { cutPathOf } from '../core/estimate/cutPath.ts';
import { contourCutMs } from '../core/estimate/runTime.ts';
import { type Outline, boundsOf } from '../core/geometry/polygon.ts';
import { type Deviation, deviationOf } from '../core/machine/deviation.ts';

interface CutJob {
  readonly runId: string;
  readonly attempt: number;
  /** When each outline is done, counted from its start (ms). */
  readonly doneMs: readonly number[];
  intoMs: number;
  status: 'waiting' | 'cutting' | 'paused';
  reason: string | null;
  startedMs: number | null;
}

export interface CutterMemory {
  seq: number;
  job: CutJob | null;
  ended: Record<string, CutReport>;
  fault: CutterFault['kind'] | null;
}

export function emptyCutter(): CutterMemory {
  return { seq: 0, job: null, ended: {}, fault: null };
}

const REMEMBERED = 200;
const LAY_ON = 'waits for the print to be laid on';

interface World {
  readonly now: () => number;
  readonly save: () => void;
  readonly deviation?: Deviation;
}

/** One simulated cutter: takes the contours of a run, waits for a person, cuts them in shop time. */
export class CutterStandIn {
  private readonly deviation: Deviation;

  constructor(
    readonly about: CutterAbout,
    readonly memory: CutterMemory,
    private readonly world: World,
  ) {
    this.deviation = world.deviation ?? deviationOf(about.id);
  }

  state(): CutterState {
    const { job, fault, seq, ended } = this.memory;
    const all = Object.values(ended);
    return {
      cutterId: this.about.id,
      seq,
      atMs: this.world.now(),
      status: fault ? 'faulted' : job === null ? 'idle' : job.status === 'cutting' ? 'cutting' : 'waiting',
      reason: fault ?? job?.reason ?? null,
      cut: job ? this.reportOf(job) : (all[all.length - 1] ?? null),
    };
  }

  report(runId: string, attempt: number): CutReport | undefined {
    const { job, ended } = this.memory;
    return job?.runId === runId && job.attempt === attempt ? this.reportOf(job) : ended[key(runId, attempt)];
  }

  /** @returns why it can't be taken, or what is known of it from now on */
  accept(runId: string, attempt: number, outlines: readonly Outline[]): CutReport | string {
    const known = this.report(runId, attempt);
    if (known) return known;
    if (this.memory.job) return 'another cut is on the machine';
    if (this.memory.fault) return `a fault stands: ${this.memory.fault}`;
    const out = outlines.find((outline) => !this.reaches(outline));
    if (outlines.length === 0) return 'there is nothing to cut';
    if (out) return `an outline lies outside of its ${String(this.about.widthMm)} × ${String(this.about.lengthMm)} mm`;
    this.memory.job = {
      runId,
      attempt,
      doneMs: this.timesOf(outlines),
      intoMs: 0,
      status: 'waiting',
      reason: LAY_ON,
      startedMs: null,
    };
    this.changed();
    return this.reportOf(this.memory.job);
  }

  command(runId: string, attempt: number, command: 'start' | 'pause' | 'resume' | 'cancel'): CutReport | undefined {
    const { job } = this.memory;
    if (job?.runId !== runId || job.attempt !== attempt) return this.report(runId, attempt);
    if (command === 'cancel') return this.end(job, 'cancelled', 'cancelled');
    if (command === 'pause' && job.status === 'cutting') {
      job.status = 'paused';
      job.reason = 'paused by hand';
    }
    const goes = (command === 'start' && job.status === 'waiting') || (command === 'resume' && job.status === 'paused');
    if (goes && this.memory.fault === null) {
      job.status = 'cutting';
      job.reason = null;
      job.startedMs ??= this.world.now();
    }
    this.changed();
    return this.reportOf(job);
  }

  /** The knife stands where it stood; somebody has to look before it goes on. */
  powerWasLost(): void {
    const { job } = this.memory;
    if (job?.status !== 'cutting') return;
    job.status = 'paused';
    job.reason = 'power was lost';
    this.changed();
  }

  strike({ kind }: CutterFault): void {
    const { job } = this.memory;
    this.memory.fault = kind;
    // What a jam has shifted can't be cut on; the others leave it where it lies.
    if (job && kind === 'jam') this.end(job, 'failed', kind);
    else if (job?.status === 'cutting') {
      job.status = 'paused';
      job.reason = kind;
    }
    this.changed();
  }

  mend(): void {
    this.memory.fault = null;
    this.changed();
  }

  tick(elapsedMs: number): void {
    const { job } = this.memory;
    if (job?.status !== 'cutting' || elapsedMs <= 0) return;
    job.intoMs += elapsedMs;
    if (job.intoMs >= (job.doneMs[job.doneMs.length - 1] ?? 0)) this.end(job, 'cut', null);
    else this.changed();
  }

  private reaches(outline: Outline): boolean {
    const { minX, minY, maxX, maxY } = boundsOf(outline);
    return minX >= -1e-6 && minY >= -1e-6 && maxX <= this.about.widthMm + 1e-6 && maxY <= this.about.lengthMm + 1e-6;
  }

  /** In the order of the feed, by the same closed form as a printer's own knife. */
  private timesOf(outlines: readonly Outline[]): number[] {
    const pieces = outlines
      .map((outline) => ({ ...boxOf(outline), cut: [outline] }))
      .sort((a, b) => a.yMm - b.yMm || a.xMm - b.xMm);
    let rings = 0;
    let pathMm = 0;
    let travelMm = 0;
    let at = { x: 0, y: 0 };
    return pieces.map((piece) => {
      const middle = { x: piece.xMm + piece.widthMm / 2, y: piece.yMm + piece.heightMm / 2 };
      rings += 1;
      pathMm += cutPathOf([piece]).pathMm;
      travelMm += Math.hypot(middle.x - at.x, middle.y - at.y);
      at = middle;
      return contourCutMs({ rings, pathMm, travelMm }, { cutter: this.about }) * this.deviation.speed;
    });
  }

  private reportOf(job: CutJob): CutReport {
    return {
      runId: job.runId,
      attempt: job.attempt,
      status: job.status,
      cut: job.doneMs.filter((ms) => ms <= job.intoMs).length,
      of: job.doneMs.length,
      msLeft: Math.max(0, (job.doneMs[job.doneMs.length - 1] ?? 0) - job.intoMs),
      reason: job.reason,
      startedMs: job.startedMs,
      endedMs: null,
    };
  }

  private end(job: CutJob, status: 'cut' | 'failed' | 'cancelled', reason: string | null): CutReport {
    const report: CutReport = { ...this.reportOf(job), status, reason, msLeft: 0, endedMs: this.world.now() };
    this.memory.ended = Object.fromEntries(
      Object.entries({ ...this.memory.ended, [key(job.runId, job.attempt)]: report }).slice(-REMEMBERED),
    );
    this.memory.job = null;
    this.changed();
    return report;
  }

  private changed(): void {
    this.memory.seq += 1;
    this.world.save();
  }
}

function boxOf(outline: Outline): { xMm: number; yMm: number; widthMm: number; heightMm: number } {
  const { minX, minY, maxX, maxY } = boundsOf(outline);
  return { xMm: minX, yMm: minY, widthMm: maxX - minX, heightMm: maxY - minY };
}

function key(runId: string, attempt: number): string {
  return `${runId}/${String(attempt)}`;
}

/** Closed outlines of straight lines in the group `contour` of an SVG in mm. Anything else there is refused. */
export function outlinesOf(svg: string): Outline[] {
  const group = /<g id="contour">([\s\S]*?)<\/g>/.exec(svg)?.[1] ?? '';
  return [...group.matchAll(/<path d="([^"]*)"/g)].map(([, d = '']) => {
    const inside = /^M([\d.eE ,L+-]*)Z$/.exec(d)?.[1];
    const points = (inside ?? '').split('L').map((point) => {
      const [x = Number.NaN, y = Number.NaN] = point.trim().split(/[ ,]+/).map(Number);
      return { x, y };
    });
    if (points.length < 3 || points.some(({ x, y }) => !Number.isFinite(x) || !Number.isFinite(y)))
      throw Object.assign(new Error('an outline is not closed, or not of straight lines'), { status: 400 });
    return points;
  });
}
