import { Type, type Static } from 'typebox';
import { Id, nullable } from '../common.ts';

const SpoolLineView = Type.Object({
  spoolId: Id,
  label: Type.String(),
  lot: Type.String(),
  kind: Type.Enum(['roll', 'pack', 'offcut']),
  printerId: nullable(Id),
  wasLeftMm: Type.Number({ description: 'on it now' }),
  receivedMm: Type.Number(),
  isUnopened: Type.Boolean(),
  runs: Type.Array(Type.Object({ id: Id, name: Type.String(), needMm: Type.Number(), printerName: Type.String() })),
  leftMm: Type.Number({ description: 'once its runs are printed' }),
  isStub: Type.Boolean({ description: 'what is left is too short to be used' }),
  loads: Type.Integer(),
});

const SpoolSideView = Type.Object({
  lines: Type.Array(SpoolLineView),
  without: Type.Array(Type.Object({ id: Id, name: Type.String(), needMm: Type.Number() })),
  stubMm: Type.Number(),
  opened: Type.Integer({ description: 'spools that are opened for it' }),
  loads: Type.Integer(),
  lossMinor: Type.Integer({ description: 'what spools lose beyond what is printed on them; below 0: a gain' }),
});

/** Which spool each queued run would be printed on, stock by stock, beside how it stands. */
export const SpoolProposal = Type.Object({
  currency: Type.String(),
  stocks: Type.Array(
    Type.Object({
      stockId: Id,
      stockName: Type.String(),
      sheetMm: nullable(Type.Number()),
      usableMm: Type.Number(),
      today: SpoolSideView,
      proposed: SpoolSideView,
      savedMinor: Type.Integer(),
      isExact: Type.Boolean({ description: 'all ways were looked at: none is better' }),
    }),
  ),
  savedMinor: Type.Integer(),
  /** Lines in which the runs of a spool are put together. */
  orders: Type.Array(Type.Object({ printerId: Id, printerName: Type.String(), runIds: Type.Array(Id) })),
  lateTodayMinor: Type.Integer(),
  lateProposedMinor: Type.Integer(),
});
export type SpoolProposal = Static<typeof SpoolProposal>;
export type SpoolProposalSide = Static<typeof SpoolSideView>;
export type SpoolProposalLine = Static<typeof SpoolLineView>;

/** Spools for runs, and lines in their order: taken as one step, or not at all. */
export const SpoolChoice = Type.Object({
  whatStillCan: Type.Optional(
    Type.Boolean({ description: 'what has begun meanwhile, and lines that are others by now, are left as they are' }),
  ),
  runs: Type.Array(Type.Object({ runId: Id, spoolId: nullable(Id) }), { maxItems: 2000 }),
  orders: Type.Array(Type.Object({ printerId: Id, runIds: Type.Array(Id, { maxItems: 2000 }) }), { maxItems: 200 }),
});
export type SpoolChoice = Static<typeof SpoolChoice>;
