import type { RunNestPiece } from '../../../core/layout/runNest.ts';
import type { jobs } from '../../db/tables/schema.ts';

/** Of a job, what a fit depends on. */
export type FitJob = Pick<typeof jobs.$inferSelect, 'id' | 'queueId' | 'ticket'>;

/** What is to be printed together, as fits look at it. */
export interface FitWork {
  readonly jobs: readonly FitJob[];
  readonly pieces: readonly RunNestPiece[];
  /** By job and page. */
  readonly coverage: Readonly<Record<string, Readonly<Record<string, number>>>>;
  readonly cuts: Readonly<Record<string, readonly (readonly { readonly x: number; readonly y: number }[])[]>>;
}

/** One question of many about the same floor: what is to be printed together, and the run that it is now, if any. */
export interface FitAsk {
  readonly work: FitWork;
  readonly exceptRunId?: string | undefined;
}
