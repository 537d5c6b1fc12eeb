import { callsForCare, ruledCareId } from '../care/careRule.ts';
import { itemAt } from '../elementAt.ts';
import { outputTrouble } from '../stock/takeUp.ts';
import type { CompiledLine, CompiledRun, Rack } from './compiledFloor.ts';
import { LineCare } from './lineCare.ts';
import { handFor, handMs } from './lineHands.ts';
import { type LineSource, LineSupplies, careFedMm } from './lineSupplies.ts';
import type { Luck } from './luck.ts';
import {
  type CareTakes,
  type Fed,
  type HandReason,
  type HeldOut,
  type Line,
  type LineEvent,
  type PlanRun,
  type Shortage,
  type WaitReason,
  lateMinorOf,
  lateMsOf,
} from './plan.ts';
import type { Attendance, TimeSpan } from './shopHours.ts';

/** What the lines of one floor share while they are planned. */
export interface Shared {
  readonly attendance: Attendance;
  readonly nowMs: number;
  readonly stocks: { readonly count: number; readonly of: (stockId: string) => number };
  /** While nobody is there within it, runs that need a hand are held out: what can be printed goes before them. */
  readonly away: TimeSpan | null;
  /** What chance makes of times; left out: everything takes as long as it should. */
  readonly luck?: Luck;
}

/**
 * A line while it is being planned. Runs are put behind one another; what each leaves behind (media, mode, ink, a full basket)
 * is what the next one finds.
 */
export class LinePlan {
  private readonly events: LineEvent[];
  private readonly supplies: LineSupplies;
  private readonly shortages: Shortage[] = [];
  private readonly heldOut: HeldOut[] = [];
  /** Runs that need a hand, in their order: they come as soon as somebody is there. */
  private readonly waiting: CompiledRun[] = [];
  private modeId: string | null;
  private changeOverMin = 0;
  private lateMinor = 0;
  private readonly timed: LineCare;
  /** Channels that the line has counted on being cleaned. */
  private readonly cleaned = new Set<string>();
  private at = 0;
  freeMs: number;

  constructor(
    private readonly line: CompiledLine,
    private readonly queued: readonly CompiledRun[],
    private readonly shared: Shared,
    private rack: Rack,
  ) {
    this.events = [...line.ended];
    this.freeMs = shared.nowMs;
    this.modeId = line.printer.lastModeId;
    this.supplies = new LineSupplies(line, queued, shared.stocks);
    this.timed = new LineCare(line.printer.care);
    this.begin();
  }

  /** Whether it had to choose which of several sources to load: what is wanted at the end of the line could change that. */
  get chose(): boolean {
    return this.supplies.chose;
  }

  /** Whether every run of it is planned. */
  get done(): boolean {
    return this.at >= this.queued.length && this.waiting.length === 0;
  }

  /** Plans the next run of its line. */
  step(): void {
    this.careDue();
    const next = this.take();
    if (next) this.next(next);
  }

  /** The next run in the line; with nobody there in a period away, the next that needs no hand. */
  private take(): CompiledRun | undefined {
    if (this.waiting.length > 0 && !this.isAway()) return this.waiting.shift();
    while (this.at < this.queued.length) {
      const compiled = itemAt(this.queued, this.at);
      this.supplies.passed(this.at);
      this.at += 1;
      const why = this.heldOutFor(compiled);
      if (why === null) return compiled;
      this.waiting.push(compiled);
      this.heldOut.push({ runId: compiled.run.id, atMs: this.freeMs, why });
    }
    this.untilBack();
    return this.waiting.shift();
  }

  /** Only what needs a hand is left: it waits until somebody comes, or the time away is over. */
  private untilBack(): void {
    const { away, attendance } = this.shared;
    const [first] = this.waiting;
    if (!away || !first || !this.isAway()) return;
    const comes = attendance.startFor(this.freeMs, 0) ?? away.toMs;
    this.wait(first.run.id, 'nobody there', Math.min(comes, away.toMs));
  }

  private isAway(): boolean {
    const { away, attendance } = this.shared;
    return away !== null && this.freeMs >= away.fromMs && this.freeMs < away.toMs && !attendance.isThere(this.freeMs);
  }

