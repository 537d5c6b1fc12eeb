import { INTENTS } from '../../core/coats/intent.ts';
import { SCREENINGS } from '../../core/coats/screening.ts';
import { CUT_OFFS, SPANS } from '../../core/machine/constants.ts';
import { Type, type Static } from 'typebox';
import { CONTOUR_SOURCES } from '../../core/contour/contourRule.ts';
import { GRAINS } from '../../core/layout/orientations.ts';
import { SUBFOLDERS } from '../../core/ticket/namePattern.ts';
import { ORIGINS, PRIORITIES } from '../../core/ticket/ticket.ts';
import { Id, InstantMs, nullable } from './common.ts';

const Side = Type.Number({ minimum: 0, maximum: 1e6 });
const SizeMm = Type.Number({ minimum: 1, maximum: 1e6 });
const Percent = Type.Number({ exclusiveMinimum: 0, maximum: 100_000 });
const kind = <K extends string>(name: K) => Type.Literal(name);

export const SidesView = Type.Object({ leftMm: Side, topMm: Side, rightMm: Side, bottomMm: Side });

export const SizeRuleView = Type.Union([
  Type.Object({ kind: kind('as it came') }),
  Type.Object({ kind: kind('percent'), x: Percent, y: Percent }),
  Type.Object({ kind: kind('exact'), widthMm: nullable(SizeMm), heightMm: nullable(SizeMm) }),
  Type.Object({ kind: kind('within'), name: Type.String({ maxLength: 60 }), widthMm: SizeMm, heightMm: SizeMm }),
  Type.Object({ kind: kind('media width') }),
  Type.Object({ kind: kind('length'), lengthMm: SizeMm }),
]);

export const PlaceRuleView = Type.Union([
  Type.Object({ kind: kind('nested') }),
  Type.Object({ kind: kind('from edge'), mm: Side }),
  Type.Object({ kind: kind('centred') }),
  Type.Object({ kind: kind('below collar'), mm: Side }),
]);

export const SeparationsView = Type.Union([
  Type.Object({ kind: kind('all inks') }),
  Type.Object({ kind: kind('black only') }),
  Type.Object({ kind: kind('each alone') }),
  Type.Object({
    kind: kind('named'),
    names: Type.Array(Type.String({ minLength: 1, maxLength: 100 }), { minItems: 1, maxItems: 32 }),
  }),
]);

export const TileRuleView = Type.Object({
  cut: Type.Enum(['upright', 'level']),
  panels: Type.Enum(['equal', 'full width']),
  joinMm: Type.Number({ minimum: -500, maximum: 500, description: 'overlap; below zero: a gap' }),
  turnEverySecond: Type.Boolean(),
});

export const ContourRuleView = Type.Object({
  from: Type.Enum([...CONTOUR_SOURCES]),
  name: nullable(Type.String({ minLength: 1, maxLength: 100 })),
  offsetMm: Type.Number({ minimum: -100, maximum: 100, description: 'of the cut, outside of what was found' }),
  bleedMm: Type.Number({ minimum: 0, maximum: 100, description: 'printed beyond the cut' }),
});

export const KeepRuleView = Type.Union([
  Type.Object({ kind: Type.Enum(['job and data', 'job only', 'drop']) }),
  Type.Object({ kind: Type.Literal('days'), days: Type.Integer({ minimum: 1, maximum: 3650 }) }),
]);

const Percentage = Type.Number({ minimum: -100, maximum: 100 });
const Share = Type.Number({ minimum: 0, maximum: 1 });

export const ToneView = Type.Object(
  {
    brightness: Percentage,
    contrast: Percentage,
    gamma: Type.Number({ minimum: 0.2, maximum: 5, description: 'above 1 the middle is lighter' }),
    saturation: Percentage,
  },
  { additionalProperties: false },
);

export const ChannelCurveView = Type.Object(
  {
    channel: Type.String({ minLength: 1, maxLength: 40, description: 'red, green, blue, or a channel of the printer' }),
    points: Type.Array(Type.Object({ at: Share, to: Share }, { additionalProperties: false }), {
      minItems: 1,
      maxItems: 32,
      description: '0 → 0 and 1 → 1 where no point says otherwise',
    }),
  },
  { additionalProperties: false },
);

