/** The time of day at which the shop closes. */
export interface DayEnd {
  readonly h: number;
  readonly mi: number;
}

/** Shop time: what plans, printing and due dates go by. Scaled in the demo; runs on while the server is down. */
export interface ShopClock {
  /** UTC instant (ms). It never goes back. */
  now(): number;
  /** How many times as fast as real time it runs. */
  readonly rate: number;
  readonly zone: string;
  /** Where it stands still again; null: it just runs. */
  readonly untilMs: number | null;
  /** When the shop closes: what a due date without a time means. */
  readonly dayEndsAt: DayEnd;
  setRate(rate: number): void;
  /** Runs on by so much (ms of shop time), fast, and then as it ran before. */
  step(byMs: number): void;
}