  /**
   * Why a run is held out, now or as soon as whoever is here has gone without having had the time for it; null: its turn has come.
   * Until then the line stands.
   */
  private heldOutFor(compiled: CompiledRun): HandReason | null {
    const { away, attendance } = this.shared;
    if (away === null || this.freeMs >= away.toMs) return null;
    const { printer } = this.line;
    const why = handFor(compiled, printer, this.supplies, this.rack, this.unclean(compiled.run).length > 0);
    if (why === null) return null;
    const start = attendance.startFor(this.freeMs, handMs(compiled, printer, why)) ?? Infinity;
    if (start <= this.freeMs) return null;
    let leftMs = Math.max(this.freeMs, away.fromMs);
    while (leftMs < away.toMs && attendance.isThere(leftMs)) leftMs = attendance.goesMs(leftMs);
    if (leftMs >= Math.min(away.toMs, start)) return null;
    this.wait(compiled.run.id, 'nobody there', leftMs);
    return why;
  }

  /** Puts runs behind the line, with a rack of its own; what it held before is no longer told. */
  append(runs: readonly CompiledRun[], rack: Rack): Line {
    this.rack = rack;
    this.events.length = 0;
    this.shortages.length = 0;
    this.changeOverMin = 0;
    this.lateMinor = 0;
    for (const compiled of runs) this.next(compiled);
    const { events, ...rest } = this.result();
    // Care is the line's own, not theirs.
    return { ...rest, events: events.filter(({ kind }) => kind !== 'care') };
  }

  /** As far as it is planned, for {@link append}: the two share nothing that changes. */
  copy(): LinePlan {
    const other = new LinePlan({ ...this.line, ended: [], present: [] }, [], this.shared, this.rack);
    other.events.length = 0;
    other.supplies.takeOver(this.supplies);
    other.modeId = this.modeId;
    other.timed.takeOver(this.timed);
    for (const channel of this.cleaned) other.cleaned.add(channel);
    other.freeMs = this.freeMs;
    return other;
  }

  result(): Line {
    const { freeMs, changeOverMin, lateMinor, heldOut } = this;
    const shortages = [...this.shortages].sort((a, b) => a.atMs - b.atMs);
    const events = [...this.events, ...this.careBehind()];
    return { events, freeMs, shortages, changeOverMin, lateMinor, heldOut };
  }

  /** What is on the printer; one that stands goes on when somebody is there to see to it. */
  private begin(): void {
    const { stopped } = this.line.printer;
    const first = this.line.present[0] ?? this.queued[0];
    if (stopped && first) this.untilThere(first.run.id, 0, stopped);
    for (const compiled of this.line.present) this.present(compiled);
  }

  private present(compiled: CompiledRun): void {
    const { run } = compiled;
    const { nowMs } = this.shared;
    const left = run.msLeft ?? run.estimateMs;
    const stands = run.state === 'paused' || this.line.printer.stopped !== null;
    if (run.state === 'paused' && run.goesOnByItself !== true && this.line.printer.stopped === null)
      this.untilThere(run.id, 0, 'nobody there');
    // A run that stands keeps the time it still needs in front of it.
    const from = stands || run.saidAtMs === null ? this.freeMs : run.saidAtMs;
    const startMs = this.freeMs;
    this.modeId = run.modeId;
    // What it has not fed and fired yet is still on its spool and in the tanks, and no longer there for what follows.
    const source = this.supplies.sources.find(({ spoolId }) => spoolId !== null && spoolId === run.spoolId);
    if (source) source.leftMm -= Math.max(0, run.needMm - run.fedMm);
    // A back takes nothing from a spool: how far it is shows in its time.
    const undone = run.needMm > 0 ? 1 - run.fedMm / run.needMm : left / Math.max(1, run.estimateMs);
    const share = Math.min(1, Math.max(0, undone));
    this.print(compiled, startMs, Math.max(0, from + left - startMs), source, share);
    this.close(run, run.startedMs ?? nowMs, source);
  }

  private next(compiled: CompiledRun): void {
    const { run } = compiled;
    const { printer } = this.line;
    const { changeOver } = printer;
    this.careDue();
    const source = run.needMm > 0 ? this.media(compiled, changeOver.stockMin) : undefined;
    if (run.turn) {
      this.untilThere(run.id, changeOver.stockMin * 60_000, 'nobody there');
      this.hand(run.id, 'turn', changeOver.stockMin);
    }
    const takeUp = source?.takeUp ?? null;
    if (this.supplies.isFull(run.outMm, takeUp)) {
      this.untilThere(run.id, 0, 'nobody there');
      this.hand(run.id, 'empty', 0);
      this.supplies.collectedMm = 0;
    }
    if (this.modeId !== null && this.modeId !== run.modeId && changeOver.modeMin > 0) {
      this.change(run.id, 'mode', null, null, changeOver.modeMin);
    }
    this.modeId = run.modeId;
    if (run.fixedStartMs !== null && run.fixedStartMs > this.freeMs) {
      this.wait(run.id, 'fixed start', run.fixedStartMs);
    }
    this.cleanFirst(run);
    this.careUntilStart(run);
    const fromMs = this.freeMs;
    if (source) source.leftMm -= run.needMm;
    this.print(compiled, fromMs, run.estimateMs, source, 1);
    this.close(run, fromMs, source);
  }

