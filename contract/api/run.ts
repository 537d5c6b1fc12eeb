import { Type, type Static } from 'typebox';
import { SEGMENT_ROWS } from '../../core/layout/arrange/cutSegments.ts';
import { BACK_CONTENTS, MEDIA_TURNS, PIECE_TURNS } from '../../core/layout/arrange/twoSides.ts';
import { CUT_OFFS, SPANS } from '../../core/machine/constants.ts';
import { PRINT_ORDERS } from '../../core/layout/nestInput.ts';
import { GRAINS } from '../../core/layout/orientations.ts';
import { RUN_ORDERS } from '../../core/layout/runNest.ts';
import { ContourView, Id, Mm, nullable } from './common.ts';
import { ModeView } from '../machine/about.ts';
import { RunItem } from './floor.ts';
import { MarkSettingsView } from './marks.ts';
import { PlaceRuleView, SidesView } from './ticket.ts';

/** Which panel of its page a piece is, and where it lies in the whole. */
export const PanelOf = Type.Object({
  no: Type.Integer(),
  of: Type.Integer(),
  xMm: Type.Number(),
  yMm: Type.Number(),
  wholeWidthMm: Mm,
  wholeHeightMm: Mm,
});
export type PanelOf = Static<typeof PanelOf>;

/** A piece of a run and where it lies: its corner nearest the origin, in the frame of the run (mm). */
export const RunPiece = Type.Object({
  pieceId: Id,
  jobId: Id,
  sourceName: Type.String(),
  page: Type.Integer(),
  copy: Type.Integer(),
  part: nullable(Type.String()),
  panel: nullable(PanelOf),
  turnEverySecond: Type.Boolean(),
  look: Type.String(),
  widthMm: Mm,
  heightMm: Mm,
  /** Part of width and height: what is cut off. */
  bleed: SidesView,
  quarterTurn: Type.Boolean(),
  halfTurn: Type.Boolean(),
  /** Names its contour among the run's; null: a rectangle. */
  contour: nullable(Type.String()),
  grain: Type.Enum([...GRAINS]),
  together: Type.Boolean(),
  dueMs: nullable(Type.Number()),
  customer: nullable(Type.String()),
  orderNo: nullable(Type.String()),
  /** Where the ticket holds it across the media. */
  place: PlaceRuleView,
  xMm: Type.Number(),
  yMm: Type.Number(),
  angleDeg: Type.Number({ description: 'counter-clockwise' }),
  locked: Type.Boolean({ description: 'stays where it lies when the rest is nested again' }),
  placed: Type.Boolean({ description: 'false until it has been laid out once' }),
  state: Type.Enum(['owed', 'placed', 'printed', 'spoiled']),
});
export type RunPiece = Static<typeof RunPiece>;

/** Places that every sheet is parted into; they are filled in order. */
const SheetPlacesView = Type.Object({
  columns: Type.Integer({ minimum: 1, maximum: 200 }),
  rows: Type.Integer({ minimum: 1, maximum: 200 }),
});

export const LayoutSettings = Type.Object({
  gapMm: Type.Number({ minimum: 0, maximum: 500 }),
  gapAlongMm: Type.Optional(
    Type.Number({ minimum: 0, maximum: 500, description: 'between pieces behind each other; left out: gapMm' }),
  ),
  leftMm: Type.Number({ minimum: -20, maximum: 1000, description: 'below zero: printed over the edge of the media' }),
  rightMm: Type.Number({ minimum: -20, maximum: 1000 }),
  leadMm: Type.Number({ minimum: 0, maximum: 5000 }),
  trailMm: Type.Number({ minimum: 0, maximum: 5000 }),
  quarterTurns: Type.Boolean(),
  order: Type.Optional(Type.Enum([...RUN_ORDERS], { description: 'what comes first on the media' })),
  jobOrder: Type.Optional(
    Type.Array(Id, { maxItems: 5000, description: 'jobs in the order in which rows and places are filled' }),
  ),
  byContour: Type.Optional(
    Type.Boolean({ description: 'pieces with a contour are nested by it, the gap as clearance, else as rectangles' }),
  ),
  turnStepDeg: Type.Optional(
    nullable(
      Type.Number({ minimum: 1, maximum: 360, description: 'contours turn in such steps; null: quarter turns' }),
    ),
  ),
  straightCuts: Type.Optional(Type.Boolean({ description: 'every piece can be cut free straight through' })),
  sheetMm: Type.Optional(
    nullable(
      Type.Number({ minimum: 10, maximum: 100_000, description: 'length of a sheet; null or left out: a roll' }),
    ),
  ),
  places: Type.Optional(nullable(SheetPlacesView)),
  /** Left out: none. */
  marks: Type.Optional(MarkSettingsView),
});
export type LayoutSettings = Static<typeof LayoutSettings>;

