import type { CutPath } from '../../../../core/estimate/timedRun.ts';
import { collectRuns } from '../../../../core/pace/collectRuns.ts';
import type { RectMm } from '../../../../core/geometry/frame.ts';
import type { RelaidRun, WhatIfRun } from '../../../../core/pace/whatIf.ts';
import { type Relay, type Relayed, laidBy } from './relaidRuns.ts';

/** With many pieces a short search would find less than with few. */
const NEST_STEPS = 24;

/** Runs that jobs would have been collected for. */
export interface CollectOrder {
  readonly withinMs: number;
  readonly runs: readonly {
    /** Laid out alone; pieces of a run that was printed twice are told apart. */
    readonly relay: Relay;
    readonly key: string;
    readonly longestMm: number;
  }[];
}

export function collectOrder(relayed: readonly Relayed[], hours: number): CollectOrder {
  return {
    withinMs: hours * 3_600_000,
    runs: relayed.flatMap(({ relay, togetherKey: key, longestMm }) =>
      key === null ? [] : [{ relay, key, longestMm }],
    ),
  };
}

/** What runs are that are printed as one, by id: the last of each group takes the others in. */
export function collected(
  { withinMs, runs: order }: CollectOrder,
  runs: readonly WhatIfRun[],
  told: (share: number) => void,
): Map<string, Partial<WhatIfRun>> {
  const byId = new Map(runs.map((run) => [run.id, run]));
  const orders = new Map(order.map((each) => [each.relay.runId, each]));
  const groups = collectRuns(
    order.flatMap(({ relay: { runId: id }, key, longestMm }) => {
      const run = byId.get(id);
      // What failed would have failed, however it was collected.
      if (!run?.timed || run.fedMm < run.timed.lengthMm - 1) return [];
      return [{ id, key, longestMm, startedMs: run.startedMs, lengthMm: run.timed.lengthMm }];
    }),
    withinMs,
  );
  const found = new Map<string, Partial<WhatIfRun>>();
  for (const [i, ids] of groups.entries()) {
    told(i / groups.length);
    const own = ids.flatMap((id) => byId.get(id) ?? []);
    const relays = ids.flatMap((id) => orders.get(id)?.relay ?? []);
    const last = own.at(-1);
    const [relay] = relays;
    if (!last?.timed || !relay) continue;
    const pieces = relays.flatMap(({ runId, pieces: some }) =>
      some.map((piece) => ({ ...piece, pieceId: `${runId}/${piece.pieceId}` })),
    );
    const alone = relays.flatMap((each) => laidBy(each, each.before, NEST_STEPS) ?? []);
    const nested = laidBy({ ...relay, pieces }, relay.before, NEST_STEPS);
    if (!nested || alone.length < relays.length) continue;
    // As with any other layout the difference counts: both ways are nested with the same effort.
    const aloneMm = alone.reduce((sum, { lengthMm }) => sum + lengthMm, 0);
    const together = nested.lengthMm <= aloneMm ? nested : { lengthMm: aloneMm, pieces: behindOneAnother(alone) };
    const wereMm = own.reduce((sum, { timed }) => sum + (timed?.lengthMm ?? 0), 0);
    const cuts = own.flatMap(({ timed }) => timed?.contours ?? []);
    found.set(last.id, {
      takesIn: ids.slice(0, -1),
      readyMs: Math.max(...own.map(({ readyMs }) => readyMs)),
      relaid: {
        lengthMm: Math.max(0, wereMm + together.lengthMm - aloneMm),
        pieces: together.pieces,
        ...(cuts.length > 0 ? { contours: cuts.reduce(bothPaths) } : {}),
      },
    });
  }
  return found;
}

/** Layouts as they are, each behind the one before it: what runs printed as one need at most. */
function behindOneAnother(layouts: readonly RelaidRun[]): RectMm[] {
  let fromMm = 0;
  return layouts.flatMap(({ lengthMm, pieces }) => {
    const moved = pieces.map((piece) => ({ ...piece, yMm: piece.yMm + fromMm }));
    fromMm += lengthMm;
    return moved;
  });
}

function bothPaths(a: CutPath, b: CutPath): CutPath {
  return { rings: a.rings + b.rings, pathMm: a.pathMm + b.pathMm, travelMm: a.travelMm + b.travelMm };
}
