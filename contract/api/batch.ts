import { Type, type Static } from 'typebox';
import { Id, InstantMs, Mm, nullable } from './common.ts';

const BatchJob = Type.Object({
  jobId: Id,
  sourceName: Type.String(),
  pieces: Type.Integer(),
  dueMs: nullable(InstantMs),
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
  /** Jobs that would be late then. */
  late: Type.Array(BatchJob),
  /** Jobs that would go along if one value were another. */
  nearly: Type.Array(Type.Object({ jobId: Id, sourceName: Type.String(), differs: Type.String() })),
});
export type BatchProposal = Static<typeof BatchProposal>;

export const BatchesAnswer = Type.Object({
  batches: Type.Array(BatchProposal),
  /** Waiting jobs that were looked at. */
  waiting: Type.Integer(),
  /** Changes of stock or mode if every job ran alone in the order of arrival, and with the batches. */
  changeOversBefore: Type.Integer(),
  changeOversAfter: Type.Integer(),
});
export type BatchesAnswer = Static<typeof BatchesAnswer>;
