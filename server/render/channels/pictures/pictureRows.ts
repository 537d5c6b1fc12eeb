import { closeSync, openSync, readSync } from 'node:fs';
import { type Step, stepAt } from '../../../../core/coats/enlarge.ts';
import { LANES } from '../../../../core/coats/inkTable.ts';
import type { DataPaths } from '../../../files/paths.ts';
import { type InkKernels, dotSteps } from '../kernels.ts';
import type { UnderPicture } from './layUnder.ts';

/**
 * Of all pictures at hand, whether one is as wide as the run or hundreds lie side by side: at the resolution of the dots a wide
 * one would take 200 MB for a band.
 */
const MOST_BYTES = 32 * 1024 * 1024;

/** A picture of inks in one of its places. A few of its rows are at hand, those that are laid next. */
class PictureRows {
  /** Where its dots lie in a row: known once one is laid. */
  private steps: Int32Array | undefined;
  private rows: Buffer = Buffer.alloc(0);
  private firstRow = 0;
  /** Rows at hand. */
  private count = 0;

  constructor(
    private readonly picture: UnderPicture,
    private readonly file: number,
    private readonly mostBytes: number,
  ) {}

  /** Whether it has a dot in this row of the run. */
  reaches(y: number): boolean {
    return isReached(this.picture, y, y + 1);
  }

  /** Lays its row into the inks of a row of the run. */
  lay(kernels: InkKernels, y: number): void {
    const { across, along, pixels, rows } = this.picture;
    const { from, to, isTurned, first, end } = across;
    this.steps ??= dotSteps(
      Array.from({ length: end - first }, (_, i) => stepAt(first + i, from, to, pixels, isTurned)),
    );
    const { pixel, fraction }: Step = stepAt(y, along.from, along.to, rows, along.isTurned);
    const below = Math.min(rows - 1, pixel + 1);
    this.haveAtHand(pixel, below);
    kernels.layPicture(this.row(pixel), this.row(below), fraction, { first, steps: this.steps });
  }

  /** Reads rows from one to another, and as many more as come next. */
  private haveAtHand(from: number, to: number): void {
    if (from >= this.firstRow && to < this.firstRow + this.count) return;
    const { along, pixels, rows } = this.picture;
    const rowBytes = pixels * LANES;
    const most = Math.min(rows, Math.max(2, Math.floor(this.mostBytes / rowBytes)));
    const first = along.isTurned ? Math.max(0, to + 1 - most) : Math.min(from, rows - most);
    if (this.rows.length === 0) this.rows = Buffer.allocUnsafe(most * rowBytes);
    const bytes = readSync(this.file, this.rows, 0, most * rowBytes, first * rowBytes);
    if (bytes < most * rowBytes) throw new Error('a picture of inks is cut short');
    this.firstRow = first;
    this.count = most;
  }

  private row(row: number): Uint8Array {
    const bytes = this.picture.pixels * LANES;
    const at = (row - this.firstRow) * bytes;
    return this.rows.subarray(at, at + bytes);
  }
}

/** Whether a picture has a dot in rows from one up to, but without, another. */
function isReached({ across, along }: UnderPicture, from: number, to: number): boolean {
  return across.end > across.first && along.first < to && along.end > from;
}

/** The pictures that lie under some rows of a run. Read as they are laid: in a thread that has nothing else to do. */
export class RunPictures {
  private constructor(
    private readonly pictures: readonly PictureRows[],
    private readonly files: ReadonlyMap<number, number>,
  ) {}

  /** @param from the first row, and `to` the one behind the last: pictures elsewhere are not opened */
  static open(paths: DataPaths, key: string, pictures: readonly UnderPicture[], from: number, to: number): RunPictures {
    const files = new Map<number, number>();
    const rows: PictureRows[] = [];
    const opened = new RunPictures(rows, files);
    try {
      const reached = pictures.filter((picture) => isReached(picture, from, to));
      for (const picture of reached) {
        const file = files.get(picture.file) ?? openSync(paths.coatPicture(key, picture.file), 'r');
        files.set(picture.file, file);
        rows.push(new PictureRows(picture, file, MOST_BYTES / reached.length));
      }
      return opened;
    } catch (error) {
      opened.close();
      throw error;
    }
  }

  /** Lays them into the inks of a row. @returns whether one of them is there */
  lay(kernels: InkKernels, y: number): boolean {
    const here = this.pictures.filter((picture) => picture.reaches(y));
    if (here.length === 0) return false;
    kernels.clearInks();
    for (const picture of here) picture.lay(kernels, y);
    return true;
  }

  close(): void {
    for (const file of this.files.values()) closeSync(file);
  }
}
