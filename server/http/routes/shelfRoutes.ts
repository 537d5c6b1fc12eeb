import { Type } from 'typebox';
import { Id, Nothing } from '../../../contract/api/common.ts';
import { PrintAgain, PrintedPieces, RenderedData, SpoiledPieces } from '../../../contract/api/shelf.ts';
import { renderedBytes } from '../../files/renderedData.ts';
import type { Shop } from '../../shop.ts';
import { openAsNew, printAgain, printedPieces, spoilPieces } from '../../usecases/shelf/shelf.ts';
import { type Route, route } from '../route.ts';

/** What is printed and kept: again, some of it again, or as a new job. */
export function shelfRoutes(shop: Shop): Route[] {
  return [
    route({
      method: 'post',
      path: '/api/jobs/:id/again',
      needs: 'coordinate',
      summary: 'Prints a kept job again as it was: so many copies more',
      body: PrintAgain,
      answer: Nothing,
      handle: ({ params, body, actor }) => {
        printAgain(shop, params.id ?? '', body.copies, actor);
      },
    }),
    route({
      method: 'get',
      path: '/api/jobs/:id/printed',
      needs: 'see',
      summary: 'The printed pieces of a job',
      answer: PrintedPieces,
      handle: ({ params }) => printedPieces(shop, params.id ?? ''),
    }),
    route({
      method: 'post',
      path: '/api/jobs/:id/spoiled',
      needs: 'coordinate',
      summary: 'Printed pieces that are of no use: each is owed once more',
      body: SpoiledPieces,
      answer: Nothing,
      handle: ({ params, body, actor }) => {
        spoilPieces(shop, params.id ?? '', body.pieceIds, actor);
      },
    }),
    route({
      method: 'post',
      path: '/api/jobs/:id/anew',
      needs: 'coordinate',
      summary: 'Opens a kept job for change: a new job with the same file and ticket',
      answer: Type.Object({ id: Id }),
      status: 201,
      handle: ({ params, actor }) => ({ id: openAsNew(shop, params.id ?? '', actor) }),
    }),
    route({
      method: 'get',
      path: '/api/rendered',
      needs: 'see',
      summary: 'How much room rendered data takes, and its bound',
      answer: RenderedData,
      handle: async () => ({
        ...(await renderedBytes(shop.paths.rendered)),
        mostBytes: shop.limits.renderedBytes,
      }),
    }),
  ];
}
