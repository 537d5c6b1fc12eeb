/** Which way artwork must lie to the grain of the media, which runs along the feed. */
export const GRAINS = ['free', 'along', 'across'] as const;
export type Grain = (typeof GRAINS)[number];

/** A way in which a piece may lie: its size as it lies. */
export interface Orientation {
  readonly angleDeg: 0 | 90;
  readonly widthMm: number;
  readonly heightMm: number;
}

export interface Turning {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly quarterTurn: boolean;
  readonly grain?: Grain;
}

/** The ways that a piece may lie as far as its job lets it, upright first; whether they fit is another question. */
export function orientationsOf({
  widthMm,
  heightMm,
  quarterTurn,
  grain = 'free',
}: Turning): readonly [Orientation, ...Orientation[]] {
  const upright = { angleDeg: 0, widthMm, heightMm } as const;
  const turned = { angleDeg: 90, widthMm: heightMm, heightMm: widthMm } as const;
  if (grain === 'along') return [upright];
  if (grain === 'across') return [turned];
  return quarterTurn ? [upright, turned] : [upright];
}
