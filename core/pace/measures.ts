import { MICRO_PER_MINOR } from '../estimate/money.ts';
import { NL_PER_ML, type Quantity, type Sums, noSums } from './quantities.ts';

/** Time that no fact brings: it follows from hours, people and armed nights (ms). */
export interface ClockSums {
  /** Shop hours of each printer, and armed hours away. */
  readonly plannedMs: number;
  /** Somebody was there, counted for each printer. */
  readonly staffedMs: number;
  /** Hours of all people in the shop. */
  readonly peopleMs: number;
  /** Armed hours away, counted for each printer. */
  readonly armedMs: number;
}

export type PaceSums = Sums & ClockSums;

export function noPaceSums(): PaceSums {
  return { ...noSums(), plannedMs: 0, staffedMs: 0, peopleMs: 0, armedMs: 0 };
}

/** How a measure is said. */
export type MeasureUnit = '%' | 'm²/h' | 'h' | 'm²' | 'ml' | 'money' | 'money/m²' | 'pieces/h' | '';

export interface Measure {
  readonly id: string;
  readonly name: string;
  /** What it is, in a sentence. */
  readonly words: string;
  readonly unit: MeasureUnit;
  /** Whether more is better; null: neither. */
  readonly moreIsBetter: boolean | null;
  /** Only of printers and times: a stock or a customer has no idle hours. */
  readonly ofPrinters?: true;
  readonly numerator: (sums: PaceSums) => number;
  readonly denominator: (sums: PaceSums) => number;
}

const MS_PER_H = 3_600_000;
const MM2_PER_M2 = 1e6;

const sum =
  (...names: readonly (Quantity | keyof ClockSums)[]) =>
  (sums: PaceSums): number =>
    names.reduce((all, name) => all + sums[name], 0);
const one = (): number => 1;
const hours =
  (name: Quantity | keyof ClockSums) =>
  (sums: PaceSums): number =>
    sums[name] / MS_PER_H;
const area =
  (...names: readonly Quantity[]) =>
  (sums: PaceSums): number =>
    sum(...names)(sums) / MM2_PER_M2;
const ml =
  (...names: readonly Quantity[]) =>
  (sums: PaceSums): number =>
    sum(...names)(sums) / NL_PER_ML;
const minor =
  (...names: readonly Quantity[]) =>
  (sums: PaceSums): number =>
    sum(...names)(sums) / MICRO_PER_MINOR;

const PRESENT = ['runMs', 'caringMs', 'waitingMs', 'idleMs', 'downMs'] as const;
const TAKEN = ['fedMm2', 'stubMm2'] as const;
const INK = ['workNl', 'purgeNl', 'cleanNl', 'checkNl'] as const;

const share = (
  id: string,
  name: string,
  words: string,
  of: readonly Quantity[],
  all: readonly Quantity[],
): Measure => ({
  ...{ id, name, words, unit: '%', moreIsBetter: null },
  numerator: sum(...of),
  denominator: sum(...all),
});

/** What the combined figure is made of. */
const COMBINED: readonly Measure[] = [
  {
    ...{ id: 'availability', ofPrinters: true, name: 'Availability', unit: '%', moreIsBetter: true },
    words:
      'Planned time in which the printer neither stood nor waited for somebody. Planned are shop hours and armed time away.',
    numerator: (sums) => sums.plannedMs - sums.lostMs,
    denominator: sum('plannedMs'),
  },
  {
    ...{ id: 'performance', name: 'Performance', unit: '%', moreIsBetter: true },
    words: 'Estimated time of printed runs, as it stood when they were sent, of the time that they took.',
    numerator: sum('estimateMs'),
    denominator: sum('actualMs'),
  },
  {
    ...{
      id: 'quality',
      name: 'Quality',
      words: 'Good area of the area of whole pieces.',
      unit: '%',
      moreIsBetter: true,
    },
    numerator: sum('goodMm2'),
    denominator: sum('wholeMm2'),
  },
];

