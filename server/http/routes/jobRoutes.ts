import { setJobPrice } from '../../usecases/ticket/jobPrice.ts';
import { JobCost } from '../../../contract/api/cost.ts';
import { jobCost } from '../../usecases/run/runCost.ts';
import { FileAnswer, type Route, route } from '../route.ts';
import { eq } from 'drizzle-orm';
import { Type } from 'typebox';
import { LogEvent, Nothing } from '../../../contract/api/common.ts';
import { JobDetail, JobPrice, JobList, JobListQuery, RefusalView, WorksheetOrder } from '../../../contract/api/job.ts';
import { JobChange, JobsChange, JobsChanged } from '../../../contract/api/ticket.ts';
import { jobs } from '../../db/tables/schema.ts';
import { isTooShort } from '../../../core/ticket/jobQuery.ts';
import { jobDetail, latestLog, listJobs, openRefusals } from '../../db/views.ts';
import { Refused, type Shop } from '../../shop.ts';
import { changeJob, changeJobs, undoChange } from '../../usecases/ticket/changeJobs.ts';
import { acceptJob, cancelJob, restoreJob } from '../../usecases/ticket/closeJob.ts';
import { jobAssembly } from '../../usecases/ticket/jobAssembly.ts';
import { worksheetOf } from '../../usecases/output/worksheets.ts';
import { pictureFile } from '../../usecases/ticket/pagePicture.ts';
import { dismissRefusal } from '../../usecases/arrival/refuseFile.ts';

