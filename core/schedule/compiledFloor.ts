import { RUN_STATES_ON_PRINTER } from '../flow/run.ts';
import { assignSpool } from '../stock/assignSpools.ts';
import type { FloorSnapshot, LineEvent, PlanPrinter, PlanRun, RackSpool } from './plan.ts';
import { lateMsOf } from './plan.ts';
import type { Attendance, TimeSpan } from './shopHours.ts';

/** A run with what its plan looks up as numbers. */
export interface CompiledRun {
  readonly run: PlanRun;
  readonly stock: number;
  /** What it fires of each channel, in the order of the printer's channels (ml); null: nothing is known of it. */
  readonly inkMl: Float64Array | null;
}

export interface CompiledLine {
  readonly printer: PlanPrinter;
  readonly channelIds: readonly string[];
  readonly ended: readonly LineEvent[];
  readonly present: readonly CompiledRun[];
  readonly queued: readonly CompiledRun[];
}

/** A floor that can be planned again and again: names are numbers, what never changes is worked out once. */
export interface CompiledFloor {
  readonly lines: readonly CompiledLine[];
  readonly rack: Rack;
  readonly attendance: Attendance;
  readonly nowMs: number;
  readonly stocks: StockNumbers;
  readonly away: TimeSpan | null;
}

/** Stocks by number; one that was not there when the floor was compiled gets the next. */
export class StockNumbers {
  private readonly numbers = new Map<string, number>();

  of(stockId: string): number {
    const known = this.numbers.get(stockId);
    if (known !== undefined) return known;
    this.numbers.set(stockId, this.numbers.size);
    return this.numbers.size - 1;
  }

  get count(): number {
    return this.numbers.size;
  }
}

/** What stands on the rack, by stock: all printers take from it. */
export class Rack {
  constructor(private readonly byStock: (readonly RackSpool[] | undefined)[] = []) {}

  /** Lists are never changed, only replaced: a copy shares them. */
  copy(): Rack {
    return new Rack([...this.byStock]);
  }

  put(stock: number, spool: RackSpool): void {
    this.byStock[stock] = [...(this.byStock[stock] ?? []), spool];
  }

  find(stock: number, spoolId: string): RackSpool | undefined {
    return this.byStock[stock]?.find(({ id }) => id === spoolId);
  }

  /** Takes a spool that somebody has chosen. */
  takeThis(stock: number, spoolId: string): RackSpool | undefined {
    const spool = this.find(stock, spoolId);
    if (spool) this.byStock[stock] = this.byStock[stock]?.filter((each) => each !== spool);
    return spool;
  }

  /** Takes the shortest spool that is wide and long enough; else the longest that is wide enough. */
  take(stock: number, leastWidthMm: number, needMm: number): RackSpool | undefined {
    const list = this.byStock[stock];
    if (!list) return undefined;
    const best = assignSpool(list, leastWidthMm, needMm);
    if (best) this.byStock[stock] = list.filter((spool) => spool !== best);
    return best;
  }
}

/**
 * Works out once what every plan of this floor looks up.
 * @param stocks numbers of another floor, where runs of both are planned on this one
 */
export function compileFloor(snapshot: FloorSnapshot, stocks = new StockNumbers()): CompiledFloor {
  const rack = new Rack();
  for (const spool of snapshot.rack) rack.put(stocks.of(spool.stockId), spool);
  const lines = snapshot.printers.map(({ printer, runs }): CompiledLine => {
    for (const { stockId } of printer.sources) if (stockId !== null) stocks.of(stockId);
    const channelIds = Object.keys(printer.inkLeftMl);
    const ended: LineEvent[] = [];
    for (const { id, startedMs, endedMs, dues } of runs) {
      if (endedMs === null || startedMs === null) continue;
      ended.push({ kind: 'run', id, fromMs: startedMs, toMs: endedMs, lateMs: lateMsOf(dues, endedMs), fed: null });
    }
    ended.sort((a, b) => a.fromMs - b.fromMs);
    const compiled = (which: (state: string) => boolean): CompiledRun[] =>
      runs.filter(({ state }) => which(state)).map((run) => compileRun(run, channelIds, stocks));
    return {
      printer,
      channelIds,
      ended,
      present: compiled((state) => (RUN_STATES_ON_PRINTER as readonly string[]).includes(state)),
      queued: compiled((state) => state === 'queued'),
    };
  });
  const { attendance, nowMs, away = null } = snapshot;
  return { lines, rack, attendance, nowMs, stocks, away };
}

export function compileRun(run: PlanRun, channelIds: readonly string[], stocks: StockNumbers): CompiledRun {
  let inkMl: Float64Array | null = null;
  channelIds.forEach((id, i) => {
    const ml = run.inkMl[id] ?? 0;
    if (ml <= 0) return;
    inkMl ??= new Float64Array(channelIds.length);
    inkMl[i] = ml;
  });
  return { run, stock: stocks.of(run.stockId), inkMl };
}
