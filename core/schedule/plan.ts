import type { CareRule } from '../care/careRule.ts';
import type { TakeUp } from '../stock/takeUp.ts';
import type { Attendance, TimeSpan } from './shopHours.ts';

/** A date that a run has to make, and what an hour beyond it costs: one for each date among its jobs. */
export interface DueDate {
  readonly dueMs: number;
  readonly latePerHMinor: number;
}

/** A run as a plan needs it. Lengths mm, times ms. */
export interface PlanRun {
  readonly id: string;
  readonly state: string;
  /** It stands, and nobody has to see to it: the rows that it lacks are being rendered. */
  readonly goesOnByItself?: boolean;
  readonly estimateMs: number;
  readonly startedMs: number | null;
  readonly endedMs: number | null;
  /** Time left as the printer last said, and when it said it. */
  readonly msLeft: number | null;
  readonly saidAtMs: number | null;
  readonly stockId: string;
  readonly modeId: string;
  /** Narrower media can't feed it; 0: any of its stock can. */
  readonly leastWidthMm: number;
  /** Length that it takes from its spool; 0 for a back. */
  readonly needMm: number;
  /** Length that comes out of the printer; 0 where a person takes each piece. */
  readonly outMm: number;
  /** The spool that it is fed from, once it is on the printer. */
  readonly spoolId: string | null;
  /** The spool that a person has chosen for it; null or left out: whichever is long enough. */
  readonly meantSpoolId?: string | null;
  /** What of its length has left the spool already. */
  readonly fedMm: number;
  readonly inkMl: Readonly<Record<string, number>>;
  /** A person loads each piece. */
  readonly byHand: boolean;
  /** A back whose media a person has yet to turn and confirm. */
  readonly turn: boolean;
  readonly unattended: boolean;
  readonly fixedStartMs: number | null;
  readonly dues: readonly DueDate[];
  /** Runs with the same word stay together in their line; null: it stands alone. */
  readonly together: string | null;
  /** A person has marked it: rules may ask for care before it. */
  readonly important: boolean;
}

export interface PlanSource {
  readonly id: string;
  readonly stockId: string | null;
  readonly spoolId: string | null;
  readonly widthMm: number;
  readonly leftMm: number;
  /** Sheets of this length; null: a roll. */
  readonly sheetMm: number | null;
  readonly takeUp: TakeUp | null;
}

/** What care takes of a printer. */
export interface CareTakes {
  readonly durationMs: number;
  readonly inkMl: Readonly<Record<string, number>>;
  readonly fedMm: number;
  /** What it is printed on; null: on whatever is loaded, the widest first. */
  readonly stockId: string | null;
}

/** Care that is planned for a printer: it comes before the run that would start then. */
export interface PlanCare extends CareTakes {
  readonly id: string;
  readonly fromMs: number;
  /** Begun after this it is late. */
  readonly latestMs: number;
  /** The timer that brings it. It lets no run keep it beyond its latest start; null: it is in the line already. */
  readonly timerId: string | null;
  /** Work will have exercised its channels: it takes nothing. */
  readonly skipped?: boolean;
}

/** Care that comes before each run that a rule names. */
export interface PlanRule extends CareRule, CareTakes {
  /** Queued runs before which it is in the line already, or done. */
  readonly doneFor: readonly string[];
}

export interface PlanPrinter {
  readonly id: string;
  readonly unattended: boolean;
  readonly changeOver: { readonly stockMin: number; readonly modeMin: number };
  readonly sources: readonly PlanSource[];
  readonly inkLeftMl: Readonly<Record<string, number>>;
  /** Mode of the run that was printed last. */
  readonly lastModeId: string | null;
  /** It can't print until a person has seen to it. */
  readonly stopped: 'off' | 'fault' | null;
  readonly takeUp: boolean;
  readonly freeHangMm: number | null;
  /** What its basket holds (mm of media), and what is in it; null: no limit. */
  readonly collectsMm: number | null;
  readonly collectedMm: number;
  /** Channels that can't print, by mode; a person cleans them first, which takes so long (ms). */
  readonly unfit: Readonly<Record<string, readonly string[]>>;
  readonly cleanMs: number;
  readonly care: readonly PlanCare[];
  readonly careRules: readonly PlanRule[];
}

