import { RunCost } from '../../../contract/api/cost.ts';
import { runCost } from '../../usecases/run/runCost.ts';
import type { Actor } from '../../../core/events/actor.ts';
import type { Right } from '../../../core/people/rights.ts';
import { Type } from 'typebox';
import { BatchOfJobs, BatchProposal, BatchesAnswer, BatchesQuery } from '../../../contract/api/batch.ts';
import { RunItem } from '../../../contract/api/floor.ts';
import {
  BackConfirm,
  LayoutChange,
  RunCopies,
  RunCreate,
  RunDetail,
  RunNestView,
  SegmentCut,
  SideSettings,
  TwoSidesOrder,
} from '../../../contract/api/run.ts';
import { endedRuns, runDetail, runItems, runNests, runsByNumber } from '../../db/runViews.ts';
import type { Dispatcher } from '../../devices/dispatcher.ts';
import { Refused, type Shop } from '../../shop.ts';
import { batchFigures, batchesProposed } from '../../usecases/run/batches.ts';
import { createRun } from '../../usecases/run/createRun.ts';
import { layOutRun } from '../../usecases/layout/layOutRun.ts';
import { draftsOfSeries, joinSeries, segmentRun } from '../../usecases/layout/segmentRun.ts';
import { ensurePrintable } from '../../usecases/output/ensurePrintable.ts';
import { setRunCopies } from '../../usecases/layout/runCopies.ts';
import { noteSeriesQueued, queueRun } from '../../usecases/run/queueRun.ts';
import { cancelQueuedRun, dissolveRun } from '../../usecases/run/cancelRun.ts';
import { returnToDraft, takeSeriesBack } from '../../usecases/run/returnToDraft.ts';
import { changeSides, confirmBack, oneSideOnly, printTwoSides } from '../../usecases/layout/twoSides.ts';
import { type RunHow, stepOf } from '../../ports/work.ts';
import { versionIn } from '../ifMatch.ts';
import { type Route, route } from '../route.ts';

const ENDED_SHOWN = 60;
const NESTS_AT_ONCE = 60;

