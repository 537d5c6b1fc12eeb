import { Type, type Static } from 'typebox';
import { INTENTS } from '../../../core/coats/intent.ts';
import { SCREENINGS } from '../../../core/coats/screening.ts';
import { Id, nullable } from '../common.ts';

/** What one channel of a coat fires. */
export const ChannelDots = Type.Object({
  id: Id,
  name: Type.String(),
  colour: Type.String(),
  /** Dots of each level: none, small, medium and full drops. */
  drops: Type.Array(Type.Integer({ minimum: 0 }), { minItems: 4, maxItems: 4 }),
  ml: Type.Number({ minimum: 0 }),
  costMinor: Type.Number({ minimum: 0 }),
  /** Ink beside full drops everywhere, 0 … 1. */
  coverage: Type.Number({ minimum: 0, maximum: 1 }),
});
export type ChannelDots = Static<typeof ChannelDots>;

/** A coat as it is rendered. */
export const CoatView = Type.Object({
  no: Type.Integer({ minimum: 1 }),
  name: Type.String(),
  /** Names this rendering: its tiles never change. */
  rendering: Type.String(),
  widthDots: Type.Integer({ minimum: 1 }),
  heightDots: Type.Integer({ minimum: 1 }),
  dpiX: Type.Integer(),
  dpiY: Type.Integer(),
  profile: Type.String(),
  intent: Type.Enum(INTENTS),
  screening: Type.Enum(SCREENINGS),
  /** Most ink at one place, as a sum of full layers. */
  inkLimit: Type.Number(),
  /** Volumes of small, medium and full drops (pl). */
  dropsPl: Type.Array(Type.Number(), { minItems: 3, maxItems: 3 }),
  /** The zoom at which all of it is one tile; a pixel of a tile is 2^zoom dots along each side. */
  mostZoom: Type.Integer({ minimum: 0 }),
  tilePx: Type.Integer(),
  channels: Type.Array(ChannelDots),
});
export type CoatView = Static<typeof CoatView>;

/** A coat that is not rendered: it can be looked at before its dots are there. */
const OwedCoat = Type.Object({
  ...CoatView.properties,
  channels: Type.Array(Type.Pick(ChannelDots, ['id', 'name', 'colour'])),
});
export type OwedCoat = Static<typeof OwedCoat>;

/** What a run will fire, coat by coat. */
export const RunChannels = Type.Object({
  currency: Type.String(),
  /** What there is to be rendered, where it was asked for only as far as it is; null: all of it is. */
  owed: nullable(
    Type.Object({
      coat: OwedCoat,
      parts: Type.Integer(),
      made: Type.Integer(),
      /** Why it can't be rendered, and the way out; null: it can. */
      refused: nullable(Type.String()),
    }),
  ),
  coats: Type.Array(CoatView),
  /** What would be printed twice or not at all, in words; empty: every piece and mark is printed once. */
  notOnce: Type.Array(Type.String()),
  /** What the rendering does not hold yet, in words. */
  notes: Type.Array(Type.String()),
});
export type RunChannels = Static<typeof RunChannels>;
