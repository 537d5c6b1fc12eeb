import type { Shop } from '../shop.ts';
import type { ShopTaskHandlers } from '../work/shopTaskList.ts';
import { followArrival } from './arrival/followArrival.ts';
import { sendRun } from './run/autoSubmit.ts';

/** What is done for each kind of task that the shop has for itself. */
export function shopTaskHandlers(shop: Shop): ShopTaskHandlers {
  return {
    arrival: (input, steps) => followArrival(shop, input, steps),
    'send run': (input, steps) => sendRun(shop, input, steps),
  };
}