const ProfileName = Type.String({ minLength: 1, maxLength: 100 });

export const ArtworkRuleView = Type.Object(
  {
    embedded: Type.Boolean({ description: 'whether profiles that files bring are used' }),
    /** Of RGB and grey without a profile; null: sRGB. */
    rgb: nullable(ProfileName),
    /** Of CMYK without a profile; null: that of a made-up press on coated paper. */
    cmyk: nullable(ProfileName),
  },
  { additionalProperties: false },
);

/** All settings of a job; docs/tickets.md says what each means. */
export const TicketValuesView = Type.Object({
  copies: Type.Integer({ minimum: 1, maximum: 10_000 }),
  quarterTurn: Type.Boolean(),
  halfTurn: Type.Boolean(),
  grain: Type.Enum([...GRAINS]),
  together: Type.Boolean(),
  modeId: Id,
  stockId: Id,
  span: Type.Enum([...SPANS]),
  dryOut: Type.Boolean(),
  dryMin: Type.Number({
    minimum: 0,
    maximum: 1440,
    description: 'minutes that it rests on the printer before it is cut off, wound or moved on',
  }),
  heaterC: nullable(Type.Number({ minimum: 20, maximum: 200, description: '°C; null: as it stands' })),
  inkLimit: nullable(
    Type.Number({ minimum: 0.5, maximum: 8, description: 'most ink of all channels together; 1: one channel in full' }),
  ),
  profile: nullable(Type.String({ minLength: 1, maxLength: 100, description: 'null: that of the mode' })),
  artwork: ArtworkRuleView,
  intent: Type.Enum([...INTENTS]),
  screening: Type.Enum([...SCREENINGS]),
  tone: ToneView,
  curves: Type.Array(ChannelCurveView, { maxItems: 16 }),
  cutOff: Type.Enum([...CUT_OFFS]),
  edgeToEdge: Type.Boolean(),
  customer: nullable(Type.String({ maxLength: 200 })),
  orderNo: nullable(Type.String({ maxLength: 100 })),
  oneLot: Type.Boolean({ description: 'all of the order, or of this job where it has no number, from one lot' }),
  dueMs: nullable(InstantMs),
  priority: Type.Enum([...PRIORITIES]),
  notes: nullable(Type.String({ maxLength: 2000 })),
  charges: Type.Array(
    Type.Object({
      text: Type.String({ minLength: 1, maxLength: 200 }),
      minor: Type.Integer({ minimum: -1e9, maximum: 1e9 }),
    }),
    { maxItems: 50 },
  ),
  latePerHMinor: Type.Integer({ minimum: 0, maximum: 1e7, description: 'what an hour late costs, in minor units' }),
  unattended: Type.Boolean({ description: 'may be printed with nobody there' }),
  keep: KeepRuleView,
  size: SizeRuleView,
  crop: SidesView,
  bleedMm: nullable(Type.Number({ minimum: 0, maximum: 500 })),
  turn: Type.Union([Type.Literal(0), Type.Literal(90), Type.Literal(180), Type.Literal(270), Type.Literal('best')]),
  mirror: Type.Boolean(),
  place: PlaceRuleView,
  separations: SeparationsView,
  pagesAs: Type.Enum(['one job', 'a job each']),
  tiles: nullable(TileRuleView),
  contour: nullable(ContourRuleView),
});
export type TicketValuesView = Static<typeof TicketValuesView>;

/** Some of the settings: what a queue, a preset, a file name or a ticket file says. */
export const TicketPartView = Type.Object(Type.Partial(TicketValuesView).properties, { additionalProperties: false });
export type TicketPartView = Static<typeof TicketPartView>;

const OriginView = Type.Enum([...ORIGINS]);
export const TicketKeyView = Type.Enum(Object.keys(TicketValuesView.properties) as (keyof TicketValuesView)[]);

