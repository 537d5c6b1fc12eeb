import { NARROWER_MM } from '../flow/startCheck.ts';
import { itemAt } from '../elementAt.ts';
import { type TakeUp, outputTrouble } from '../stock/takeUp.ts';
import type { CompiledLine, CompiledRun, Rack } from './compiledFloor.ts';
import type { CareTakes, RackSpool } from './plan.ts';

/** What stands in a source of a printer while its line is planned. */
export interface LineSource {
  readonly id: string;
  /** -1: empty. */
  stock: number;
  stockId: string | null;
  spoolId: string | null;
  widthMm: number;
  leftMm: number;
  /** Sheets of this length; null: a roll. */
  sheetMm: number | null;
  takeUp: TakeUp | null;
}

/** A source that has to be loaded before a run: with a spool of the rack, or with one that nobody has. */
export interface Load {
  readonly source: LineSource;
  readonly what: 'stock' | 'spool';
  readonly spool: RackSpool | undefined;
  /** Where its stock will run out all the same: the spool that does, null where there is none. */
  readonly lacks: { readonly spoolId: string | null } | null;
}

/** Media, ink and basket of one printer while its line is planned: what each run leaves is what the next one finds. */
export class LineSupplies {
  readonly sources: LineSource[];
  readonly inkMl: Float64Array;
  collectedMm: number;
  /** Whether it had to choose which of several sources to load: what is wanted at the end of the line could change that. */
  chose = false;
  /** Of each run, where its stock is wanted next; of each stock, where it is wanted first from here on. */
  private readonly nextSame: Int32Array;
  private readonly nextUse: Int32Array;

  constructor(
    private readonly line: CompiledLine,
    private readonly queued: readonly CompiledRun[],
    stocks: { readonly count: number; readonly of: (stockId: string) => number },
  ) {
    const { printer } = line;
    this.collectedMm = printer.collectedMm;
    this.sources = printer.sources.map((source) => ({
      ...source,
      stock: source.stockId === null ? -1 : stocks.of(source.stockId),
    }));
    this.inkMl = Float64Array.from(line.channelIds, (id) => printer.inkLeftMl[id] ?? 0);
    this.nextSame = new Int32Array(queued.length);
    this.nextUse = new Int32Array(stocks.count).fill(queued.length);
    for (let i = queued.length - 1; i >= 0; i -= 1) {
      const { stock } = itemAt(queued, i);
      this.nextSame[i] = this.nextUse[stock] ?? queued.length;
      this.nextUse[stock] = i;
    }
  }

  /** Takes on what another line has come to. */
  takeOver(other: LineSupplies): void {
    this.sources.forEach((source, i) => Object.assign(source, other.sources[i]));
    this.inkMl.set(other.inkMl);
    this.collectedMm = other.collectedMm;
  }

  /** The line has come past one of its runs. */
  passed(at: number): void {
    const { stock } = itemAt(this.queued, at);
    this.nextUse[stock] = this.nextSame[at] ?? this.queued.length;
  }

  /** The source that can feed a run as it is. As the dispatcher: the spool that it is meant for, else the least that is enough. */
  feeds(compiled: CompiledRun, rack: Rack): LineSource | undefined {
    const { run, stock } = compiled;
    const widthMm = run.leastWidthMm - NARROWER_MM;
    const meantId = this.meantSpool(compiled, rack);
    let enough: LineSource | undefined;
    for (const source of this.sources) {
      if (meantId !== null && source.spoolId !== meantId) continue;
      if (source.stock !== stock || source.widthMm < widthMm || source.leftMm < run.needMm - 1e-6) continue;
      if (!enough || source.leftMm < enough.leftMm) enough = source;
    }
    return enough;
  }

  /** The spool that a run is meant for, as long as it is within reach and long enough; null: any will do. */
  private meantSpool({ run, stock }: CompiledRun, rack: Rack): string | null {
    const { meantSpoolId: id = null } = run;
    if (id === null) return null;
    const here = this.sources.find((source) => source.spoolId === id && source.stock === stock);
    const spool = here ?? rack.find(stock, id);
    return spool && spool.leftMm >= run.needMm - 1e-6 && spool.widthMm >= run.leastWidthMm - NARROWER_MM ? id : null;
  }

