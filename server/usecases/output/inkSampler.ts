import { and, asc, eq, isNull } from 'drizzle-orm';
import { runs } from '../../db/tables/schema.ts';
import { isClosing } from '../../ports/work.ts';
import { Refused, type Shop } from '../../shop.ts';
import type { RunRow } from '../run/transitionRun.ts';
import { keepSample } from './countedInk.ts';
import { orderedCoat } from './runChannels.ts';

/** Runs that are looked at for one that can be sampled. */
const MOST_SEEN = 50;
/** What is known of a run's ink after so long has to do: others wait. */
const MOST_MS = 15_000;
/** One that can't be sampled is looked at again so much later (real time): its profile may have been brought in since. */
const AGAIN_MS = 600_000;

/**
 * Samples the ink of queued runs that are not rendered, one after another, those that print first first: so that tanks, costs and the plan go by
 * their real pixels. It begins nothing while the shop has something better to do, and forgets nothing by a crash: the next server goes on with
 * what is not sampled yet.
 */
export class InkSampler {
  /** Runs that can't be sampled as they are, and when they are looked at again. */
  private readonly notBefore = new Map<string, number>();

  constructor(private readonly shop: Shop) {}

  /** Samples the next run, where there is one. */
  async look(): Promise<void> {
    const { shop } = this;
    const run = this.next();
    if (!run) return;
    const how = { priority: 'whenever' } as const;
    try {
      const { order, version } = await orderedCoat(shop, run.id, how);
      const sample = await shop.work.run('ink sample', { coat: order, mostMs: MOST_MS }, how);
      if ('refused' in sample) this.putOff(run.id);
      else keepSample(shop, run.id, { order, version }, sample.channels);
    } catch (error) {
      // Where nothing can be written down the run is not to blame.
      if (isClosing(error) || shop.storage.noticed(error)) return;
      // Where it lacks its profile or its file, whoever prints it is told; its estimate stays what it was.
      this.putOff(run.id);
      if (!(error instanceof Refused)) throw error;
    }
  }

  private putOff(runId: string): void {
    this.notBefore.set(runId, this.shop.realNow() + AGAIN_MS);
  }

  private next(): Pick<RunRow, 'id'> | undefined {
    const rows = this.shop.db
      .select({ id: runs.id })
      .from(runs)
      .where(and(eq(runs.state, 'queued'), isNull(runs.inkRendering), isNull(runs.inkSample)))
      .orderBy(asc(runs.position))
      .limit(MOST_SEEN)
      .all();
    const there = new Set(rows.map(({ id }) => id));
    for (const id of this.notBefore.keys()) if (!there.has(id)) this.notBefore.delete(id);
    const now = this.shop.realNow();
    return rows.find(({ id }) => now >= (this.notBefore.get(id) ?? 0));
  }
}