/** A ticket: each value with where it came from, so that it can be put back. */
export const TicketView = Type.Object({
  values: TicketValuesView,
  origins: Type.Object(
    Object.fromEntries(Object.keys(TicketValuesView.properties).map((key) => [key, OriginView])) as Record<
      keyof typeof TicketValuesView.properties,
      typeof OriginView
    >,
  ),
  layers: Type.Object(
    Object.fromEntries(ORIGINS.map((origin) => [origin, Type.Optional(TicketPartView)])) as Record<
      (typeof ORIGINS)[number],
      ReturnType<typeof Type.Optional<typeof TicketPartView>>
    >,
  ),
  preset: nullable(Type.Object({ id: Id, name: Type.String() })),
});
export type TicketView = Static<typeof TicketView>;

/** A change of one ticket or of many; what is not named stays. */
export const JobChange = Type.Object(
  {
    ...TicketPartView.properties,
    queueId: Type.Optional(Id),
    /** Another preset, or none. */
    presetId: Type.Optional(nullable(Id)),
    /** Values that are no longer *set here*. */
    putBack: Type.Optional(Type.Union([Type.Literal('all'), Type.Array(TicketKeyView, { maxItems: 40 })])),
  },
  { additionalProperties: false },
);
export type JobChange = Static<typeof JobChange>;

export const JobsChange = Type.Object({
  jobIds: Type.Array(Id, { minItems: 1, maxItems: 20_000 }),
  change: JobChange,
});
export type JobsChange = Static<typeof JobsChange>;

export const JobsChanged = Type.Object({
  changed: Type.Integer(),
  refused: Type.Array(Type.Object({ jobId: Id, sourceName: Type.String(), reason: Type.String() })),
});
export type JobsChanged = Static<typeof JobsChanged>;

const PresetName = Type.String({ minLength: 1, maxLength: 80, pattern: '\\S' });

export const PresetView = Type.Object({
  id: Id,
  name: Type.String(),
  settings: TicketPartView,
  changedMs: InstantMs,
  /** Jobs that carry it, and hot folders that give it. */
  usedBy: Type.Object({ jobs: Type.Integer(), hotFolders: Type.Integer() }),
});
export type PresetView = Static<typeof PresetView>;

export const PresetCreate = Type.Object(
  { name: PresetName, settings: TicketPartView },
  { additionalProperties: false },
);
export type PresetCreate = Static<typeof PresetCreate>;
export const PresetChange = Type.Object(
  { name: Type.Optional(PresetName), settings: Type.Optional(TicketPartView) },
  { additionalProperties: false },
);
export type PresetChange = Static<typeof PresetChange>;

/** What is exported and imported. */
export const PresetFile = Type.Object({
  yellowSpoolPresets: Type.Literal(1),
  presets: Type.Array(PresetCreate, { minItems: 1, maxItems: 500 }),
});
export type PresetFile = Static<typeof PresetFile>;

export const ArrivalRuleView = Type.Enum(['wait', 'prepare', 'go']);

export const ChecksView = Type.Object({
  warnBelowDpi: Type.Integer({ minimum: 0, maximum: 2400 }),
  noteBelowDpi: Type.Integer({ minimum: 0, maximum: 2400 }),
  bleedMm: Type.Number({ minimum: 0, maximum: 100 }),
  thinLineMm: Type.Number({ minimum: 0, maximum: 10 }),
  mostPages: Type.Integer({ minimum: 1, maximum: 2000 }),
});

export const HotFolderView = Type.Object({
  id: Id,
  queueId: Id,
  path: Type.String(),
  presetId: nullable(Id),
  arrivalRule: nullable(ArrivalRuleView),
  namePattern: nullable(Type.String()),
  subfolders: Type.Enum([...SUBFOLDERS]),
  afterwards: Type.Enum(['removed', 'kept in done']),
  paused: Type.Boolean(),
  state: Type.Enum(['watched', 'missing', 'paused']),
  taken: Type.Integer(),
  refused: Type.Integer(),
  lastFile: nullable(Type.String()),
  lastMs: nullable(InstantMs),
});
export type HotFolderView = Static<typeof HotFolderView>;

