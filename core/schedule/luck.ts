import type { PlanRun } from './plan.ts';

/** What chance makes of a plan: how long runs really take, with faults and the wait for hands, and how much ink they fire. */
export interface Luck {
  /**
   * How long a run is on the printer (ms).
   * @param fromMs when it begins @param forMs how long what is left of it should take
   */
  printMs(printerId: string, run: PlanRun, fromMs: number, forMs: number): number;
  /** Care has fired this (ml by channel). */
  cared(printerId: string, inkMl: Readonly<Record<string, number>>, atMs: number): void;
  /** Ink fired ÷ ink planned. */
  inkFactor(printerId: string): number;
}
