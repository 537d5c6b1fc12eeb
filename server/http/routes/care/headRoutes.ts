import { rm } from 'node:fs/promises';
import multer from 'multer';
import { Type } from 'typebox';
import { Id, Nothing } from '../../../../contract/api/common.ts';
import {
  CheckPlotView,
  CheckReadingBody,
  CheckView,
  ClogCurveView,
  FeedMeasured,
  HeadCareBody,
  HeadsView,
  PlotReadingView,
} from '../../../../contract/api/heads.ts';
import { Refused, type Shop } from '../../../shop.ts';
import { checkPlotOf, readPictures } from '../../../usecases/heads/checkPlots.ts';
import { checkRow, readCheck, readLoosePlot } from '../../../usecases/heads/checks.ts';
import { startHeadCare } from '../../../usecases/heads/headCare.ts';
import { measureFeed } from '../../../usecases/heads/feed.ts';
import { allHeads, checkView, clogCurve, headsOf } from '../../../usecases/heads/headsView.ts';
import { FileAnswer, type Route, route } from '../../route.ts';

/** A photo of 100 megapixels as PNG is smaller. */
const PICTURE_BYTES = 200e6;
const MOST_PICTURES = 24;

/** Heads: what is known of nozzles, check plots and their reading, what to do next. */
export function headRoutes(shop: Shop): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/heads',
      needs: 'see',
      summary:
        'The heads of every printer: nozzles as last read, clog risk, which modes they are fit for, what to do next',
      answer: Type.Array(HeadsView),
      handle: () => allHeads(shop),
    }),
    route({
      method: 'get',
      path: '/api/printers/:id/heads',
      needs: 'see',
      summary: 'The heads of one printer',
      answer: HeadsView,
      handle: ({ params }) => headsOf(shop, params.id ?? ''),
    }),
    route({
      method: 'get',
      path: '/api/printers/:id/heads/:channel/curve',
      needs: 'see',
      summary: 'How likely a channel stays open by its idle hours, from this printer’s checks',
      answer: ClogCurveView,
      handle: ({ params }) => clogCurve(shop, params.id ?? '', params.channel ?? ''),
    }),
    route({
      method: 'post',
      path: '/api/printers/:id/heads/care',
      needs: 'operate',
      summary: 'Does an action of the ladder for channels, with a check behind it',
      body: HeadCareBody,
      answer: Nothing,
      handle: ({ params, body, actor }) => {
        startHeadCare(shop, params.id ?? '', body, actor);
        return {};
      },
    }),
    route({
      method: 'post',
      path: '/api/printers/:id/feed',
      needs: 'operate',
      summary: 'Says how far the bars of a feed check lie apart: the advance on that stock is divided by it',
      body: FeedMeasured,
      answer: Nothing,
      handle: ({ params, body, actor }) => {
        measureFeed(shop, params.id ?? '', body, actor);
        return {};
      },
    }),
    ...readingRoutes(shop),
    ...plotRoutes(shop),
  ];
}

function readingRoutes(shop: Shop): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/checks/:id',
      needs: 'see',
      summary: 'A check plot that was printed, and what was read on it',
      answer: CheckView,
      handle: ({ params }) => checkView(checkRow(shop.db, params.id ?? '')),
    }),
    route({
      method: 'post',
      path: '/api/checks/:id/reading',
      needs: 'operate',
      summary: 'Says what a printed check shows; said again it is put right',
      body: CheckReadingBody,
      answer: Nothing,
      handle: ({ params, body, actor }) => {
        readCheck(shop, params.id ?? '', body, actor);
        return {};
      },
    }),
    route({
      method: 'post',
      path: '/api/printers/:id/reading',
      needs: 'operate',
      summary: 'Says what a plot shows that was not printed from here: it counts as printed now',
      body: CheckReadingBody,
      answer: Type.Object({ id: Id }),
      status: 201,
      handle: ({ params, body, actor }) => ({ id: readLoosePlot(shop, params.id ?? '', body, actor) }),
    }),
  ];
}

function plotRoutes(shop: Shop): Route[] {
  const upload = multer({
    dest: shop.paths.uploads,
    limits: { fileSize: PICTURE_BYTES, files: MOST_PICTURES, fields: 4 },
  }).any();
  return [
    route({
      method: 'get',
      path: '/api/printers/:id/check-plot',
      needs: 'see',
      summary: 'Where each nozzle draws its line on the check plot, with its corner marks',
      answer: CheckPlotView,
      handle: async ({ params, how }) =>
        new FileAnswer('application/json', {
          bytes: await checkPlotOf(shop, params.id ?? '', { kind: 'json' }, how),
        }),
    }),
    route({
      method: 'get',
      path: '/api/printers/:id/check-plot.png',
      needs: 'see',
      summary: 'The check plot as picture; pale inks on the dark media on which they show',
      query: Type.Object({ dpi: Type.Number({ minimum: 10, maximum: 2400, default: 300 }) }),
      produces: 'image/png',
      heavy: 'Drawing the check plot',
      handle: async ({ params, query, how }) =>
        new FileAnswer('image/png', {
          bytes: await checkPlotOf(shop, params.id ?? '', { kind: 'png', dpi: query.dpi }, how),
        }),
    }),
    route({
      method: 'get',
      path: '/api/printers/:id/check-plot.pdf',
      needs: 'see',
      summary: 'The check plot as page, each channel a separation of its own',
      produces: 'application/pdf',
      heavy: 'Making the check plot',
      handle: async ({ params, how }) =>
        new FileAnswer(
          'application/pdf',
          { bytes: await checkPlotOf(shop, params.id ?? '', { kind: 'pdf', title: 'Nozzle check' }, how) },
          `${params.id ?? ''}-check-plot.pdf`,
        ),
    }),
    route({
      method: 'post',
      path: '/api/printers/:id/check-plot/read',
      needs: 'operate',
      summary:
        'Reads one or several pictures of the check plot: scans or photos; what none of them shows is not judged',
      multipart: Type.Object({ file: Type.Array(Type.Unsafe<unknown>({ type: 'string', format: 'binary' })) }),
      answer: PlotReadingView,
      receive: (req, res) =>
        new Promise<void>((done, failed) => {
          void upload(req, res, (error: unknown) => {
            if (!error) done();
            else failed(error instanceof multer.MulterError ? tooMuch(error) : asError(error));
          });
        }),
      heavy: 'Reading the check plot',
      handle: async ({ params, req, how }) => {
        const files = Array.isArray(req.files) ? req.files : [];
        const paths = files.map(({ path }) => path);
        try {
          return await readPictures(shop, params.id ?? '', paths, how);
        } finally {
          await Promise.all(paths.map((path) => rm(path, { force: true })));
        }
      },
    }),
  ];
}

function asError(error: unknown): Error {
  return error instanceof Error ? error : new Error('upload failed');
}

function tooMuch({ code }: multer.MulterError): Refused {
  return new Refused(
    413,
    'too-large',
    `The pictures can't be taken: ${code}.`,
    { mostBytes: PICTURE_BYTES, mostPictures: MOST_PICTURES },
    'Send 24 pictures of 200 MB at most.',
  );
}