export const SideSettings = Type.Object({
  turn: Type.Enum([...MEDIA_TURNS], { description: 'how the media is turned before its back is printed' }),
  content: Type.Enum([...BACK_CONTENTS]),
  pieceTurn: Type.Enum([...PIECE_TURNS], { description: 'how a finished piece is turned to read its back' }),
  offsetXMm: Type.Number({ minimum: -100, maximum: 100, default: 0 }),
  offsetYMm: Type.Number({ minimum: -100, maximum: 100, default: 0 }),
});
export type SideSettings = Static<typeof SideSettings>;

/** Which side a run of a pair is; a back also says when a person confirmed its media. */
export interface RunSide extends SideSettings {
  readonly side: 'front' | 'back';
  readonly confirmedMs: number | null;
}

/** What is printed on the backs of the run's pieces. */
export const BacksRule = Type.Union([
  Type.Object({ kind: Type.Literal('every second page') }),
  Type.Object({ kind: Type.Literal('the same picture') }),
  Type.Object({
    kind: Type.Literal('other jobs'),
    pairs: Type.Array(Type.Object({ frontJobId: Id, backJobId: Id }), { minItems: 1, maxItems: 5000 }),
  }),
]);
export type BacksRule = Static<typeof BacksRule>;

export const TwoSidesOrder = Type.Object({ ...SideSettings.properties, backs: BacksRule });
export type TwoSidesOrder = Static<typeof TwoSidesOrder>;

export const BackConfirm = Type.Object({ spoolId: Id });

/** A run with its layout. Its version is that of the layout alone. */
export const RunDetail = Type.Object({
  ...RunItem.properties,
  version: Type.Integer({ description: 'of its layout; who saves another sends it as If-Match' }),
  laidOutBy: nullable(Type.String({ description: 'the person who has signed in and laid it out last' })),
  settings: LayoutSettings,
  usableWidthMm: Mm,
  /** Distance from the left media edge to the usable width. */
  usableFromMm: Mm,
  registeredEdge: Type.Enum(['left', 'centre', 'right']),
  mode: ModeView,
  span: Type.Enum([...SPANS]),
  dryOut: Type.Boolean(),
  dryMin: Type.Number(),
  cutOff: Type.Enum([...CUT_OFFS]),
  pieces: Type.Array(RunPiece),
  contours: Type.Record(Type.String(), ContourView),
  /** What slug lines and codes of the run can say, and by job what labels can say. */
  words: Type.Record(Type.String(), Type.String()),
  jobWords: Type.Record(Type.String(), Type.Record(Type.String(), Type.String())),
});
export type RunDetail = Static<typeof RunDetail>;

export const RunPictureQuery = Type.Object({
  dpi: Type.Integer({ minimum: 10, maximum: 1200, default: 100 }),
});

export const RunCutsQuery = Type.Object({
  sheet: Type.Optional(
    Type.Integer({ minimum: 1, description: 'of that sheet alone, in its own frame; 1 is printed first' }),
  ),
});

export const RunCreate = Type.Object({ jobIds: Type.Array(Id, { minItems: 1, maxItems: 5000 }) });

export const RunCopies = Type.Object({
  jobId: Id,
  copies: Type.Integer({ minimum: 1, maximum: 10_000, description: 'of this job in the run' }),
});

export const SegmentCut = Type.Object({
  /** The longest that a segment may be, margins and end cut included; without it the printer's free-hang length. */
  mostMm: Type.Optional(Type.Number({ exclusiveMinimum: 0, maximum: 1e6 })),
  mostPieces: Type.Optional(
    Type.Integer({
      minimum: 1,
      maximum: 50_000,
      description: 'so many pieces a segment; left out: as many as it takes',
    }),
  ),
  rows: Type.Optional(
    Type.Enum(SEGMENT_ROWS, {
      description: 'laid anew, each size by itself, or as they lie on the Bench; left out: anew',
    }),
  ),
  /** Queues all segments at once. */
  queue: Type.Boolean({ default: false }),
});
export type SegmentCut = Static<typeof SegmentCut>;

export const PlacementChange = Type.Object({
  pieceId: Id,
  xMm: Type.Number({ minimum: -1e6, maximum: 1e7 }),
  yMm: Type.Number({ minimum: -1e6, maximum: 1e7 }),
  angleDeg: Type.Number({ minimum: -360, maximum: 360, default: 0, description: 'counter-clockwise' }),
  locked: Type.Optional(Type.Boolean()),
});