/** Everything that Pace can say, each defined once. A denominator of 0 has no value, never 0. */
export const MEASURES: readonly Measure[] = [
  {
    ...{
      id: 'use',
      ofPrinters: true,
      name: 'Use',
      words: 'Run time of the time in which the printer was on.',
      unit: '%',
      moreIsBetter: true,
    },
    numerator: sum('runMs'),
    denominator: sum(...PRESENT),
  },
  ...COMBINED,
  {
    ...{ id: 'combined', ofPrinters: true, name: 'Combined', unit: '%', moreIsBetter: true },
    words: 'Availability times performance times quality.',
    numerator: (sums) =>
      COMBINED.reduce((all, { numerator, denominator }) => {
        const [part, whole] = [numerator(sums), denominator(sums)];
        return whole > 0 ? (all * part) / whole : 0;
      }, 1),
    denominator: (sums) => (COMBINED.every(({ denominator }) => denominator(sums) > 0) ? 1 : 0),
  },
  {
    ...{
      id: 'area-run',
      name: 'm² per run hour',
      words: 'Good area for each hour of run time.',
      unit: 'm²/h',
      moreIsBetter: true,
    },
    numerator: area('goodMm2'),
    denominator: hours('runMs'),
  },
  {
    ...{ id: 'area-staffed', ofPrinters: true, name: 'm² per staffed hour', unit: 'm²/h', moreIsBetter: true },
    words: 'Good area for each hour of each printer with somebody there.',
    numerator: area('goodMm2'),
    denominator: hours('staffedMs'),
  },
  {
    ...{ id: 'good', name: 'Good area', words: 'Area of good pieces.', unit: 'm²', moreIsBetter: true },
    numerator: area('goodMm2'),
    denominator: one,
  },
  {
    ...{ id: 'run-hours', name: 'Run hours', words: 'Time in which runs were printed.', unit: 'h', moreIsBetter: null },
    numerator: hours('runMs'),
    denominator: one,
  },
  {
    ...{ id: 'waste', name: 'Waste', unit: '%', moreIsBetter: false },
    words: 'Media that was fed or thrown away and is in no good piece.',
    numerator: (sums) => sum(...TAKEN)(sums) - sums.goodMm2,
    denominator: sum(...TAKEN),
  },
  share('waste-nest', 'Waste between pieces', 'Gaps, margins and marks.', ['nestMm2'], TAKEN),
  share('waste-lead', 'Lead and trail', 'Fed before and behind runs.', ['leadMm2'], TAKEN),
  share('waste-purge', 'Purges', 'Media of purges.', ['purgeMm2'], TAKEN),
  share('waste-check', 'Checks', 'Media of check plots and feed checks.', ['checkMm2'], TAKEN),
  share('waste-fault', 'Faults', 'Fed beyond the last whole piece of runs that failed.', ['faultMm2'], TAKEN),
  share('waste-spoiled', 'Spoiled', 'Whole pieces that were found bad.', ['spoiledMm2'], TAKEN),
  share('waste-stub', 'Stubs', 'Remainders that were thrown away.', ['stubMm2'], TAKEN),
  {
    ...{ id: 'ink', name: 'Ink', words: 'All ink that was fired.', unit: 'ml', moreIsBetter: null },
    numerator: ml(...INK),
    denominator: one,
  },
  share('ink-work', 'Ink of work', 'Ink in what was printed.', ['workNl'], INK),
  share('ink-purge', 'Ink of purges', 'Ink of purges.', ['purgeNl'], INK),
  share('ink-clean', 'Ink of cleans', 'Ink of cleans.', ['cleanNl'], INK),
  share('ink-check', 'Ink of checks', 'Ink of checks.', ['checkNl'], INK),
  {
    ...{ id: 'ink-lost', name: 'Ink lost', unit: 'ml', moreIsBetter: false },
    words: 'Ink of work in pieces that were spoiled or did not come out whole.',
    numerator: ml('lostNl'),
    denominator: one,
  },
  {
    ...{ id: 'cost', name: 'Cost', words: 'Ink, media and time of runs.', unit: 'money', moreIsBetter: null },
    numerator: minor('costMicro'),
    denominator: one,
  },
  {
    ...{
      id: 'cost-area',
      name: 'Cost per m²',
      words: 'Cost of runs for each m² of good area.',
      unit: 'money/m²',
      moreIsBetter: false,
    },
    numerator: minor('costMicro'),
    denominator: area('goodMm2'),
  },
  {
    ...{ id: 'margin', name: 'Margin', unit: 'money', moreIsBetter: true },
    words: 'Price less cost of jobs that have a price, as their pieces came out.',
    numerator: (sums) => (sums.priceMicro - sums.pricedCostMicro) / MICRO_PER_MINOR,
    denominator: (sums) => (sums.priceMicro > 0 ? 1 : 0),
  },
  {
    ...{ id: 'late', name: 'Late', unit: '%', moreIsBetter: false },
    words: 'Jobs due in the time that were printed after their date, or still are not.',
    numerator: sum('jobsLate'),
    denominator: sum('jobsDue'),
  },
  {
    ...{
      id: 'lateness',
      name: 'Mean lateness',
      words: 'Hours by which late jobs were late.',
      unit: 'h',
      moreIsBetter: false,
    },
    numerator: hours('lateMs'),
    denominator: sum('jobsLate'),
  },
  {
    ...{ id: 'bias', name: 'Off the estimate', unit: '%', moreIsBetter: null },
    words: 'By how much printed runs took longer than estimated; below 0: shorter.',
    numerator: (sums) => sums.actualMs - sums.estimateMs,
    denominator: sum('estimateMs'),
  },
  {
    ...{ id: 'alone', ofPrinters: true, name: 'Unattended hours used', unit: '%', moreIsBetter: true },
    words: 'Run time with nobody there of the hours away that were armed.',
    numerator: sum('runAloneMs'),
    denominator: sum('armedMs'),
  },
  {
    ...{ id: 'pieces', name: 'Good pieces', words: 'Good pieces that came out.', unit: '', moreIsBetter: true },
    numerator: sum('pieces'),
    denominator: one,
  },
  {
    ...{ id: 'pieces-person', ofPrinters: true, name: 'Pieces per person-hour', unit: 'pieces/h', moreIsBetter: true },
    words: 'Good pieces for each hour of each person in the shop.',
    numerator: sum('pieces'),
    denominator: hours('peopleMs'),
  },
  {
    ...{ id: 'runs', name: 'Runs', words: 'Times that a run ended on a printer.', unit: '', moreIsBetter: null },
    numerator: sum('runs'),
    denominator: one,
  },
  {
    ...{
      id: 'failed',
      name: 'Failed runs',
      words: 'Runs that a fault or a person ended early.',
      unit: '%',
      moreIsBetter: false,
    },
    numerator: sum('failedRuns'),
    denominator: sum('runs'),
  },
  {
    ...{ id: 'actions', name: 'Done by hand', unit: '', moreIsBetter: false },
    words: 'What people did in the program: tickets changed, runs sent and moved, spools loaded, faults confirmed.',
    numerator: sum('actions'),
    denominator: one,
  },
  {
    ...{ id: 'actions-run', name: 'By hand per run', unit: '', moreIsBetter: false },
    words: 'What people did in the program for each run that was on a printer.',
    numerator: sum('actions'),
    denominator: sum('runs'),
  },
  {
    ...{ id: 'change-overs', name: 'Change-overs', unit: '', moreIsBetter: false },
    words: 'Runs for which the printer had to be set to another stock or mode.',
    numerator: sum('changeOvers'),
    denominator: one,
  },
  {
    ...{
      id: 'faults',
      ofPrinters: true,
      name: 'Faults',
      words: 'Times that a printer stood.',
      unit: '',
      moreIsBetter: false,
    },
    numerator: sum('faults'),
    denominator: one,
  },
];

/** What a measure comes to; the value is null where there is nothing to divide by. */
export interface Measured {
  readonly value: number | null;
  readonly numerator: number;
  readonly denominator: number;
}

export function measured({ numerator, denominator }: Measure, sums: PaceSums): Measured {
  const [over, under] = [numerator(sums), denominator(sums)];
  return { value: under === 0 ? null : over / under, numerator: over, denominator: under };
}

/** The quantities that measures are made of: others need not be added up for them. */
export function quantitiesOf(measures: readonly Measure[]): ReadonlySet<Quantity> {
  const asked = new Set<Quantity>();
  const none = noSums();
  const watched = new Proxy(noPaceSums(), {
    get: (sums: PaceSums, name) => {
      if (typeof name === 'string' && name in none) asked.add(name as Quantity);
      return Reflect.get(sums, name) as number;
    },
  });
  for (const { numerator, denominator } of measures) {
    numerator(watched);
    denominator(watched);
  }
  return asked;
}