/** A spool that stands on the rack. */
export interface RackSpool {
  readonly id: string;
  readonly stockId: string;
  readonly widthMm: number;
  readonly leftMm: number;
  readonly sheetMm: number | null;
  readonly takeUp: TakeUp | null;
}

/** All that a plan of the floor depends on. */
export interface FloorSnapshot {
  readonly printers: readonly { readonly printer: PlanPrinter; readonly runs: readonly PlanRun[] }[];
  readonly rack: readonly RackSpool[];
  readonly attendance: Attendance;
  readonly nowMs: number;
  /** A period away: while nobody is there within it, runs that need a hand are held out. Left out: none. */
  readonly away?: TimeSpan | null;
}

/** What is left on the spool that something was printed from. */
export interface Fed {
  readonly sourceId: string;
  readonly spoolId: string | null;
  readonly leftMm: number;
}

/** What a run needs a person for: cleaned heads, turned media, each piece, to watch it, media, an empty basket, to be cut. */
export type HandReason = 'clean' | 'turn' | 'pieces' | 'watch' | 'load' | 'empty' | 'cut';

/** A run that was not begun in a period away since it needs a person. */
export interface HeldOut {
  readonly runId: string;
  /** When its turn would have come. */
  readonly atMs: number;
  readonly why: HandReason;
}

/** What a line consists of: runs, what is done between them, and waits with their reason. Instants in ms. */
export type LineEvent =
  | {
      readonly kind: 'run';
      readonly id: string;
      readonly fromMs: number;
      readonly toMs: number;
      /** Beyond the earliest of its dates. */
      readonly lateMs: number;
      /** Null: it has ended, or takes nothing from a spool. */
      readonly fed: Fed | null;
    }
  | {
      readonly kind: 'change-over';
      readonly what: 'stock' | 'spool' | 'mode';
      readonly runId: string;
      readonly fromMs: number;
      readonly toMs: number;
      readonly sourceId: string | null;
      /** What to load; null: nothing of it is on the rack, or no media is changed. */
      readonly spoolId: string | null;
    }
  | {
      /** What a person does beside loading: the basket is emptied, the media turned for a back, heads are cleaned that can't print. */
      readonly kind: 'hand';
      readonly what: 'empty' | 'turn' | 'clean';
      readonly runId: string;
      readonly fromMs: number;
      readonly toMs: number;
    }
  | {
      readonly kind: 'care';
      readonly id: string;
      readonly fromMs: number;
      /** As it begins: it is skipped, or can't be printed. */
      readonly toMs: number;
      /** Why it can't be printed; null: nothing keeps it. */
      readonly lacks: 'media' | 'basket' | null;
      readonly fed: Fed | null;
    }
  | {
      readonly kind: 'wait';
      readonly why: WaitReason;
      readonly runId: string;
      readonly fromMs: number;
      readonly toMs: number;
    };

export type WaitReason = 'nobody there' | 'fixed start' | 'off' | 'fault';

/** Where a supply ends, if nobody does anything about it. */
export interface Shortage {
  readonly atMs: number;
  readonly runId: string;
  readonly what:
    { readonly kind: 'media'; readonly spoolId: string | null } | { readonly kind: 'ink'; readonly channelId: string };
}

export interface Line {
  /** In the order of time; ended runs first. */
  readonly events: readonly LineEvent[];
  /** When it is done with all of it. */
  readonly freeMs: number;
  /** In the order of time: each run that lacks media, and of each channel where it runs dry first. */
  readonly shortages: readonly Shortage[];
  readonly changeOverMin: number;
  /** Σ over jobs of late hours × their price, in minor units. */
  readonly lateMinor: number;
  /** In the order in which their turn came. */
  readonly heldOut: readonly HeldOut[];
}

/** Hours beyond each date × its price (minor units). */
export function lateMinorOf(dues: readonly DueDate[], endMs: number): number {
  let minor = 0;
  for (const { dueMs, latePerHMinor } of dues)
    if (endMs > dueMs) minor += ((endMs - dueMs) / 3_600_000) * latePerHMinor;
  return minor;
}

/** How far an end lies beyond the earliest of the dates (ms). */
export function lateMsOf(dues: readonly DueDate[], endMs: number): number {
  let lateMs = 0;
  for (const { dueMs } of dues) lateMs = Math.max(lateMs, endMs - dueMs);
  return lateMs;
}
