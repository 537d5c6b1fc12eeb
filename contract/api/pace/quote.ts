import { Type, type Static } from 'typebox';
import { Id, InstantMs, nullable } from '../common.ts';
import { FitTrouble } from '../fit.ts';

/** So many numbers of copies can be asked for at once. */
export const MOST_QUANTITIES = 5;

export const QuoteForm = Type.Object({
  queueId: Id,
  /** Left out: one. */
  copies: Type.Optional(
    Type.String({ description: `numbers of copies, separated by commas, at most ${String(MOST_QUANTITIES)}` }),
  ),
  presetId: Type.Optional(Id),
  /** JSON: what the ticket of the job would say. */
  ticket: Type.Optional(Type.String()),
  file: Type.Unsafe<unknown>({ type: 'string', format: 'binary' }),
});

const Minor = Type.Integer({ description: 'minor units of the shop’s currency' });

const QuotedView = Type.Union([
  Type.Object({
    can: Type.Literal(true),
    printerId: Id,
    printerName: Type.String(),
    modeName: Type.String(),
    priceMinor: Minor,
    costMinor: Minor,
    inkMinor: Minor,
    mediaMinor: Minor,
    timeMinor: Minor,
    lengthMm: Type.Number(),
    fedMm: Type.Number(),
    timeMs: Type.Number(),
    behind: Type.Integer({ description: 'runs that wait before it where it would stand' }),
    startMs: InstantMs,
    endMs: InstantMs,
    byMs: nullable(Type.Integer({ description: 'nine of ten times it is done by then; null: nobody can tell' })),
  }),
  Type.Object({
    can: Type.Literal(false),
    printerId: Id,
    printerName: Type.String(),
    troubles: Type.Array(FitTrouble),
  }),
]);
export type QuotedView = Static<typeof QuotedView>;

/** What a file would cost and bring on each printer, by when; nothing of it is kept. */
export const QuoteView = Type.Object({
  currency: Type.String(),
  marginShare: Type.Number(),
  leastPriceMinor: Minor,
  sourceName: Type.String(),
  pages: Type.Integer(),
  widthMm: Type.Number({ description: 'of its first page, as the ticket makes it' }),
  heightMm: Type.Number(),
  stockName: Type.String(),
  findings: Type.Array(
    Type.Object({
      severity: Type.Enum(['block', 'warn', 'note']),
      text: Type.String(),
      remedy: nullable(Type.String()),
    }),
  ),
  quantities: Type.Array(Type.Object({ copies: Type.Integer(), printers: Type.Array(QuotedView) })),
});
export type QuoteView = Static<typeof QuoteView>;
