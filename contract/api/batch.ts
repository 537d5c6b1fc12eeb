import { Type, type Static } from 'typebox';
import { Id, InstantMs, Mm, nullable } from './common.ts';

export const LATENESS = ['no', 'anyway', 'with the batch'] as const;

const BatchJob = Type.Object({
  jobId: Id,
  sourceName: Type.String(),
  pieces: Type.Integer(),
  dueMs: nullable(InstantMs),
  late: Type.Enum(LATENESS, {
    description: 'anyway: also as the next run and alone; with the batch: only because the others are printed with it',
  }),
});

export const BatchProposal = Type.Object({
  printerId: Id,
  printerName: Type.String(),
  stockName: Type.String(),
  modeName: Type.String(),
  jobs: Type.Array(BatchJob),
  /** Of the batch, and of its jobs as runs of their own, trailers included. */
  lengthMm: Mm,
  aloneMm: Mm,
  timeMs: Type.Number(),
  /** When it would end, printed after what is in line and after the batches before it. */
  endMs: InstantMs,
  /** Jobs that would go along if one value were another. */
  nearly: Type.Array(Type.Object({ jobId: Id, sourceName: Type.String(), differs: Type.String() })),
});
export type BatchProposal = Static<typeof BatchProposal>;

export const BatchesQuery = Type.Object({
  leastMm: Type.Number({
    minimum: 0,
    default: 100,
    description: 'what a batch must save to be proposed: less is not worth touching several jobs for',
  }),
});

export const BatchOfJobs = Type.Object({ jobIds: Type.Array(Id, { minItems: 1, maxItems: 5000 }) });

export const BatchesAnswer = Type.Object({
  batches: Type.Array(BatchProposal),
  /** Those that would save less than was asked for. */
  small: Type.Object({ count: Type.Integer(), savedMm: Mm }),
  /** Waiting jobs that were looked at. */
  waiting: Type.Integer(),
  /** Changes of stock or mode if every job ran alone in the order of arrival, and with the batches. */
  changeOversBefore: Type.Integer(),
  changeOversAfter: Type.Integer(),
});
export type BatchesAnswer = Static<typeof BatchesAnswer>;