  /** What has to be loaded for a run that nothing can feed, taken from the rack; undefined: the printer has no source. */
  loadFor(compiled: CompiledRun, rack: Rack): Load | undefined {
    const { run, stock } = compiled;
    const widthMm = run.leastWidthMm - NARROWER_MM;
    const short = this.sources.find((source) => source.stock === stock && source.widthMm >= widthMm);
    const source = short ?? this.leastWanted();
    if (!source) return undefined;
    const meantId = this.meantSpool(compiled, rack);
    if (meantId !== null) {
      return { source, what: short ? 'spool' : 'stock', spool: rack.takeThis(stock, meantId), lacks: null };
    }
    const spool = rack.take(stock, widthMm, run.needMm);
    // What is loaded ends before the run does, whether or not another roll stands ready.
    const runsShort = short !== undefined || !spool || spool.leftMm < run.needMm - 1e-6;
    const lacks = runsShort ? { spoolId: short ? short.spoolId : (spool?.id ?? null) } : null;
    return { source, what: short ? 'spool' : 'stock', spool, lacks };
  }

  /** What was in a source goes back to the rack, and what was taken from there is in it. */
  load({ source, spool }: Load, { run, stock }: CompiledRun, rack: Rack): void {
    if (source.spoolId !== null && source.stockId !== null) {
      const { spoolId: id, stockId, widthMm, leftMm, sheetMm, takeUp } = source;
      rack.put(source.stock, { id, stockId, widthMm, leftMm, sheetMm, takeUp });
    }
    source.stock = stock;
    source.stockId = run.stockId;
    source.spoolId = spool?.id ?? null;
    source.widthMm = spool?.widthMm ?? Infinity;
    source.sheetMm = spool?.sheetMm ?? null;
    source.takeUp = spool?.takeUp ?? null;
    source.leftMm = spool?.leftMm ?? run.needMm;
  }

  /** What care is printed from: its stock, or the widest; the least that is enough. Undefined: nothing that is loaded will do. */
  careSource({ stockId, fedMm }: CareTakes): LineSource | undefined {
    const [first] = this.sources
      .filter((source) => source.stock >= 0 && source.leftMm >= careFedMm(fedMm, source) - 1e-6)
      .filter((source) => stockId === null || source.stockId === stockId)
      .sort((a, b) => (stockId === null ? b.widthMm - a.widthMm : 0) || a.leftMm - b.leftMm);
    return first;
  }

  /** Whether what comes out would not go into the basket any more. */
  isFull(mm: number, takeUp: TakeUp | null): boolean {
    return outputTrouble(this.line.printer, takeUp, mm, this.collectedMm)?.code === 'basket' && this.collectedMm > 0;
  }

  comesOut(mm: number, takeUp: TakeUp | null): void {
    if (takeUp === null && this.line.printer.collectsMm !== null) this.collectedMm += mm;
  }

  /** Ink of care; what it lacks itself is told where it is due. */
  careInk(inkMl: Readonly<Record<string, number>>): void {
    this.line.channelIds.forEach((channel, i) => {
      const left = this.inkMl[i] ?? 0;
      // Below nothing it has been told already; care empties a tank, and the run behind it is told of it.
      if (left > 0) this.inkMl[i] = Math.max(0, left - (inkMl[channel] ?? 0));
    });
  }

  /**
   * Ink of a run.
   * @param share of the run that is still to be printed
   * @returns channels that run dry in it, each with how far it comes (0 … 1); each is told once
   */
  useInk(inkMl: Float64Array | null, share: number): readonly { readonly channelId: string; readonly at: number }[] {
    if (!inkMl) return NOTHING_DRY;
    let dry: { channelId: string; at: number }[] | undefined;
    for (let i = 0; i < inkMl.length; i += 1) {
      const ml = (inkMl[i] ?? 0) * share;
      if (ml <= 0) continue;
      const left = this.inkMl[i] ?? 0;
      // Told once: what follows lacks it as well.
      if (left >= 0 && ml > left) (dry ??= []).push({ channelId: itemAt(this.line.channelIds, i), at: left / ml });
      this.inkMl[i] = left - ml;
    }
    return dry ?? NOTHING_DRY;
  }

  /** The source whose stock is needed last, or never again; an empty one before all others. */
  private leastWanted(): LineSource | undefined {
    if (this.sources.length > 1) this.chose = true;
    let best: LineSource | undefined;
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
}

const NOTHING_DRY: readonly never[] = [];

/** Length that care takes from a source: of a pack whole sheets. */
export function careFedMm(fedMm: number, { sheetMm }: Pick<LineSource, 'sheetMm'>): number {
  return sheetMm === null ? fedMm : Math.ceil(fedMm / sheetMm - 1e-9) * sheetMm;
}
