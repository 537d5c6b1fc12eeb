import { rm } from 'node:fs/promises';
import { QuoteForm, QuoteView } from '../../../contract/api/pace/quote.ts';
import { type QuoteAsk, copiesIn, quote } from '../../usecases/quote/quote.ts';
import { Reply, type Route, route } from '../route.ts';
import type { RequestHandler } from 'express';
import multer from 'multer';
import { Type } from 'typebox';
import { Id } from '../../../contract/api/common.ts';
import { ArrivalRuleView } from '../../../contract/api/ticket.ts';
import { UploadResult } from '../../../contract/api/job.ts';
import type { Intake } from '../../ingest/intake.ts';
import { Refused, type Shop } from '../../shop.ts';
import { formField, plainName } from '../../ingest/formFields.ts';
import { oneTicket } from '../../ingest/oneTicket.ts';
import { bringInUploads } from '../../ingest/bringInUploads.ts';

/** Files that a page or a program sends in place of a hot folder. */
export function uploadRoutes(shop: Shop, intake: Intake): Route[] {
  const upload = multer({
    dest: shop.paths.uploads,
    defParamCharset: 'utf8',
    limits: { fileSize: shop.limits.fileBytes, files: 2000, fields: 20, fieldSize: shop.limits.ticketBytes },
    // Whatever the field is called, a file is a file.
  }).any();
  return [
    route({
      method: 'post',
      path: '/api/jobs',
      needs: 'coordinate',
      summary:
        'Brings files into a queue, with a preset and a ticket; each becomes a job or is refused with its reason',
      multipart: Type.Object({
        queueId: Id,
        presetId: Type.Optional(Id),
        /** JSON: one object for all files, or a list of rows with a file name each. */
        ticket: Type.Optional(Type.String()),
        arrivalRule: Type.Optional(ArrivalRuleView),
        /** "true": laid out and queued at once. */
        send: Type.Optional(Type.Enum(['true', 'false'])),
        files: Type.Array(Type.Unsafe<unknown>({ type: 'string', format: 'binary' })),
      }),
      answer: UploadResult,
      status: 201,
      receive: (req, res) => {
        mustHaveRoom(shop);
        return parse(upload, req, res);
      },
      heavy: 'Taking the files in',
      handle: async ({ req, actor }) => {
        const result = await bringInUploads(
          shop,
          intake,
          req.body as unknown,
          Array.isArray(req.files) ? req.files : [],
          actor,
        );
        return new Reply(result.accepted.length > 0 ? 201 : 422, result);
      },
    }),
    route({
      method: 'post',
      path: '/api/quote',
      needs: 'see',
      summary: 'What a file would cost and bring on each printer, and by when; nothing of it is kept',
      multipart: QuoteForm,
      answer: QuoteView,
      receive: (req, res) => {
        mustHaveRoom(shop);
        return parse(upload, req, res);
      },
      heavy: 'Making a quote',
      handle: async ({ req, how }) => {
        const files = Array.isArray(req.files) ? req.files : [];
        try {
          return await quote(shop, quoteAsk(shop, req.body, files), how);
        } finally {
          for (const { path } of files) await rm(path, { force: true });
        }
      },
    }),
  ];
}

/** What came beside the file. */
function quoteAsk(shop: Shop, body: unknown, files: readonly Express.Multer.File[]): QuoteAsk {
  const [file] = files;
  if (!file || files.length > 1) {
    const words = file ? 'One file at a time is quoted.' : 'No file came with the request.';
    throw new Refused(400, 'no-files', words, undefined, 'Send one as "file".');
  }
  const queueId = formField(body, 'queueId') ?? '';
  const ticket = formField(body, 'ticket');
  return {
    queueId,
    presetId: formField(body, 'presetId'),
    copies: copiesIn(formField(body, 'copies')),
    said: ticket === undefined ? {} : oneTicket(shop, queueId, ticket),
    file: { path: file.path, name: plainName(file.originalname) },
  };
}

/** Refused before a file is sent in vain. */
function mustHaveRoom({ storage }: Shop): void {
  if (storage.acceptsWork) return;
  const { text, remedy, freeBytes } = storage.view();
  throw new Refused(503, 'no-room', text ?? 'Nothing can be taken in now.', { freeBytes }, remedy ?? undefined);
}

function parse(
  upload: RequestHandler,
  req: Parameters<RequestHandler>[0],
  res: Parameters<RequestHandler>[1],
): Promise<void> {
  return new Promise<void>((done, failed) => {
    void upload(req, res, (error: unknown) => {
      if (error) failed(error instanceof Error ? error : new Error('upload failed'));
      else done();
    });
  });
}