/** Jobs: lists, tickets, pictures, what a person does with them; refused files; the log. */
export function jobRoutes(shop: Shop): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/jobs',
      needs: 'see',
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
      needs: 'coordinate',
      summary: "Changes many tickets at once; those that can't be changed are named with their reasons",
      body: JobsChange,
      answer: JobsChanged,
      heavy: 'Changing tickets',
      handle: ({ body, actor, how }) => changeJobs(shop, body.jobIds, body.change, actor, how),
    }),
    route({
      method: 'post',
      path: '/api/changes/:id/undo',
      needs: 'coordinate',
      summary: 'Takes a change of tickets back, value by value',
      answer: JobsChanged,
      heavy: 'Taking the change back',
      handle: ({ params, actor, how }) => undoChange(shop, params.id ?? '', actor, how),
    }),
    route({
      method: 'get',
      path: '/api/jobs/:id',
      needs: 'see',
      summary: 'One job with its ticket, pages, runs and history',
      answer: JobDetail,
      handle: ({ params }) => jobDetail(shop.db, params.id ?? '') ?? missing('job', params.id),
    }),
    route({
      method: 'get',
      path: '/api/jobs/:id/cost',
      needs: 'see',
      summary: 'What a job costs: its share of each of its runs, and its own charges',
      answer: JobCost,
      handle: ({ params }) => jobCost(shop.db, params.id ?? '', shop.currency()),
    }),
    route({
      method: 'patch',
      path: '/api/jobs/:id',
      needs: 'coordinate',
      summary: 'Changes values of one ticket',
      body: JobChange,
      answer: JobDetail,
      handle: ({ params, body, actor }) => {
        changeJob(shop, params.id ?? '', body, actor);
        return jobDetail(shop.db, params.id ?? '');
      },
    }),
    route({
      method: 'put',
      path: '/api/jobs/:id/price',
      needs: 'coordinate',
      summary: 'What all pieces of a job bring: nights are proposed by it',
      body: JobPrice,
      answer: JobDetail,
      handle: ({ params, body, actor }) => {
        setJobPrice(shop, params.id ?? '', body.priceMinor, actor);
        return jobDetail(shop.db, params.id ?? '');
      },
    }),
    route({
      method: 'post',
      path: '/api/jobs/:id/accept',
      needs: 'coordinate',
      summary: 'A person has looked at a job that waited for it',
      answer: Nothing,
      handle: ({ params, actor }) => {
        acceptJob(shop, params.id ?? '', actor);
      },
    }),
    route({
      method: 'post',
      path: '/api/jobs/:id/cancel',
      needs: 'coordinate',
      summary: 'Cancels a job of which nothing is in a run',
      answer: Nothing,
      handle: ({ params, actor }) => {
        cancelJob(shop, params.id ?? '', actor);
      },
    }),
    route({
      method: 'post',
      path: '/api/jobs/:id/restore',
      needs: 'coordinate',
      summary: 'Takes a cancelled job back',
      answer: Nothing,
      handle: ({ params, actor }) => {
        restoreJob(shop, params.id ?? '', actor);
      },
    }),
    route({
      method: 'get',
      path: '/api/jobs/:id/pages/:page/picture',
      needs: 'see',
      summary: 'Picture of a page as it will be printed',
      query: Type.Object({
        size: Type.Enum(['thumb', 'view'], { default: 'thumb' }),
        /** As the ticket makes it, or as the file has it. */
        as: Type.Enum(['printed', 'file'], { default: 'printed' }),
        /** Changes when the picture does. */
        look: Type.Optional(Type.String({ maxLength: 40 })),
      }),
      produces: 'image/webp',
      heavy: 'Drawing the page',
      handle: async ({ params, query, how }) => {
        const { size, as } = query;
        const page = { id: params.id ?? '', page: Number(params.page), size, asPrinted: as === 'printed' };
        const path = await pictureFile(shop, page, how);
        return new FileAnswer('image/webp', { path }, undefined, {
          'cache-control': 'private, max-age=31536000, immutable',
        });
      },
    }),
    route({
      method: 'get',
      path: '/api/jobs/:id/assembly',
      needs: 'see',
      summary: 'How the panels of a job are put together',
      query: Type.Object({ page: Type.Integer({ minimum: 0, default: 0 }) }),
      produces: 'application/pdf',
      heavy: 'Drawing the assembly map',
      handle: async ({ params, query, how }) => {
        const { name, bytes } = await jobAssembly(shop, params.id ?? '', query.page, how);
        return new FileAnswer('application/pdf', { bytes }, name);
      },
    }),
    route({
      method: 'post',
      path: '/api/worksheets',
      needs: 'see',
      summary: 'A worksheet of codes for jobs: places filled in order, as PDF',
      body: WorksheetOrder,
      produces: 'application/pdf',
      heavy: 'Making the worksheet',
      handle: async ({ body, how }) =>
        new FileAnswer('application/pdf', { bytes: await worksheetOf(shop, body, how) }, 'worksheet.pdf'),
    }),
    route({
      method: 'get',
      path: '/api/jobs/:id/file',
      needs: 'see',
      summary: 'The file as it came',
      produces: 'application/octet-stream',
      handle: ({ params, res }) => {
        const job = shop.db
          .select()
          .from(jobs)
          .where(eq(jobs.id, params.id ?? ''))
          .get();
        if (job?.sha256 == null) return missing('job', params.id);
        res.attachment(job.sourceName);
        // Whatever its name says, and whoever sent it: it is kept, and nothing in it runs here.
        res.type('application/octet-stream').set('content-security-policy', "default-src 'none'; sandbox");
        res.sendFile(shop.paths.source(job.sha256), { dotfiles: 'allow' });
        return undefined;
      },
    }),
    route({
      method: 'get',
      path: '/api/refusals',
      needs: 'see',
      summary: 'Files that could not become jobs, and why',
      answer: Type.Array(RefusalView),
      handle: () => openRefusals(shop.db),
    }),
    route({
      method: 'post',
      path: '/api/refusals/:id/dismiss',
      needs: 'coordinate',
      summary: 'Takes a refusal off the list; the file stays in its side folder',
      answer: Nothing,
      handle: ({ params, actor }) => {
        if (!dismissRefusal(shop, params.id ?? '', actor)) missing('refusal', params.id);
      },
    }),
    route({
      method: 'get',
      path: '/api/log',
      needs: 'see',
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
