import { careBeforeRun } from '../care/purgeRule.ts';
import { callsForCare, ruledCareId } from '../care/careRule.ts';
import { NARROWER_MM } from '../flow/startCheck.ts';
import { itemAt } from '../elementAt.ts';
import { type TakeUp, outputTrouble } from '../stock/takeUp.ts';
import type { CompiledLine, CompiledRun, Rack } from './compiledFloor.ts';
import {
  type CareTakes,
  type Line,
  type LineEvent,
  type PlanCare,
  type PlanRun,
  type Shortage,
  type WaitReason,
  lateMinorOf,
  lateMsOf,
} from './plan.ts';
import type { Attendance } from './shopHours.ts';

interface Source {
  readonly id: string;
  /** -1: empty. */
  stock: number;
  stockId: string | null;
  spoolId: string | null;
  widthMm: number;
  leftMm: number;
  takeUp: TakeUp | null;
}

/** What the lines of one floor share while they are planned. */
export interface Shared {
  readonly attendance: Attendance;
  readonly nowMs: number;
  readonly stockCount: number;
  readonly stockOf: (stockId: string) => number;
}

/**
 * A line while it is being planned. Runs are put behind one another; what each leaves behind (media, mode, ink, a full basket)
 * is what the next one finds.
 */
export class LinePlan {
  private readonly events: LineEvent[];
  private readonly sources: Source[];
  private readonly inkMl: Float64Array;
  private readonly shortages: Shortage[] = [];
  private modeId: string | null;
  private collectedMm: number;
  private changeOverMin = 0;
  private lateMinor = 0;
  /** Care that comes next, by its place; what came before its due instant is left out then. */
  private cared = 0;
  private readonly careAhead = new Set<number>();
  /** Channels that the line has counted on being cleaned. */
  private readonly cleaned = new Set<string>();
  /** Of each run, where its stock is wanted next; of each stock, where it is wanted first from here on. */
  private readonly nextSame: Int32Array;
  private readonly nextUse: Int32Array;
  private at = 0;
  /** Whether it had to choose which of several sources to load: what is wanted at the end of the line could change that. */
  chose = false;
  freeMs: number;

  constructor(
    private readonly line: CompiledLine,
    private readonly queued: readonly CompiledRun[],
    private readonly shared: Shared,
    private rack: Rack,
  ) {
    const { printer } = line;
    this.events = [...line.ended];
    this.freeMs = shared.nowMs;
    this.modeId = printer.lastModeId;
    this.collectedMm = printer.collectedMm;
    this.sources = printer.sources.map((source) => ({
      ...source,
      stock: source.stockId === null ? -1 : shared.stockOf(source.stockId),
    }));
    this.inkMl = Float64Array.from(line.channelIds, (id) => printer.inkLeftMl[id] ?? 0);
    this.nextSame = new Int32Array(queued.length);
    this.nextUse = new Int32Array(shared.stockCount).fill(queued.length);
    for (let i = queued.length - 1; i >= 0; i -= 1) {
      const { stock } = itemAt(queued, i);
      this.nextSame[i] = this.nextUse[stock] ?? queued.length;
      this.nextUse[stock] = i;
    }
    this.begin();
  }

  /** Whether every run of it is planned. */
  get done(): boolean {
    return this.at >= this.queued.length;
  }

  /** Plans the next run of its line. */
  step(): void {
    const compiled = itemAt(this.queued, this.at);
    this.nextUse[compiled.stock] = this.nextSame[this.at] ?? this.queued.length;
    this.at += 1;
    this.next(compiled);
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
    other.sources.forEach((source, i) => Object.assign(source, this.sources[i]));
    other.inkMl.set(this.inkMl);
    other.modeId = this.modeId;
    other.collectedMm = this.collectedMm;
    other.cared = this.cared;
    for (const at of this.careAhead) other.careAhead.add(at);
    for (const channel of this.cleaned) other.cleaned.add(channel);
    other.freeMs = this.freeMs;
    return other;
  }

  result(): Line {
    const { freeMs, changeOverMin, lateMinor } = this;
    const shortages = [...this.shortages].sort((a, b) => a.atMs - b.atMs);
    return { events: [...this.events, ...this.careBehind()], freeMs, shortages, changeOverMin, lateMinor };
  }

  /** What is on the printer; one that stands goes on when somebody is there to see to it. */
  private begin(): void {
    const { stopped } = this.line.printer;
    const first = this.line.present[0] ?? this.queued[0];
    if (stopped && first) this.untilThere(first.run.id, 0, stopped);
    for (const compiled of this.line.present) this.present(compiled);
  }

