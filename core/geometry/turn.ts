/**
 * The size of the upright rectangle around a rectangle that is turned about its own middle (mm).
 * Quarter turns are exact; every other angle is rounded by floating point only.
 * @param angleDeg counter-clockwise
 */
export function turnedSize(
  widthMm: number,
  heightMm: number,
  angleDeg: number,
): { readonly widthMm: number; readonly heightMm: number } {
  const quarter = quarterTurns(angleDeg);
  if (quarter !== undefined) {
    return quarter % 2 === 0 ? { widthMm, heightMm } : { widthMm: heightMm, heightMm: widthMm };
  }
  const [c, s] = cosSin(angleDeg).map(Math.abs) as [number, number];
  return { widthMm: widthMm * c + heightMm * s, heightMm: widthMm * s + heightMm * c };
}

/** An angle from 0 up to 360, whatever turn it was reached by. */
export function wrapDeg(angleDeg: number): number {
  const wrapped = ((angleDeg % 360) + 360) % 360;
  // Sums of turns carry dust of floating point.
  const tidy = Math.round(wrapped * 1e6) / 1e6;
  return tidy === 360 ? 0 : tidy;
}

/** 0 … 3 where the angle is a whole number of quarter turns, else undefined. */
export function quarterTurns(angleDeg: number): number | undefined {
  const quarters = wrapDeg(angleDeg) / 90;
  return Number.isInteger(quarters) ? quarters : undefined;
}

/** Cosine and sine, exact for quarter turns. */
export function cosSin(angleDeg: number): readonly [number, number] {
  const quarter = quarterTurns(angleDeg);
  if (quarter !== undefined)
    return (
      (
        [
          [1, 0],
          [0, 1],
          [-1, 0],
          [0, -1],
        ] as const
      )[quarter] ?? [1, 0]
    );
  const radians = (angleDeg * Math.PI) / 180;
  return [Math.cos(radians), Math.sin(radians)];
}
