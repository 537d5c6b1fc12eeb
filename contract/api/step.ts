import { Type, type Static } from 'typebox';
import { ROW_TURNS, STAGGERS } from '../../core/layout/arrange/stepAndRepeat.ts';
import { Mm } from './common.ts';

const Side = Type.Number({ exclusiveMinimum: 0, maximum: 1e6 });
const Gap = Type.Number({ minimum: 0, maximum: 1e5 });

/** Rows and columns of one piece, for other systems: nothing is kept. */
export const StepBody = Type.Object({
  widthMm: Side,
  heightMm: Side,
  roomMm: Type.Number({ exclusiveMinimum: 0, maximum: 1e6, description: 'across the media' }),
  count: Type.Optional(
    Type.Integer({ minimum: 1, maximum: 50_000, description: 'left out: as many as the length takes' }),
  ),
  lengthMm: Type.Optional(
    Type.Number({
      exclusiveMinimum: 0,
      maximum: 1e7,
      description: 'along the feed; left out: as long as the count needs',
    }),
  ),
  columns: Type.Optional(
    Type.Integer({ minimum: 1, maximum: 50_000, description: 'left out: as many as the width takes' }),
  ),
  gapMm: Type.Union([Gap, Type.Object({ x: Gap, y: Gap })], { default: 0 }),
  stagger: Type.Enum([...STAGGERS], { default: 'none', description: 'how rows or columns are shifted to each other' }),
  shiftMm: Type.Optional(Type.Number({ minimum: -1e6, maximum: 1e6, description: 'left out: half a pitch' })),
  everySecond: Type.Enum([...ROW_TURNS], { default: 'none', description: 'how every second row is turned' }),
});
export type StepBody = Static<typeof StepBody>;

export const StepAnswer = Type.Object({
  columns: Type.Integer(),
  rows: Type.Integer(),
  count: Type.Integer(),
  extentMm: Mm,
  placements: Type.Array(
    Type.Object({
      xMm: Type.Number(),
      yMm: Type.Number(),
      angleDeg: Type.Number({ description: 'counter-clockwise; the corner is that of the turned piece' }),
    }),
  ),
});
export type StepAnswer = Static<typeof StepAnswer>;
