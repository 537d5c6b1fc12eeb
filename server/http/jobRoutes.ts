import { mkdir, rename } from 'node:fs/promises';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import multer from 'multer';
import type { RequestHandler } from 'express';
import { Type } from 'typebox';
import { Id, LogEvent, Nothing } from '../../contract/api/common.ts';
import {
  JobChange,
  JobDetail,
  type JobItem,
  JobList,
  JobListQuery,
  RefusalView,
  UploadResult,
} from '../../contract/api/job.ts';
import { exists } from '../files/atomic.ts';
import { jobs, queues } from '../db/schema.ts';
import { jobDetail, jobItem, latestLog, listJobs, openRefusals } from '../db/views.ts';
import type { Intake } from '../ingest/intake.ts';
import { PICTURE_SIZES, type PictureSize } from '../render/pictureSizes.ts';
import { Refused, type Shop, newId } from '../shop.ts';
import { cancelJob, changeJob, restoreJob } from '../usecases/changeJob.ts';
import { dismissRefusal } from '../usecases/refuseFile.ts';
import { type Route, route } from './route.ts';

const PERSON = 'coordinator';

export function jobRoutes(shop: Shop, intake: Intake): Route[] {
  const upload = uploader(shop);
  return [
    route({
      method: 'get',
      path: '/api/jobs',
      summary: 'Jobs in the order of their arrival, a page at a time',
      query: JobListQuery,
      answer: JobList,
      handle: ({ query }) => listJobs(shop.db, query.limit, query.cursor),
    }),
    route({
      method: 'post',
      path: '/api/jobs',
      summary: 'Brings files into a queue; each becomes a job or is refused with its reason',
      multipart: Type.Object({
        queueId: Id,
        files: Type.Array(Type.Unsafe<unknown>({ type: 'string', format: 'binary' })),
      }),
      answer: UploadResult,
      status: 201,
      handle: async ({ req, res }) => {
        await new Promise<void>((done, failed) => {
          void upload(req, res, (error: unknown) => {
            if (error) failed(error instanceof Error ? error : new Error('upload failed'));
            else done();
          });
        });
        const result = await takeUploads(shop, intake, req.body as unknown, req.files);
        res.status(result.accepted.length > 0 ? 201 : 422);
        res.json(result);
      },
    }),
    route({
      method: 'get',
      path: '/api/jobs/:id',
      summary: 'One job with its ticket, pages, runs and history',
      answer: JobDetail,
      handle: ({ params }) => jobDetail(shop.db, params.id ?? '') ?? missing('job', params.id),
    }),
    route({
      method: 'patch',
      path: '/api/jobs/:id',
      summary: 'Changes values of one ticket',
      body: JobChange,
      answer: JobDetail,
      handle: ({ params, body }) => {
        changeJob(shop, params.id ?? '', body, PERSON);
        return jobDetail(shop.db, params.id ?? '');
      },
    }),
    route({
      method: 'post',
      path: '/api/jobs/:id/cancel',
      summary: 'Cancels a job of which nothing is in a run',
      answer: Nothing,
      handle: ({ params }) => {
        cancelJob(shop, params.id ?? '', PERSON);
      },
    }),
    route({
      method: 'post',
      path: '/api/jobs/:id/restore',
      summary: 'Takes a cancelled job back',
      answer: Nothing,
      handle: ({ params }) => {
        restoreJob(shop, params.id ?? '', PERSON);
      },
    }),
    route({
      method: 'get',
      path: '/api/jobs/:id/pages/:page/picture',
      summary: 'Picture of a page as it will be printed',
      query: Type.Object({ size: Type.Enum(['thumb', 'view'], { default: 'thumb' }) }),
      produces: 'image/webp',
      handle: async ({ params, query, res }) => {
        const file = await pictureFile(shop, params.id ?? '', Number(params.page), query.size);
        res.set('cache-control', 'private, max-age=31536000, immutable');
        res.type('image/webp').sendFile(file, { dotfiles: 'allow' });
      },
    }),
    route({
      method: 'get',
      path: '/api/jobs/:id/file',
      summary: 'The file as it came',
      produces: 'application/octet-stream',
      handle: ({ params, res }) => {
        const job = shop.db
          .select()
          .from(jobs)
          .where(eq(jobs.id, params.id ?? ''))
          .get();
        if (job?.sha256 == null) return missing('job', params.id);
        res.type(job.format ?? 'application/octet-stream');
        res.attachment(job.sourceName);
        res.sendFile(shop.paths.source(job.sha256), { dotfiles: 'allow' });
        return undefined;
      },
    }),
    route({
      method: 'get',
      path: '/api/refusals',
      summary: 'Files that could not become jobs, and why',
      answer: Type.Array(RefusalView),
      handle: () => openRefusals(shop.db),
    }),
    route({
      method: 'post',
      path: '/api/refusals/:id/dismiss',
      summary: 'Takes a refusal off the list; the file stays in its side folder',
      answer: Nothing,
      handle: ({ params }) => {
        if (!dismissRefusal(shop, params.id ?? '')) missing('refusal', params.id);
      },
    }),
    route({
      method: 'get',
      path: '/api/log',
      summary: 'The latest entries of the event log',
      query: Type.Object({ limit: Type.Integer({ minimum: 1, maximum: 500, default: 50 }) }),
      answer: Type.Array(LogEvent),
      handle: ({ query }) => latestLog(shop.db, query.limit),
    }),
  ];
}

