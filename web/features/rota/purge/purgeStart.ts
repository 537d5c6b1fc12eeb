import type { PurgeDesignBody } from '../../../../contract/api/care.ts';
import type { Printer, Stock } from '../../../api/data.ts';

/** Stocks that a purge can be printed on there. */
export function stocksFor(printer: Printer, stocks: readonly Stock[]): Stock[] {
  return stocks.filter(
    ({ form, widthMm, suits }) =>
      form !== 'garment' &&
      widthMm <= printer.config.widestMediaMm &&
      (suits === null || suits[printer.id] !== undefined) &&
      printer.config.sources.some(({ kind }) => (form === 'sheet' ? kind === 'tray' : kind === 'roll')),
  );
}

/** Where a design for a printer begins: on what is loaded there, light, with more of white. */
export function startFor(printer: Printer, stocks: readonly Stock[]): PurgeDesignBody | undefined {
  const fitting = stocksFor(printer, stocks);
  const loaded = fitting.find(({ id }) => printer.spools.some((spool) => spool.stockId === id));
  const stock = loaded ?? fitting[0];
  const mode = printer.config.modes.at(-1);
  if (!stock || !mode) return undefined;
  return withStock(
    {
      printerId: printer.id,
      name: 'Light purge',
      modeId: mode.id,
      stockId: stock.id,
      onlyNeeded: true,
      sheet: {
        form: 'roll',
        widthMm: 1,
        lengthMm: 150,
        density: 0.05,
        // White settles: it gets more.
        levels: Object.fromEntries(printer.config.channels.map(({ id }) => [id, id === 'white' ? 1 : 0.4])),
      },
    },
    printer,
    stock,
  );
}

/** A design on another stock: as wide as can be printed on it. */
export function withStock(body: PurgeDesignBody, printer: Printer, stock: Stock): PurgeDesignBody {
  const { mediaMarginMm, printableWidthMm } = printer.config;
  const sheet =
    stock.form === 'sheet'
      ? { ...body.sheet, form: 'sheet' as const, widthMm: stock.widthMm, lengthMm: stock.sheetMm ?? 450 }
      : {
          ...body.sheet,
          form: 'roll' as const,
          widthMm: Math.min(printableWidthMm, stock.widthMm - mediaMarginMm.leftMm - mediaMarginMm.rightMm),
          lengthMm: body.sheet.form === 'sheet' ? 150 : body.sheet.lengthMm,
        };
  return { ...body, stockId: stock.id, sheet };
}
