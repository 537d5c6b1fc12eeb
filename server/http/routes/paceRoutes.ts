import {
  PaceAnswer,
  PaceChanges,
  PaceInk,
  PaceInkQuery,
  PaceQuery,
  PaceRuns,
  PaceRunsQuery,
} from '../../../contract/api/pace/pace.ts';
import { BestChanges, BestChangesQuery, WhatIfAsk, WhatIfView } from '../../../contract/api/pace/whatIf.ts';
import { STORY_KINDS, Story } from '../../../contract/api/pace/story.ts';
import { Refused, type Shop } from '../../shop.ts';
import { paceChanges } from '../../usecases/pace/changes.ts';
import { inkByChannel, inkCsv } from '../../usecases/pace/inkByChannel.ts';
import { paceCsv } from '../../usecases/pace/paceCsv.ts';
import { paceAnswer } from '../../usecases/pace/paceQuery.ts';
import { paceRuns } from '../../usecases/pace/paceRuns.ts';
import { bestChangesView, whatIfView } from '../../usecases/pace/whatif/whatIfAnswer.ts';
import { storyOf } from '../../usecases/pace/story.ts';
import { Type } from 'typebox';
import { InstantMs } from '../../../contract/api/common.ts';
import { weekPdf } from '../../usecases/pace/week/weekReport.ts';
import { FileAnswer, type Route, route } from '../route.ts';

/** How well it goes: measures by time, printer, stock, customer, queue and mode, and the runs behind them. */
export function paceRoutes(shop: Shop): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/pace',
      needs: 'see',
      summary: 'Measures of a period, by up to two of time, printer, stock, customer, queue and mode',
      query: PaceQuery,
      answer: PaceAnswer,
      handle: ({ query }) => paceAnswer(shop, query),
    }),
    route({
      method: 'get',
      path: '/api/pace/table.csv',
      needs: 'see',
      summary: 'The same as CSV, each measure with its numerator and denominator',
      query: PaceQuery,
      produces: 'text/csv',
      handle: ({ query }) => {
        const bytes = new TextEncoder().encode(paceCsv(paceAnswer(shop, query)));
        return new FileAnswer('text/csv', { bytes }, 'pace.csv');
      },
    }),
    route({
      method: 'get',
      path: '/api/pace/ink',
      needs: 'see',
      summary: 'Ink by channel and by what it was fired for, as it was booked in a time',
      query: PaceInkQuery,
      answer: PaceInk,
      handle: ({ query }) => inkByChannel(shop, query),
    }),
    route({
      method: 'get',
      path: '/api/pace/ink.csv',
      needs: 'see',
      summary: 'The same as CSV',
      query: PaceInkQuery,
      produces: 'text/csv',
      handle: ({ query }) => {
        const bytes = new TextEncoder().encode(inkCsv(inkByChannel(shop, query)));
        return new FileAnswer('text/csv', { bytes }, 'ink.csv');
      },
    }),
    route({
      method: 'get',
      path: '/api/pace/week.pdf',
      needs: 'see',
      summary: 'How a week went, on one page: the week that holds an instant',
      query: Type.Object({ atMs: InstantMs }),
      produces: 'application/pdf',
      heavy: 'Making the page of the week',
      handle: async ({ query, how }) =>
        new FileAnswer('application/pdf', { bytes: await weekPdf(shop, query.atMs, how) }, 'week.pdf'),
    }),
    route({
      method: 'get',
      path: '/api/pace/runs',
      needs: 'see',
      summary: 'The runs behind a figure, the latest first',
      query: PaceRunsQuery,
      answer: PaceRuns,
      handle: ({ query }) => paceRuns(shop, query),
    }),
    route({
      method: 'get',
      path: '/api/pace/changes',
      needs: 'see',
      summary: 'Times and ink that are no longer as they were, against their estimates',
      answer: PaceChanges,
      heavy: 'Looking for what has changed',
      handle: ({ how }) => paceChanges(shop, how),
    }),
    route({
      method: 'post',
      path: '/api/pace/what-if',
      needs: 'see',
      summary: 'What runs of a period, or planned ones, would take and cost with other settings; nothing is kept',
      body: WhatIfAsk,
      answer: WhatIfView,
      heavy: 'What would be with other settings',
      handle: ({ body, how }) => whatIfView(shop, body, how),
    }),
    route({
      method: 'get',
      path: '/api/pace/best-changes',
      needs: 'see',
      summary: 'The three changes of settings that would have saved most in a period',
      query: BestChangesQuery,
      answer: BestChanges,
      heavy: 'Looking for what would have saved most',
      handle: ({ query, how }) => bestChangesView(shop, query, how),
    }),
    route({
      method: 'get',
      path: '/api/stories/:kind/:id',
      needs: 'see',
      summary:
        'Everything that is known of a piece, a job, a run, a spool or a head, in the order in which it happened',
      answer: Story,
      handle: ({ params }) => {
        const kind = STORY_KINDS.find((each) => each === params.kind);
        if (!kind) {
          throw new Refused(
            404,
            'no-such-story',
            `There are no stories of a ${params.kind ?? ''}.`,
            undefined,
            `There are those of a ${STORY_KINDS.join(', ')}.`,
          );
        }
        return storyOf(shop.db, kind, params.id ?? '');
      },
    }),
  ];
}
