import type { NightPlan } from '../away/nights.ts';
import type { NightChance } from '../away/nightChance.ts';
import { plannedWork } from '../schedule/planInput.ts';
import { Attendance } from '../schedule/shopHours.ts';
import { plannedPrinter, sourceWith } from './plannedPrinter.ts';

const HOUR = 3_600_000;

export interface ShopRun {
  readonly id: string;
  /** It never begins earlier; hours from the beginning of the period. */
  readonly startH: number;
  readonly hours: number;
  readonly metres: number;
  readonly stockId: string;
}

export interface NightShop {
  readonly hours: number;
  readonly printers: readonly { readonly id: string; readonly runs: readonly ShopRun[] }[];
  /** When somebody is there (h). */
  readonly attended: readonly (readonly [fromH: number, toH: number])[];
}

/** Nothing goes wrong and all is as estimated. */
export const NO_CHANCE: NightChance = {
  faults: {},
  jams: {},
  flaws: {},
  time: {},
  ink: {},
  repair: { mean: Math.log(20), deviation: 0.6 },
  clogs: {},
};

/** A made-up night: every stock that is wanted is loaded and long enough, so that chance alone decides. */
export function nightPlan({ hours, printers, attended }: NightShop, chance: Partial<NightChance>): NightPlan {
  const period = { fromMs: 0, toMs: hours * HOUR };
  return {
    floor: {
      printers: printers.map(({ id, runs }) => ({
        printer: plannedPrinter(id, {
          sources: [...new Set(runs.map(({ stockId }) => stockId))].map((stockId) =>
            sourceWith({ id: stockId, stockId, spoolId: `${id} ${stockId}`, leftMm: 1e9 }),
          ),
        }),
        runs: runs.map((run) => ({
          ...plannedWork({
            ...{ id: run.id, stockId: run.stockId, modeId: 'm', estimateMs: run.hours * HOUR },
            ...{ needMm: run.metres * 1000, outMm: run.metres * 1000, byHand: false, unattended: true },
          }),
          fixedStartMs: run.startH * HOUR,
        })),
      })),
      rack: [],
      attendance: new Attendance(attended.map(([from, to]) => ({ fromMs: from * HOUR, toMs: to * HOUR }))),
      nowMs: 0,
      away: period,
    },
    period,
    wanted: printers.flatMap(({ runs }) => runs.map(({ id }) => id)),
    chance: { ...NO_CHANCE, ...chance },
  };
}