export const LayoutChange = Type.Object({
  settings: LayoutSettings,
  placements: Type.Array(PlacementChange, { maxItems: 50_000 }),
});
export type LayoutChange = Static<typeof LayoutChange>;

/** A nest of rectangles or outlines, without any run: for other programs. */
export const NestBody = Type.Object({
  widthMm: Type.Number({ exclusiveMinimum: 0, maximum: 1e5 }),
  gapMm: Type.Union([
    Type.Number({ minimum: 0, maximum: 1000 }),
    Type.Object({ x: Type.Number({ minimum: 0 }), y: Type.Number({ minimum: 0 }) }),
  ]),
  marginMm: Type.Union([
    Type.Number({ minimum: 0, maximum: 1e4 }),
    Type.Object({ leadMm: Type.Number(), trailMm: Type.Number(), leftMm: Type.Number(), rightMm: Type.Number() }),
  ]),
  timeLimitMs: Type.Integer({ minimum: 1, maximum: 60_000, default: 1000 }),
  stepBudget: Type.Optional(Type.Integer({ minimum: 1 })),
  seed: Type.Integer({ default: 1 }),
  pieces: Type.Array(
    Type.Object({
      id: Type.String({ minLength: 1, maxLength: 200 }),
      widthMm: Type.Number({ exclusiveMinimum: 0, maximum: 1e7 }),
      heightMm: Type.Number({ exclusiveMinimum: 0, maximum: 1e7 }),
      copies: Type.Integer({ minimum: 1, default: 1 }),
      quarterTurn: Type.Boolean({ default: true }),
      grain: Type.Optional(Type.Enum([...GRAINS])),
      outline: Type.Optional(
        Type.Array(Type.Object({ x: Type.Number(), y: Type.Number() }), {
          minItems: 3,
          maxItems: 400,
          description:
            'contour from the upper left corner of its rectangle (mm); it is nested by that, the gap as clearance',
        }),
      ),
      halfTurn: Type.Optional(Type.Boolean({ description: 'of a piece with a contour; allowed where left out' })),
      turnStepDeg: Type.Optional(
        Type.Number({ minimum: 1, maximum: 360, description: 'a contour that may turn does so in such steps' }),
      ),
      together: Type.Optional(Type.Boolean({ description: 'copies lie in one block' })),
      group: Type.Optional(Type.Integer({ description: 'with order “groups”: lower ones come first' })),
    }),
    { minItems: 1, maxItems: 50_000 },
  ),
  order: Type.Optional(Type.Enum([...PRINT_ORDERS])),
  straightCuts: Type.Optional(Type.Boolean()),
  sheetMm: Type.Optional(Type.Number({ exclusiveMinimum: 0, maximum: 1e5, description: 'sheets of this length' })),
  places: Type.Optional(SheetPlacesView),
  fixed: Type.Optional(
    Type.Array(Type.Object({ xMm: Type.Number(), yMm: Type.Number(), widthMm: Mm, heightMm: Mm }), {
      maxItems: 50_000,
      description: 'what stays where it lies; the pieces are packed around it',
    }),
  ),
});
export type NestBody = Static<typeof NestBody>;

/** Where everything lies, and how far that is above what is possible at best. */
export const NestAnswer = Type.Object({
  lengthMm: Mm,
  boundMm: Mm,
  utilisation: Type.Number(),
  steps: Type.Integer(),
  sheets: nullable(Type.Integer()),
  placements: Type.Array(
    Type.Object({
      id: Type.String(),
      copy: Type.Integer(),
      xMm: Type.Number(),
      yMm: Type.Number({ description: 'on sheets: from the leading edge of its sheet' }),
      turned: Type.Boolean(),
      angleDeg: Type.Number(),
      sheet: Type.Integer({ description: '0 on a roll' }),
    }),
  ),
});
export type NestAnswer = Static<typeof NestAnswer>;

/** How a run lies, as far as a small drawing shows it. */
export const RunNestView = Type.Object({
  runId: Id,
  lengthMm: Mm,
  mediaWidthMm: Mm,
  usableFromMm: Mm,
  mirrored: Type.Boolean({ description: 'a back that shows through' }),
  pieces: Type.Array(
    Type.Object({
      jobId: Id,
      page: Type.Integer(),
      look: Type.String(),
      panel: nullable(PanelOf),
      widthMm: Mm,
      heightMm: Mm,
      xMm: Type.Number(),
      yMm: Type.Number(),
      angleDeg: Type.Number(),
    }),
  ),
});
export type RunNestView = Static<typeof RunNestView>;
