import { Type } from 'typebox';
import { HandDone, HandView } from '../../../contract/api/hand.ts';
import type { Dispatcher } from '../../devices/dispatcher.ts';
import type { Shop } from '../../shop.ts';
import { emptyBasket } from '../../usecases/device/emptyBasket.ts';
import { handDone, handsNow } from '../../usecases/plan/handsNow.ts';
import { Nothing } from '../../../contract/api/common.ts';
import { type Route, route } from '../route.ts';

/** What people have to do, and that it is done. */
export function handRoutes(shop: Shop, dispatcher: Dispatcher): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/next-hands',
      needs: 'see',
      summary: 'What people have to do at the printers: what stands now first, then what the plan will ask for',
      answer: Type.Array(HandView),
      handle: () => handsNow(shop).map((hand) => ({ ...hand, when: roundedWhen(hand.when) })),
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

function roundedWhen(when: 'now' | number): 'now' | number {
  return when === 'now' ? when : Math.round(when);
}
