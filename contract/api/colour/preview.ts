import { Type, type Static } from 'typebox';
import { PREVIEW_VIEWS } from '../../../core/coats/previewView.ts';
import { Id, nullable } from '../common.ts';
import { TicketPartView } from '../ticket.ts';

const Share = Type.Number({ minimum: 0, maximum: 1 });
const Start = Type.Number({ minimum: 0, exclusiveMaximum: 1 });
const Extent = Type.Number({ exclusiveMinimum: 0, maximum: 1 });

/** Values of a ticket that change how its colours print. */
const ColourValues = Type.Pick(
  TicketPartView,
  ['profile', 'artwork', 'intent', 'screening', 'tone', 'curves', 'inkLimit', 'modeId'],
  { additionalProperties: false },
);
export type ColourValues = Static<typeof ColourValues>;

/** How a page of a job would print by its ticket with these values set. */
export const CoatPreviewAsked = Type.Object(
  {
    jobId: Id,
    page: Type.Integer({ minimum: 0, default: 0 }),
    values: ColourValues,
    /** In shares of the finished page, cut off at its edges; left out: all of it. */
    crop: Type.Optional(
      Type.Object({ x: Start, y: Start, width: Extent, height: Extent }, { additionalProperties: false }),
    ),
    mostPx: Type.Integer({ minimum: 16, maximum: 1600, default: 900, description: 'of the longer side' }),
    view: Type.Enum(PREVIEW_VIEWS, { default: 'print' }),
    paperWhite: Type.Boolean({ default: false, description: 'as the profile’s own media looks; else as white' }),
  },
  { additionalProperties: false },
);
export type CoatPreviewAsked = Static<typeof CoatPreviewAsked>;

/** What one channel lays down on one piece, by ink before screening. */
const PreviewChannel = Type.Object({
  id: Id,
  name: Type.String(),
  colour: Type.String(),
  coverage: Share,
  ml: Type.Number({ minimum: 0 }),
  costMinor: Type.Number({ minimum: 0 }),
});

export const CoatPreview = Type.Object({
  currency: Type.String(),
  /** PNG, base64. */
  picture: Type.String(),
  widthPx: Type.Integer({ minimum: 1 }),
  heightPx: Type.Integer({ minimum: 1 }),
  profile: Type.String(),
  /** Most ink at one place, as a sum of full layers, and the most that the picture asks for before it. */
  inkLimit: Type.Number(),
  mostInk: Type.Number(),
  /** Shares of what is printed at all: whose colour can't be printed, and where more ink is asked for than may lie there. */
  outOfGamut: Share,
  overLimit: Share,
  /** Pieces of this page that are owed. */
  pieces: Type.Integer({ minimum: 0 }),
  channels: Type.Array(PreviewChannel),
  /** What the picture does not show as it will be; null: nothing. */
  note: nullable(Type.String()),
});
export type CoatPreview = Static<typeof CoatPreview>;
