import { itemAt } from '../../elementAt.ts';
import type { BeamStart, SizeClass } from './types.ts';

/** The upper edge of what is laid, in segments from left to right, as a beam can go on from it; grid units. */
export class Skyline {
  private xs: number[];
  private ys = [0];

  constructor(width: number) {
    this.xs = [0, width];
  }

  low(): number {
    return Math.min(...this.ys);
  }

  high(): number {
    return Math.max(...this.ys);
  }

  /** Raises [x, x + w] to y; level neighbours are joined. */
  cover(x: number, w: number, y: number): void {
    const outX = [0];
    const outY: number[] = [];
    const add = (end: number, height: number): void => {
      const start = itemAt(outX, outX.length - 1);
      if (end <= start) return;
      if (outY[outY.length - 1] === height) outX[outX.length - 1] = end;
      else {
        outX.push(end);
        outY.push(height);
      }
    };
    for (let i = 0; i < this.ys.length; i++) {
      const end = itemAt(this.xs, i + 1);
      add(Math.min(end, x), itemAt(this.ys, i));
      if (end > x) add(Math.min(end, x + w), y);
      if (end > x + w) add(end, itemAt(this.ys, i));
    }
    this.xs = outX;
    this.ys = outY;
  }

  /** Area between the skyline and a level below it. */
  areaOver(level: number): number {
    return this.ys.reduce((sum, y, i) => sum + (y - level) * (itemAt(this.xs, i + 1) - itemAt(this.xs, i)), 0);
  }

  /** Where a beam begins that lays these classes on what is here; heights count from `under`. */
  startFor(classes: readonly SizeClass[], under: number): BeamStart {
    return {
      left: Int32Array.from(classes, (c) => c.count),
      sx: Float64Array.from(this.xs),
      sy: Float64Array.from(this.ys, (y) => y - under),
      segments: this.ys.length,
      waste: this.areaOver(under),
      packedArea: 0,
      packedCount: 0,
    };
  }
}
