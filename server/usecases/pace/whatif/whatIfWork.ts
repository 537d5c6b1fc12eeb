import { turnedSize } from '../../../../core/geometry/turn.ts';
import { nest } from '../../../../core/layout/nest.ts';
import { type NestRules, type RunNestPiece, runNest } from '../../../../core/layout/runNest.ts';
import type { RegisteredEdge } from '../../../../core/layout/usableWidth.ts';
import type { CarriageConstants } from '../../../../core/machine/constants.ts';
import { type BestChange, bestChanges } from '../../../../core/pace/bestChanges.ts';
import { type WhatIfAnswer, type WhatIfChange, type WhatIfRun, whatIf } from '../../../../core/pace/whatIf.ts';

/** A run that would be laid out otherwise. */
export interface Relay {
  readonly runId: string;
  readonly pieces: readonly RunNestPiece[];
  readonly before: NestRules;
  readonly after: NestRules;
  readonly usableWidthMm: number;
  readonly registeredEdge: RegisteredEdge;
}

export interface WhatIfOrder {
  readonly runs: readonly WhatIfRun[];
  readonly machines: Readonly<Record<string, CarriageConstants>>;
  readonly change: WhatIfChange;
  readonly relays: readonly Relay[];
}

export interface BestChangesOrder {
  readonly runs: readonly WhatIfRun[];
  readonly machines: Readonly<Record<string, CarriageConstants>>;
  readonly most: number;
}

/** Enough to compare two ways to lay the same pieces. */
const NEST_STEPS = 4;

/** What would be otherwise, runs laid out anew where that is asked for. */
export function whatIfOf({ runs, machines, change, relays }: WhatIfOrder, told: (share: number) => void): WhatIfAnswer {
  const laid = new Map<string, NonNullable<WhatIfRun['relaid']>>();
  for (const [i, relay] of relays.entries()) {
    const run = runs.find(({ id }) => id === relay.runId);
    const relaid = run?.timed ? relaidAs(relay, run.timed.lengthMm) : undefined;
    if (relaid) laid.set(relay.runId, relaid);
    told((i + 1) / (relays.length + 1));
  }
  const withLayouts = runs.map((run) => {
    const relaid = laid.get(run.id);
    return relaid ? { ...run, relaid } : run;
  });
  return whatIf(withLayouts, machines, change);
}

export function bestChangesOf({ runs, machines, most }: BestChangesOrder): BestChange[] {
  return bestChanges(runs, machines, most);
}

/**
 * A run as it would be laid out with other rules. Both ways are nested with the same effort, and the difference of their lengths
 * counts: so neither a person's own layout nor a long search is held against the change.
 * @returns undefined: it can't be laid out so, and stays as it is
 */
function relaidAs(relay: Relay, lengthMm: number): WhatIfRun['relaid'] {
  const before = laidBy(relay, relay.before);
  const after = laidBy(relay, relay.after);
  if (!before || !after) return undefined;
  return { lengthMm: Math.max(0, lengthMm + after.lengthMm - before.lengthMm), pieces: after.pieces };
}

function laidBy({ pieces, usableWidthMm, registeredEdge }: Relay, rules: NestRules): WhatIfRun['relaid'] {
  const problem = runNest(pieces, rules, usableWidthMm, registeredEdge);
  if (!problem.ok) return undefined;
  const layout = nest(problem.value.input, { seed: 1, stepBudget: NEST_STEPS });
  const sizes = new Map(pieces.map((piece) => [piece.pieceId, piece]));
  return {
    lengthMm: layout.lengthMm,
    pieces: layout.placements.flatMap((placement) => {
      const { pieceId, xMm, yMm, angleDeg } = problem.value.place(placement);
      const size = sizes.get(pieceId);
      return size ? [{ xMm, yMm, ...turnedSize(size.widthMm, size.heightMm, angleDeg) }] : [];
    }),
  };
}
