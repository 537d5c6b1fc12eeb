import { eq } from 'drizzle-orm';
import { Type } from 'typebox';
import { LogEvent, Nothing } from '../../../contract/api/common.ts';
import { JobDetail, JobList, JobListQuery, RefusalView, WorksheetOrder } from '../../../contract/api/job.ts';
import { JobChange, JobsChange, JobsChanged } from '../../../contract/api/ticket.ts';
import { jobs } from '../../db/schema.ts';
import { isTooShort } from '../../../core/ticket/jobQuery.ts';
import { jobDetail, latestLog, listJobs, openRefusals } from '../../db/views.ts';
import { Refused, type Shop } from '../../shop.ts';
import { changeJob, changeJobs, undoChange } from '../../usecases/ticket/changeJobs.ts';
import { acceptJob, cancelJob, restoreJob } from '../../usecases/ticket/closeJob.ts';
import { jobAssembly } from '../../usecases/ticket/jobAssembly.ts';
import { worksheetOf } from '../../usecases/output/worksheets.ts';
import { pictureFile } from '../../usecases/ticket/pagePicture.ts';
import { dismissRefusal } from '../../usecases/arrival/refuseFile.ts';
import { type Route, route } from '../route.ts';

const PERSON = 'coordinator';

export function jobRoutes(shop: Shop): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/jobs',
      summary: 'Jobs by arrival, a page at a time: all, those at work, or those of the past, searched by words',
      query: JobListQuery,
      answer: JobList,
      handle: ({ query }) => {
        if (query.text !== undefined && isTooShort(query.text)) {
          throw new Refused(
            400,
            'too-short',
            `“${query.text.trim()}” is too short to search for.`,
            undefined,
            'Give at least one word of three letters or more.',
          );
        }
        return listJobs(shop.db, query);
      },
    }),
    route({
      method: 'patch',
      path: '/api/jobs',
      summary: "Changes many tickets at once; those that can't be changed are named with their reasons",
      body: JobsChange,
      answer: JobsChanged,
      handle: ({ body }) => changeJobs(shop, body.jobIds, body.change, PERSON),
    }),
    route({
      method: 'post',
      path: '/api/changes/:id/undo',
      summary: 'Takes a change of tickets back, value by value',
      answer: JobsChanged,
      handle: ({ params }) => undoChange(shop, params.id ?? '', PERSON),
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
      path: '/api/jobs/:id/accept',
      summary: 'A person has looked at a job that waited for it',
      answer: Nothing,
      handle: ({ params }) => {
        acceptJob(shop, params.id ?? '', PERSON);
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
      query: Type.Object({
        size: Type.Enum(['thumb', 'view'], { default: 'thumb' }),
        /** As the ticket makes it, or as the file has it. */
        as: Type.Enum(['printed', 'file'], { default: 'printed' }),
        /** Changes when the picture does. */
        look: Type.Optional(Type.String({ maxLength: 40 })),
      }),
      produces: 'image/webp',
      handle: async ({ params, query, res }) => {
        const file = await pictureFile(shop, params.id ?? '', Number(params.page), query.size, query.as === 'printed');
        res.set('cache-control', 'private, max-age=31536000, immutable');
        res.type('image/webp').sendFile(file, { dotfiles: 'allow' });
      },
    }),
    route({
      method: 'get',
      path: '/api/jobs/:id/assembly',
      summary: 'How the panels of a job are put together',
      query: Type.Object({ page: Type.Integer({ minimum: 0, default: 0 }) }),
      produces: 'application/pdf',
      handle: async ({ params, query, res }) => {
        const { name, bytes } = await jobAssembly(shop, params.id ?? '', query.page);
        res.type('application/pdf');
        res.attachment(name);
        res.end(Buffer.from(bytes));
      },
    }),
    route({
      method: 'post',
      path: '/api/worksheets',
      summary: 'A worksheet of codes for jobs: places filled in order, as PDF',
      body: WorksheetOrder,
      produces: 'application/pdf',
      handle: async ({ body, res }) => {
        const bytes = await worksheetOf(shop, body);
        res.type('application/pdf');
        res.attachment('worksheet.pdf');
        res.end(Buffer.from(bytes));
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
