import { turnedSize } from '../../../../core/geometry/turn.ts';
import { nest } from '../../../../core/layout/nest.ts';
import { type NestRules, type RunNestPiece, runNest } from '../../../../core/layout/runNest.ts';
import type { RegisteredEdge } from '../../../../core/layout/usableWidth.ts';
import type { RelaidRun } from '../../../../core/pace/whatIf.ts';

/** A run that would be laid out otherwise. */
export interface Relay {
  readonly runId: string;
  readonly pieces: readonly RunNestPiece[];
  readonly before: NestRules;
  readonly after: NestRules;
  readonly usableWidthMm: number;
  readonly registeredEdge: RegisteredEdge;
}

/** A run that can be laid out anew. */
export interface Relayed {
  readonly relay: Relay;
  /** Runs of the same could be printed as one; null: it stays for itself. */
  readonly togetherKey: string | null;
  /** As long as its printer prints in one go (mm). */
  readonly longestMm: number;
}

/** Enough to compare two ways to lay the same pieces. */
const NEST_STEPS = 4;

/**
 * A run as it would be laid out with other rules. Both ways are nested with the same effort, and the difference of their lengths
 * counts: so neither a person's own layout nor a long search is held against the change.
 * @returns undefined: it can't be laid out so, and stays as it is
 */
export function relaidAs(relay: Relay, lengthMm: number): RelaidRun | undefined {
  const before = laidBy(relay, relay.before);
  const after = laidBy(relay, relay.after);
  if (!before || !after) return undefined;
  return { lengthMm: Math.max(0, lengthMm + after.lengthMm - before.lengthMm), pieces: after.pieces };
}

/** A quick layout. @returns undefined: the rules can't be kept */
export function laidBy(
  { pieces, usableWidthMm, registeredEdge }: Pick<Relay, 'pieces' | 'usableWidthMm' | 'registeredEdge'>,
  rules: NestRules,
  steps = NEST_STEPS,
): RelaidRun | undefined {
  const problem = runNest(pieces, rules, usableWidthMm, registeredEdge);
  if (!problem.ok) return undefined;
  const layout = nest(problem.value.input, { seed: 1, stepBudget: steps });
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
