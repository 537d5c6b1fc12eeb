import { Type, type Static } from 'typebox';
import { Id, nullable } from './common.ts';

export const FitTrouble = Type.Object({
  code: Type.String(),
  text: Type.String(),
  way: Type.String({ description: 'the nearest way out' }),
});

const Minor = Type.Integer({ description: 'minor units of the shop’s currency' });

export const FitView = Type.Union([
  Type.Object({
    can: Type.Literal(true),
    printerId: Id,
    printerName: Type.String(),
    modeId: Id,
    terms: Type.Object({
      wasteMinor: Minor,
      inkMinor: Minor,
      timeMinor: Minor,
      changeOverMinor: Minor,
      lateMinor: Minor,
    }),
    totalMinor: Minor,
    lengthMm: Type.Number(),
    fedMm: Type.Number(),
    mediaMinor: Minor,
    costMicro: Type.Number({ description: 'ink, media and time, not rounded' }),
    inkMl: Type.Record(Type.String(), Type.Number(), { description: 'fired, by channel' }),
    timeMs: Type.Number(),
    startMs: Type.Integer(),
    endMs: Type.Integer(),
    lateMs: Type.Integer(),
    changeOverMin: Type.Number(),
    restsOn: Type.Array(
      Type.Object({
        text: Type.String({ description: 'what has to happen before it starts' }),
        atMs: nullable(Type.Integer()),
      }),
    ),
    offcut: nullable(
      Type.Object(
        { spoolId: Id, label: Type.String(), leftMm: Type.Number(), savedMinor: Minor },
        { description: 'an offcut on which it would be printed for less' },
      ),
    ),
    why: Type.String(),
  }),
  Type.Object({
    can: Type.Literal(false),
    printerId: Id,
    printerName: Type.String(),
    troubles: Type.Array(FitTrouble),
  }),
]);
export type FitView = Static<typeof FitView>;

/** Of one job or of several together. */
export const FitAsk = Type.Object({ jobIds: Type.Array(Id, { minItems: 1, maxItems: 500 }) });

export const FitAnswer = Type.Object({ currency: Type.String(), fits: Type.Array(FitView) });
export type FitAnswer = Static<typeof FitAnswer>;

/** A job in a run that will not make its date as the lines are now. */
export const JobAtRisk = Type.Object({
  jobId: Id,
  runName: Type.String(),
  printerName: Type.String(),
  endMs: Type.Integer(),
  lateMs: Type.Integer(),
});
export type JobAtRisk = Static<typeof JobAtRisk>;

/** What a printer that stands could give to another. */
export const RunOffer = Type.Object({
  runId: Id,
  name: Type.String(),
  kind: Type.Enum(['queued', 'rest'], { description: 'rest: what a failed run still owes' }),
  to: Type.Union([
    Type.Object({ printerId: Id, printerName: Type.String(), endMs: Type.Integer(), lateMs: Type.Integer() }),
    Type.Null(),
  ]),
  why: Type.String({ description: 'what is in the way on the others' }),
});
export type RunOffer = Static<typeof RunOffer>;

/** The first of the fit list of each job. */
export const FitFirsts = Type.Array(
  Type.Object({
    jobId: Id,
    printerId: Type.Union([Id, Type.Null()]),
    printerName: Type.String(),
    why: Type.String(),
    /** How late it would be there, at the end of the line as it is. */
    lateMs: Type.Integer(),
  }),
);
export type FitFirsts = Static<typeof FitFirsts>;

const Cost = Type.Object({
  lateMinor: Type.Number(),
  changeOverMin: Type.Number(),
  freeMs: Type.Number(),
  totalMinor: Type.Number(),
});

export const OrderProposal = Type.Object({
  printerId: Id,
  order: Type.Array(Id),
  today: Cost,
  proposed: Cost,
});
export type OrderProposal = Static<typeof OrderProposal>;

export const OrderSet = Type.Object({ runIds: Type.Array(Id, { maxItems: 2000 }) });
