import { Type, type Static } from 'typebox';
import { Id, Mm, nullable } from './common.ts';
import { PrinterConfig } from './floor.ts';
import { TicketPartView } from './ticket.ts';

/** A printer as a file: what can be exported, changed by hand and taken in again. */
export const PrinterFile = Type.Object({
  yellowSpoolPrinter: Type.Literal(1),
  name: Type.String({ minLength: 1, maxLength: 80 }),
  config: PrinterConfig,
});
export type PrinterFile = Static<typeof PrinterFile>;

export const PrinterCreate = Type.Object({
  name: Type.String({ minLength: 1, maxLength: 80 }),
  from: Type.Union([
    Type.Object({ kind: Type.Literal('copy'), printerId: Id }),
    Type.Object({ kind: Type.Literal('file'), config: PrinterConfig }),
    Type.Object({ kind: Type.Literal('device'), deviceId: Id }),
  ]),
});
export type PrinterCreate = Static<typeof PrinterCreate>;

export const PrinterChange = Type.Object({
  name: Type.Optional(Type.String({ minLength: 1, maxLength: 80 })),
  config: Type.Optional(PrinterConfig),
});
export type PrinterChange = Static<typeof PrinterChange>;

export const DeviceView = Type.Object({
  id: Id,
  name: Type.String(),
  form: Type.String(),
  printerId: nullable(Id),
});
export type DeviceView = Static<typeof DeviceView>;

/** Article numbers and bar codes of a stock, as they stand on its cartons. */
export const StockCodes = Type.Array(Type.String({ minLength: 1, maxLength: 60, pattern: '^\\S(.*\\S)?$' }), {
  maxItems: 20,
});

export const StockChange = Type.Object({
  name: Type.Optional(Type.String({ minLength: 1, maxLength: 80 })),
  widthMm: Type.Optional(Type.Number({ exclusiveMinimum: 0, maximum: 1e5 })),
  thicknessMm: Type.Optional(Type.Number({ exclusiveMinimum: 0, maximum: 50 })),
  coreMm: Type.Optional(Mm),
  colour: Type.Optional(Type.String({ pattern: '^#[0-9A-Fa-f]{6}$' })),
  pricePerM2Minor: Type.Optional(Type.Integer({ minimum: 0, maximum: 1e7 })),
  sheetMm: Type.Optional(nullable(Mm)),
  clear: Type.Optional(Type.Boolean()),
  suits: Type.Optional(nullable(Type.Record(Type.String(), Type.Array(Id, { maxItems: 60 })))),
  usableMm: Type.Optional(Type.Number({ minimum: 0, maximum: 1e6 })),
  partDiscount: Type.Optional(Type.Number({ minimum: 0, maximum: 1 })),
  leadDays: Type.Optional(nullable(Type.Integer({ minimum: 0, maximum: 60 }))),
  coverDays: Type.Optional(Type.Integer({ minimum: 1, maximum: 60 })),
  leastMm: Type.Optional(Type.Number({ minimum: 0, maximum: 1e9 })),
  packMm: Type.Optional(nullable(Type.Number({ exclusiveMinimum: 0, maximum: 1e8 }))),
  leaderMm: Type.Optional(Type.Number({ minimum: 0, maximum: 1e5 })),
  codes: Type.Optional(StockCodes),
});
export type StockChange = Static<typeof StockChange>;

export const StockCreate = Type.Object({
  name: Type.String({ minLength: 1, maxLength: 80 }),
  /** Everything else is as in this one at first. */
  likeId: Id,
});

/** One setting for many stocks on many printers; a preview changes nothing. */
export const StockSettingsBulk = Type.Object({
  stockIds: Type.Array(Id, { minItems: 1, maxItems: 1000 }),
  printerIds: Type.Array(Id, { minItems: 1, maxItems: 100 }),
  /** Only these of them; left out: each stock on each printer. */
  pairs: Type.Optional(Type.Array(Type.Object({ stockId: Id, printerId: Id }), { minItems: 1, maxItems: 5000 })),
  set: TicketPartView,
  /** Keys that go back to what printer and queue say. */
  clear: Type.Array(Type.String({ maxLength: 40 }), { maxItems: 40 }),
  preview: Type.Boolean(),
});
export type StockSettingsBulk = Static<typeof StockSettingsBulk>;

/** What a change of many stocks would do, one by one, before and after. */
export const StockSettingsChanges = Type.Object({
  changes: Type.Array(
    Type.Object({
      stockId: Id,
      stockName: Type.String(),
      printerId: Id,
      printerName: Type.String(),
      key: Type.String(),
      before: Type.Unknown(),
      after: Type.Unknown(),
    }),
  ),
});
export type StockSettingsChanges = Static<typeof StockSettingsChanges>;

export const StockSettingsUndone = Type.Object({
  undone: Type.Integer(),
  stayed: Type.Integer({ description: 'changed since by somebody' }),
});
export type StockSettingsUndone = Static<typeof StockSettingsUndone>;

export const StockSettingsSet = Type.Object({ printerId: Id, settings: TicketPartView });
