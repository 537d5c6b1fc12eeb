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

/**
 * Samples the ink of queued runs that are not rendered, one after another, those that print first first: so that tanks, costs and the plan go by
 * their real pixels. It begins nothing while the shop has something better to do, and forgets nothing by a crash: the next server goes on with
 * what is not sampled yet.
 */
export class InkSampler {
  /** Runs that can't be sampled as they are, by their version. */
  private readonly refused = new Map<string, number>();

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
      if ('refused' in sample) this.refused.set(run.id, run.version);
      else keepSample(shop, run.id, { order, version }, sample.channels);
    } catch (error) {
      if (isClosing(error)) return;
      // Where it lacks its profile or its file, whoever prints it is told; its estimate stays what it was.
      this.refused.set(run.id, run.version);
      if (!(error instanceof Refused)) throw error;
    }
  }

  private next(): Pick<RunRow, 'id' | 'version'> | undefined {
    const rows = this.shop.db
      .select({ id: runs.id, version: runs.version })
      .from(runs)
      .where(and(eq(runs.state, 'queued'), isNull(runs.inkRendering), isNull(runs.inkSample)))
      .orderBy(asc(runs.position))
      .limit(MOST_SEEN)
      .all();
    const there = new Set(rows.map(({ id }) => id));
    for (const id of this.refused.keys()) if (!there.has(id)) this.refused.delete(id);
    return rows.find(({ id, version }) => this.refused.get(id) !== version);
  }
}
