import type { Attendance } from './shopHours.ts';

/** A run as a plan needs it. Lengths mm, times ms. */
export interface PlanRun {
  readonly id: string;
  readonly state: string;
  readonly estimateMs: number;
  readonly startedMs: number | null;
  readonly endedMs: number | null;
  /** Time left as the printer last said, and when it said it. */
  readonly msLeft: number | null;
  readonly saidAtMs: number | null;
  readonly stockId: string;
  readonly modeId: string;
  /** Length that it takes from its spool; 0 for a back. */
  readonly needMm: number;
  /** The spool that it is fed from, once it is on the printer. */
  readonly spoolId: string | null;
  /** What of its length has left the spool already. */
  readonly fedMm: number;
  readonly inkMl: Readonly<Record<string, number>>;
  /** A person loads each piece. */
  readonly byHand: boolean;
  readonly unattended: boolean;
  readonly fixedStartMs: number | null;
  readonly dueMs: number | null;
  readonly latePerHMinor: number;
}

export interface PlanSource {
  readonly id: string;
  readonly stockId: string | null;
  readonly spoolId: string | null;
  readonly leftMm: number;
}

export interface PlanPrinter {
  readonly unattended: boolean;
  readonly changeOver: { readonly stockMin: number; readonly modeMin: number };
  readonly sources: readonly PlanSource[];
  readonly inkLeftMl: Readonly<Record<string, number>>;
  /** Mode of the run that was printed last. */
  readonly lastModeId: string | null;
}

/** A spool that stands on the rack. */
export interface RackSpool {
  readonly id: string;
  readonly stockId: string;
  readonly leftMm: number;
}

/** What a line consists of: runs, what is done between them, and waits with their reason. Instants in ms. */
export type LineEvent =
  | {
      readonly kind: 'run';
      readonly id: string;
      readonly fromMs: number;
      readonly toMs: number;
      readonly lateMs: number;
    }
  | {
      readonly kind: 'change-over';
      readonly what: 'stock' | 'spool' | 'mode';
      readonly runId: string;
      readonly fromMs: number;
      readonly toMs: number;
      readonly sourceId: string | null;
      /** What to load; null: nothing of it is on the rack, or no media is changed. */
      readonly spoolId: string | null;
    }
  | {
      readonly kind: 'wait';
      readonly why: 'nobody there' | 'fixed start';
      readonly runId: string;
      readonly fromMs: number;
      readonly toMs: number;
    };

/** Where a supply ends, if nobody does anything about it. */
export interface Shortage {
  readonly atMs: number;
  readonly runId: string;
  readonly what:
    { readonly kind: 'media'; readonly spoolId: string | null } | { readonly kind: 'ink'; readonly channelId: string };
}

export interface Line {
  /** In the order of time; ended runs first. */
  readonly events: readonly LineEvent[];
  /** When it is done with all of it. */
  readonly freeMs: number;
  readonly shortage: Shortage | null;
  readonly changeOverMin: number;
  /** Σ of late hours × their price, in minor units. */
  readonly lateMinor: number;
}

const ON_PRINTER = ['sent', 'printing', 'paused'];

/**
 * When the runs of one printer were, are and will be printed, with everything between them: the present run to its promised
 * end (never before now), then the queued ones in their order, change-overs only while somebody is there, runs that need a
 * hand within attended hours.
 * @param runs in the order of the line
 */
export function planLine(
  runs: readonly PlanRun[],
  printer: PlanPrinter,
  rack: readonly RackSpool[],
  attendance: Attendance,
  nowMs: number,
): Line {
  const events: LineEvent[] = [];
  for (const { id, startedMs, endedMs, dueMs } of runs) {
    if (endedMs === null || startedMs === null) continue;
    events.push({ kind: 'run', id, fromMs: startedMs, toMs: endedMs, lateMs: late(endedMs, dueMs) });
  }
  events.sort((a, b) => a.fromMs - b.fromMs);
  const plan = new LinePlan(printer, rack, attendance, nowMs, events);
  for (const run of runs) if (ON_PRINTER.includes(run.state)) plan.present(run);
  const queued = runs.filter((run) => run.state === 'queued');
  queued.forEach((run, i) => {
    plan.next(run, queued, i);
  });
  return plan.line();
}

