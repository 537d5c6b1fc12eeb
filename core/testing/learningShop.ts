import { gammaQuantile, normalQuantile } from '../distributions.ts';
import { type LearnedFrom, type LearnedPrinter, learnedPrinter, timeAsItGoes } from '../estimate/learnedPrinter.ts';
import type { Random } from '../random.ts';
import { compileFloor } from '../schedule/compiledFloor.ts';
import { type FinishRange, finishRanges } from '../schedule/finishRanges.ts';
import type { FloorSnapshot } from '../schedule/plan.ts';
import { planCompiled } from '../schedule/planFloor.ts';
import { plannedWork } from '../schedule/planInput.ts';
import { Attendance } from '../schedule/shopHours.ts';
import { plannedPrinter, sourceWith } from './plannedPrinter.ts';

const HOUR = 3_600_000;
const MODES = ['fine', 'production'];
const STOCKS = ['banner', 'film', 'mesh'];

/** How the hidden truths of a made-up shop are drawn. */
export interface TruthLaw {
  /** Spread of what printers, modes and stocks are off by, in spreads of a single run. */
  readonly between: number;
  /** At most so many runs have been seen. */
  readonly mostSeen: number;
  /** Runs wait in each line. */
  readonly queued: number;
}

/** A finish as it was told and as it came. */
export interface ToldFinish extends FinishRange {
  readonly endMs: number;
  /** Runs before it in its line. */
  readonly behind: number;
}

/**
 * A shop whose printer has its own ways in each mode and on each stock, of which its log has seen some runs. What plans then
 * say of the finishes of its line, beside when they really come.
 */
export function toldFinishes(random: Random, seed: number, law: TruthLaw): ToldFinish[] {
  const normal = (): number => normalQuantile(Math.min(1 - 1e-12, Math.max(1e-12, random())));
  // As what is thought beforehand says: a spread of about a tenth, itself not known.
  const deviation = Math.sqrt(0.03 / gammaQuantile(Math.min(1 - 1e-9, Math.max(1e-9, random())), 3));
  const off = law.between * deviation;
  const ofPrinter = off * normal();
  const series = MODES.flatMap((modeId) => {
    const ofMode = ofPrinter + off * normal();
    return STOCKS.map((stockId) => ({ modeId, stockId, mean: ofMode + off * normal() }));
  });
  const pick = (): (typeof series)[number] => series[Math.floor(random() * series.length)] as (typeof series)[number];
  const ratio = (mean: number): number => Math.exp(mean + deviation * normal());
  const outcomes = Array.from({ length: Math.floor(random() * (law.mostSeen + 1)) }, (): LearnedFrom => {
    const { modeId, stockId, mean } = pick();
    return { modeId, stockId, time: ratio(mean), ink: {}, inkCounted: false };
  });
  // As many values as no change is looked for that is not there.
  const learned = learnedPrinter(outcomes, 50_000);
  const actual = new Map<string, number>();
  const runs = Array.from({ length: law.queued }, (_, i) => {
    const { modeId, stockId, mean } = pick();
    const estimateMs = (0.2 + 3 * random()) * HOUR;
    const id = `run-${String(i)}`;
    actual.set(id, estimateMs * ratio(mean));
    return plannedWork({
      ...{ id, modeId, stockId, estimateMs: timeAsItGoes(estimateMs, learned, modeId, stockId) },
      ...{ needMm: 1000, outMm: 1000, byHand: false, unattended: true },
    });
  });
  const snapshot: FloorSnapshot = {
    printers: [
      {
        printer: plannedPrinter('heron', {
          sources: STOCKS.map((stockId) => sourceWith({ id: stockId, stockId, spoolId: stockId, leftMm: 1e9 })),
        }),
        runs,
      },
    ],
    ...{ rack: [], attendance: Attendance.always(), nowMs: 0 },
  };
  const said = finishRanges(snapshot, new Map<string, LearnedPrinter>([['heron', learned]]), { seed });
  const truth = planCompiled(compileFloor(snapshot), {
    printMs: (_, run) => actual.get(run.id) ?? 0,
    cared: () => undefined,
    inkFactor: () => 1,
  });
  const events = truth.lines.get('heron')?.events ?? [];
  return events.flatMap((event) => {
    const range = event.kind === 'run' ? said.get(event.id) : undefined;
    return event.kind === 'run' && range
      ? [{ ...range, endMs: event.toMs, behind: runs.findIndex(({ id }) => id === event.id) }]
      : [];
  });
}
