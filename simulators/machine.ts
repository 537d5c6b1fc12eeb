import type { ChannelFaults } from '../core/heads/nozzleFaults.ts';
import type { MachineAbout } from '../contract/machine/about.ts';
import type {
  FaultKind,
  FaultOrder,
  MachineRun,
  MachineState,
  MediaLoad,
  RunReport,
} from '../contract/machine/protocol.ts';
import { fedLengthMm, finishedLengthMm, firedShare, resumeFromStop, pressMsLeft } from '../core/machine/press.ts';
import { type Deviation, deviationOf } from '../core/machine/deviation.ts';
import { readDots } from './dotsReader.ts';
import { firedUpTo, hasWaited, hold, printJobOf, stepJob } from './printJob.ts';
import { HeadWear } from './headWear.ts';
import { MachineCare } from './machineCare.ts';
import type { MachineMemory, PrintJob } from './memory.ts';

/** Ended runs are remembered so that a late question still gets its answer. */
const REMEMBERED = 500;
/** Less than this in a tank is said as *ink low*. */
const LOW_SHARE = 0.08;
/** So much slower while something is wrong with it. */
const SLOW = 3;
/** These spoil what lies under the head; the others wait for a hand. */
const SPOILS: readonly FaultKind[] = ['head strike', 'jam'];
/** What chance brings. */
const CHANCE: readonly FaultKind[] = ['media out', 'jam', 'cover open', 'ink out', 'head strike', 'slow device'];
export const STOP_REASON = 'stops for the next piece';
export const FULL_REASON = 'basket full';

interface World {
  readonly now: () => number;
  readonly save: () => void;
  readonly random: () => number;
  readonly about?: MachineAbout | undefined;
  readonly deviation?: Deviation;
  /** Hours that its channels have been idle for when it is first switched on. */
  readonly idleH?: Readonly<Record<string, number>> | undefined;
  /** Nozzles that are not well by then. */
  readonly faults?: Readonly<Record<string, ChannelFaults>> | undefined;
}

/** One simulated printer: takes a run, prints it in shop time, uses media and ink, can be paused, cancelled and struck by faults. */
export class StandIn {
  private readonly deviation: Deviation;
  private readonly listeners = new Set<(state: MachineState) => void>();
  private lastSent = '';
  readonly heads: HeadWear;
  readonly care: MachineCare;
  lostUntilReal = 0;

  constructor(
    readonly id: string,
    readonly memory: MachineMemory,
    private readonly world: World,
  ) {
    this.deviation = world.deviation ?? deviationOf(id);
    this.heads = new HeadWear(memory.nozzles, world.about, world.random, { idleH: world.idleH, faults: world.faults });
    this.care = new MachineCare({
      memory,
      heads: this.heads,
      deviation: this.deviation,
      about: world.about,
      now: world.now,
      isTaken: () => this.isTaken,
      draw: (sourceId, fedMm, firedMl) => {
        this.draw(sourceId, fedMm, firedMl);
      },
      chance: (elapsedMs) => (this.isStruck(elapsedMs) ? this.byChance() : undefined),
      strike: (kind) => {
        this.strike({ kind }, 0);
      },
      changed: () => {
        this.changed();
      },
    });
    // Switched off in order and on again it reads on where it was.
    if (memory.job) this.readDots(memory.job);
  }

  get about(): MachineAbout | undefined {
    return this.world.about;
  }

  get isOff(): boolean {
    return this.memory.off;
  }

  /** Switched off it answers nothing; switched on again it knows only what it had noted. */
  power(on: boolean): void {
    if (this.memory.off === !on) return;
    this.memory.off = !on;
    if (on) this.powerWasLost();
    this.changed();
  }

  /** After a power cut nobody knows how far the carriage was: the run ends where it was last noted. */
  powerWasLost(): void {
    const { job } = this.memory;
    if (job) this.endJob(job, 'failed', 'the printer lost power');
    this.care.end('failed', 'the printer lost power');
  }