function late(toMs: number, dueMs: number | null): number {
  return dueMs === null ? 0 : Math.max(0, toMs - dueMs);
}

interface Source {
  id: string;
  stockId: string | null;
  spoolId: string | null;
  leftMm: number;
}

/**
 * A line while it is being planned. Runs are put behind one another; what each leaves behind (media, mode, ink) is what the next
 * one finds.
 */
class LinePlan {
  private freeMs: number;
  private modeId: string | null;
  private shortage: Shortage | null = null;
  private changeOverMin = 0;
  private lateMinor = 0;
  private readonly sources: Source[];
  private readonly rack: RackSpool[];
  private readonly ink: Record<string, number>;

  constructor(
    private readonly printer: PlanPrinter,
    rack: readonly RackSpool[],
    private readonly attendance: Attendance,
    private readonly nowMs: number,
    private readonly events: LineEvent[],
  ) {
    this.freeMs = nowMs;
    this.modeId = printer.lastModeId;
    this.sources = printer.sources.map((source) => ({ ...source }));
    this.rack = [...rack];
    this.ink = { ...printer.inkLeftMl };
  }

  line(): Line {
    const { events, freeMs, shortage, changeOverMin, lateMinor } = this;
    return { events, freeMs, shortage, changeOverMin, lateMinor };
  }

  present(run: PlanRun): void {
    const left = run.msLeft ?? run.estimateMs;
    // A paused run keeps the time it still needs in front of it.
    const from = run.state === 'paused' || run.saidAtMs === null ? this.nowMs : run.saidAtMs;
    this.freeMs = Math.max(this.nowMs, from + left);
    this.modeId = run.modeId;
    // What it has not fed and fired yet is still on its spool and in the tanks, and no longer there for what follows.
    const source = this.sources.find(({ spoolId }) => spoolId !== null && spoolId === run.spoolId);
    if (source) source.leftMm -= Math.max(0, run.needMm - run.fedMm);
    // A back takes nothing from a spool: how far it is shows in its time.
    const undone = run.needMm > 0 ? 1 - run.fedMm / run.needMm : left / Math.max(1, run.estimateMs);
    const share = Math.min(1, Math.max(0, undone));
    this.useInk(run, this.nowMs, this.freeMs, share);
    this.close(run, run.startedMs ?? this.nowMs, this.freeMs);
  }

  next(run: PlanRun, line: readonly PlanRun[], at: number): void {
    const { changeOver } = this.printer;
    if (run.needMm > 0) this.media(run, line, at, changeOver.stockMin);
    if (this.modeId !== null && this.modeId !== run.modeId && changeOver.modeMin > 0) {
      this.change(run, 'mode', null, null, this.freeMs, changeOver.modeMin);
    }
    this.modeId = run.modeId;
    let fromMs = this.freeMs;
    if (run.fixedStartMs !== null && run.fixedStartMs > fromMs)
      fromMs = this.wait(run, 'fixed start', run.fixedStartMs);
    if (run.byHand || !run.unattended || !this.printer.unattended) {
      const start = this.attendance.startFor(fromMs, run.estimateMs) ?? fromMs;
      if (start > fromMs) fromMs = this.wait(run, 'nobody there', start);
    }
    this.freeMs = fromMs + run.estimateMs;
    this.useInk(run, fromMs, this.freeMs, 1);
    this.close(run, fromMs, this.freeMs);
  }

