import { Type, type Static } from 'typebox';
import { Id } from './common.ts';
import { RunState } from './floor.ts';

const Minor = Type.Integer({ description: 'minor units of the shop’s currency' });

/** What a run costs: as it was booked once it has ended, by its estimate before. Extra charges are on its jobs. */
export const RunCost = Type.Object({
  currency: Type.String(),
  known: Type.Boolean({ description: 'booked, not estimated' }),
  totalMinor: Minor,
  /** These three bring exactly the total, and so do the shares of the jobs. */
  inkMinor: Minor,
  mediaMinor: Minor,
  timeMinor: Minor,
  jobs: Type.Array(Type.Object({ jobId: Id, sourceName: Type.String(), pieces: Type.Integer(), minor: Minor })),
});
export type RunCost = Static<typeof RunCost>;

/** What a job costs: its shares of its runs, and its own charges. What it still owes is in no run and not in it. */
export const JobCost = Type.Object({
  currency: Type.String(),
  known: Type.Boolean({ description: 'all of it is booked' }),
  olderRuns: Type.Integer({ description: 'so many older runs are not in the sum' }),
  totalMinor: Minor,
  chargesMinor: Minor,
  runs: Type.Array(
    Type.Object({
      runId: Id,
      runName: Type.String(),
      state: RunState,
      known: Type.Boolean(),
      pieces: Type.Integer(),
      minor: Minor,
    }),
  ),
});
export type JobCost = Static<typeof JobCost>;
