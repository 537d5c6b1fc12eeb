import { type FileHandle, open } from 'node:fs/promises';
import { type Step, stepAt } from '../../../../core/coats/enlarge.ts';
import { LANES } from '../../../../core/coats/inkTable.ts';
import type { DataPaths } from '../../../files/paths.ts';
import { type InkKernels, dotSteps } from '../kernels.ts';
import type { UnderPicture } from './layUnder.ts';

/** A picture of inks in one of its places: the rows of it that a band needs are at hand. */
class PictureRows {
  private readonly steps: Int32Array;
  private rows: Buffer = Buffer.alloc(0);
  private firstRow = 0;

  constructor(
    private readonly picture: UnderPicture,
    private readonly file: FileHandle,
  ) {
    const { across, pixels } = picture;
    const { from, to, isTurned, first, end } = across;
    this.steps = dotSteps(
      Array.from({ length: Math.max(0, end - first) }, (_, i) => stepAt(first + i, from, to, pixels, isTurned)),
    );
  }

  /** Whether it has a dot in rows from one up to, but without, another. */
  reaches(from: number, to: number): boolean {
    const { first, end } = this.picture.along;
    return this.steps.length > 0 && first < to && end > from;
  }

  /** Reads what these rows of the run need. */
  async load(from: number, to: number): Promise<void> {
    const { along, rows, pixels } = this.picture;
    const places = [Math.max(from, along.first), Math.min(to, along.end) - 1].map((y) => this.stepOf(y).pixel);
    const first = Math.min(...places);
    const last = Math.min(rows - 1, Math.max(...places) + 1);
    const bytes = (last - first + 1) * pixels * LANES;
    if (this.rows.length < bytes) this.rows = Buffer.allocUnsafe(bytes);
    this.firstRow = first;
    const { bytesRead } = await this.file.read(this.rows, 0, bytes, first * pixels * LANES);
    if (bytesRead < bytes) throw new Error('a picture of inks is cut short');
  }

  /** Lays its row into the inks of a row of the run. */
  lay(kernels: InkKernels, y: number): void {
    const { pixel, fraction } = this.stepOf(y);
    const below = Math.min(this.picture.rows - 1, pixel + 1);
    const { first } = this.picture.across;
    kernels.layPicture(this.row(pixel), this.row(below), fraction, { first, steps: this.steps });
  }

  private row(row: number): Uint8Array {
    const bytes = this.picture.pixels * LANES;
    const at = (row - this.firstRow) * bytes;
    return this.rows.subarray(at, at + bytes);
  }

  private stepOf(y: number): Step {
    const { along, rows } = this.picture;
    return stepAt(y, along.from, along.to, rows, along.isTurned);
  }
}

/** All pictures that lie under a run, band by band. */
export class RunPictures {
  private atHand: PictureRows[] = [];

  private constructor(
    private readonly pictures: readonly PictureRows[],
    private readonly files: ReadonlyMap<number, FileHandle>,
  ) {}

  static async open(paths: DataPaths, key: string, pictures: readonly UnderPicture[]): Promise<RunPictures> {
    const files = new Map<number, FileHandle>();
    for (const { file } of pictures) {
      if (!files.has(file)) files.set(file, await open(paths.coatPicture(key, file), 'r'));
    }
    const rows = pictures.flatMap((picture) => {
      const file = files.get(picture.file);
      return file ? [new PictureRows(picture, file)] : [];
    });
    return new RunPictures(rows, files);
  }

  /** Has at hand what rows from one up to, but without, another need. */
  async load(from: number, to: number): Promise<void> {
    this.atHand = this.pictures.filter((picture) => picture.reaches(from, to));
    for (const picture of this.atHand) await picture.load(from, to);
  }

  /** Lays them into the inks of a row. @returns whether one of them is there */
  lay(kernels: InkKernels, y: number): boolean {
    const here = this.atHand.filter((picture) => picture.reaches(y, y + 1));
    if (here.length === 0) return false;
    kernels.clearInks();
    for (const picture of here) picture.lay(kernels, y);
    return true;
  }

  async close(): Promise<void> {
    for (const file of this.files.values()) await file.close();
  }
}
