/** One piece at its place: the corner nearest the origin, in the frame of the run (see geometry/frame.ts). */
export interface Placement {
  readonly id: string;
  /** 0 … copies − 1 of its piece. */
  readonly copy: number;
  readonly xMm: number;
  readonly yMm: number;
  /** Counter-clockwise; the corner is that of the turned piece. */
  readonly angleDeg: number;
}

export interface NestLayout {
  readonly lengthMm: number;
  /** Nothing is shorter than this. Where it is the length itself, the layout is proven to be the shortest. */
  readonly boundMm: number;
  /** Σ w·h ÷ (media width × used length). */
  readonly utilisation: number;
  /** Packings tried; the same seed and this many steps give this layout again. */
  readonly steps: number;
  readonly placements: readonly Placement[];
}

export interface NestControl {
  readonly seed: number;
  /** At most so many packings are tried. */
  readonly stepBudget: number;
  /** Asked before each step; the way in for a time limit or a person's stop. */
  readonly shouldStop?: () => boolean;
  /** How much of the time is spent, 0 … 1, for searches that share it between several ways; left out: by the steps. */
  readonly spentShare?: () => number;
  /** Told of every better layout as it is found. */
  readonly onBetter?: (layout: NestLayout) => void;
}
