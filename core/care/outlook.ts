import { type PurgedChannel, channelsToPurge } from './purgeRule.ts';

/** A channel as its exercise is looked ahead: instants in ms, ink in ml. */
export interface OutlookChannel {
  readonly id: string;
  readonly limitMs: number;
  /** Ink that exercises it. */
  readonly doseMl: number;
  /** The latest instant that is known; never: the day its head was fitted. */
  readonly exercisedMs: number;
}

/** What fires channels at an instant to come: a planned run at its end, or care. */
export interface PlannedFiring {
  readonly id: string;
  readonly atMs: number;
  readonly inkMl: Readonly<Record<string, number>>;
  /** A purge may be skipped; what a run or a clean fires is fired. */
  readonly purge: { readonly dueMs: number; readonly onlyNeeded: boolean } | null;
}

/** What becomes of a purge. */
export interface PurgeOutlook {
  /** Channels that it fires; none: skipped. */
  readonly fires: readonly string[];
  /** Not fired because work exercises it (ml by channel). */
  readonly savedMl: Readonly<Record<string, number>>;
}

/**
 * What becomes of each purge in a plan: whether work exercises its channels before it, and something does again within their idle
 * limits. One that is skipped exercises nothing for those behind it.
 * @param firings in the order of time
 * @returns by id of the purge
 */
export function purgeOutlook(
  channels: readonly OutlookChannel[],
  firings: readonly PlannedFiring[],
): ReadonlyMap<string, PurgeOutlook> {
  const exercised = new Map(channels.map(({ id, exercisedMs }) => [id, exercisedMs]));
  const doses = new Map(channels.map(({ id, doseMl }) => [id, doseMl]));
  const isEnough = (id: string, ml: number | undefined): boolean => (ml ?? 0) >= (doses.get(id) ?? Infinity) - 1e-12;
  const found = new Map<string, PurgeOutlook>();
  firings.forEach((firing, i) => {
    const { inkMl, purge, atMs } = firing;
    let fires = Object.keys(inkMl);
    if (purge) {
      const due = channels.map(({ id, limitMs }): PurgedChannel => {
        const next = firings.find((later, j) => j > i && later.atMs > purge.dueMs && isEnough(id, later.inkMl[id]));
        return {
          id,
          level: (inkMl[id] ?? 0) > 0 ? 1 : 0,
          limitMs,
          exercisedMs: exercised.get(id) ?? -Infinity,
          nextMs: next?.atMs ?? null,
        };
      });
      fires = channelsToPurge(due, purge.dueMs, purge.onlyNeeded);
      const saved = Object.entries(inkMl).filter(([id, ml]) => ml > 0 && !fires.includes(id));
      found.set(firing.id, { fires, savedMl: Object.fromEntries(saved) });
    }
    for (const id of fires)
      if (isEnough(id, inkMl[id])) exercised.set(id, Math.max(exercised.get(id) ?? -Infinity, atMs));
  });
  return found;
}