  state(): MachineState {
    const { job, fault, seq, sources, inkMl, care } = this.memory;
    const standing = fault !== null && fault !== 'link lost';
    const status =
      standing && SPOILS.includes(fault)
        ? 'faulted'
        : standing || job?.paused != null
          ? 'waiting'
          : job
            ? 'printing'
            : care
              ? 'caring'
              : 'idle';
    return {
      machineId: this.id,
      seq,
      atMs: this.world.now(),
      status,
      reason: standing ? fault : (job?.paused ?? this.warning()),
      media: Object.entries(sources).map(([sourceId, { tag, widthMm }]) => ({ sourceId, tag, widthMm })),
      ...(inkMl === null ? {} : { inkMl: this.inkNow(inkMl) }),
      collectedMm: Math.round(this.memory.collectedMm),
      firedMs: this.heads.firedMs(),
      run: job ? this.reportOf(job) : this.latestEnded(),
      care: this.care.latest(),
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
    if (this.isTaken) return undefined;
    const job = printJobOf(runId, attempt, run, this.deviation, this.world.now());
    this.memory.job = job;
    this.readDots(job);
    this.changed();
    return this.reportOf(job);
  }

  /** Dots come part by part, while others of them are printed already. */
  private readDots(job: PrintJob): void {
    if (!job.dots) return;
    void readDots(
      job.dots,
      this.world.about,
      () => this.memory.job === job,
      () => {
        this.world.save();
      },
    );
  }

  private get isTaken(): boolean {
    const { job, care, fault } = this.memory;
    return job !== null || care !== null || fault !== null;
  }

  command(runId: string, attempt: number, command: 'pause' | 'resume' | 'cancel'): RunReport | undefined {
    const { job } = this.memory;
    if (job?.runId !== runId || job.attempt !== attempt) return this.report(runId, attempt);
    if (command === 'pause') hold(job, 'paused by hand');
    if (command === 'resume' && this.memory.fault === null) this.autoSubmit(job);
    if (command === 'cancel') return this.endJob(job, 'cancelled', 'cancelled');
    this.changed();
    return this.reportOf(job);
  }

  private autoSubmit(job: PrintJob): void {
    if (job.paused === STOP_REASON) job.press = resumeFromStop(job.press);
    // Who lets it go on has emptied what was full.
    if (job.paused === FULL_REASON) this.memory.collectedMm = 0;
    job.paused = null;
  }

  load(sourceId: string, { tag, widthMm, lengthMm }: MediaLoad): void {
    const before = this.memory.sources[sourceId];
    const leftMm = before?.tag === tag ? before.leftMm : lengthMm * this.deviation.rollLength;
    this.memory.sources[sourceId] = { tag, widthMm, leftMm };
    if (this.memory.fault === 'media out') this.mend();
    this.changed();
  }

  unload(sourceId: string): void {
    this.memory.sources = Object.fromEntries(Object.entries(this.memory.sources).filter(([id]) => id !== sourceId));
    this.changed();
  }

  /** A person has cleaned its heads thoroughly. */
  clean(): void {
    this.heads.clean(this.world.now());
    this.changed();
  }

  emptied(): void {
    this.memory.collectedMm = 0;
    this.changed();
  }

  fill(inkMl: Readonly<Record<string, number>>): void {
    this.memory.inkMl = { ...this.memory.inkMl, ...inkMl };
    if (this.memory.fault === 'ink out') this.mend();
    this.changed();
  }

  strike(order: FaultOrder, realNow: number): void {
    const { job } = this.memory;
    if (order.atMm !== undefined) this.memory.due.push(order);
    else if (order.kind === 'link lost') this.lostUntilReal = realNow + (order.forMs ?? 3000);
    else if (order.kind === 'slow device') this.memory.slow = true;
    else if (order.kind === 'ink low') this.drainOne();
    else {
      this.memory.fault = order.kind;
      if (job && SPOILS.includes(order.kind)) this.endJob(job, 'failed', order.kind);
      else if (job) hold(job, order.kind);
      // Care is short: what a fault interrupts is done again, not gone on with.
      this.care.end('failed', order.kind);
    }
    this.changed();
  }

  /** The cause is gone; a run that it stopped still waits for somebody to let it go on. */
  mend(): void {
    const { job, fault } = this.memory;
    if (job && fault !== null && job.paused === fault) job.paused = `${fault} mended, waits to go on`;
    this.memory.fault = null;
    this.memory.due = [];
    this.memory.slow = false;
    this.lostUntilReal = 0;
    this.changed();
  }

  /** Lets shop time pass. */
  tick(elapsedMs: number, realNow: number): void {
    const { job } = this.memory;
    if (elapsedMs <= 0) return;
    const now = this.world.now();
    const cares = this.memory.off ? {} : this.care.tick(elapsedMs);
    if (job && hasWaited(job)) {
      job.paused = null;
      this.changed();
    }
    const prints = job && job.paused === null && !this.memory.off ? job : null;
    if (!prints || !job) {
      if (this.heads.pass(now, cares)) this.changed();
      return;
    }
    const before = { fed: fedLengthMm(job.plan, job.press), fired: firedShare(job.plan, job.press) };
    stepJob(job, this.memory.slow ? elapsedMs / SLOW : elapsedMs);
    const fed = fedLengthMm(job.plan, job.press);
    const [was, is] = [before.fired, firedShare(job.plan, job.press)].map((share) =>
      firedUpTo(job, share, this.deviation.ink),
    );
    const firedMl = Object.fromEntries(
      Object.entries(is ?? {}).map(([channel, ml]) => [channel, ml - (was?.[channel] ?? 0)]),
    );
    if (this.heads.pass(now, firedMl)) this.changed();
    this.draw(job.sourceId, (fed - before.fed) / (job.feedFactor ?? 1), firedMl);
    const due = this.memory.due.find((order) => fed >= (order.atMm ?? 0));
    if (due) {
      this.memory.due = this.memory.due.filter((order) => order !== due);
      this.strike({ kind: due.kind, ...(due.forMs === undefined ? {} : { forMs: due.forMs }) }, realNow);
      return;
    }
    const runsOut = this.runsOut(job);
    if (runsOut) this.strike({ kind: runsOut }, realNow);
    else if (this.isStruck(elapsedMs)) this.strike({ kind: this.byChance() }, realNow);
    else if (job.press.phase === 'done') this.endJob(job, 'printed', null);
    else {
      if (job.press.phase === 'stop') job.paused = STOP_REASON;
      else if (this.isFull()) job.paused = FULL_REASON;
      this.changed();
    }
  }

  subscribe(listener: (state: MachineState) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** Takes what was fed and fired from source and tanks. */
  private draw(sourceId: string | null, fedMm: number, firedMl: Readonly<Record<string, number>>): void {
    const source = sourceId === null ? undefined : this.memory.sources[sourceId];
    if (source) source.leftMm -= fedMm * this.deviation.feed;
    this.memory.collectedMm += fedMm;
    const tanks = this.memory.inkMl;
    if (!tanks) return;
    for (const [channel, ml] of Object.entries(firedMl)) {
      const left = tanks[channel];
      if (left !== undefined && ml > 0) tanks[channel] = Math.max(0, left - ml * this.heads.openShare(channel));
    }
  }

  private runsOut(job: PrintJob): FaultKind | undefined {
    if (job.press.phase !== 'print') return undefined;
    const source = job.sourceId === null ? undefined : this.memory.sources[job.sourceId];
    if (source && source.leftMm <= 0) return 'media out';
    const tanks = this.memory.inkMl ?? {};
    const dry = Object.entries(job.inkMl).some(([channel, ml]) => ml > 0 && (tanks[channel] ?? 1) <= 0);
    return dry ? 'ink out' : undefined;
  }

  private isStruck(elapsedMs: number): boolean {
    const { per100h } = this.memory;
    return per100h > 0 && this.world.random() < (per100h * elapsedMs) / 360_000_000;
  }

  private byChance(): FaultKind {
    return CHANCE[Math.floor(this.world.random() * CHANCE.length)] ?? 'cover open';
  }

  /** Nothing is taken away while a run prints: what the basket holds is checked as it fills. */
  private isFull(): boolean {
    const holds = this.about?.collectsMm ?? null;
    return holds !== null && this.memory.collectedMm > holds;
  }

  private inkNow(tanks: Readonly<Record<string, number>>): Record<string, number> {
    return Object.fromEntries(Object.entries(tanks).map(([channel, ml]) => [channel, Math.round(ml * 100) / 100]));
  }

  private warning(): string | null {
    const tanks = this.memory.inkMl;
    const low = (this.about?.channels ?? []).find(({ id, tankMl }) => (tanks?.[id] ?? tankMl) < tankMl * LOW_SHARE);
    if (low) return `ink low: ${low.name.toLowerCase()}`;
    return this.memory.slow ? 'slower than it should be' : null;
  }

  /** The fullest tank loses what makes it more than low. */
  private drainOne(): void {
    const tanks = this.memory.inkMl;
    const channel = this.about?.channels.find(({ id }) => tanks?.[id] !== undefined);
    if (tanks && channel) tanks[channel.id] = channel.tankMl * LOW_SHARE * 0.6;
  }

  private reportOf(job: PrintJob): RunReport {
    const share = firedShare(job.plan, job.press);
    return {
      runId: job.runId,
      attempt: job.attempt,
      seq: this.memory.seq,
      status: job.paused === null ? 'printing' : 'paused',
      phase: job.press.phase,
      lengthMm: finishedLengthMm(job.plan, job.press),
      fedMm: fedLengthMm(job.plan, job.press),
      msLeft: pressMsLeft(job.plan, job.press),
      inkMl: firedUpTo(job, share, this.deviation.ink),
      reason: job.paused,
      startedMs: job.startedMs,
      endedMs: null,
    };
  }

  private endJob(job: PrintJob, status: 'printed' | 'failed' | 'cancelled', reason: string | null): RunReport {
    // Later than anything that was said of it while it was printed.
    const seq = this.memory.seq + 1;
    const report: RunReport = { ...this.reportOf(job), seq, status, reason, msLeft: 0, endedMs: this.world.now() };
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
    this.world.save();
    const state = this.state();
    const text = JSON.stringify({
      ...state,
      seq: 0,
      atMs: 0,
      run: state.run && { ...state.run, seq: 0 },
      care: state.care && { ...state.care, seq: 0 },
    });
    if (text === this.lastSent) return;
    this.lastSent = text;
    for (const listener of this.listeners) listener(state);
  }
}

function key(runId: string, attempt: number): string {
  return `${runId}/${String(attempt)}`;
}
