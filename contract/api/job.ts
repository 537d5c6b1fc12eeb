import { Type, type Static } from 'typebox';
import { JOB_STATES } from '../../core/flow/job.ts';
import { ORIGINS } from '../../core/ticket/ticket.ts';
import { Id, InstantMs, LogEvent, Mm, nullable } from './common.ts';

export const JobState = Type.Enum([...JOB_STATES]);

export const FindingView = Type.Object({
  code: Type.String(),
  severity: Type.Enum(['block', 'warn', 'note']),
  text: Type.String(),
  figures: Type.Record(Type.String(), Type.Number()),
});

export const TicketValuesView = Type.Object({
  copies: Type.Integer({ minimum: 1, maximum: 10_000 }),
  quarterTurn: Type.Boolean(),
  modeId: Id,
  stockId: Id,
  span: Type.Enum(['whole bed', 'media', 'artwork']),
  dryOut: Type.Boolean(),
  cutOff: Type.Enum(['none', 'full']),
  customer: nullable(Type.String({ maxLength: 200 })),
  orderNo: nullable(Type.String({ maxLength: 100 })),
  dueMs: nullable(InstantMs),
});

const OriginView = Type.Enum([...ORIGINS]);

export const TicketView = Type.Object({
  values: TicketValuesView,
  origins: Type.Object(
    Object.fromEntries(Object.keys(TicketValuesView.properties).map((key) => [key, OriginView])) as Record<
      keyof typeof TicketValuesView.properties,
      typeof OriginView
    >,
  ),
});

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
  bleedMm: Type.Object({ leftMm: Mm, topMm: Mm, rightMm: Mm, bottomMm: Mm }),
  coverage: Type.Record(Type.String(), Type.Number()),
});
export type PageView = Static<typeof PageView>;

export const JobDetail = Type.Object({
  ...JobItem.properties,
  ticket: TicketView,
  pageList: Type.Array(PageView),
  history: Type.Array(LogEvent),
  runs: Type.Array(Type.Object({ id: Id, name: Type.String(), state: Type.String() })),
});
export type JobDetail = Static<typeof JobDetail>;

export const JobList = Type.Object({
  items: Type.Array(JobItem),
  total: Type.Integer(),
  nextCursor: nullable(Type.String()),
});
export type JobList = Static<typeof JobList>;

export const JobListQuery = Type.Object({
  limit: Type.Integer({ minimum: 1, maximum: 2000, default: 200 }),
  cursor: Type.Optional(Type.String({ maxLength: 40, pattern: '^[0-9]+$' })),
});

export const JobChange = Type.Object(
  {
    ...Type.Partial(TicketValuesView).properties,
    queueId: Type.Optional(Id),
    /** Where put-back values come from; values without one are *set here*. */
    origins: Type.Optional(Type.Partial(TicketView.properties.origins)),
  },
  { additionalProperties: false },
);
export type JobChange = Static<typeof JobChange>;

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
});
export type UploadResult = Static<typeof UploadResult>;
