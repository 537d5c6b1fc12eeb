import { Type, type Static } from 'typebox';
import { Id, InstantMs, nullable } from '../common.ts';

const OrderView = Type.Object({
  id: Id,
  mm: Type.Number(),
  receivedMm: Type.Number(),
  orderedMs: InstantMs,
});

/** How long a stock lasts, and what is to be ordered of it. Days are days on which the shop is open. */
export const StockOutlook = Type.Object({
  stockId: Id,
  leftMm: Type.Number({ description: 'on all spools, less what runs on printers still take' }),
  queuedMm: Type.Number(),
  onOrderMm: Type.Number(),
  orders: Type.Array(OrderView),
  known: Type.Enum(['forecast', 'few data', 'nothing used']),
  perDayMm: Type.Number({ description: 'expected on a day like the mean of the coming week' }),
  /** Whole open days that it lasts; 1 in 10 is beyond each end. Null: longer than was looked ahead. */
  lasts: Type.Object({
    early: nullable(Type.Integer()),
    likely: nullable(Type.Integer()),
    late: nullable(Type.Integer()),
  }),
  order: Type.Object({
    isDue: Type.Boolean(),
    byMs: nullable(InstantMs),
    reorderPointMm: Type.Number(),
    packMm: Type.Number(),
    packs: Type.Integer(),
    mm: Type.Number(),
    costMinor: Type.Integer(),
    leadDays: Type.Integer(),
    coverDays: Type.Integer(),
    leastMm: Type.Number(),
  }),
  /** What was used on the last open days, and what is needed until the end of each coming one. */
  used: Type.Array(Type.Object({ atMs: InstantMs, mm: Type.Number() })),
  ahead: Type.Array(
    Type.Object({
      atMs: InstantMs,
      meanMm: Type.Number(),
      lowMm: Type.Number(),
      highMm: Type.Number(),
      queuedMm: Type.Number(),
    }),
  ),
});
export type StockOutlook = Static<typeof StockOutlook>;

export const StockOutlooks = Type.Object({ currency: Type.String(), stocks: Type.Array(StockOutlook) });
export type StockOutlooks = Static<typeof StockOutlooks>;

export const StockOrderCreate = Type.Object({
  stockId: Id,
  mm: Type.Number({ exclusiveMinimum: 0, maximum: 1e9 }),
});

export const SpoolImport = Type.Object({
  csv: Type.String({
    minLength: 1,
    maxLength: 200_000,
    description: 'columns stock, label, lot, length; optional width, place, kind',
  }),
  preview: Type.Boolean({ description: 'nothing is received' }),
});

/** What a list of received media comes to, row by row. */
export const SpoolImportAnswer = Type.Object({
  rows: Type.Array(
    Type.Object({
      row: Type.Integer({ description: 'of the file; the heading is 1' }),
      stock: Type.String(),
      sheetMm: nullable(Type.Number()),
      label: Type.String(),
      lengthMm: nullable(Type.Number()),
      trouble: nullable(Type.String()),
    }),
  ),
  received: Type.Integer(),
});
export type SpoolImportAnswer = Static<typeof SpoolImportAnswer>;

/** What was counted on the rack; differences are booked with the reason, in one step. */
export const StockTake = Type.Object({
  reason: Type.String({ minLength: 1, maxLength: 200 }),
  counts: Type.Array(
    Type.Object({
      spoolId: Id,
      leftMm: Type.Number({ minimum: 0, maximum: 1e8 }),
      expectedMm: Type.Number({ description: 'what the page said was left when it was counted' }),
    }),
    { minItems: 1, maxItems: 2000 },
  ),
});
export type StockTake = Static<typeof StockTake>;