function missing(what: string, id: string | undefined): never {
  throw new Refused(404, `no-such-${what}`, `There is no ${what} ${id ?? ''}.`);
}

function uploader(shop: Shop): RequestHandler {
  return multer({
    dest: shop.paths.uploads,
    defParamCharset: 'utf8',
    limits: { fileSize: shop.limits.fileBytes, files: 2000, fields: 20 },
    // Whatever the field is called, a file is a file.
  }).any();
}

/** Uploaded files take the way of hot-folder files: claimed under their own name, then brought in. */
async function takeUploads(
  shop: Shop,
  intake: Intake,
  body: unknown,
  files: Express.Request['files'],
): Promise<UploadResult> {
  const queueId = (body as { queueId?: unknown } | undefined)?.queueId;
  const list = Array.isArray(files) ? files : [];
  if (list.length === 0)
    throw new Refused(400, 'no-files', 'No files came with the request.', undefined, 'Send them as "files".');
  const queue =
    typeof queueId === 'string' ? shop.db.select().from(queues).where(eq(queues.id, queueId)).get() : undefined;
  if (!queue)
    throw new Refused(
      400,
      'no-such-queue',
      `There is no queue ${String(queueId)}.`,
      undefined,
      'Send "queueId" before the files.',
    );
  const result: { accepted: JobItem[]; refused: { sourceName: string; reason: string }[] } = {
    accepted: [],
    refused: [],
  };
  const outcomes = list.map(async (file) => {
    const claimId = newId('claim');
    const sourceName = plainName(file.originalname);
    const dir = join(shop.paths.uploads, claimId);
    await mkdir(dir, { recursive: true });
    const path = join(dir, 'file');
    await rename(file.path, path);
    const outcome = await intake.accept({
      claimId,
      path,
      queueId: queue.id,
      hotFolderId: null,
      sourceName,
      sideDir: shop.paths.refused,
    });
    return { sourceName, outcome };
  });
  for (const { sourceName, outcome } of await Promise.all(outcomes)) {
    const item = 'jobId' in outcome ? jobItem(shop.db, outcome.jobId) : undefined;
    if (item) result.accepted.push(item);
    else result.refused.push({ sourceName, reason: 'refused' in outcome ? outcome.refused : 'It is gone again.' });
  }
  return result;
}

/** A file's name without any folder, and without characters that no file system takes. */
function plainName(name: string): string {
  const last = name.split(/[\\/]/).pop() ?? '';
  const clean = Array.from(last, (char) => (char < ' ' || char === '\u007f' ? '' : char))
    .join('')
    .trim();
  return clean === '' || clean === '.' || clean === '..' ? 'unnamed' : clean.slice(0, 200);
}

async function pictureFile(shop: Shop, id: string, page: number, size: PictureSize): Promise<string> {
  const job = shop.db.select().from(jobs).where(eq(jobs.id, id)).get();
  if (job?.sha256 == null || !Number.isInteger(page) || page < 0 || page >= (job.pages ?? 0))
    return missing('page', `${id}/${String(page)}`);
  if (!(size in PICTURE_SIZES)) return missing('size', size);
  const file = shop.paths.picture(job.sha256, page, size);
  // Pictures can always be made again.
  if (!(await exists(file))) await shop.pool.draw(job.sha256, page, size, job.format ?? 'pdf');
  return file;
}
