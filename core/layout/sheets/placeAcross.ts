import type { PlaceRule } from '../../ticket/ticket.ts';
import type { RegisteredEdge } from '../usableWidth.ts';

export interface HeldPlace {
  /** From the left end of the usable width (mm). */
  readonly xMm: number;
  /** Length kept free before it: the way from the collar (mm). */
  readonly beforeMm: number;
}

/**
 * Where a place rule holds a piece; undefined leaves it to the nest. *From edge* counts from the edge that the media is
 * registered against, a centred register from the middle to the right.
 */
export function placeAcross(
  rule: PlaceRule,
  edge: RegisteredEdge,
  usableWidthMm: number,
  widthMm: number,
): HeldPlace | undefined {
  const spare = usableWidthMm - widthMm;
  switch (rule.kind) {
    case 'nested':
      return undefined;
    case 'centred':
      return { xMm: spare / 2, beforeMm: 0 };
    case 'below collar':
      return { xMm: spare / 2, beforeMm: rule.mm };
    case 'from edge':
      return { xMm: { left: rule.mm, centre: spare / 2 + rule.mm, right: spare - rule.mm }[edge], beforeMm: 0 };
  }
}

/** The same place counted from where pieces may begin, `edgeMm` from the left end of the usable width, and not before it. */
export function behindEdge(held: HeldPlace, edgeMm: number): HeldPlace {
  return { ...held, xMm: Math.max(0, held.xMm - edgeMm) };
}
