import { normalShare } from '../distributions.ts';
import { type CompiledFloor, type CompiledRun, compileFloor, compileRun } from '../schedule/compiledFloor.ts';
import { type FloorSnapshot, type PlanRun, lateMinorOf } from '../schedule/plan.ts';
import { planCompiled } from '../schedule/planFloor.ts';
import type { AwayWorld } from '../away/awayWorld.ts';
import { type LearnedRate, nothingChance } from '../away/learnedRate.ts';
import type { NightChance } from '../away/nightChance.ts';
import type { Assignment, NightOption, NightUnit } from './nightUnits.ts';

const HOUR = 3_600_000;

/** What a night is looked for in. */
export interface NightQuestion {
  /** The floor with what is on its printers; what is queued comes from the units. */
  readonly world: Pick<AwayWorld, 'floor' | 'period' | 'printers'>;
  readonly units: readonly NightUnit[];
  readonly chance: NightChance;
  /** Units that must be there in the morning. */
  readonly promised: readonly string[];
  /** The chance with which they have to be. */
  readonly confidence: number;
}

/** How good an assignment is: promises first, then worth. */
export interface NightScore {
  /** What is lacking to the chance that all promised units are printed. */
  readonly shortfall: number;
  readonly promisedChance: number;
  /** Expected worth (minor units). */
  readonly worthMinor: number;
}

/** Whether one is better: it keeps promises better, or as well and is worth more. */
export function isBetter(a: NightScore, b: NightScore): boolean {
  const apart = a.shortfall - b.shortfall;
  if (Math.abs(apart) > 1e-12) return apart < 0;
  return a.worthMinor > b.worthMinor + 1e-9;
}

interface Choice {
  readonly option: NightOption;
  readonly compiled: CompiledRun;
  readonly unit: NightUnit;
}

const NO_RATE: LearnedRate = { kind: 'known', rate: 0 };

/**
 * Judges assignments, thousands of times: by the plan without chance, in which each run counts with the chance that its printer and its
 * media bring it through. With nobody there a fault ends a printer's night, so that chance falls with the hours it has printed.
 */
export class NightScorer {
  private readonly floor: CompiledFloor;
  private readonly choices = new Map<string, Choice>();
  private readonly byId = new Map<string, NightUnit>();
  private readonly promised: ReadonlySet<string>;
  private readonly backMs: number;

  constructor(private readonly question: NightQuestion) {
    const { world, units } = question;
    this.floor = compileFloor({ ...world.floor, away: world.period });
    this.promised = new Set(question.promised);
    const { attendance } = world.floor;
    this.backMs = attendance.startFor(world.period.toMs, 0) ?? world.period.toMs;
    for (const unit of units) {
      this.byId.set(unit.id, unit);
      for (const option of unit.options) {
        const line = this.floor.lines.find(({ printer }) => printer.id === option.printerId);
        if (!line) continue;
        const compiled = compileRun(option.run, line.channelIds, this.floor.stocks);
        this.choices.set(`${option.printerId} ${unit.id}`, { option, compiled, unit });
      }
    }
  }

  /** Whether a printer can take a unit. */
  takes(printerId: string, unitId: string): boolean {
    return this.choices.has(`${printerId} ${unitId}`);
  }

  /** What nobody prints until the next time somebody is there costs by then (minor units). */
  lateIfLeft({ options }: NightUnit): number {
    return lateMinorOf(options[0]?.run.dues ?? [], this.backMs);
  }

