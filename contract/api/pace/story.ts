import { Type, type Static } from 'typebox';
import { Id, InstantMs, LogEvent, nullable } from '../common.ts';

export const STORY_KINDS = ['piece', 'job', 'run', 'spool', 'head'] as const;
export type StoryKind = (typeof STORY_KINDS)[number];

/** One time that a run was on a printer, as a story tells it. */
const StoryPrint = Type.Object({
  runId: Id,
  runName: Type.String(),
  attempt: Type.Integer(),
  outcome: Type.String(),
  cause: nullable(Type.String()),
  printerName: Type.String(),
  modeName: Type.String(),
  stockName: Type.String(),
  spoolId: nullable(Id),
  spoolLabel: nullable(Type.String()),
  lot: nullable(Type.String()),
  startedMs: nullable(InstantMs),
  endedMs: nullable(InstantMs),
  fedMm: Type.Number(),
  inkMl: Type.Record(Type.String(), Type.Number(), { description: 'by name of the channel' }),
  onRollMm: nullable(Type.Number({ description: 'how far along the spool, as it came, it began' })),
  /** The last check of the printer's heads before it began. */
  check: nullable(
    Type.Object({
      printedMs: InstantMs,
      faults: Type.Array(Type.Object({ channel: Type.String(), missing: Type.Integer() })),
    }),
  ),
  /** Pieces of what is told that were in it, and what became of them. */
  pieces: Type.Array(
    Type.Object({
      pieceId: Id,
      jobId: Id,
      name: Type.String(),
      outcome: Type.String(),
      xMm: nullable(Type.Number()),
      yMm: nullable(Type.Number()),
    }),
  ),
});
export type StoryPrint = Static<typeof StoryPrint>;

/** Everything that is known of something, in the order in which it happened. */
export const Story = Type.Object({
  kind: Type.Enum(STORY_KINDS),
  id: Id,
  title: Type.String(),
  under: Type.String(),
  links: Type.Array(Type.Object({ kind: Type.Enum(STORY_KINDS), id: Id, name: Type.String() })),
  prints: Type.Array(StoryPrint),
  events: Type.Array(LogEvent),
  /** Older ones are left out. */
  more: Type.Boolean(),
});
export type Story = Static<typeof Story>;