  /** Prints a run, or what is left of it. A channel that runs dry stands until somebody fills it. */
  private print(
    { run, inkMl }: CompiledRun,
    fromMs: number,
    forMs: number,
    source: LineSource | undefined,
    share: number,
  ): void {
    const { luck, attendance } = this.shared;
    const printMs = luck ? luck.printMs(this.line.printer.id, run, fromMs, forMs) : forMs;
    this.supplies.comesOut(run.outMm * share, source?.takeUp ?? null);
    let stoodMs = 0;
    for (const { channelId, at } of this.supplies.useInk(inkMl, share * (luck?.inkFactor(this.line.printer.id) ?? 1))) {
      const atMs = fromMs + printMs * at;
      this.shortages.push({ atMs, runId: run.id, what: { kind: 'ink', channelId } });
      stoodMs = Math.max(stoodMs, (attendance.startFor(atMs, 0) ?? atMs) - atMs);
    }
    this.freeMs = Math.max(this.shared.nowMs, fromMs + printMs + stoodMs);
  }

  /** A run whose channels can't print waits for somebody who cleans them; what was cleaned once is counted on from then on. */
  private cleanFirst(run: PlanRun): void {
    const { cleanMs } = this.line.printer;
    const dirty = this.unclean(run);
    if (dirty.length === 0) return;
    for (const channel of dirty) this.cleaned.add(channel);
    this.untilThere(run.id, cleanMs, 'nobody there');
    this.hand(run.id, 'clean', cleanMs / 60_000);
  }

  private unclean({ modeId, inkMl }: PlanRun): readonly string[] {
    const unfit = this.line.printer.unfit[modeId];
    return unfit?.filter((channel) => !this.cleaned.has(channel) && (inkMl[channel] ?? 0) > 0) ?? NONE;
  }

  /** Waits until a run can start, with the care that comes before it: what is due, what it would keep too long, what rules ask for. */
  private careUntilStart(run: PlanRun): void {
    const needsSomebody = run.byHand || !run.unattended || !this.line.printer.unattended;
    let before = -1;
    // Care takes time: afterwards people may be gone, and more be due.
    while (before !== this.freeMs) {
      if (needsSomebody) this.untilThere(run.id, run.estimateMs, 'nobody there');
      before = this.freeMs;
      this.careDue();
    }
    this.careFirst(run.estimateMs);
    for (const rule of this.line.printer.careRules) {
      if (rule.doneFor.includes(run.id) || !callsForCare(rule, run)) continue;
      this.care(ruledCareId(rule.id, run.id), rule);
    }
  }

  /** What can't be printed, since no media is there for it or the basket is full, is given up and takes no time. */
  private care(id: string, takes: CareTakes & { readonly skipped?: boolean }): void {
    const fromMs = this.freeMs;
    if (takes.skipped === true) {
      this.events.push({ kind: 'care', id, fromMs, toMs: fromMs, lacks: null, fed: null });
      return;
    }
    const { supplies } = this;
    const source = takes.fedMm > 0 ? supplies.careSource(takes) : undefined;
    const fedMm = source ? careFedMm(takes.fedMm, source) : 0;
    if (source && supplies.isFull(fedMm, source.takeUp) && this.shared.attendance.isThere(fromMs)) {
      supplies.collectedMm = 0;
    }
    const out = source && outputTrouble(this.line.printer, source.takeUp, fedMm, supplies.collectedMm);
    const lacks = takes.fedMm > 0 && !source ? 'media' : out ? 'basket' : null;
    if (lacks === null) {
      this.freeMs = fromMs + takes.durationMs;
      supplies.careInk(takes.inkMl);
      this.shared.luck?.cared(this.line.printer.id, takes.inkMl, this.freeMs);
      if (source) {
        source.leftMm -= fedMm;
        supplies.comesOut(fedMm, source.takeUp);
      }
    }
    this.events.push({ kind: 'care', id, fromMs, toMs: this.freeMs, lacks, fed: lacks ? null : fedOf(source) });
  }

