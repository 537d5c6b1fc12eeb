import { Type, type Static } from 'typebox';
import { CUT_OFFS, SPANS } from '../../../core/machine/constants.ts';
import { RUN_ORDERS } from '../../../core/layout/runNest.ts';
import { Id, InstantMs, nullable } from '../common.ts';
import { RuleView } from '../shop.ts';

/** What would be otherwise; what is left out stays as it was. */
export const WhatIfChangeView = Type.Object(
  {
    span: Type.Optional(Type.Enum([...SPANS])),
    dryOut: Type.Optional(Type.Boolean()),
    dryMin: Type.Optional(Type.Number({ minimum: 0, maximum: 1440 })),
    cutOff: Type.Optional(Type.Enum([...CUT_OFFS])),
    passes: Type.Optional(Type.Integer({ minimum: 1, maximum: 64 })),
    oneDirectional: Type.Optional(Type.Boolean()),
    gapMm: Type.Optional(
      Type.Number({ minimum: 0, maximum: 500, description: 'between pieces; runs are laid out anew' }),
    ),
    order: Type.Optional(Type.Enum([...RUN_ORDERS], { description: 'runs are laid out anew' })),
    collectH: Type.Optional(
      Type.Number({
        minimum: 0.25,
        maximum: 336,
        description: 'runs of the same settings that began within so many hours are printed as one',
      }),
    ),
    toPrinterId: Type.Optional(Type.String({ ...Id, description: 'runs that it can take are printed there' })),
    rules: Type.Optional(
      Type.Array(RuleView, { maxItems: 200, description: 'runs are printed where these routing rules send them' }),
    ),
    purgeDays: Type.Optional(
      Type.Integer({ minimum: 0, maximum: 60, description: 'purges of timers every so many days; 0: none' }),
    ),
    withoutPrinterId: Type.Optional(
      Type.String({ ...Id, description: 'its runs go where they end first; filters choose among its runs' }),
    ),
    likePrinterId: Type.Optional(
      Type.String({ ...Id, description: 'one more like it: its runs go where they end first' }),
    ),
  },
  { minProperties: 1, additionalProperties: false },
);
export type WhatIfChangeView = Static<typeof WhatIfChangeView>;

const ids = (most: number) => Type.Optional(Type.Array(Id, { minItems: 1, maxItems: most }));

export const WhatIfAsk = Type.Object({
  fromMs: InstantMs,
  toMs: Type.Integer({ description: 'beyond now: planned runs as well' }),
  printerIds: ids(100),
  stockIds: ids(1000),
  queueId: Type.Optional(Id),
  modeId: Type.Optional(Id),
  runIds: ids(2000),
  change: WhatIfChangeView,
});
export type WhatIfAsk = Static<typeof WhatIfAsk>;

const WhatIfSideView = Type.Object({
  runMs: Type.Number(),
  fedM2: Type.Number(),
  inkMl: Type.Number(),
  costMinor: Type.Integer(),
  lateJobs: Type.Integer(),
  lateMs: Type.Number(),
});

/** Purges of timers; what is expected to clog is in nozzles. */
const WhatIfCareSide = Type.Object({
  purges: Type.Number({ description: 'printed; what would have been is a share of what was' }),
  careMs: Type.Number(),
  fedM2: Type.Number(),
  inkMl: Type.Number(),
  costMinor: Type.Integer({ description: 'ink, media and time' }),
  clogs: Type.Number({ description: 'nozzles to be expected to clog in idle time, as checks have told so far' }),
});
export type WhatIfCareSide = Static<typeof WhatIfCareSide>;

/** What runs took and cost, and what they would have with other settings; nothing is kept. */
export const WhatIfView = Type.Object({
  currency: Type.String(),
  runs: Type.Integer({ description: 'that were asked about' }),
  changed: Type.Integer({ description: 'of them, those that would take another time or cost anything else' }),
  pending: Type.Integer({ description: 'sources whose figures are not in yet: what was is not complete' }),
  leftOut: Type.Integer({ description: 'runs of the period before the latest ones that are looked at' }),
  lines: Type.Array(
    Type.Object({
      name: Type.String({ description: 'of the printer, or one more' }),
      wasMs: Type.Number(),
      wasRuns: Type.Integer(),
      wouldMs: Type.Number(),
      wouldRuns: Type.Integer(),
    }),
    { description: 'what each printer prints of all that is looked at' },
  ),
  nowhere: Type.Array(Type.String(), { description: 'runs that no other printer can take: neither side counts them' }),
  was: WhatIfSideView,
  would: WhatIfSideView,
  /** Of purges, where they are asked about. */
  care: nullable(
    Type.Object({
      timers: Type.Integer({ description: 'that are set and not paused' }),
      was: WhatIfCareSide,
      would: WhatIfCareSide,
    }),
  ),
  savedMs: Type.Number(),
  savedLowMs: Type.Number({ description: 'eight of ten times it lies between this' }),
  savedHighMs: Type.Number({ description: 'and this' }),
  groups: Type.Array(
    Type.Object({
      printerId: Id,
      printerName: Type.String(),
      stockId: Id,
      stockName: Type.String(),
      runs: Type.Integer(),
      savedMs: Type.Number(),
      savedM2: Type.Number(),
      savedMinor: Type.Integer(),
    }),
  ),
  most: Type.Array(
    Type.Object({
      runId: Id,
      name: Type.String({ description: 'runs that would be printed as one are one row' }),
      printerName: Type.String(),
      toName: nullable(Type.String({ description: 'the printer that it would have gone to' })),
      wasMs: Type.Number(),
      wouldMs: Type.Number(),
      savedMinor: Type.Integer(),
    }),
    { description: 'the runs that it touches most' },
  ),
});
export type WhatIfView = Static<typeof WhatIfView>;

export const BestChangesQuery = Type.Object({ fromMs: InstantMs, toMs: InstantMs });

/** Changes of settings that would have saved most in a period, the best first. */
export const BestChanges = Type.Object({
  currency: Type.String(),
  changes: Type.Array(
    Type.Object({
      printerId: Id,
      printerName: Type.String(),
      stockId: Id,
      stockName: Type.String(),
      change: WhatIfChangeView,
      runs: Type.Integer(),
      savedMs: Type.Number(),
      savedLowMs: Type.Number(),
      savedHighMs: Type.Number(),
      savedMinor: Type.Integer(),
    }),
  ),
});
export type BestChanges = Static<typeof BestChanges>;
