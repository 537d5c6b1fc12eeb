import { type Result, ok, refuse } from '../result.ts';

/**
 * How big the artwork becomes. Width and height are the artwork's own, upright, before any turn; only *width of the media*
 * and *length* look at how it lies. One side null: the other follows in proportion.
 */
export type SizeRule =
  | { readonly kind: 'as it came' }
  | { readonly kind: 'percent'; readonly x: number; readonly y: number }
  | { readonly kind: 'exact'; readonly widthMm: number | null; readonly heightMm: number | null }
  | { readonly kind: 'within'; readonly name: string; readonly widthMm: number; readonly heightMm: number }
  | { readonly kind: 'media width' }
  | { readonly kind: 'length'; readonly lengthMm: number };

export interface NamedSize {
  readonly name: string;
  readonly widthMm: number;
  readonly heightMm: number;
}

/** ISO 216 A and B and ANSI/ASME Y14.1 sheet sizes, upright (mm). A shop adds its own. */
export const NAMED_SIZES: readonly NamedSize[] = [
  ...isoSizes('A', 841, 1189, 7),
  ...isoSizes('B', 1000, 1414, 5),
  ...(
    [
      ['ANSI A', 8.5, 11],
      ['ANSI B', 11, 17],
      ['ANSI C', 17, 22],
      ['ANSI D', 22, 34],
      ['ANSI E', 34, 44],
    ] as const
  ).map(([name, w, h]) => ({ name, widthMm: w * 25.4, heightMm: h * 25.4 })),
];

/** Each ISO size is the one before it, halved across its longer side, rounded down. */
function isoSizes(letter: string, widthMm: number, heightMm: number, count: number): NamedSize[] {
  const sizes: NamedSize[] = [];
  let w = widthMm;
  let h = heightMm;
  for (let n = 0; n < count; n++) {
    sizes.push({ name: `${letter}${String(n)}`, widthMm: w, heightMm: h });
    [w, h] = [Math.floor(h / 2), w];
  }
  return sizes;
}

export type SizeRefusal =
  { readonly code: 'nothing-left'; readonly widthMm: number; readonly heightMm: number } | { readonly code: 'no-size' };

/**
 * Applies a size rule.
 * @param art width and height of the artwork after cropping, upright (mm)
 * @param lies whether it lies turned by a quarter, and W, the width it may use
 * @returns the upright size (mm)
 */
export function sizeOf(
  rule: SizeRule,
  art: { readonly widthMm: number; readonly heightMm: number },
  lies: { readonly quarterTurned: boolean; readonly usableWidthMm: number },
): Result<{ readonly widthMm: number; readonly heightMm: number }, SizeRefusal> {
  const { widthMm: w, heightMm: h } = art;
  if (!(w > 0 && h > 0)) return refuse({ code: 'nothing-left', widthMm: w, heightMm: h });
  const scaled = (k: number) => ok({ widthMm: w * k, heightMm: h * k });
  switch (rule.kind) {
    case 'as it came':
      return ok({ widthMm: w, heightMm: h });
    case 'percent':
      return ok({ widthMm: (w * rule.x) / 100, heightMm: (h * rule.y) / 100 });
    case 'exact':
      if (rule.widthMm === null && rule.heightMm === null) return refuse({ code: 'no-size' });
      return ok({
        widthMm: rule.widthMm ?? (w * (rule.heightMm ?? h)) / h,
        heightMm: rule.heightMm ?? (h * (rule.widthMm ?? w)) / w,
      });
    case 'within': {
      const wide = w > h;
      const [long, short] = [Math.max(rule.widthMm, rule.heightMm), Math.min(rule.widthMm, rule.heightMm)];
      return scaled(Math.min((wide ? long : short) / w, (wide ? short : long) / h));
    }
    case 'media width':
      return scaled(lies.usableWidthMm / (lies.quarterTurned ? h : w));
    case 'length':
      return scaled(rule.lengthMm / (lies.quarterTurned ? w : h));
  }
}