  /** Care that has fallen due. */
  private careDue(): void {
    for (let due = this.timed.takeDue(this.freeMs); due; due = this.timed.takeDue(this.freeMs)) this.care(due.id, due);
  }

  /** Care of timers that a run of this length would keep beyond its latest start goes first, of each timer once. */
  private careFirst(estimateMs: number): void {
    for (const first of this.timed.takeBefore(this.freeMs, estimateMs)) this.care(first.id, first);
  }

  /** Care that comes behind the last run: it holds nothing up, and what is put behind the line is planned around it. */
  private careBehind(): LineEvent[] {
    const left = this.timed.left();
    if (left.length === 0) return [];
    const tail = this.copy();
    for (const each of left) {
      tail.freeMs = Math.max(tail.freeMs, each.fromMs);
      tail.care(each.id, each);
    }
    return tail.events;
  }

  /** The source that feeds a run, loaded with what it needs where it isn't there. */
  private media(compiled: CompiledRun, stockMin: number): LineSource | undefined {
    const { run } = compiled;
    const ready = this.supplies.feeds(compiled, this.rack);
    if (ready) return ready;
    const load = this.supplies.loadFor(compiled, this.rack);
    if (!load) return undefined;
    const { source, what, spool, lacks } = load;
    if (lacks) this.lacks(run.id, this.freeMs, lacks.spoolId);
    this.supplies.load(load, compiled, this.rack);
    this.untilThere(run.id, stockMin * 60_000, 'nobody there');
    this.change(run.id, what, source.id, spool?.id ?? null, stockMin);
    return source;
  }

  private change(
    runId: string,
    what: 'stock' | 'spool' | 'mode',
    sourceId: string | null,
    spoolId: string | null,
    minutes: number,
  ): void {
    const fromMs = this.freeMs;
    this.freeMs = fromMs + minutes * 60_000;
    this.events.push({ kind: 'change-over', what, runId, fromMs, toMs: this.freeMs, sourceId, spoolId });
    this.changeOverMin += minutes;
  }

  private hand(runId: string, what: 'empty' | 'turn' | 'clean', minutes: number): void {
    const fromMs = this.freeMs;
    this.freeMs = fromMs + minutes * 60_000;
    this.events.push({ kind: 'hand', what, runId, fromMs, toMs: this.freeMs });
    this.changeOverMin += minutes;
  }

  /** Until an instant, or later where care that falls due meanwhile takes longer. A printer that stands can't be cared for. */
  private wait(runId: string, why: WaitReason, untilMs: number): void {
    const canCare = why === 'nobody there' || why === 'fixed start';
    for (;;) {
      const next = canCare ? this.timed.next() : undefined;
      const until = Math.min(untilMs, Math.max(this.freeMs, next?.fromMs ?? Infinity));
      if (until > this.freeMs) this.events.push({ kind: 'wait', why, runId, fromMs: this.freeMs, toMs: until });
      this.freeMs = Math.max(this.freeMs, until);
      if (this.freeMs >= untilMs || !next) return;
      this.careDue();
    }
  }

  /** Until somebody is there who stays for so long. */
  private untilThere(runId: string, forMs: number, why: WaitReason): void {
    for (;;) {
      const start = this.shared.attendance.startFor(this.freeMs, forMs);
      if (start === undefined || start <= this.freeMs) return;
      this.wait(runId, why, start);
    }
  }

  private lacks(runId: string, atMs: number, spoolId: string | null): void {
    this.shortages.push({ atMs, runId, what: { kind: 'media', spoolId } });
  }

  private close(run: CompiledRun['run'], fromMs: number, source: LineSource | undefined): void {
    const toMs = this.freeMs;
    this.events.push({ kind: 'run', id: run.id, fromMs, toMs, lateMs: lateMsOf(run.dues, toMs), fed: fedOf(source) });
    this.lateMinor += lateMinorOf(run.dues, toMs);
  }
}

const NONE: readonly string[] = [];

/** What a spool has left once something was printed from it. */
function fedOf(source: LineSource | undefined): Fed | null {
  if (!source) return null;
  const { id: sourceId, spoolId, leftMm } = source;
  return { sourceId, spoolId, leftMm };
}