  /** Finds the source that feeds a run, and loads what it needs where it isn't there. */
  private media(run: PlanRun, line: readonly PlanRun[], at: number, stockMin: number): void {
    const right = this.sources.filter(({ stockId }) => stockId === run.stockId);
    const enough = right.find(({ leftMm }) => leftMm >= run.needMm - 1e-6);
    if (enough) {
      enough.leftMm -= run.needMm;
      return;
    }
    const short = right[0];
    const source = short ?? this.leastWanted(line, at);
    if (!source) return;
    const spool = this.fromRack(run);
    if (short) this.frays(run, this.freeMs, { kind: 'media', spoolId: short.spoolId });
    else if (!spool) this.frays(run, this.freeMs, { kind: 'media', spoolId: null });
    if (source.spoolId !== null && source.stockId !== null) {
      this.rack.push({ id: source.spoolId, stockId: source.stockId, leftMm: source.leftMm });
    }
    source.stockId = run.stockId;
    source.spoolId = spool?.id ?? null;
    source.leftMm = (spool?.leftMm ?? run.needMm) - run.needMm;
    const start = this.attendance.startFor(this.freeMs, stockMin * 60_000) ?? this.freeMs;
    if (start > this.freeMs) this.freeMs = this.wait(run, 'nobody there', start);
    this.change(run, short ? 'spool' : 'stock', source.id, spool?.id ?? null, this.freeMs, stockMin);
  }

  /** The source whose stock is needed last, or never again. */
  private leastWanted(line: readonly PlanRun[], at: number): Source | undefined {
    let best: Source | undefined;
    let bestAt = -1;
    for (const source of this.sources) {
      let next = line.length;
      for (let i = at + 1; i < line.length; i += 1) {
        if (line[i]?.stockId === source.stockId) {
          next = i;
          break;
        }
      }
      const wanted = source.stockId === null ? line.length + 1 : next;
      if (wanted > bestAt) {
        best = source;
        bestAt = wanted;
      }
    }
    return best;
  }

  /** The shortest spool that is long enough; else the longest. */
  private fromRack(run: PlanRun): RackSpool | undefined {
    let best: RackSpool | undefined;
    for (const spool of this.rack) {
      if (spool.stockId !== run.stockId || spool.leftMm <= 0) continue;
      const fits = spool.leftMm >= run.needMm;
      const bestFits = best !== undefined && best.leftMm >= run.needMm;
      if (
        !best ||
        (fits && !bestFits) ||
        (fits && spool.leftMm < best.leftMm) ||
        (!fits && !bestFits && spool.leftMm > best.leftMm)
      ) {
        best = spool;
      }
    }
    if (best) this.rack.splice(this.rack.indexOf(best), 1);
    return best;
  }

  private change(
    run: PlanRun,
    what: 'stock' | 'spool' | 'mode',
    sourceId: string | null,
    spoolId: string | null,
    fromMs: number,
    minutes: number,
  ): void {
    const toMs = fromMs + minutes * 60_000;
    this.events.push({ kind: 'change-over', what, runId: run.id, fromMs, toMs, sourceId, spoolId });
    this.changeOverMin += minutes;
    this.freeMs = toMs;
  }

  private wait(run: PlanRun, why: 'nobody there' | 'fixed start', untilMs: number): number {
    this.events.push({ kind: 'wait', why, runId: run.id, fromMs: this.freeMs, toMs: untilMs });
    this.freeMs = untilMs;
    return untilMs;
  }

  private useInk(run: PlanRun, fromMs: number, toMs: number, share: number): void {
    for (const [channelId, all] of Object.entries(run.inkMl)) {
      const ml = all * share;
      const left = this.ink[channelId];
      if (left === undefined || ml <= 0) continue;
      if (left >= 0 && ml > left) {
        this.frays(run, fromMs + (toMs - fromMs) * (left / ml), { kind: 'ink', channelId });
      }
      this.ink[channelId] = left - ml;
    }
  }

  private frays(run: PlanRun, atMs: number, what: Shortage['what']): void {
    if (this.shortage === null || atMs < this.shortage.atMs) this.shortage = { atMs, runId: run.id, what };
  }

  private close(run: PlanRun, fromMs: number, toMs: number): void {
    const lateMs = late(toMs, run.dueMs);
    this.events.push({ kind: 'run', id: run.id, fromMs, toMs, lateMs });
    this.lateMinor += (lateMs / 3_600_000) * run.latePerHMinor;
  }
}
