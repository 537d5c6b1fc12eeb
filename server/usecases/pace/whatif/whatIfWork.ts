import type { CarriageConstants } from '../../../../core/machine/constants.ts';
import { type BestChange, bestChanges } from '../../../../core/pace/bestChanges.ts';
import { type WhatIfAnswer, type WhatIfChange, type WhatIfRun, whatIf } from '../../../../core/pace/whatIf.ts';
import { type CollectOrder, collected } from './collectedRuns.ts';
import { type MoveOrder, elsewhereOf } from './movedWork.ts';
import { type Relay, relaidAs } from './relaidRuns.ts';

export interface WhatIfOrder {
  readonly runs: readonly WhatIfRun[];
  readonly machines: Readonly<Record<string, CarriageConstants>>;
  readonly change: WhatIfChange;
  /** Runs that would be laid out otherwise. */
  readonly relays: readonly Relay[];
  /** Runs that would be printed on other printers. */
  readonly moves: MoveOrder | null;
  /** Runs that would be printed as one. */
  readonly collect: CollectOrder | null;
}

export interface BestChangesOrder {
  readonly runs: readonly WhatIfRun[];
  readonly machines: Readonly<Record<string, CarriageConstants>>;
  readonly most: number;
}

/** What would be otherwise: runs laid out anew, moved or printed as one where that is asked for. */
export function whatIfOf(
  { runs, machines, change, relays, moves, collect }: WhatIfOrder,
  told: (share: number) => void,
): WhatIfAnswer {
  const laid = new Map<string, NonNullable<WhatIfRun['relaid']>>();
  for (const [i, relay] of relays.entries()) {
    const run = runs.find(({ id }) => id === relay.runId);
    const relaid = run?.timed ? relaidAs(relay, run.timed.lengthMm) : undefined;
    if (relaid) laid.set(relay.runId, relaid);
    told((i + 1) / (relays.length + 1));
  }
  const elsewhere = moves ? elsewhereOf(moves, runs, told) : new Map<string, WhatIfRun['elsewhere']>();
  const together = collect ? collected(collect, runs, told) : new Map<string, Partial<WhatIfRun>>();
  const otherwise = runs.map((run) => {
    const relaid = laid.get(run.id);
    const there = elsewhere.get(run.id);
    return {
      ...run,
      ...together.get(run.id),
      ...(relaid ? { relaid } : {}),
      ...(there ? { elsewhere: there } : {}),
    };
  });
  return whatIf(otherwise, machines, change);
}

export function bestChangesOf({ runs, machines, most }: BestChangesOrder): BestChange[] {
  return bestChanges(runs, machines, most);
}
