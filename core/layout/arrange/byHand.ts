import type { RectMm } from '../../geometry/frame.ts';

export interface KeyedRect extends RectMm {
  readonly key: string;
}

export type Alignment = 'left' | 'right' | 'middle' | 'lead' | 'trail' | 'centre';

/** New corners of pieces, by their key (mm). */
export type Corners = ReadonlyMap<string, { readonly xMm: number; readonly yMm: number }>;

/**
 * Brings pieces into line: across the media by their left, right or middle, along the feed by their leading or trailing
 * edge or their centre. The outermost piece stays.
 */
export function aligned(pieces: readonly KeyedRect[], how: Alignment): Corners {
  const left = Math.min(...pieces.map((p) => p.xMm));
  const right = Math.max(...pieces.map((p) => p.xMm + p.widthMm));
  const lead = Math.min(...pieces.map((p) => p.yMm));
  const trail = Math.max(...pieces.map((p) => p.yMm + p.heightMm));
  return new Map(
    pieces.map(({ key, xMm, yMm, widthMm, heightMm }) => {
      switch (how) {
        case 'left':
          return [key, { xMm: left, yMm }];
        case 'right':
          return [key, { xMm: right - widthMm, yMm }];
        case 'middle':
          return [key, { xMm: (left + right - widthMm) / 2, yMm }];
        case 'lead':
          return [key, { xMm, yMm: lead }];
        case 'trail':
          return [key, { xMm, yMm: trail - heightMm }];
        case 'centre':
          return [key, { xMm, yMm: (lead + trail - heightMm) / 2 }];
      }
    }),
  );
}

/** Spreads pieces so that the gaps between neighbours are equal; the two outermost stay. Fewer than three stay as they are. */
export function distributed(pieces: readonly KeyedRect[], along: 'across' | 'feed'): Corners {
  const start = (p: RectMm): number => (along === 'across' ? p.xMm : p.yMm);
  const length = (p: RectMm): number => (along === 'across' ? p.widthMm : p.heightMm);
  const order = [...pieces].sort((a, b) => start(a) - start(b) || (a.key < b.key ? -1 : 1));
  const first = order[0];
  const last = order[order.length - 1];
  if (!first || !last || order.length < 3) return new Map();
  const room = start(last) + length(last) - start(first) - order.reduce((sum, p) => sum + length(p), 0);
  const gap = room / (order.length - 1);
  let at = start(first);
  return new Map(
    order.map((p) => {
      const corner = along === 'across' ? { xMm: at, yMm: p.yMm } : { xMm: p.xMm, yMm: at };
      at += length(p) + gap;
      return [p.key, corner];
    }),
  );
}

export interface SnapLines {
  readonly gapXMm: number;
  readonly gapYMm: number;
  /** Usable width; pieces also snap to its ends and to the lead margin. */
  readonly widthMm: number;
  readonly leadMm: number;
}

/**
 * How far a moved group must still go so that an edge of it lies one gap from a neighbour, level with it, or at an end of
 * the usable width: the least such move in each direction, none where all are farther than the reach.
 *
 *      ┌───┐ gap ┌───┐
 *      │ a │◄───►│ b │     b snaps to a: one gap away, and level with its edge
 *      └───┘     └───┘
 */
export function snapMove(
  moved: readonly RectMm[],
  others: readonly RectMm[],
  lines: SnapLines,
  reachMm: number,
): { readonly dxMm: number; readonly dyMm: number } {
  const box = boxOf(moved);
  const near = others.filter((other) => close(box, other, reachMm + Math.max(lines.gapXMm, lines.gapYMm)));
  const dx = [
    -box.xMm,
    lines.widthMm - box.xMm - box.widthMm,
    ...near.flatMap((o) => stops(box.xMm, box.widthMm, o.xMm, o.widthMm, lines.gapXMm)),
  ];
  const dy = [
    lines.leadMm - box.yMm,
    ...near.flatMap((o) => stops(box.yMm, box.heightMm, o.yMm, o.heightMm, lines.gapYMm)),
  ];
  return { dxMm: least(dx, reachMm), dyMm: least(dy, reachMm) };
}

/** Moves that bring a span one gap behind or before another, or level with its ends. */
function stops(at: number, size: number, other: number, otherSize: number, gap: number): number[] {
  return [other + otherSize + gap - at, other - gap - size - at, other - at, other + otherSize - size - at];
}

function least(moves: readonly number[], reach: number): number {
  let best = 0;
  let size = reach;
  for (const move of moves) {
    if (Math.abs(move) <= size) {
      size = Math.abs(move);
      best = move;
    }
  }
  return best;
}

function boxOf(rects: readonly RectMm[]): RectMm {
  const xMm = Math.min(...rects.map((r) => r.xMm));
  const yMm = Math.min(...rects.map((r) => r.yMm));
  const widthMm = Math.max(...rects.map((r) => r.xMm + r.widthMm)) - xMm;
  const heightMm = Math.max(...rects.map((r) => r.yMm + r.heightMm)) - yMm;
  return { xMm, yMm, widthMm, heightMm };
}

function close(a: RectMm, b: RectMm, by: number): boolean {
  return (
    a.xMm - by < b.xMm + b.widthMm &&
    b.xMm - by < a.xMm + a.widthMm &&
    a.yMm - by < b.yMm + b.heightMm &&
    b.yMm - by < a.yMm + a.heightMm
  );
}
