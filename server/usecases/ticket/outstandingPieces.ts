import type { FinishedPage } from '../../../core/ticket/finishedPage.ts';
import { batches } from '../../db/batches.ts';
import { pieces } from '../../db/tables/schema.ts';
import { Refused, type Work, newId } from '../../shop.ts';

/** More would hold the server up for seconds and fit on no roll. */
const MAX_JOB_PIECES = 20_000;

/** One of the pieces that a copy of a job is made of. */
export interface PieceKind {
  readonly page: number;
  readonly part: string | null;
  /** Number of the panel; null where the page is printed in one. */
  readonly tile: number | null;
}

/** How many pieces a page is printed in. */
export function panelCount(finished: FinishedPage | null | undefined): number {
  return finished?.panels?.length ?? 1;
}

/** What each copy consists of: every panel of every part of every page. `panels`: of each page. */
export function pieceKinds(panels: readonly number[], parts: readonly (string | null)[]): PieceKind[] {
  return panels.flatMap((n, page) =>
    parts.flatMap((part) => Array.from({ length: n }, (_, i) => ({ page, part, tile: n > 1 ? i : null }))),
  );
}

/** Owes these pieces for each copy from `from` up to `to`. */
export function addOutstandingPieces(
  { tx }: Work,
  jobId: string,
  kinds: readonly PieceKind[],
  from: number,
  to: number,
): void {
  const each = kinds.length;
  if (each * to > MAX_JOB_PIECES) {
    throw new Refused(
      409,
      'too-many',
      `${String(to)} copies of ${String(each)} pages, panels and parts are ${String(each * to)} pieces; ${String(MAX_JOB_PIECES)} is the limit.`,
      { pieces: each * to, limit: MAX_JOB_PIECES },
      'Split the order into several jobs.',
    );
  }
  const rows = Array.from({ length: Math.max(0, to - from) }, (_, i) =>
    kinds.map((kind) => ({ id: newId('pc'), jobId, ...kind, copy: from + i, state: 'owed' as const })),
  ).flat();
  for (const batch of batches(rows)) tx.insert(pieces).values(batch).run();
}
