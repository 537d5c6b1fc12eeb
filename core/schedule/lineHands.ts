import { outputTrouble } from '../stock/takeUp.ts';
import type { CompiledRun, Rack } from './compiledFloor.ts';
import type { LineSupplies } from './lineSupplies.ts';
import type { HandReason, PlanPrinter } from './plan.ts';

/**
 * What a run needs a person for as the printer is now, in the order in which the dispatcher asks.
 * @param isDirty a channel that it fires can't print until it is cleaned
 * @returns null: nothing
 */
export function handFor(
  compiled: CompiledRun,
  printer: PlanPrinter,
  supplies: LineSupplies,
  rack: Rack,
  isDirty: boolean,
): HandReason | null {
  const { run } = compiled;
  if (isDirty) return 'clean';
  if (run.turn) return 'turn';
  if (run.byHand) return 'pieces';
  if (!run.unattended || !printer.unattended) return 'watch';
  if (run.needMm <= 0) return null;
  const source = supplies.feeds(compiled, rack);
  if (!source) return 'load';
  const out = outputTrouble(printer, source.takeUp, run.outMm, supplies.collectedMm);
  return out === null ? null : out.code === 'basket' ? 'empty' : 'cut';
}

/** How long somebody has to be there for it (ms). */
export function handMs({ run }: CompiledRun, { changeOver, cleanMs }: PlanPrinter, why: HandReason): number {
  const forMs: Record<HandReason, number> = {
    clean: cleanMs,
    turn: changeOver.stockMin * 60_000,
    load: changeOver.stockMin * 60_000,
    pieces: run.estimateMs,
    watch: run.estimateMs,
    empty: 0,
    cut: 0,
  };
  return forMs[why];
}
