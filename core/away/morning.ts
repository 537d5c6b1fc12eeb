import type { AwayEvent } from './awayEvents.ts';

/** What really became of something that was planned. Instants in ms. */
export interface Happened {
  readonly state: 'done' | 'failed' | 'cancelled' | 'skipped' | 'impossible' | 'under way' | 'waiting' | 'gone';
  readonly startedMs: number | null;
  readonly endedMs: number | null;
  readonly why: string;
  /** Pieces that were printed, and that were spoiled or lost in attempts that failed. */
  readonly pieces: number;
  readonly lostPieces: number;
  /** What failed attempts fed (mm), and what that and their ink and time cost (minor units). */
  readonly lostMm: number;
}

/** How what happened stands to what was planned. */
export type Verdict = 'as planned' | 'later' | 'instead' | 'not done' | 'left out';

/** A line of the morning page. */
export interface MorningLine {
  readonly planned: AwayEvent;
  readonly happened: Happened | null;
  readonly verdict: Verdict;
  /** What kept it, or brought it all the same; empty: nothing to say. */
  readonly why: string;
  /** A run of which a part is still to be printed. */
  readonly again: boolean;
}

/** An end so much later than planned is later (ms); less is within what printers do. */
const LATER_MS = 15 * 60_000;

/** What was planned against what happened, event by event, in the order of the plan. */
export function morningLines(
  events: readonly AwayEvent[],
  happened: ReadonlyMap<string, Happened>,
  toMs: number,
): MorningLine[] {
  return events.map((planned) => {
    const came = happened.get(planned.id) ?? null;
    const verdict = verdictOf(planned, came, toMs);
    const again = planned.kind === 'run' && (came?.state === 'failed' || came?.state === 'cancelled');
    return { planned, happened: came, verdict, why: whyOf(planned, came, verdict), again };
  });
}

function verdictOf(planned: AwayEvent, came: Happened | null, toMs: number): Verdict {
  const isDone = came?.state === 'done' && (came.endedMs ?? Infinity) <= toMs;
  if (planned.outcome === 'done') {
    if (came?.state === 'skipped') return 'instead';
    if (!isDone) return 'not done';
    return (came.endedMs ?? 0) > planned.toMs + LATER_MS ? 'later' : 'as planned';
  }
  if (planned.outcome === 'skipped') return came?.state === 'done' ? 'instead' : 'as planned';
  return isDone ? 'instead' : 'left out';
}

function whyOf(planned: AwayEvent, came: Happened | null, verdict: Verdict): string {
  if (verdict === 'left out' || (verdict === 'as planned' && planned.outcome === 'skipped')) return planned.why;
  if (verdict === 'instead' && came?.state === 'skipped') return `skipped: ${came.why}`;
  if (verdict === 'instead') return planned.outcome === 'skipped' ? 'it was needed after all' : 'somebody was there';
  if (verdict !== 'not done') return '';
  if (came === null || came.state === 'gone') return 'it is no longer there';
  if (came.why !== '') return came.why;
  const texts: Partial<Record<Happened['state'], string>> = {
    waiting: 'its turn did not come',
    'under way': 'it is still being printed',
    done: 'it ended after the time away',
  };
  return texts[came.state] ?? came.state;
}

/** A night as a whole. */
export interface MorningSums {
  readonly planned: number;
  readonly asPlanned: number;
  readonly runsPlanned: number;
  readonly runsDone: number;
  readonly piecesPlanned: number;
  readonly piecesDone: number;
  readonly lostPieces: number;
  readonly lostMm: number;
}

export function morningSums(lines: readonly MorningLine[]): MorningSums {
  const meant = lines.filter(({ planned }) => planned.outcome === 'done');
  const runs = meant.filter(({ planned }) => planned.kind === 'run');
  const came = ({ verdict }: MorningLine): boolean => verdict === 'as planned' || verdict === 'later';
  return {
    planned: meant.length,
    asPlanned: meant.filter(came).length,
    runsPlanned: runs.length,
    runsDone: runs.filter(came).length,
    piecesPlanned: runs.reduce((sum, { planned }) => sum + planned.pieces, 0),
    piecesDone: runs.reduce((sum, { happened }) => sum + (happened?.pieces ?? 0), 0),
    lostPieces: lines.reduce((sum, { happened }) => sum + (happened?.lostPieces ?? 0), 0),
    lostMm: lines.reduce((sum, { happened }) => sum + (happened?.lostMm ?? 0), 0),
  };
}
