import { Type, type Static } from 'typebox';
import { JOB_STATES } from '../../core/flow/job.ts';
import { CODE_KINDS } from '../../core/layout/marks/markSettings.ts';
import { CONTOUR_SOURCES } from '../../core/contour/contourRule.ts';
import { ContourView, Id, InstantMs, LogEvent, Mm, nullable } from './common.ts';
import { SidesView, TicketPartView, TicketView } from './ticket.ts';

export const JobState = Type.Enum([...JOB_STATES]);

export const FindingView = Type.Object({
  code: Type.String(),
  severity: Type.Enum(['block', 'warn', 'note']),
  text: Type.String(),
  figures: Type.Record(Type.String(), Type.Number()),
  mends: Type.Array(Type.Object({ text: Type.String(), change: TicketPartView })),
});
export type FindingView = Static<typeof FindingView>;

export const PieceCountsView = Type.Object({
  owed: Type.Integer(),
  placed: Type.Integer(),
  printing: Type.Integer(),
  printed: Type.Integer(),
  spoiled: Type.Integer(),
});

/** One line of Intake. Sizes are null while the file still arrives. */
export const JobItem = Type.Object({
  id: Id,
  seq: Type.Integer(),
  sourceName: Type.String(),
  format: nullable(Type.String()),
  widthMm: nullable(Mm),
  heightMm: nullable(Mm),
  pages: nullable(Type.Integer()),
  state: JobState,
  findings: Type.Array(FindingView),
  queueId: Id,
  stockId: Id,
  modeId: Id,
  presetName: nullable(Type.String()),
  priority: Type.Enum(['low', 'normal', 'high', 'rush']),
  /** Renews the addresses of its pictures when the ticket changes how it looks. */
  look: Type.String(),
  copies: Type.Integer(),
  customer: nullable(Type.String()),
  orderNo: nullable(Type.String()),
  dueMs: nullable(InstantMs),
  bytes: Type.Integer(),
  arrivedMs: InstantMs,
  pieces: PieceCountsView,
});
export type JobItem = Static<typeof JobItem>;

export const PageView = Type.Object({
  page: Type.Integer(),
  widthMm: Mm,
  heightMm: Mm,
  bleedMm: SidesView,
  /** As it came, before the ticket. */
  source: Type.Object({ widthMm: Mm, heightMm: Mm, bleedMm: SidesView }),
  /** Where it is printed in panels: from the upper left corner, bleed included. */
  panels: nullable(Type.Array(Type.Object({ xMm: Type.Number(), yMm: Type.Number(), widthMm: Mm, heightMm: Mm }))),
  /** Where it is cut along a contour. */
  contour: nullable(ContourView),
  /** Lines of the file that it could be cut along. */
  cutLines: Type.Array(
    Type.Object({ from: Type.Enum([...CONTOUR_SOURCES]), name: nullable(Type.String()), rings: Type.Integer() }),
  ),
  dpi: nullable(Type.Number()),
  coverage: Type.Record(Type.String(), Type.Number()),
});
export type PageView = Static<typeof PageView>;

/** A job with everything that its open ticket shows. */
export const JobDetail = Type.Object({
  ...JobItem.properties,
  ticket: TicketView,
  priceMinor: nullable(Type.Integer({ description: 'what all its pieces bring; null: nobody has said' })),
  nature: nullable(
    Type.Object({
      assumedDpi: nullable(Type.Number()),
      hasAlpha: Type.Boolean(),
      colourSpaces: Type.Array(Type.String()),
      profile: nullable(Type.String()),
      spots: Type.Array(Type.String()),
      missingFonts: Type.Array(Type.String()),
      layers: Type.Optional(
        Type.Object(
          { printed: Type.Array(Type.String()), left: Type.Array(Type.String()) },
          { description: 'Of a PDF.' },
        ),
      ),
      annotations: Type.Optional(
        Type.Object(
          { printed: Type.Integer(), left: Type.Integer(), fields: Type.Integer(), empty: Type.Integer() },
          { description: 'Of a PDF.' },
        ),
      ),
      svg: Type.Optional(
        Type.Object(
          { rasterDpi: nullable(Type.Number()), lost: Type.Array(Type.String()), letters: Type.Array(Type.String()) },
          { description: 'Of an SVG: printed as a picture where its vectors cannot be kept, and what is not drawn.' },
        ),
      ),
      forbids: Type.Optional(
        Type.Array(Type.String(), { description: 'It is locked and opens without a password; this is forbidden.' }),
      ),
    }),
  ),
  usableWidthMm: Mm,
  pageList: Type.Array(PageView),
  history: Type.Array(LogEvent),
  runs: Type.Array(Type.Object({ id: Id, name: Type.String(), state: Type.String() })),
});
export type JobDetail = Static<typeof JobDetail>;

/** What all pieces of a job bring; null: nobody says. */
export const JobPrice = Type.Object({ priceMinor: nullable(Type.Integer({ minimum: 0, maximum: 1e10 })) });

export const JobList = Type.Object({
  items: Type.Array(JobItem),
  nextCursor: nullable(Type.String({ description: 'of the page after this one; null: there is none' })),
});
export type JobList = Static<typeof JobList>;

/** *live*: still to be worked on · *past*: printed, kept, dropped or cancelled · *kept*: on the Shelf, or fresh from the printer. */
export const JobsWhich = Type.Enum(['all', 'live', 'past', 'kept']);
export type JobsWhich = Static<typeof JobsWhich>;

/** Which jobs, in which order, a page at a time. The cursor is the place of the last one in that order. */
export const JobListQuery = Type.Object({
  which: Type.Enum(['all', 'live', 'past', 'kept'], { default: 'all' }),
  order: Type.Enum(['oldest', 'newest'], { default: 'oldest', description: 'first; what is searched is newest first' }),
  limit: Type.Integer({ minimum: 1, maximum: 2000, default: 200 }),
  cursor: Type.Optional(Type.String({ maxLength: 40, pattern: '^[0-9]+$' })),
  queueId: Type.Optional(Id),
  text: Type.Optional(
    Type.String({
      maxLength: 200,
      description: 'every word must be found somewhere, or in one field: customer:, order:, name:, size:, stock:, …',
    }),
  ),
});

/** A sheet of codes for jobs, one place each. */
export const WorksheetOrder = Type.Object({
  jobIds: Type.Array(Id, { minItems: 1, maxItems: 2000 }),
  columns: Type.Integer({ minimum: 1, maximum: 12, default: 3 }),
  rows: Type.Integer({ minimum: 1, maximum: 30, default: 6 }),
  gapMm: Type.Number({ minimum: 0, maximum: 50, default: 4 }),
  kind: Type.Enum([...CODE_KINDS], { default: 'qr' }),
});
export type WorksheetOrder = Static<typeof WorksheetOrder>;

export const RefusalView = Type.Object({
  id: Id,
  sourceName: Type.String(),
  reason: Type.String(),
  queueId: Id,
  sidePath: Type.String(),
  atMs: InstantMs,
});
export type RefusalView = Static<typeof RefusalView>;

export const UploadResult = Type.Object({
  accepted: Type.Array(JobItem),
  refused: Type.Array(Type.Object({ sourceName: Type.String(), reason: Type.String() })),
  /** Rows of tickets that came along and could not be used. */
  problems: Type.Array(Type.Object({ row: Type.Integer(), file: nullable(Type.String()), text: Type.String() })),
  /** Runs that were queued with them, where they were sent straight on. */
  runs: Type.Array(Type.Object({ id: Id, name: Type.String() })),
});
export type UploadResult = Static<typeof UploadResult>;
