import { emptyBasket } from '../../usecases/device/emptyBasket.ts';
import { fitsFor, fitWork, readFloor } from '../../usecases/plan/fit.ts';
import type { Fit } from '../../../core/routing/fitList.ts';
import { Type } from 'typebox';
import { Id, InstantMs, Nothing, nullable } from '../../../contract/api/common.ts';
import {
  FitAnswer,
  FitAsk,
  FitFirsts,
  OrderProposal,
  OrderSet,
  JobAtRisk,
  RunOffer,
} from '../../../contract/api/fit.ts';
import { RunItem } from '../../../contract/api/floor.ts';
import { DryRun, MoveOffer, RuleList, ShopSetup } from '../../../contract/api/shop.ts';
import { runItems } from '../../db/runViews.ts';
import { Refused, type Shop } from '../../shop.ts';
import { jobsAtRisk } from '../../usecases/plan/datesAtRisk.ts';
import { fixStart, markRun, proposeLines, setLineOrder } from '../../usecases/plan/lineOrder.ts';
import { offersOf } from '../../usecases/plan/offers.ts';
import { printRest } from '../../usecases/run/printRest.ts';
import { fitsOfRun, moveOffer, rerouteRun } from '../../usecases/run/rerouteRun.ts';
import { dryRun } from '../../usecases/arrival/routeJobs.ts';
import { ruleList, setRules } from '../../usecases/plan/rules.ts';
import { setShopSetup, shopSetup } from '../../usecases/setup/shopSetup.ts';
import { type Route, route } from '../route.ts';

/** Where work goes and when: fit lists, moves, orders, rules, and the hours of the shop. */
export function planRoutes(shop: Shop): Route[] {
  return [...fitRoutes(shop), ...lineRoutes(shop), ...shopRoutes(shop)];
}

/** The best printer for a job, or why there is none. */
function firstOf(jobId: string, first: Fit): FitFirsts[number] {
  return first.can
    ? {
        jobId,
        printerId: first.printerId,
        printerName: first.printerName,
        why: first.why,
        lateMs: Math.round(first.lateMs),
      }
    : { jobId, printerId: null, printerName: 'none', why: first.troubles[0]?.text ?? '', lateMs: 0 };
}

/** Fit lists and moves. Asking never changes anything. */
function fitRoutes(shop: Shop): Route[] {
  const answer = (fits: FitAnswer['fits']): FitAnswer => ({ currency: shop.currency(), fits });
  return [
    route({
      method: 'post',
      path: '/api/fit',
      needs: 'see',
      summary: 'The fit list of what these jobs owe, printed together',
      body: FitAsk,
      answer: FitAnswer,
      heavy: 'Comparing printers',
      handle: async ({ body, how }) => {
        const work = fitWork(shop.db, body.jobIds);
        if (work.jobs.length < new Set(body.jobIds).size)
          throw new Refused(404, 'no-such-job', 'One of the chosen jobs no longer exists.');
        const [fits = []] = await fitsFor(shop, readFloor(shop), [{ work }], how);
        return answer(fits as FitAnswer['fits']);
      },
    }),
    route({
      method: 'post',
      path: '/api/fit/firsts',
      needs: 'see',
      summary: 'The first of the fit list of each job',
      body: FitAsk,
      answer: FitFirsts,
      heavy: 'Comparing printers',
      handle: async ({ body, how }) => {
        const asks = body.jobIds.map((jobId) => ({ work: fitWork(shop.db, [jobId]) }));
        const all = await fitsFor(shop, readFloor(shop), asks, how);
        return body.jobIds.flatMap((jobId, i): FitFirsts => {
          const first = all[i]?.[0];
          return first ? [firstOf(jobId, first)] : [];
        });
      },
    }),
    route({
      method: 'get',
      path: '/api/runs/:id/fit',
      needs: 'see',
      summary: 'The fit list of a run',
      answer: FitAnswer,
      heavy: 'Comparing printers',
      handle: async ({ params, how }) =>
        answer((await fitsOfRun(shop, params.id ?? '', undefined, how)) as FitAnswer['fits']),
    }),
    route({
      method: 'get',
      path: '/api/dates-at-risk',
      needs: 'see',
      summary: 'Jobs in runs that will not make their dates as the lines are now',
      answer: Type.Array(JobAtRisk),
      handle: () => jobsAtRisk(shop),
    }),
    route({
      method: 'get',
      path: '/api/printers/:id/offers',
      needs: 'see',
      summary:
        'What of its work others could take: rests of failed runs, then its line, each with the best other printer',
      answer: Type.Array(RunOffer),
      heavy: 'Looking for other printers',
      handle: ({ params, how }) => offersOf(shop, params.id ?? '', how),
    }),
    route({
      method: 'get',
      path: '/api/runs/:id/move-offer',
      needs: 'see',
      summary: 'What moving a run to another printer would change; nothing is moved',
      query: Type.Object({ printerId: Id }),
      answer: MoveOffer,
      heavy: 'Working out the move',
      handle: ({ params, query, how }) => moveOffer(shop, params.id ?? '', query.printerId, how),
    }),
    route({
      method: 'post',
      path: '/api/runs/:id/move',
      needs: 'coordinate',
      summary:
        'Moves a run to another printer: laid out for it and queued in its line, before another run or at the end',
      body: Type.Object({ printerId: Id, before: Type.Optional(nullable(Id)) }),
      answer: RunItem,
      heavy: 'Moving the run',
      handle: async ({ params, body, actor, how }) => {
        const id = await rerouteRun(shop, params.id ?? '', body.printerId, body.before ?? null, actor, how);
        return runItems(shop.db, [id])[0];
      },
    }),
    route({
      method: 'post',
      path: '/api/runs/:id/print-rest',
      needs: 'coordinate',
      summary: 'Prints what a failed or cancelled run did not bring out whole, first in line',
      body: Type.Object({ printerId: Type.Optional(Id) }),
      answer: RunItem,
      heavy: 'Queuing the rest',
      handle: async ({ params, body, actor, how }) => {
        const id = await printRest(shop, params.id ?? '', body.printerId, actor, how);
        return runItems(shop.db, [id])[0];
      },
    }),
  ];
}