const folderSettings = {
  presetId: Type.Optional(nullable(Id)),
  arrivalRule: Type.Optional(nullable(ArrivalRuleView)),
  namePattern: Type.Optional(nullable(Type.String({ minLength: 1, maxLength: 300 }))),
  subfolders: Type.Optional(Type.Enum([...SUBFOLDERS])),
  afterwards: Type.Optional(Type.Enum(['removed', 'kept in done'])),
  paused: Type.Optional(Type.Boolean()),
};
export const HotFolderCreate = Type.Object(
  {
    queueId: Id,
    path: Type.String({ minLength: 1, maxLength: 1000 }),
    ...folderSettings,
    admitExisting: Type.Optional(
      Type.Boolean({ description: 'files that lie there already are to be taken; else they are counted and refused' }),
    ),
  },
  { additionalProperties: false },
);
export type HotFolderCreate = Static<typeof HotFolderCreate>;
export const HotFolderChange = Type.Object(folderSettings, { additionalProperties: false });
export type HotFolderChange = Static<typeof HotFolderChange>;

/** What becomes of jobs that arrive ready: they stay, the rules say, or they go to the first of the fit list. */
export const RoutingView = Type.Enum(['stays', 'rules', 'best']);

export const QueueView = Type.Object({
  id: Id,
  name: Type.String(),
  printerId: Id,
  settings: TicketPartView,
  /** What a job that arrives now would get from printer, stock and queue. */
  stamped: TicketView,
  gapMm: Type.Number({ minimum: 0, maximum: 500 }),
  arrivalRule: ArrivalRuleView,
  goAfterMin: Type.Integer(),
  checks: ChecksView,
  routing: RoutingView,
  forPool: Type.Boolean(),
  hotFolders: Type.Array(HotFolderView),
  waitingJobs: Type.Integer(),
});
export type QueueView = Static<typeof QueueView>;

/** What of a queue may be changed. It holds for jobs that arrive from then on. */
export const QueueChange = Type.Object(
  {
    name: Type.Optional(PresetName),
    settings: Type.Optional(TicketPartView),
    gapMm: Type.Optional(Type.Number({ minimum: 0, maximum: 500 })),
    arrivalRule: Type.Optional(ArrivalRuleView),
    goAfterMin: Type.Optional(Type.Integer({ minimum: 0, maximum: 1440 })),
    checks: Type.Optional(ChecksView),
    routing: Type.Optional(RoutingView),
    forPool: Type.Optional(Type.Boolean()),
  },
  { additionalProperties: false },
);
export type QueueChange = Static<typeof QueueChange>;
export const QueueCopy = Type.Object({ name: PresetName });

/** Sizes that the shop has named itself, beside ISO and ANSI; upright or lying. */
export const ShopSizes = Type.Array(
  Type.Object(
    { name: Type.String({ minLength: 1, maxLength: 60, pattern: '\\S' }), widthMm: SizeMm, heightMm: SizeMm },
    { additionalProperties: false },
  ),
  { maxItems: 200 },
);
export type ShopSizes = Static<typeof ShopSizes>;

/** A stock with its run settings on each printer. */
export const StockView = Type.Object({
  id: Id,
  name: Type.String(),
  widthMm: Type.Number(),
  colour: Type.String(),
  thicknessMm: Type.Number(),
  coreMm: Type.Number(),
  pricePerM2Minor: Type.Integer(),
  form: Type.Enum(['roll', 'sheet', 'garment']),
  sheetMm: nullable(Type.Number()),
  clear: Type.Boolean({ description: 'every ink shows on it, held against light or dark' }),
  /** Modes by printer that suit it; null: whatever takes its width. */
  suits: nullable(Type.Record(Type.String(), Type.Array(Id))),
  usableMm: Type.Number({ description: 'a shorter remainder is a stub' }),
  partDiscount: Type.Number({ description: 'share of its worth that an opened spool loses' }),
  leadDays: nullable(
    Type.Integer({ description: 'open days from the order until it is there; null: as the shop orders ahead' }),
  ),
  coverDays: Type.Integer({ description: 'it is ordered for so many open days beyond that' }),
  leastMm: Type.Number({ description: 'so much is always there' }),
  packMm: nullable(Type.Number({ description: 'length of a pack; null: as the last one that came' })),
  leaderMm: Type.Number({ description: 'fed each time a spool of it is loaded' }),
  codes: Type.Array(Type.String(), { description: 'article numbers and bar codes on its cartons' }),
  /** Run settings of this stock on printers. */
  settings: Type.Record(Type.String(), TicketPartView),
});
export type StockView = Static<typeof StockView>;