/** Runs on the Bench: made of jobs, laid out, cut into segments, printed on two sides. */
export function runRoutes(shop: Shop, dispatcher: Dispatcher): Route[] {
  const detail = (id: string | undefined): RunDetail => {
    const found = runDetail(shop.db, id ?? '');
    if (!found) throw new Refused(404, 'no-such-run', `There is no run ${id ?? ''}.`);
    return found;
  };
  const step = (
    name: string,
    needs: Right,
    [summary, heavy]: readonly [summary: string, underWay: string],
    act: (id: string, actor: Actor, how: RunHow) => unknown,
  ): Route =>
    route({
      method: 'post',
      path: `/api/runs/:id/${name}`,
      needs,
      summary,
      answer: RunDetail,
      heavy,
      handle: async ({ params, actor, how }) => {
        await act(params.id ?? '', actor, how);
        return detail(params.id);
      },
    });
  return [
    route({
      method: 'get',
      path: '/api/runs',
      needs: 'see',
      summary: 'Live runs in line, and the latest that ended; with a number that run alone, however old',
      query: Type.Object({ number: Type.Optional(Type.Integer({ minimum: 1, maximum: 1e12 })) }),
      answer: Type.Array(RunItem),
      handle: ({ query }) =>
        query.number === undefined
          ? [...runItems(shop.db), ...endedRuns(shop.db, ENDED_SHOWN)]
          : runsByNumber(shop.db, query.number),
    }),
    route({
      method: 'get',
      path: '/api/run-nests',
      needs: 'see',
      summary: 'How some runs lie, for small drawings of them',
      query: Type.Object({
        ids: Type.String({ default: '', maxLength: 4000, description: 'up to 60 ids with commas between them' }),
      }),
      answer: Type.Array(RunNestView),
      handle: ({ query }) => runNests(shop.db, query.ids.split(',').slice(0, NESTS_AT_ONCE)),
    }),
    route({
      method: 'get',
      path: '/api/runs/:id/cost',
      needs: 'see',
      summary: 'What a run costs and what each of its jobs bears: booked once it has ended, estimated before',
      answer: RunCost,
      handle: ({ params }) => runCost(shop.db, params.id ?? '', shop.currency()),
    }),
    route({
      method: 'post',
      path: '/api/runs',
      needs: 'coordinate',
      summary: 'A new draft with everything that these jobs still owe',
      body: RunCreate,
      answer: RunDetail,
      status: 201,
      handle: ({ body, actor }) => detail(createRun(shop, body.jobIds, actor)),
    }),
    route({
      method: 'get',
      path: '/api/batches',
      needs: 'see',
      summary: 'What could run together of everything that waits, and what that saves',
      query: BatchesQuery,
      answer: BatchesAnswer,
      heavy: 'Proposing batches',
      handle: ({ query, how }) => batchesProposed(shop, query.leastMm, how),
    }),
    route({
      method: 'post',
      path: '/api/batches/figures',
      needs: 'see',
      summary: 'What some of the waiting jobs come to as one run; nothing is changed',
      body: BatchOfJobs,
      answer: BatchProposal,
      heavy: 'Nesting the batch',
      handle: ({ body, how }) => batchFigures(shop, body.jobIds, how),
    }),
    route({
      method: 'get',
      path: '/api/runs/:id',
      needs: 'see',
      summary: 'One run with its layout',
      answer: RunDetail,
      handle: ({ params }) => detail(params.id),
    }),
    route({
      method: 'put',
      path: '/api/runs/:id/layout',
      needs: 'coordinate',
      summary: 'Keeps the layout of a draft; with If-Match only over the version that it was made from',
      body: LayoutChange,
      answer: RunDetail,
      handle: ({ params, body, req, actor }) => {
        layOutRun(shop, params.id ?? '', body, { by: actor, ifVersion: versionIn(req.get('if-match')) });
        return detail(params.id);
      },
    }),
    step('queue', 'coordinate', ['Queues a draft on its printer', 'Queuing the run'], async (id, actor, how) => {
      const { pair } = detail(id);
      const other = pair?.otherRunId ?? null;
      await ensurePrintable(shop, id, stepOf(how, 0, other === null ? 1 : 0.5));
      // The other side goes with it: where that can't be made, nothing is queued.
      if (other !== null) await ensurePrintable(shop, other, stepOf(how, 0.5, 1));
      queueRun(shop, id, actor);
    }),
    route({
      method: 'post',
      path: '/api/runs/:id/segments',
      needs: 'coordinate',
      summary: 'Cuts a draft into segments no longer than the free-hang length, and may queue them in one go',
      body: SegmentCut,
      answer: Type.Array(RunItem),
      heavy: 'Cutting into segments',
      handle: async ({ params, body, actor, how }) => {
        const ids = segmentRun(shop, detail(params.id).id, body, actor);
        if (body.queue) await queueAll(shop, ids, actor, how);
        return runItems(shop.db, ids);
      },
    }),
    route({
      method: 'post',
      path: '/api/series/:id/queue',
      needs: 'coordinate',
      summary: 'Queues the segments of a series that are still on the Bench, in their order',
      answer: Type.Array(RunItem),
      heavy: 'Queuing the segments',
      handle: async ({ params, actor, how }) => {
        const ids = draftsOfSeries(shop.db, params.id ?? '');
        await queueAll(shop, ids, actor, how);
        return runItems(shop.db, ids);
      },
    }),
    route({
      method: 'post',
      path: '/api/series/:id/take-back',
      needs: 'coordinate',
      summary: 'Takes all segments of a series that are still queued back to the Bench as drafts',
      answer: Type.Array(RunItem),
      handle: ({ params, actor }) => runItems(shop.db, takeSeriesBack(shop, params.id ?? '', actor)),
    }),
    route({
      method: 'post',
      path: '/api/series/:id/join',
      needs: 'coordinate',
      summary: 'Puts the segments of a series that are still on the Bench together as one draft',
      answer: RunDetail,
      handle: ({ params, actor }) => detail(joinSeries(shop, params.id ?? '', actor)),
    }),
    step(
      'dissolve',
      'coordinate',
      ['Dissolves a draft; its pieces wait again', 'Dissolving the draft'],
      (id, actor) => {
        dissolveRun(shop, id, actor);
      },
    ),
    step('cancel', 'operate', ['Cancels a run, wherever it is', 'Cancelling the run'], (id, actor) =>
      detail(id).state === 'queued' ? cancelQueuedRun(shop, id, actor) : dispatcher.command(id, 'cancel'),
    ),
    step('pause', 'operate', ['Pauses a run on its printer', 'Pausing the run'], (id) =>
      dispatcher.command(id, 'pause'),
    ),
    step('resume', 'operate', ['Lets a paused run go on', 'Resuming the run'], (id) =>
      dispatcher.command(id, 'resume'),
    ),
    route({
      method: 'post',
      path: '/api/runs/:id/take-back',
      needs: 'coordinate',
      summary: 'Takes a queued run back to the Bench as a new draft',
      answer: RunDetail,
      handle: ({ params, actor }) => detail(returnToDraft(shop, params.id ?? '', actor)),
    }),
    route({
      method: 'put',
      path: '/api/runs/:id/copies',
      needs: 'coordinate',
      summary: 'How many copies of a job a draft holds: what it owes is taken first, then its copies are raised',
      body: RunCopies,
      answer: RunDetail,
      handle: ({ params, body, actor }) => {
        const { id } = detail(params.id);
        setRunCopies(shop, id, body.jobId, body.copies, actor);
        return detail(id);
      },
    }),
    route({
      method: 'post',
      path: '/api/runs/:id/two-sides',
      needs: 'coordinate',
      summary: 'Gives a draft a back: a run of its own that follows the front',
      body: TwoSidesOrder,
      answer: RunDetail,
      handle: ({ params, body, actor }) => {
        const { id } = detail(params.id);
        printTwoSides(shop, id, body, actor);
        return detail(id);
      },
    }),
    route({
      method: 'put',
      path: '/api/runs/:id/two-sides',
      needs: 'coordinate',
      summary: 'Changes how the back follows: turn, content, offsets',
      body: SideSettings,
      answer: RunDetail,
      handle: ({ params, body }) => {
        const { id } = detail(params.id);
        changeSides(shop, id, body);
        return detail(id);
      },
    }),
    route({
      method: 'post',
      path: '/api/runs/:id/one-side',
      needs: 'coordinate',
      summary: 'Gives the back up; its pieces come back to the front',
      answer: RunDetail,
      handle: ({ params, actor }) => detail(oneSideOnly(shop, detail(params.id).id, actor)),
    }),
    route({
      method: 'post',
      path: '/api/runs/:id/confirm-back',
      needs: 'operate',
      summary: 'A person has loaded the media with the printed front, turned over',
      body: BackConfirm,
      answer: RunDetail,
      handle: ({ params, body, actor }) => {
        const { id } = detail(params.id);
        confirmBack(shop, id, body.spoolId, actor);
        return detail(id);
      },
    }),
  ];
}

/** All PDFs first: where one can't be made, nothing of the series is queued. */
async function queueAll(shop: Shop, ids: readonly string[], actor: Actor, how: RunHow): Promise<void> {
  for (const [i, id] of ids.entries())
    await ensurePrintable(shop, id, stepOf(how, i / ids.length, (i + 1) / ids.length));
  for (const [done, id] of ids.entries()) {
    try {
      queueRun(shop, id, actor);
    } catch (error) {
      if (!(error instanceof Refused) || done === 0) throw error;
      noteSeriesQueued(shop, ids.slice(0, done), actor);
      const rest = `${String(done)} of ${String(ids.length)} are queued, the others wait on the Bench.`;
      throw new Refused(error.status, error.code, `${error.message} ${rest}`, error.figures, error.remedy);
    }
  }
  noteSeriesQueued(shop, ids, actor);
}