/** The order in which a printer works, and what may start when. */
function lineRoutes(shop: Shop): Route[] {
  return [
    route({
      method: 'put',
      path: '/api/printers/:id/line',
      needs: 'coordinate',
      summary: 'The queued runs of a printer in this order',
      body: OrderSet,
      answer: Nothing,
      handle: ({ params, body, actor }) => {
        setLineOrder(shop, params.id ?? '', body.runIds, actor);
      },
    }),
    route({
      method: 'get',
      path: '/api/order-proposals',
      needs: 'see',
      summary: 'A better order for each line, beside today’s; nothing is changed by asking',
      answer: Type.Array(OrderProposal),
      heavy: 'Working out a better order',
      handle: ({ how }) => proposeLines(shop, readFloor(shop), how),
    }),
    route({
      method: 'put',
      path: '/api/runs/:id/start',
      needs: 'coordinate',
      summary: 'A run starts no earlier than this; null: when its turn comes',
      body: Type.Object({ fixedStartMs: nullable(InstantMs) }),
      answer: Nothing,
      handle: ({ params, body, actor }) => {
        fixStart(shop, params.id ?? '', body.fixedStartMs, actor);
      },
    }),
    route({
      method: 'put',
      path: '/api/runs/:id/important',
      needs: 'coordinate',
      summary: 'Marks a run as important, or takes the mark off: rules may ask for care before it',
      body: Type.Object({ important: Type.Boolean() }),
      answer: Nothing,
      handle: ({ params, body, actor }) => {
        markRun(shop, params.id ?? '', body.important, actor);
      },
    }),
    route({
      method: 'post',
      path: '/api/printers/:id/emptied',
      needs: 'operate',
      summary: 'A person has emptied the basket or stacker',
      answer: Nothing,
      handle: ({ params }) => emptyBasket(shop, params.id ?? ''),
    }),
  ];
}

/** When somebody is there, and what a late hour costs. */
function shopRoutes(shop: Shop): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/shop',
      needs: 'see',
      summary: 'Shop hours, holidays and people',
      answer: ShopSetup,
      handle: () => shopSetup(shop.db, shop.clock.zone),
    }),
    route({
      method: 'put',
      path: '/api/shop',
      needs: 'set up',
      summary: 'Sets shop hours, holidays and people',
      body: ShopSetup,
      answer: ShopSetup,
      handle: ({ body, actor }) => {
        setShopSetup(shop, body, actor);
        return shopSetup(shop.db, shop.clock.zone);
      },
    }),
    route({
      method: 'get',
      path: '/api/rules',
      needs: 'see',
      summary: 'Routing rules in their order',
      answer: RuleList,
      handle: () => ruleList(shop.db),
    }),
    route({
      method: 'put',
      path: '/api/rules',
      needs: 'set up',
      summary: 'Sets all routing rules at once; jobs that are here stay where they are',
      body: RuleList,
      answer: RuleList,
      handle: ({ body, actor }) => {
        setRules(shop, body, actor);
        return ruleList(shop.db);
      },
    }),
    route({
      method: 'post',
      path: '/api/rules/dry-run',
      needs: 'see',
      summary: 'What rules would do with what waits and what came in the last 30 days; nothing is moved',
      body: RuleList,
      answer: DryRun,
      handle: ({ body }) => dryRun(shop, body),
    }),
  ];
}
