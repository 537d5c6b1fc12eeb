import { and, asc, desc, eq, gt, inArray, isNull } from 'drizzle-orm';
import { runs } from '../../db/tables/schema.ts';
import { isClosing } from '../../ports/work.ts';
import { Refused, type Shop } from '../../shop.ts';
import type { RunRow } from '../run/transitionRun.ts';
import { ensureArtwork } from './artworkOrder.ts';
import { keepSample } from './countedInk.ts';
import { orderedCoat } from './runChannels.ts';

/** Runs that are looked at for one that can be sampled. */
const MOST_SEEN = 50;
/** What is known of a run's ink after so long has to do: others wait. */
const MOST_MS = 15_000;
/** One that can't be sampled is looked at again so much later (real time): its profile may have been brought in since. */
const AGAIN_MS = 600_000;

/** A draft is sampled once nobody has changed it for so long (real time). */
const AT_REST_MS = 20_000;

/**
 * Samples the ink of runs that are not rendered, one after another: those that print first first, drafts last, once they are left alone. So
 * tanks, costs and the plan go by their real pixels. It begins nothing while the shop has something better to do, and forgets nothing by a
 * crash: the next server goes on with what is not sampled yet.
 */
export class InkSampler {
  /** Runs as they are that can't be sampled, or drafts that may be worked on, and when they are looked at again. */
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
      await ensureArtwork(shop, order, how);
      const sample = await shop.work.run('ink sample', { coat: order, mostMs: MOST_MS }, how);
      if ('refused' in sample) this.putOff(run);
      else keepSample(shop, run.id, { order, version }, sample.channels);
    } catch (error) {
      // Where nothing can be written down the run is not to blame.
      if (isClosing(error) || shop.storage.noticed(error)) return;
      // Where it lacks its profile or its file, whoever prints it is told; its estimate stays what it was.
      this.putOff(run);
      if (!(error instanceof Refused)) throw error;
    }
  }

  private putOff(run: Waiting): void {
    this.notBefore.set(asItIs(run), this.shop.realNow() + AGAIN_MS);
  }

  private next(): Waiting | undefined {
    const rows = this.shop.db
      .select({ id: runs.id, version: runs.version, state: runs.state })
      .from(runs)
      .where(
        and(
          inArray(runs.state, ['queued', 'draft']),
          gt(runs.lengthMm, 0),
          isNull(runs.inkRendering),
          isNull(runs.inkSample),
        ),
      )
      .orderBy(desc(eq(runs.state, 'queued')), asc(runs.position))
      .limit(MOST_SEEN)
      .all();
    const now = this.shop.realNow();
    const there = new Set(rows.map(asItIs));
    for (const known of this.notBefore.keys()) if (!there.has(known)) this.notBefore.delete(known);
    for (const run of rows) {
      const isNew = !this.notBefore.has(asItIs(run));
      if (isNew) this.notBefore.set(asItIs(run), run.state === 'draft' ? now + AT_REST_MS : now);
    }
    return rows.find((run) => now >= (this.notBefore.get(asItIs(run)) ?? now));
  }
}

type Waiting = Pick<RunRow, 'id' | 'version'>;

/** Names a run with the layout that it has: one that is changed is another. */
function asItIs({ id, version }: Waiting): string {
  return `${id} ${String(version)}`;
}
