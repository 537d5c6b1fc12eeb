import { type Result, ok, refuse } from '../../result.ts';

/** How artwork that is wider than the media is cut into panels. */
export interface TileRule {
  /** *Upright*: the cuts run down the artwork, panels stand side by side; *level*: panels lie on each other. */
  readonly cut: 'upright' | 'level';
  /** All panels equal, or each as wide as the media takes and the last one what is left. */
  readonly panels: 'equal' | 'full width';
  /** What two neighbours both show (mm); below zero: what is left out between them. */
  readonly joinMm: number;
  /** Every second panel is printed turned by half, so that colours meet at the same edge of the media. */
  readonly turnEverySecond: boolean;
}

/** A panel of the artwork, from its upper left corner, bleed included (mm). */
export interface Panel {
  readonly xMm: number;
  readonly yMm: number;
  readonly widthMm: number;
  readonly heightMm: number;
}

export type TileRefusal = { readonly code: 'join-too-wide'; readonly joinMm: number; readonly mostMm: number };

/** More panels than this are a slip of the finger. */
const MOST_PANELS = 400;
/** A last panel narrower than this can hardly be mounted: the others give it some of theirs. */
const LEAST_LAST_MM = 30;

/**
 * Cuts a length into panels of at most `mostMm` that share `joinMm` with their neighbours: n panels of width w cover
 * n·w − (n − 1)·join. Equal: the fewest that suffice. Full width: the last one holds the rest.
 * @returns from where each reaches and how far (mm); one panel where no cut is needed
 */
export function panelsAlong(
  totalMm: number,
  mostMm: number,
  rule: Pick<TileRule, 'panels' | 'joinMm'>,
): Result<readonly { readonly fromMm: number; readonly widthMm: number }[], TileRefusal> {
  const { joinMm } = rule;
  if (totalMm <= mostMm + 1e-6) return ok([{ fromMm: 0, widthMm: totalMm }]);
  // Each further panel brings its width less the join.
  const n = Math.ceil((totalMm - joinMm) / (mostMm - joinMm) - 1e-9);
  if (mostMm - joinMm < 1 || n > MOST_PANELS) return refuse({ code: 'join-too-wide', joinMm, mostMm });
  const equal = (totalMm + (n - 1) * joinMm) / n;
  const last = totalMm - (n - 1) * (mostMm - joinMm);
  const even = rule.panels === 'equal' || last < LEAST_LAST_MM + Math.max(0, joinMm);
  const width = even ? equal : mostMm;
  return ok(
    Array.from({ length: n }, (_, i) => {
      const fromMm = tidy(i * (width - joinMm));
      return { fromMm, widthMm: i === n - 1 ? tidy(totalMm - fromMm) : tidy(width) };
    }),
  );
}

/** The panels of artwork of this size, numbered from its upper left corner. `mostMm` is the usable width. */
export function planTiles(
  art: { readonly widthMm: number; readonly heightMm: number },
  mostMm: number,
  rule: TileRule,
): Result<readonly Panel[], TileRefusal> {
  const upright = rule.cut === 'upright';
  const along = panelsAlong(upright ? art.widthMm : art.heightMm, mostMm, rule);
  if (!along.ok) return along;
  return ok(
    along.value.map(({ fromMm, widthMm }) =>
      upright
        ? { xMm: fromMm, yMm: 0, widthMm, heightMm: art.heightMm }
        : { xMm: 0, yMm: fromMm, widthMm: art.widthMm, heightMm: widthMm },
    ),
  );
}

/** To 0.0001 mm, like every size that is kept. */
function tidy(mm: number): number {
  return Math.round(mm * 1e4) / 1e4;
}
