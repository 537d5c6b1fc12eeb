import { Type } from 'typebox';
import { CrewView, HandDone, HandView } from '../../../contract/api/hand.ts';
import type { Dispatcher } from '../../devices/dispatcher.ts';
import type { Shop } from '../../shop.ts';
import { emptyBasket } from '../../usecases/device/emptyBasket.ts';
import { crewView, setCrew } from '../../usecases/setup/crew.ts';
import { handDone, handsNow } from '../../usecases/plan/handsNow.ts';
import { Nothing } from '../../../contract/api/common.ts';
import { type Route, route } from '../route.ts';

/** What people have to do, and that it is done. */
export function handRoutes(shop: Shop, dispatcher: Dispatcher): Route[] {
  // Only the crew of a demo asks who looks at what; it may be forgotten with the server.
  const opened = new Map<string, number>();
  return [
    route({
      method: 'post',
      path: '/api/next-hands/opened',
      needs: 'operate',
      summary: 'A person looks at a hand: whoever stands in for people leaves it alone for a while',
      body: HandDone,
      answer: Nothing,
      handle: ({ body }) => {
        if (opened.size > MOST_OPENED) opened.clear();
        opened.set(body.key, performance.now());
      },
    }),
    route({
      method: 'get',
      path: '/api/crew',
      needs: 'see',
      summary: 'Whether people are stood in for',
      answer: CrewView,
      handle: () => crewView(shop.db),
    }),
    route({
      method: 'put',
      path: '/api/crew',
      needs: 'coordinate',
      summary: 'Lets the stand-in for people work, or rest',
      body: Type.Object({ on: Type.Boolean() }),
      answer: CrewView,
      handle: ({ body, actor }) => setCrew(shop, body.on, actor),
    }),
    route({
      method: 'get',
      path: '/api/next-hands',
      needs: 'see',
      summary: 'What people have to do at the printers: what stands now first, then what the plan will ask for',
      answer: Type.Array(HandView),
      handle: () => {
        const now = performance.now();
        return handsNow(shop).map((hand) => {
          const ms = opened.get(hand.key);
          const openedS = ms === undefined ? null : Math.round((now - ms) / 1000);
          return { ...hand, when: roundedWhen(hand.when), openedS };
        });
      },
    }),
    route({
      method: 'post',
      path: '/api/next-hands/done',
      needs: 'operate',
      summary: 'A person has done what a hand says; 409 where that was done already or has changed',
      body: HandDone,
      answer: Nothing,
      handle: ({ body, actor }) =>
        handDone(shop, body.key, actor, {
          resume: (runId) => dispatcher.command(runId, 'resume'),
          emptied: (printerId) => emptyBasket(shop, printerId),
        }),
    }),
  ];
}

const MOST_OPENED = 1000;

function roundedWhen(when: 'now' | number): 'now' | number {
  return when === 'now' ? when : Math.round(when);
}
