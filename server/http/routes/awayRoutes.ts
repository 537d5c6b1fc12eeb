import { Nothing } from '../../../contract/api/common.ts';
import {
  ArmAway,
  AwayAsk,
  AwayLearned,
  AwayNow,
  AwayPeriodView,
  AwaySimulation,
  AwayView,
  MorningView,
  NightAsk,
  NightProposal,
} from '../../../contract/api/away.ts';
import type { Shop } from '../../shop.ts';
import { armAway, awayNow, disarmAway, seenAway } from '../../usecases/away/arm.ts';
import { learnedView } from '../../usecases/away/learnedView.ts';
import { acceptNight, undoNight } from '../../usecases/away/acceptNight.ts';
import { morningOf } from '../../usecases/away/morning.ts';
import { proposeForNight } from '../../usecases/away/night.ts';
import { awayList, simulateAway } from '../../usecases/away/simulateAway.ts';
import { FileAnswer, type Route, route } from '../route.ts';

/** The page brings its own style and nothing else. */
const PAGE_POLICY = { 'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'" };

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
      path: '/api/away/list.html',
      needs: 'see',
      summary: 'The list before you go and the events of a time away as one page, for paper or a phone',
      query: AwayPeriodView,
      produces: 'text/html',
      heavy: 'Making the list',
      handle: async ({ query, how }) => {
        const html = await awayList(shop, query, how);
        return new FileAnswer('text/html; charset=utf-8', { bytes: Buffer.from(html) }, undefined, PAGE_POLICY);
      },
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
      path: '/api/away/propose',
      needs: 'see',
      summary: 'The night that is worth most by morning, beside the plan as it stands; nothing is moved',
      body: NightAsk,
      answer: NightProposal,
      heavy: 'Looking for a better night',
      handle: ({ body, how }) => proposeForNight(shop, body, how),
    }),
    route({
      method: 'post',
      path: '/api/away/proposals/:id/accept',
      needs: 'coordinate',
      summary: 'Does what a proposed night says, in one step that can be undone. 409 where the floor has changed',
      answer: Nothing,
      heavy: 'Taking the proposed night',
      handle: ({ params, actor, how }) => acceptNight(shop, params.id ?? '', actor, how),
    }),
    route({
      method: 'post',
      path: '/api/away/proposals/:id/undo',
      needs: 'coordinate',
      summary: 'Takes an accepted night back; what has begun by then stays',
      answer: Nothing,
      heavy: 'Taking the night back',
      handle: ({ params, actor }) => undoNight(shop, params.id ?? '', actor),
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
      summary: 'A time away that was armed: planned against happened, what it cost, and how good the odds have been',
      answer: MorningView,
      handle: ({ params }) => morningOf(shop, params.id ?? ''),
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
