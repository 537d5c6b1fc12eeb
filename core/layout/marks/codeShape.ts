import type { RectMm } from '../../geometry/frame.ts';
import { type Result, ok, refuse } from '../../result.ts';
import type { CodeKind } from './markSettings.ts';

/** A code as its encoder makes it: bar and space widths in turn, or a square of modules row by row; all in modules. */
export type CodeModules =
  | { readonly kind: 'bars'; readonly widths: readonly number[] }
  | { readonly kind: 'square'; readonly size: number; readonly dark: readonly boolean[] };

/** The dark rectangles of a code, from its own upper left corner, quiet zones included in its size (mm). */
export interface CodeShape {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly rects: readonly RectMm[];
}

export interface CodeRefusal {
  readonly code: 'code-too-fine';
  readonly dots: number;
  readonly leastDots: number;
}

/** Modules of quiet on each side: ISO/IEC 15417 and 16388 want ten, ISO/IEC 18004 four. */
const QUIET = { bars: 10, square: 4 } as const;
/** Width of a narrow bar that hand scanners read at arm's length (mm). */
const NARROW_MM = 0.38;
/** A module of fewer dots would be lost to the spread of ink. */
const LEAST_DOTS = 3;

/**
 * Draws a code so that each module is a whole number of dots of the print.
 * @param heightMm of the code as a whole
 */
export function codeShape(
  modules: CodeModules,
  heightMm: number,
  dpi: { readonly x: number; readonly y: number },
): Result<CodeShape, CodeRefusal> {
  const dotX = 25.4 / dpi.x;
  const dotY = 25.4 / dpi.y;
  if (modules.kind === 'bars') return ok(bars(modules.widths, heightMm, dotX));
  const all = modules.size + 2 * QUIET.square;
  const dots = Math.floor(heightMm / all / Math.max(dotX, dotY));
  if (dots < LEAST_DOTS) return refuse({ code: 'code-too-fine', dots, leastDots: LEAST_DOTS });
  return ok(square(modules, dots * dotX, dots * dotY));
}

function bars(widths: readonly number[], heightMm: number, dotMm: number): CodeShape {
  const moduleMm = Math.max(LEAST_DOTS, Math.round(NARROW_MM / dotMm)) * dotMm;
  const rects: RectMm[] = [];
  let at: number = QUIET.bars;
  widths.forEach((width, i) => {
    if (i % 2 === 0) rects.push({ xMm: at * moduleMm, yMm: 0, widthMm: width * moduleMm, heightMm });
    at += width;
  });
  return { widthMm: (at + QUIET.bars) * moduleMm, heightMm, rects };
}

/** A square code as rectangles, with the quiet zone around it that scanners need. */
function square({ size, dark }: Extract<CodeModules, { kind: 'square' }>, wMm: number, hMm: number): CodeShape {
  const rects: RectMm[] = [];
  for (let row = 0; row < size; row++) {
    // Neighbours in a row are one rectangle: no hair lines between them.
    for (let from = 0; from < size;) {
      let to = from;
      while (to < size && dark[row * size + to] === true) to += 1;
      if (to > from) {
        rects.push({
          xMm: (QUIET.square + from) * wMm,
          yMm: (QUIET.square + row) * hMm,
          widthMm: (to - from) * wMm,
          heightMm: hMm,
        });
      }
      from = Math.max(to, from + 1);
    }
  }
  const all = size + 2 * QUIET.square;
  return { widthMm: all * wMm, heightMm: all * hMm, rects };
}

/** Code 39 knows capitals, digits and a few signs; what it doesn't know becomes a hyphen. */
export function codeText(kind: CodeKind, text: string): string {
  return kind === 'code39' ? text.toUpperCase().replace(/[^0-9A-Z. $/+%-]/g, '-') : text;
}

/** What the encoder is asked: its name for the code, the text, and for QR codes a quarter of redundancy against scratches. */
export function encoderOrder(kind: CodeKind, text: string): { bcid: string; text: string; eclevel?: string } {
  const bcid = kind === 'qr' ? 'qrcode' : kind;
  return { bcid, text: codeText(kind, text), ...(kind === 'qr' ? { eclevel: 'Q' } : {}) };
}

/** Reads what the encoder made. */
export function modulesOf(
  encoded: { readonly sbs: readonly number[] } | { readonly pixs: readonly number[]; readonly pixx: number },
): CodeModules {
  return 'sbs' in encoded
    ? { kind: 'bars', widths: encoded.sbs }
    : { kind: 'square', size: encoded.pixx, dark: Array.from(encoded.pixs, (pixel) => pixel === 1) };
}
