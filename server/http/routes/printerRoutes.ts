import { findPrinter } from '../../db/findRows.ts';
import { Type } from 'typebox';
import { Nothing } from '../../../contract/api/common.ts';
import { PrinterView } from '../../../contract/api/floor.ts';
import {
  DeviceView,
  PrinterChange,
  PrinterCreate,
  PrinterFile,
  StockChange,
  StockCreate,
  StockSettingsBulk,
  StockSettingsChanges,
  StockSettingsSet,
  StockSettingsUndone,
} from '../../../contract/api/setup.ts';
import { StockView } from '../../../contract/api/ticket.ts';
import { printersNow } from '../../usecases/plan/printersNow.ts';
import { stockViews } from '../../db/queueViews.ts';
import { Refused, type Shop } from '../../shop.ts';
import { changePrinter, createPrinter, removePrinter } from '../../usecases/setup/printers.ts';
import {
  bulkStockSettings,
  changeStock,
  createStock,
  setStockSettings,
  undoStockSettings,
} from '../../usecases/setup/stocks.ts';
import { type Route, route } from '../route.ts';

/** Printers and stocks as they are described. */
export function printerRoutes(shop: Shop, follow: () => void): Route[] {
  return [...describeRoutes(shop, follow), ...stockRoutes(shop)];
}

/** Printers as they are set up. A change follows to the device line at once. */
function describeRoutes(shop: Shop, follow: () => void): Route[] {
  const one = (id: string | undefined): PrinterView => {
    const [found] = printersNow(shop, id ?? '');
    if (!found) throw new Refused(404, 'no-such-printer', `There is no printer ${id ?? ''}.`);
    return found;
  };
  return [
    route({
      method: 'get',
      path: '/api/printers',
      needs: 'see',
      summary: 'Printers with what is loaded and what they do',
      answer: Type.Array(PrinterView),
      handle: () => printersNow(shop),
    }),
    route({
      method: 'post',
      path: '/api/printers',
      needs: 'set up',
      summary: 'A new printer: a copy, from a file, or as a device describes itself',
      body: PrinterCreate,
      answer: PrinterView,
      status: 201,
      handle: async ({ body, actor }) => {
        const id = await createPrinter(shop, body, actor);
        follow();
        return one(id);
      },
    }),
    route({
      method: 'patch',
      path: '/api/printers/:id',
      needs: 'set up',
      summary: 'Describes a printer anew; runs that are laid out keep what they were laid out by',
      body: PrinterChange,
      answer: PrinterView,
      handle: ({ params, body, actor }) => {
        changePrinter(shop, params.id ?? '', body, actor);
        return one(params.id);
      },
    }),
    route({
      method: 'delete',
      path: '/api/printers/:id',
      needs: 'set up',
      summary: 'Takes a printer off the floor that has neither runs nor spools nor jobs',
      answer: Nothing,
      handle: ({ params, actor }) => {
        removePrinter(shop, params.id ?? '', actor);
        follow();
      },
    }),
    route({
      method: 'get',
      path: '/api/printers/:id/file',
      needs: 'see',
      summary: 'A printer as a file to change or to take in elsewhere',
      answer: PrinterFile,
      handle: ({ params, res }) => {
        const { name, config } = one(params.id);
        res.attachment(`${name}.printer.json`);
        return { yellowSpoolPrinter: 1 as const, name, config };
      },
    }),
    route({
      method: 'get',
      path: '/api/devices',
      needs: 'see',
      summary: 'Devices that answer on the line, and which printer each is',
      answer: Type.Array(DeviceView),
      handle: async () => {
        const names = await shop.link.machines().catch(() => []);
        return names.map(({ id, name, form }) => {
          const known = findPrinter(shop.db, id);
          return { id, name, form, printerId: known?.id ?? null };
        });
      },
    }),
  ];
}

/** Stocks, and how each runs on each printer. */
function stockRoutes(shop: Shop): Route[] {
  const one = (id: string | undefined): StockView => {
    const found = stockViews(shop.db).find((stock) => stock.id === id);
    if (!found) throw new Refused(404, 'no-such-stock', `There is no stock ${id ?? ''}.`);
    return found;
  };
  return [
    route({
      method: 'get',
      path: '/api/stocks',
      needs: 'see',
      summary: 'Stocks with their run settings on printers',
      answer: Type.Array(StockView),
      handle: () => stockViews(shop.db),
    }),
    route({
      method: 'post',
      path: '/api/stocks',
      needs: 'set up',
      summary: 'A new stock, like one that is here until it is changed',
      body: StockCreate,
      answer: StockView,
      status: 201,
      handle: ({ body, actor }) => one(createStock(shop, body.name, body.likeId, actor)),
    }),
    route({
      method: 'patch',
      path: '/api/stocks/:id',
      needs: 'set up',
      summary: 'What a stock is',
      body: StockChange,
      answer: StockView,
      handle: ({ params, body, actor }) => {
        changeStock(shop, params.id ?? '', body, actor);
        return one(params.id);
      },
    }),
    route({
      method: 'put',
      path: '/api/stocks/:id/settings',
      needs: 'set up',
      summary: 'Run settings of a stock on one printer, loaded or not',
      body: StockSettingsSet,
      answer: StockView,
      handle: ({ params, body, actor }) => {
        setStockSettings(shop, params.id ?? '', body.printerId, body.settings, actor);
        return one(params.id);
      },
    }),
    route({
      method: 'post',
      path: '/api/stocks/settings',
      needs: 'set up',
      summary: 'One setting for many stocks on many printers; as a preview nothing changes',
      body: StockSettingsBulk,
      answer: StockSettingsChanges,
      handle: ({ body, actor }) => bulkStockSettings(shop, body, actor),
    }),
    route({
      method: 'post',
      path: '/api/stocks/settings/:id/undo',
      needs: 'set up',
      summary: 'Puts settings back to what they were before a change of many stocks',
      answer: StockSettingsUndone,
      handle: ({ params, actor }) => undoStockSettings(shop, params.id ?? '', actor),
    }),
  ];
}
