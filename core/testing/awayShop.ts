import type { AwayCare, AwayPrinter, AwayRun, AwayWorld } from '../away/awayWorld.ts';
import type { FloorSnapshot, PlanPrinter, PlanRun } from '../schedule/plan.ts';
import { plannedWork } from '../schedule/planInput.ts';
import { Attendance } from '../schedule/shopHours.ts';
import { plannedPrinter } from './plannedPrinter.ts';

const HOUR = 3_600_000;

/** A run of an hour and a metre that brings ten and costs four, unless a test says otherwise. */
export function awayRun(id: string, more: Partial<PlanRun> = {}): PlanRun {
  const plain = { id, stockId: 'a', modeId: 'm', estimateMs: HOUR, needMm: 1000, outMm: 1000 };
  return { ...plannedWork({ ...plain, byHand: false, unattended: true }), ...more };
}

export interface AwayShop {
  /** Hours from now. */
  readonly fromH?: number;
  readonly toH: number;
  /** When somebody is there (h); nobody unless it is said. */
  readonly there?: readonly (readonly [fromH: number, toH: number])[];
  readonly printers: readonly { readonly printer: PlanPrinter; readonly runs: readonly PlanRun[] }[];
  readonly rack?: FloorSnapshot['rack'];
  /** How long a channel may stand (h). */
  readonly limitH?: number;
  readonly worth?: Readonly<Record<string, Partial<AwayRun>>>;
}

/** A made-up shop and its time away: purges are of a timer and can be skipped, runs bring ten and cost four. */
export function awayShop({
  fromH = 0,
  toH,
  there = [],
  printers,
  rack = [],
  limitH = 24,
  worth = {},
}: AwayShop): AwayWorld {
  return {
    floor: {
      printers: printers.map((each) => ({ printer: plannedPrinter(each.printer.id, each.printer), runs: each.runs })),
      rack,
      attendance: new Attendance(there.map(([from, to]) => ({ fromMs: from * HOUR, toMs: to * HOUR }))),
      nowMs: 0,
    },
    period: { fromMs: fromH * HOUR, toMs: toH * HOUR },
    printers: Object.fromEntries(
      printers.map(({ printer }): [string, AwayPrinter] => [
        printer.id,
        {
          ...{ id: printer.id, name: printer.id, ratePerHourMinor: 0, rules: [] },
          sources: printer.sources.map(({ id }) => ({ id, name: id })),
          channels: Object.keys(printer.inkLeftMl).map((id) => ({
            ...{ id, name: id, colour: '#000000', tankMl: 100, limitMs: limitH * HOUR, doseMl: 0.01, exercisedMs: 0 },
          })),
          care: Object.fromEntries(
            printer.care.map(({ id }): [string, AwayCare] => [
              id,
              { title: 'White, daily', what: 'purge', skippable: true, onlyNeeded: false },
            ]),
          ),
        },
      ]),
    ),
    runs: Object.fromEntries(
      printers.flatMap(({ runs }) =>
        runs.map(({ id }): [string, AwayRun] => [
          id,
          { name: id, pieces: 4, jobs: [], valueMinor: 1000, costMinor: 400, evenMl: null, ...worth[id] },
        ]),
      ),
    ),
    spools: Object.fromEntries(rack.map(({ id }) => [id, { label: id, colour: '#ffffff' }])),
    stocks: { a: 'Mesh', b: 'Block-out', sheet: 'Film sheet' },
    holidays: [],
  };
}
