import { Type } from 'typebox';
import {
  CareItemView,
  DesignCopyView,
  PurgeDesignBody,
  PurgeDesignView,
  PurgeFiguresView,
  RotaView,
  StartCare,
} from '../../../../contract/api/care.ts';
import { Id, InstantMs, Nothing } from '../../../../contract/api/common.ts';
import type { CareWhat } from '../../../../core/care/careData.ts';
import type { CareFeeder } from '../../../devices/careFeeder.ts';
import { Refused, type Shop } from '../../../shop.ts';
import { cancelWaitingCare, careBetween, careView, findCare, startCare } from '../../../usecases/care/careItems.ts';
import {
  changeDesign,
  copyOfDesign,
  createDesign,
  designView,
  designViews,
  removeDesign,
  tryDesign,
} from '../../../usecases/care/designs.ts';
import { carePrinter, designRow } from '../../../usecases/care/careWork.ts';
import { purgeAsPdf, purgeRaster } from '../../../usecases/care/purgeOutput.ts';
import { rotaView } from '../../../usecases/care/rota.ts';
import { type Route, route } from '../../route.ts';

const DAY_MS = 86_400_000;
const SPAN = { fromMs: Type.Optional(InstantMs), toMs: Type.Optional(InstantMs) };
/** Nobody looks at more at once. */
const MOST_MS = 62 * DAY_MS;

function spanOf(shop: Shop, { fromMs, toMs }: { readonly fromMs?: number; readonly toMs?: number }, days: number) {
  const from = fromMs ?? shop.clock.now();
  const to = toMs ?? from + days * DAY_MS;
  if (to > from && to - from <= MOST_MS) return { from, to };
  throw new Refused(422, 'bad-span', 'A span ends after it begins, and is 62 days at most.', {
    fromMs: from,
    toMs: to,
  });
}

/** Care of heads: purges as they are designed, what is in the lines, and the Rota. */
export function careRoutes(shop: Shop, feeder: CareFeeder): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/rota',
      needs: 'see',
      summary: 'What happens by itself: timers, care, planned runs and people’s hours; a week unless a span is said',
      query: Type.Object(SPAN),
      answer: RotaView,
      handle: ({ query }) => {
        const { from, to } = spanOf(shop, query, 7);
        return rotaView(shop, from, to);
      },
    }),
    route({
      method: 'get',
      path: '/api/care',
      needs: 'see',
      summary: 'Care that was due in a span of time (the last 30 days unless one is said), and all that waits',
      query: Type.Object(SPAN),
      answer: Type.Array(CareItemView),
      handle: ({ query }) => {
        // With what is due right now.
        const now = shop.clock.now();
        const { from, to } = spanOf(
          shop,
          { fromMs: query.fromMs ?? now - 30 * DAY_MS, toMs: query.toMs ?? now + 1 },
          30,
        );
        return careBetween(shop.db, from, to).map(careView);
      },
    }),
    route({
      method: 'post',
      path: '/api/care',
      needs: 'operate',
      summary: 'Starts care on a printer: at once, or behind what is on it',
      body: StartCare,
      answer: Type.Object({ id: Id }),
      status: 201,
      handle: ({ body, actor }) => ({ id: startCare(shop, body.printerId, body.what as CareWhat, actor) }),
    }),
    route({
      method: 'get',
      path: '/api/care/:id',
      needs: 'see',
      summary: 'What became of a piece of care',
      answer: CareItemView,
      handle: ({ params }) => {
        const row = findCare(shop.db, params.id ?? '');
        if (!row) throw new Refused(404, 'no-such-care', `There is no care ${params.id ?? ''}.`);
        return careView(row);
      },
    }),
    route({
      method: 'post',
      path: '/api/care/:id/cancel',
      needs: 'operate',
      summary: 'Takes care out of the line, or stops it on the printer',
      answer: Nothing,
      handle: async ({ params, actor }) => {
        const row = findCare(shop.db, params.id ?? '');
        if (row?.state === 'sent' || row?.state === 'caring') await feeder.cancel(row.id);
        else cancelWaitingCare(shop, params.id ?? '', actor);
        return {};
      },
    }),
    ...designRoutes(shop),
  ];
}

function designRoutes(shop: Shop): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/purges',
      needs: 'see',
      summary: 'Purges as they are designed, with what each takes',
      answer: Type.Array(PurgeDesignView),
      handle: () => designViews(shop),
    }),
    route({
      method: 'post',
      path: '/api/purges',
      needs: 'coordinate',
      summary: 'Keeps a purge design',
      body: PurgeDesignBody,
      answer: PurgeDesignView,
      status: 201,
      handle: ({ body, actor }) => designView(shop, designRow(shop.db, createDesign(shop, body, actor))),
    }),
    route({
      method: 'post',
      path: '/api/purges/figures',
      needs: 'see',
      summary: 'What a purge would take; nothing is kept',
      body: PurgeDesignBody,
      answer: PurgeFiguresView,
      handle: ({ body }) => tryDesign(shop, body),
    }),
    route({
      method: 'put',
      path: '/api/purges/:id',
      needs: 'coordinate',
      summary: 'Changes a purge design; its timers follow',
      body: PurgeDesignBody,
      answer: PurgeDesignView,
      handle: ({ params, body, actor }) => {
        changeDesign(shop, params.id ?? '', body, actor);
        return designView(shop, designRow(shop.db, params.id ?? ''));
      },
    }),
    route({
      method: 'delete',
      path: '/api/purges/:id',
      needs: 'coordinate',
      summary: 'Removes a purge design that no timer prints',
      answer: Nothing,
      handle: ({ params, actor }) => {
        removeDesign(shop, params.id ?? '', actor);
        return {};
      },
    }),
    route({
      method: 'get',
      path: '/api/purges/:id/channels.tif',
      needs: 'see',
      byDeviceLink: true,
      summary: 'What a device fires of a purge, dot by dot: a page for each channel (BigTIFF)',
      query: Type.Object({
        fires: Type.Optional(Type.String({ description: 'channels, with commas; left out: all' })),
      }),
      produces: 'image/tiff',
      handle: ({ params, query, res }) => {
        const design = designRow(shop.db, params.id ?? '');
        const { file } = purgeRaster(carePrinter(shop.db, design.printerId), design, query.fires?.split(','));
        res.type('image/tiff').send(Buffer.from(file));
      },
    }),
    route({
      method: 'get',
      path: '/api/purges/:id/purge.pdf',
      needs: 'see',
      summary: 'A purge as PDF, each channel a separation',
      produces: 'application/pdf',
      handle: async ({ params, res }) => {
        const design = designRow(shop.db, params.id ?? '');
        const pdf = await purgeAsPdf(carePrinter(shop.db, design.printerId), design);
        res.type('application/pdf').attachment(`${design.name}.pdf`).send(Buffer.from(pdf));
      },
    }),
    route({
      method: 'get',
      path: '/api/purges/:id/for/:printerId',
      needs: 'see',
      summary: 'A design as it would be on another printer, and what differs',
      answer: DesignCopyView,
      handle: ({ params }) => {
        const { body, differences, ownId } = copyOfDesign(shop.db, params.id ?? '', params.printerId ?? '');
        return { body, differences: [...differences], ownId };
      },
    }),
  ];
}
