import type { Random } from '../random.ts';
import type { NestPiece } from '../layout/nestPiece.ts';
import type { NestRequest } from '../layout/nestInput.ts';

export interface ZeroWasteOptions {
  readonly pieces: number;
  readonly widthMm: number;
  readonly lengthMm: number;
  readonly gapMm: number;
  readonly marginMm: number;
  readonly quarterTurn: boolean;
  /** Cut only edge to edge, or also in pinwheels that no straight cut divides. */
  readonly cut: 'guillotine' | 'pinwheel';
  /** Sides are multiples of this (mm). */
  readonly stepMm: number;
  /** No cut nearer to an edge than this share of the side: 0 gives slivers, 0.25 sizes such as orders have. */
  readonly evenness?: number;
}

interface Rect {
  readonly w: number;
  readonly h: number;
}

/**
 * An instance whose shortest length is known, because it was made by cutting a full strip: with the gap added to each
 * side the pieces tile (width + gap) × (length + gap) exactly.
 * @returns the request to nest and the optimum (mm, margins included)
 */
export function zeroWasteInstance(
  options: ZeroWasteOptions,
  random: Random,
): { request: NestRequest; optimumMm: number } {
  const step = options.stepMm;
  const least = Math.ceil((options.gapMm + 2 * step) / step);
  const whole: Rect = {
    w: Math.round((options.widthMm + options.gapMm) / step),
    h: Math.round((options.lengthMm + options.gapMm) / step),
  };
  const rects = cutUp(whole, options, least, random);
  const pieces = rects.map((rect, i): NestPiece => {
    const turn = options.quarterTurn && random() < 0.5;
    const w = round(rect.w * step - options.gapMm);
    const h = round(rect.h * step - options.gapMm);
    return {
      id: `p${String(i)}`,
      widthMm: turn ? h : w,
      heightMm: turn ? w : h,
      copies: 1,
      quarterTurn: options.quarterTurn,
    };
  });
  return {
    request: {
      widthMm: round(options.widthMm + 2 * options.marginMm),
      gapMm: options.gapMm,
      marginMm: options.marginMm,
      pieces,
    },
    optimumMm: options.lengthMm + 2 * options.marginMm,
  };
}

function cutUp(whole: Rect, options: ZeroWasteOptions, least: number, random: Random): Rect[] {
  const rects = [whole];
  while (rects.length < options.pieces) {
    // Of three drawn at random the largest is cut, so that sizes stay varied but none dwarfs the rest.
    let at = -1;
    for (let k = 0; k < 3; k++) {
      const i = Math.floor(random() * rects.length);
      if (at < 0 || areaOf(rects[i]) > areaOf(rects[at])) at = i;
    }
    const rect = rects[at];
    if (!rect) break;
    const parts =
      options.cut === 'pinwheel' && random() < 0.25 && rects.length + 4 <= options.pieces
        ? pinwheel(rect, least, random)
        : halves(rect, Math.max(least, 1), options.evenness ?? 0, random);
    if (parts) rects.splice(at, 1, ...parts);
  }
  return rects;
}

function areaOf(rect: Rect | undefined): number {
  return rect ? rect.w * rect.h : 0;
}

function halves(rect: Rect, atLeast: number, evenness: number, random: Random): Rect[] | undefined {
  const across = rect.w > rect.h * (0.6 + 0.8 * random());
  const side = across ? rect.w : rect.h;
  const least = Math.max(atLeast, Math.floor(side * evenness));
  if (side < 2 * least) return undefined;
  const at = least + Math.floor(random() * (side - 2 * least + 1));
  return across
    ? [
        { w: at, h: rect.h },
        { w: rect.w - at, h: rect.h },
      ]
    : [
        { w: rect.w, h: at },
        { w: rect.w, h: rect.h - at },
      ];
}

/* ┌────────┬───┐
 * │   a    │   │
 * ├───┬────┤ b │    Five pieces around a middle; no edge-to-edge cut separates them.
 * │ d │ m  ├───┤
 * │   ├────┘   │
 * └───┴── c ───┘ */
function pinwheel(rect: Rect, least: number, random: Random): Rect[] | undefined {
  if (rect.w < 3 * least || rect.h < 3 * least) return undefined;
  const pick = (side: number): [number, number] => {
    const first = least + Math.floor(random() * (side - 3 * least + 1));
    const second = first + least + Math.floor(random() * (side - first - 2 * least + 1));
    return [first, second];
  };
  const [x1, x2] = pick(rect.w);
  const [y1, y2] = pick(rect.h);
  return [
    { w: x2, h: y1 },
    { w: rect.w - x2, h: y2 },
    { w: rect.w - x1, h: rect.h - y2 },
    { w: x1, h: rect.h - y1 },
    { w: x2 - x1, h: y2 - y1 },
  ];
}

function round(mm: number): number {
  return Math.round(mm * 1e5) / 1e5;
}