  private present({ run, inkMl }: CompiledRun): void {
    const { nowMs } = this.shared;
    const left = run.msLeft ?? run.estimateMs;
    const stands = run.state === 'paused' || this.line.printer.stopped !== null;
    if (run.state === 'paused' && this.line.printer.stopped === null) this.untilThere(run.id, 0, 'nobody there');
    // A run that stands keeps the time it still needs in front of it.
    const from = stands || run.saidAtMs === null ? this.freeMs : run.saidAtMs;
    const startMs = this.freeMs;
    this.freeMs = Math.max(nowMs, from + left);
    this.modeId = run.modeId;
    // What it has not fed and fired yet is still on its spool and in the tanks, and no longer there for what follows.
    const source = this.sources.find(({ spoolId }) => spoolId !== null && spoolId === run.spoolId);
    if (source) source.leftMm -= Math.max(0, run.needMm - run.fedMm);
    // A back takes nothing from a spool: how far it is shows in its time.
    const undone = run.needMm > 0 ? 1 - run.fedMm / run.needMm : left / Math.max(1, run.estimateMs);
    const share = Math.min(1, Math.max(0, undone));
    this.comesOut(run.outMm * share, source?.takeUp ?? null);
    this.useInk(run.id, inkMl, startMs, this.freeMs, share);
    this.close(run, run.startedMs ?? nowMs, this.freeMs);
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
    if (outputTrouble(printer, takeUp, run.outMm, this.collectedMm)?.code === 'basket' && this.collectedMm > 0) {
      this.untilThere(run.id, 0, 'nobody there');
      this.hand(run.id, 'empty', 0);
      this.collectedMm = 0;
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
    this.freeMs = fromMs + run.estimateMs;
    this.comesOut(run.outMm, takeUp);
    this.useInk(run.id, compiled.inkMl, fromMs, this.freeMs, 1);
    this.close(run, fromMs, this.freeMs);
  }

  /** A run whose channels can't print waits for somebody who cleans them; what was cleaned once is counted on from then on. */
  private cleanFirst({ id, modeId, inkMl }: PlanRun): void {
    const { unfit, cleanMs } = this.line.printer;
    const dirty = (unfit[modeId] ?? []).filter((channel) => !this.cleaned.has(channel) && (inkMl[channel] ?? 0) > 0);
    if (dirty.length === 0) return;
    for (const channel of dirty) this.cleaned.add(channel);
    this.untilThere(id, cleanMs, 'nobody there');
    this.hand(id, 'clean', cleanMs / 60_000);
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

  private care(id: string, takes: CareTakes): void {
    const fromMs = this.freeMs;
    this.freeMs = fromMs + takes.durationMs;
    this.events.push({ kind: 'care', id, fromMs, toMs: this.freeMs });
    // What it lacks itself is told where it is due; what it takes is no longer there for the runs behind it.
    this.line.channelIds.forEach((channel, i) => {
      const left = this.inkMl[i] ?? 0;
      // Below nothing it has been told already; care empties a tank, and the run behind it is told of it.
      if (left > 0) this.inkMl[i] = Math.max(0, left - (takes.inkMl[channel] ?? 0));
    });
    const source = takes.fedMm > 0 ? this.careSource(takes) : undefined;
    if (!source) return;
    source.leftMm -= takes.fedMm;
    this.comesOut(takes.fedMm, source.takeUp);
  }

  /** What care is printed from: its stock, or the widest; the least that is enough. Undefined: nothing that is loaded will do. */
  private careSource({ stockId, fedMm }: CareTakes): Source | undefined {
    const [first] = this.sources
      .filter((source) => source.stock >= 0 && source.leftMm >= fedMm - 1e-6)
      .filter((source) => stockId === null || source.stockId === stockId)
      .sort((a, b) => (stockId === null ? b.widthMm - a.widthMm : 0) || a.leftMm - b.leftMm);
    return first;
  }

  /** Care that has fallen due. */
  private careDue(): void {
    for (let next = this.nextCare(); next && next.fromMs <= this.freeMs; next = this.nextCare()) {
      this.cared += 1;
      this.care(next.id, next);
    }
  }

  /** The first that has not been done. */
  private nextCare(): PlanCare | undefined {
    const { care } = this.line.printer;
    while (this.careAhead.has(this.cared)) this.cared += 1;
    return care[this.cared];
  }

  /** Care of timers that a run of this length would keep beyond its latest start goes first, of each timer once. */
  private careFirst(estimateMs: number): void {
    if (this.cared >= this.line.printer.care.length) return;
    const first = careBeforeRun(this.line.printer.care, this.freeMs, estimateMs, (at) => this.isDone(at));
    for (const at of first) {
      const next = itemAt(this.line.printer.care, at);
      this.careAhead.add(at);
      this.care(next.id, next);
    }
  }

  private isDone(at: number): boolean {
    return at < this.cared || this.careAhead.has(at);
  }

  /** Care that comes behind the last run: it holds nothing up, and what is put behind the line is planned around it. */
  private careBehind(): LineEvent[] {
    let at = this.freeMs;
    return this.line.printer.care.flatMap(({ id, fromMs, durationMs }, i): LineEvent[] => {
      if (this.isDone(i)) return [];
      const from = Math.max(at, fromMs);
      at = from + durationMs;
      return [{ kind: 'care', id, fromMs: from, toMs: at }];
    });
  }

  /** The source that feeds a run, loaded with what it needs where it isn't there. As the dispatcher: the least that is enough. */
  private media({ run, stock }: CompiledRun, stockMin: number): Source | undefined {
    const widthMm = run.leastWidthMm - NARROWER_MM;
    let enough: Source | undefined;
    let short: Source | undefined;
    for (const source of this.sources) {
      if (source.stock !== stock || source.widthMm < widthMm) continue;
      if (source.leftMm < run.needMm - 1e-6) short ??= source;
      else if (!enough || source.leftMm < enough.leftMm) enough = source;
    }
    if (enough) {
      enough.leftMm -= run.needMm;
      return enough;
    }
    const source = short ?? this.leastWanted();
    if (!source) return undefined;
    const spool = this.rack.take(stock, widthMm, run.needMm);
    // What is loaded ends before the run does, whether or not another roll stands ready.
    if (short) this.lacks(run.id, this.freeMs, short.spoolId);
    else if (!spool || spool.leftMm < run.needMm - 1e-6) this.lacks(run.id, this.freeMs, spool?.id ?? null);
    if (source.spoolId !== null && source.stockId !== null) {
      const { spoolId: id, stockId, widthMm: wide, leftMm, takeUp } = source;
      this.rack.put(source.stock, { id, stockId, widthMm: wide, leftMm, takeUp });
    }
    source.stock = stock;
    source.stockId = run.stockId;
    source.spoolId = spool?.id ?? null;
    source.widthMm = spool?.widthMm ?? Infinity;
    source.takeUp = spool?.takeUp ?? null;
    source.leftMm = (spool?.leftMm ?? run.needMm) - run.needMm;
    this.untilThere(run.id, stockMin * 60_000, 'nobody there');
    this.change(run.id, short ? 'spool' : 'stock', source.id, spool?.id ?? null, stockMin);
    return source;
  }

  /** The source whose stock is needed last, or never again; an empty one before all others. */
  private leastWanted(): Source | undefined {
    if (this.sources.length > 1) this.chose = true;
    let best: Source | undefined;
    let bestAt = -1;
    for (const source of this.sources) {
      const wanted = source.stock < 0 ? Infinity : (this.nextUse[source.stock] ?? this.queued.length);
      if (wanted > bestAt) {
        best = source;
        bestAt = wanted;
      }
    }
    return best;
  }

  private comesOut(mm: number, takeUp: TakeUp | null): void {
    if (takeUp === null && this.line.printer.collectsMm !== null) this.collectedMm += mm;
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
      const next = canCare ? this.nextCare() : undefined;
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

  private useInk(runId: string, inkMl: Float64Array | null, fromMs: number, toMs: number, share: number): void {
    if (!inkMl) return;
    for (let i = 0; i < inkMl.length; i += 1) {
      const ml = (inkMl[i] ?? 0) * share;
      if (ml <= 0) continue;
      const left = this.inkMl[i] ?? 0;
      // Told once: what follows lacks it as well.
      if (left >= 0 && ml > left) {
        const atMs = fromMs + (toMs - fromMs) * (left / ml);
        this.shortages.push({ atMs, runId, what: { kind: 'ink', channelId: itemAt(this.line.channelIds, i) } });
      }
      this.inkMl[i] = left - ml;
    }
  }

  private lacks(runId: string, atMs: number, spoolId: string | null): void {
    this.shortages.push({ atMs, runId, what: { kind: 'media', spoolId } });
  }

  private close(run: CompiledRun['run'], fromMs: number, toMs: number): void {
    this.events.push({ kind: 'run', id: run.id, fromMs, toMs, lateMs: lateMsOf(run.dues, toMs) });
    this.lateMinor += lateMinorOf(run.dues, toMs);
  }
}
