export const JOB_STATES = [
  'arriving',
  'arrived',
  'checked',
  'ready',
  'blocked',
  'placed',
  'printing',
  'printed',
  'shelved',
  'dropped',
  'cancelled',
] as const;
/** Still to be worked on; the others are of the past. */
export const LIVE_JOB_STATES = ['arriving', 'arrived', 'checked', 'ready', 'blocked', 'placed', 'printing'] as const;
export type JobState = (typeof JOB_STATES)[number];

/** How many of a job's pieces are in which state; `printing` are those placed in a run that is on its printer. */
export interface PieceCounts {
  readonly owed: number;
  readonly placed: number;
  readonly printing: number;
  readonly printed: number;
  readonly spoiled: number;
}

/**
 * From `ready` on a job's state follows from its pieces: printing as soon as one is being printed, placed while any is
 * in a run, printed when none is owed or placed and at least one came out.
 */
export function jobStateFromPieces(counts: PieceCounts): 'ready' | 'placed' | 'printing' | 'printed' {
  if (counts.printing > 0) return 'printing';
  if (counts.placed > 0) return 'placed';
  if (counts.owed === 0 && counts.printed > 0) return 'printed';
  return 'ready';
}
