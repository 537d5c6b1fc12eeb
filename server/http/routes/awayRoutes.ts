import { Nothing } from '../../../contract/api/common.ts';
import { ArmAway, AwayAsk, AwayLearned, AwayNow, AwaySimulation, AwayView } from '../../../contract/api/away.ts';
import type { Shop } from '../../shop.ts';
import { armAway, awayById, awayNow, disarmAway, seenAway } from '../../usecases/away/arm.ts';
import { learnedView } from '../../usecases/away/learnedView.ts';
import { simulateAway } from '../../usecases/away/simulateAway.ts';
import { type Route, route } from '../route.ts';

/** The away plan: what will be printed with nobody there, how sure that is, and what to do about it. */
export function awayRoutes(shop: Shop): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/away',
      needs: 'see',
      summary: 'Times away that shop hours suggest, the one that is armed, and the one to look at',
      answer: AwayNow,
      handle: () => awayNow(shop),
    }),
    route({
      method: 'post',
      path: '/api/away/simulate',
      needs: 'see',
      summary: 'What a time away will bring and how sure that is, as if some changes were done; nothing is kept',
      body: AwayAsk,
      answer: AwaySimulation,
      heavy: 'Simulating the time away',
      handle: ({ body, how }) => simulateAway(shop, body, how),
    }),
    route({
      method: 'get',
      path: '/api/away/learned',
      needs: 'see',
      summary: 'What the odds are learned from',
      answer: AwayLearned,
      handle: () => learnedView(shop),
    }),
    route({
      method: 'post',
      path: '/api/away/arm',
      needs: 'coordinate',
      summary: 'Arms a time away: what needs a hand is held out while nobody is there. 409 where the floor has changed',
      body: ArmAway,
      answer: AwayView,
      heavy: 'Arming the time away',
      handle: ({ body, actor, how }) => armAway(shop, body, actor, how),
    }),
    route({
      method: 'get',
      path: '/api/away/:id',
      needs: 'see',
      summary: 'A time away that was armed, with its plan',
      answer: AwayView,
      handle: ({ params }) => awayById(shop, params.id ?? ''),
    }),
    route({
      method: 'post',
      path: '/api/away/:id/disarm',
      needs: 'coordinate',
      summary: 'Ends a time away before its end: runs that need a hand come in their turn again',
      answer: AwayView,
      handle: ({ params, actor }) => disarmAway(shop, params.id ?? '', actor),
    }),
    route({
      method: 'post',
      path: '/api/away/:id/seen',
      needs: 'operate',
      summary: 'A person has looked at how a time away came out',
      answer: Nothing,
      handle: ({ params }) => {
        seenAway(shop, params.id ?? '');
      },
    }),
  ];
}
