import { Type, type Static } from 'typebox';
import { Id, nullable } from './common.ts';

export const PrintAgain = Type.Object({ copies: Type.Integer({ minimum: 1, maximum: 10_000 }) });

export const SpoiledPieces = Type.Object({ pieceIds: Type.Array(Id, { minItems: 1, maxItems: 5000 }) });

export const PrintedPieces = Type.Array(
  Type.Object({
    pieceId: Id,
    page: Type.Integer(),
    copy: Type.Integer(),
    part: nullable(Type.String()),
    panel: nullable(Type.Integer()),
    runId: Id,
    runName: Type.String(),
  }),
);
export type PrintedPieces = Static<typeof PrintedPieces>;

export const RenderedData = Type.Object({
  files: Type.Integer(),
  bytes: Type.Number(),
  mostBytes: Type.Number(),
});
export type RenderedData = Static<typeof RenderedData>;
