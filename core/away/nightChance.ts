import type { ChannelHeads, ModeAsks } from '../heads/fitness.ts';
import type { ChannelFaults } from '../heads/nozzleFaults.ts';
import type { LearnedRate } from './learnedRate.ts';
import type { DrawnRatio, LearnedRatio } from '../estimate/learnedRatio.ts';

/** How the nozzles of a channel may clog while it stands. */
export interface ClogChance {
  /** Clogs per open nozzle and strain. */
  readonly theta: LearnedRate;
  readonly limitMs: number;
  /** Ink that exercises it (ml). */
  readonly doseMl: number;
  readonly exercisedMs: number;
  readonly heads: ChannelHeads;
  readonly faults: ChannelFaults;
  /** By mode. */
  readonly asks: Readonly<Record<string, ModeAsks>>;
}

/** What a shop has learned of how its nights go: plain data. */
export interface NightChance {
  /** Faults per hour of printing, by printer; one that is left out never fails. */
  readonly faults: Readonly<Record<string, LearnedRate>>;
  /** Jams and flaws per metre, by stock: a jam stops the printer, a flaw spoils a piece and the run goes on. */
  readonly jams: Readonly<Record<string, LearnedRate>>;
  readonly flaws: Readonly<Record<string, LearnedRate>>;
  /**
   * Actual ÷ estimated, by printer or by its series (see timeSeries), which goes before; what is left out keeps to its
   * estimates.
   */
  readonly time: Readonly<Record<string, LearnedRatio | DrawnRatio>>;
  /** Fired ÷ estimated, by printer. */
  readonly ink: Readonly<Record<string, LearnedRatio | DrawnRatio>>;
  /** Minutes of a repair, once somebody is there. */
  readonly repair: LearnedRatio | DrawnRatio;
  /** By printer and channel. */
  readonly clogs: Readonly<Record<string, Readonly<Record<string, ClogChance>>>>;
}
