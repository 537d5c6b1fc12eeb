/**
 * A size to be packed `count` times, in grid units with the gap already added to both sides. Turned it is turnedW × turnedH,
 * which are not h × w where the gaps across and along differ.
 */
export interface SizeClass {
  readonly w: number;
  readonly h: number;
  readonly turnedW: number;
  readonly turnedH: number;
  readonly turnable: boolean;
  readonly count: number;
}

/** The least area of all pieces, whichever way they lie. */
export function leastArea(classes: readonly SizeClass[]): number {
  return classes.reduce((sum, c) => {
    const upright = c.w * c.h;
    return sum + c.count * (c.turnable ? Math.min(upright, c.turnedW * c.turnedH) : upright);
  }, 0);
}

/** One rectangle of a packing, in the order in which it was laid; grid units. */
export interface PlacedPiece {
  readonly classIndex: number;
  readonly turned: boolean;
  readonly x: number;
  readonly y: number;
}

/** Where the beam starts: what is packed already, as a skyline and what is left of each class. */
export interface BeamStart {
  readonly left: Int32Array;
  readonly sx: Float64Array;
  readonly sy: Float64Array;
  readonly segments: number;
  readonly waste: number;
  readonly packedArea: number;
  readonly packedCount: number;
}