  score(assignment: Assignment): NightScore {
    const { world, chance, confidence } = this.question;
    const { period, printers } = world;
    const lines = this.floor.lines.map((line) => {
      const own = assignment[line.printer.id];
      return own
        ? { ...line, queued: own.flatMap((id) => this.choices.get(`${line.printer.id} ${id}`)?.compiled ?? []) }
        : line;
    });
    const plan = planCompiled({ ...this.floor, lines });
    let worthMinor = 0;
    let promisedChance = 1;
    const placed = new Set<string>();
    for (const [printerId, line] of plan.lines) {
      const rate = chance.faults[printerId] ?? NO_RATE;
      let alone = 0;
      let promisedHours = -1;
      let media = 1;
      let time = 1;
      let printed = 0;
      worthMinor -= (line.changeOverMin / 60) * (printers[printerId]?.ratePerHourMinor ?? 0);
      for (const event of line.events) {
        if (event.kind !== 'run') continue;
        alone += this.aloneHours(event.fromMs, event.toMs);
        const choice = this.choices.get(`${printerId} ${event.id}`);
        if (!choice) continue;
        const { unit, option } = choice;
        placed.add(unit.id);
        const isPrinted = event.toMs <= period.toMs + 1e-6;
        const clean = this.mediaChance(option.run);
        printed += 1;
        const inTime = isPrinted ? this.timeChance(printerId, event.toMs, printed) : 0;
        const through = inTime * nothingChance(rate, alone) * clean;
        const late = lateMinorOf(option.run.dues, event.toMs);
        if (isPrinted) {
          worthMinor += through * unit.valueMinor - option.costMinor - through * late;
          worthMinor -= (1 - through) * Math.max(late, this.lateIfLeft(unit));
        } else worthMinor -= late;
        if (!this.promised.has(unit.id)) continue;
        if (!isPrinted) promisedChance = 0;
        promisedHours = alone;
        // The last of them is the one that time runs out for.
        time = Math.min(time, inTime);
        media *= clean;
      }
      if (promisedHours >= 0) promisedChance *= nothingChance(rate, promisedHours) * media * time;
    }
    for (const unit of this.question.units) {
      if (placed.has(unit.id)) continue;
      worthMinor -= this.lateIfLeft(unit);
      if (this.promised.has(unit.id)) promisedChance = 0;
    }
    return { shortfall: Math.max(0, confidence - promisedChance), promisedChance, worthMinor };
  }

  /** The floor with an assignment in its lines. */
  floorOf(assignment: Assignment): FloorSnapshot {
    const { floor, period } = this.question.world;
    return {
      ...floor,
      away: period,
      printers: floor.printers.map(({ printer, runs }) => {
        const own = assignment[printer.id];
        if (!own) return { printer, runs };
        const queued = own.flatMap((id) => this.choices.get(`${printer.id} ${id}`)?.option.run ?? []);
        return { printer, runs: [...runs.filter(({ state }) => state !== 'queued'), ...queued] };
      }),
    };
  }

  /** What an assignment costs where its units are (minor units), by unit. */
  costs(assignment: Assignment): ReadonlyMap<string, number> {
    const costs = new Map<string, number>();
    for (const [printerId, ids] of Object.entries(assignment)) {
      for (const id of ids) costs.set(id, this.choices.get(`${printerId} ${id}`)?.option.costMinor ?? 0);
    }
    return costs;
  }

  /** Hours of a run with nobody there. */
  private aloneHours(fromMs: number, toMs: number): number {
    const { attendance } = this.question.world.floor;
    return attendance.isThere(fromMs) && attendance.isThere(toMs) ? 0 : (toMs - fromMs) / HOUR;
  }

  /** That a printer is as far as it should be by the end, as far as its times are known. @param n runs until then */
  private timeChance(printerId: string, toMs: number, n: number): number {
    const { world, chance } = this.question;
    const ratio = chance.time[printerId];
    if (!ratio) return 1;
    const { nowMs } = world.floor;
    const room = Math.log((world.period.toMs - nowMs) / Math.max(1, toMs - nowMs));
    const mean = 'mean' in ratio ? ratio.mean : ratio.m;
    const each = 'mean' in ratio ? ratio.deviation : Math.sqrt(ratio.beta / ratio.alpha);
    // What is not known of its mean holds for all of them; what each is off by evens out.
    const deviation = each * Math.sqrt(1 / n + ('mean' in ratio ? 0 : 1 / ratio.kappa));
    if (deviation === 0) return mean <= room + 1e-12 ? 1 : 0;
    return normalShare((room - mean) / deviation);
  }

  private mediaChance({ stockId, needMm }: PlanRun): number {
    const { jams, flaws } = this.question.chance;
    const metres = needMm / 1000;
    return nothingChance(jams[stockId] ?? NO_RATE, metres) * nothingChance(flaws[stockId] ?? NO_RATE, metres);
  }
}
