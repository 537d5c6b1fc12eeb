import { Type } from 'typebox';
import { Id, Nothing } from '../../../contract/api/common.ts';
import { SpoolChoice, SpoolProposal } from '../../../contract/api/media/spoolProposal.ts';
import {
  SpoolImport,
  SpoolImportAnswer,
  StockOrderCreate,
  StockOutlooks,
  StockTake,
} from '../../../contract/api/media/supply.ts';
import type { Shop } from '../../shop.ts';
import { countStock } from '../../usecases/media/countStock.ts';
import { importSpools } from '../../usecases/media/importSpools.ts';
import { chooseRunSpools, spoolProposal } from '../../usecases/media/spoolProposal.ts';
import { orderCsv, orderPdf } from '../../usecases/media/orderList.ts';
import { orderStock, setOrderOpen } from '../../usecases/media/stockOrders.ts';
import { stockOutlooks } from '../../usecases/media/stockOutlook.ts';
import { FileAnswer, type Route, route } from '../route.ts';

/** Which spool each run takes, how long stocks last, what to order, what came in, and what was counted. */
export function supplyRoutes(shop: Shop): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/spool-proposal',
      needs: 'see',
      summary: 'Spools for all queued runs so that stubs vanish, beside how it stands; nothing is changed by asking',
      answer: SpoolProposal,
      heavy: 'Choosing spools',
      handle: ({ how }) => spoolProposal(shop, how),
    }),
    route({
      method: 'post',
      path: '/api/spool-proposal',
      needs: 'coordinate',
      summary: 'Gives queued runs the spools that were chosen for them, and lines their order, in one step',
      body: SpoolChoice,
      answer: Nothing,
      handle: ({ body, actor }) => {
        chooseRunSpools(shop, body, actor);
      },
    }),
    route({
      method: 'get',
      path: '/api/stock-outlooks',
      needs: 'see',
      summary: 'How long each stock lasts, with its spread, and what has to be ordered',
      answer: StockOutlooks,
      handle: () => stockOutlooks(shop),
    }),
    route({
      method: 'get',
      path: '/api/stock-orders/list.csv',
      needs: 'see',
      summary: 'What has to be ordered, as CSV',
      produces: 'text/csv',
      handle: () =>
        new FileAnswer('text/csv', { bytes: new TextEncoder().encode(orderCsv(shop)) }, 'media-to-order.csv'),
    }),
    route({
      method: 'get',
      path: '/api/stock-orders/list.pdf',
      needs: 'see',
      summary: 'What has to be ordered, as PDF',
      produces: 'application/pdf',
      heavy: 'Making the order list',
      handle: async ({ how }) =>
        new FileAnswer('application/pdf', { bytes: await orderPdf(shop, how) }, 'media-to-order.pdf'),
    }),
    route({
      method: 'post',
      path: '/api/stock-orders',
      needs: 'coordinate',
      summary: 'Media was ordered; what comes in is taken off the oldest order',
      body: StockOrderCreate,
      answer: Type.Object({ id: Id }),
      status: 201,
      handle: ({ body, actor }) => ({ id: orderStock(shop, body.stockId, body.mm, actor) }),
    }),
    ...(['close', 'open'] as const).map((step) =>
      route({
        method: 'post',
        path: `/api/stock-orders/:id/${step}`,
        needs: 'coordinate',
        summary: step === 'close' ? 'An order that is no longer waited for' : 'An order that is waited for again',
        answer: Nothing,
        handle: ({ params, actor }) => {
          setOrderOpen(shop, params.id ?? '', step === 'open', actor);
        },
      }),
    ),
    route({
      method: 'post',
      path: '/api/spools/import',
      needs: 'coordinate',
      summary: 'Media that came in, as a list; sound rows are received, the others are said with their reason',
      body: SpoolImport,
      answer: SpoolImportAnswer,
      handle: ({ body, actor }) => importSpools(shop, body.csv, body.preview, actor),
    }),
    route({
      method: 'post',
      path: '/api/stock-takes',
      needs: 'coordinate',
      summary: 'What was counted on the rack; differences are booked with their reason in one step',
      body: StockTake,
      answer: Type.Object({ differences: Type.Integer() }),
      handle: ({ body, actor }) => ({ differences: countStock(shop, body, actor) }),
    }),
  ];
}
