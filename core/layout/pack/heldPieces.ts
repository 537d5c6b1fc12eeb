import type { Placement } from '../nestLayout.ts';
import type { NestInput } from '../nestInput.ts';

export interface HeldLayout {
  readonly placements: readonly Placement[];
  /** What is left for the nest: it begins behind the last held piece. */
  readonly rest: NestInput;
}

/**
 * Lays the pieces that are held at a place across the media: each as near to the leading edge as those before it let it,
 * in the order given, never turned.
 */
export function layHeld(input: NestInput): HeldLayout {
  const { margins, gapXMm, gapYMm } = input;
  const laid: { readonly from: number; readonly to: number; readonly endMm: number }[] = [];
  const placements: Placement[] = [];
  for (const { id, held, copies, widthMm, heightMm } of input.pieces) {
    if (!held) continue;
    for (let copy = 0; copy < copies; copy++) {
      const from = held.xMm;
      const to = held.xMm + widthMm;
      const behind = laid
        .filter((other) => from < other.to + gapXMm - 1e-9 && other.from < to + gapXMm - 1e-9)
        .reduce((most, other) => Math.max(most, other.endMm + gapYMm), margins.leadMm);
      const yMm = behind + held.beforeMm;
      laid.push({ from, to, endMm: yMm + heightMm });
      placements.push({ id, copy, xMm: margins.leftMm + held.xMm, yMm, angleDeg: 0 });
    }
  }
  const end = laid.reduce((most, { endMm }) => Math.max(most, endMm), 0);
  const leadMm = laid.length === 0 ? margins.leadMm : end + gapYMm;
  const pieces = input.pieces.filter((piece) => piece.held === undefined);
  return { placements, rest: { ...input, pieces, margins: { ...margins, leadMm } } };
}
