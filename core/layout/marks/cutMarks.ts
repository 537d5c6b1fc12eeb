import { counted } from '../../counted.ts';
import type { RectMm } from '../../geometry/frame.ts';
import type { Mark } from './mark.ts';

/** Gaps narrower than this are none (mm). */
const LEAST_GAP_MM = 1e-6;

/** One straight cut: across the media at `atMm`, or along it, from one end of what is cut to the other. */
export interface StraightCut {
  readonly along: boolean;
  readonly atMm: number;
  readonly fromMm: number;
  readonly toMm: number;
}

export interface StraightCuts {
  readonly cuts: readonly StraightCut[];
  /** Pieces that no straight cut sets free of their neighbours. */
  readonly stuck: number;
}

/**
 * The straight cuts that set the pieces free, each from edge to edge of what the cuts before it left: across the media first,
 * then along, and so on. A cut lies in the middle of its gap.
 */
export function straightCutsOf(pieces: readonly RectMm[]): StraightCuts {
  const cuts: StraightCut[] = [];
  let stuck = 0;
  const cut = (group: readonly RectMm[], acrossFirst: boolean): void => {
    if (group.length < 2) return;
    for (const along of acrossFirst ? [false, true] : [true, false]) {
      const parts = partsOf(group, along);
      if (parts.length < 2) continue;
      const [fromMm, toMm] = reach(group, !along);
      for (let i = 1; i < parts.length; i++) {
        const [, end] = reach(parts[i - 1] ?? [], along);
        const [start] = reach(parts[i] ?? [], along);
        cuts.push({ along, atMm: (end + start) / 2, fromMm, toMm });
      }
      for (const part of parts) cut(part, along);
      return;
    }
    stuck += group.length;
  };
  cut(pieces, true);
  return { cuts, stuck };
}

/** From where to where a group reaches: along the feed, or (`across`) across it. */
function reach(group: readonly RectMm[], across: boolean): readonly [number, number] {
  const from = group.map((rect) => (across ? rect.xMm : rect.yMm));
  const to = group.map((rect) => (across ? rect.xMm + rect.widthMm : rect.yMm + rect.heightMm));
  return [Math.min(...from), Math.max(...to)];
}

/** What cuts in one direction part a group into, in order. */
function partsOf(group: readonly RectMm[], along: boolean): RectMm[][] {
  const start = (rect: RectMm): number => (along ? rect.xMm : rect.yMm);
  const end = (rect: RectMm): number => start(rect) + (along ? rect.widthMm : rect.heightMm);
  const parts: RectMm[][] = [];
  let last = -Infinity;
  for (const rect of [...group].sort((a, b) => start(a) - start(b))) {
    const part = parts[parts.length - 1];
    if (part && start(rect) < last + LEAST_GAP_MM) part.push(rect);
    else parts.push([rect]);
    last = Math.max(last, end(rect));
  }
  return parts;
}

/** A tick in the gap at both ends of each cut; ticks of a short cut meet in its middle and are one. */
export function cutMarks(pieces: readonly RectMm[], lengthMm: number, troubles: string[]): Mark[] {
  const { cuts, stuck } = straightCutsOf(pieces);
  if (stuck > 0) {
    troubles.push(`${counted(stuck, 'piece')} can’t be cut free by straight cuts. Nest with straight cuts only.`);
  }
  return cuts.flatMap(({ along, atMm, fromMm, toMm }): Mark[] => {
    const line = (from: number, to: number): Mark =>
      along
        ? { kind: 'line', x1: atMm, y1: from, x2: atMm, y2: to }
        : { kind: 'line', x1: from, y1: atMm, x2: to, y2: atMm };
    if (toMm - fromMm <= 2 * lengthMm + 1) return [line(fromMm, toMm)];
    return [line(fromMm, fromMm + lengthMm), line(toMm - lengthMm, toMm)];
  });
}
