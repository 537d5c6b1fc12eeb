import { Refused, type Shop } from '../../shop.ts';
import { TaskStopped } from '../../ports/work.ts';
import type { TaskSteps } from '../../ports/shopTasks.ts';
import type { ShopTaskKinds } from '../../work/kinds.ts';
import { autoSubmitArrived } from '../run/autoSubmit.ts';
import { routeArrived } from './routeJobs.ts';

/** How much of the work is done once the jobs have been routed; nesting and laying out is the rest. */
const ROUTED_SHARE = 0.3;

/**
 * What follows by itself when jobs have arrived: they go where the routing of their queue says, then, by the arrival rule *go*,
 * into a run. Each step is written down as done, so that it happens once whatever comes between.
 */
export async function followArrival(
  shop: Shop,
  { jobIds, rule, step }: ShopTaskKinds['arrival'],
  { signal, keep, progress }: TaskSteps<ShopTaskKinds['arrival']>,
): Promise<void> {
  if (step === 'route') {
    await attempt(shop, jobIds, 'routed; they stay in their queue', () =>
      routeArrived(shop, jobIds, signal, (share) => {
        progress(share * ROUTED_SHARE);
      }),
    );
    keep({ jobIds, rule, step: 'go' });
  }
  signal.throwIfAborted();
  progress(ROUTED_SHARE);
  await attempt(shop, jobIds, 'sent on by themselves; they wait', () => autoSubmitArrived(shop, jobIds, rule));
}

/** A step that fails for a reason of its own is logged and left to people; one that could not be written is tried again. */
async function attempt(shop: Shop, jobIds: readonly string[], what: string, act: () => Promise<void>): Promise<void> {
  try {
    await act();
  } catch (error) {
    const stopped = error instanceof TaskStopped && error.why !== 'time';
    if (stopped || shop.storage.noticed(error)) throw error;
    if (!(error instanceof Refused)) shop.log.error({ err: error, jobIds }, `jobs that arrived could not be ${what}`);
  }
}
