import type { DataPaths } from '../../files/paths.ts';
import type { InkKernels } from './kernels.ts';
import { PageWindows } from './pageWindows.ts';
import type { Under } from './pictures/layUnder.ts';
import { RunPictures } from './pictures/pictureRows.ts';

/** A run as it is drawn for a coat, band by band: pictures that are inks already, and over them the rest of its pages. */
export class DrawnRun {
  private readonly bare: Buffer;
  /** Of the rows at hand. */
  private from = 0;

  private constructor(
    private readonly windows: PageWindows,
    private readonly pictures: RunPictures,
    width: number,
  ) {
    this.bare = Buffer.alloc(width * 4);
  }

  /**
   * @param file the run, where nothing was taken off its pages
   * @param rows of it that will be asked for: from one up to, but without, another
   */
  static async open(
    { key, width, height }: { readonly key: string; readonly width: number; readonly height: number },
    file: string,
    under: Under,
    paths: DataPaths,
    rows: { readonly from: number; readonly to: number },
  ): Promise<DrawnRun> {
    const pictures = RunPictures.open(paths, key, under.pictures, rows.from, rows.to);
    try {
      const pages = under.isApart ? paths.coatUnder(key, 'pdf') : file;
      return new DrawnRun(await PageWindows.open(pages, width, height), pictures, width);
    } catch (error) {
      pictures.close();
      throw error;
    }
  }

  /** Has rows at hand, from one up to, but without, another. */
  load(from: number, to: number): void {
    this.from = from;
    this.windows.draw(from, to);
  }

  /** Lays the inks of a row that is at hand. @returns whether there is any in it; else nothing is laid */
  lay(kernels: InkKernels, y: number): boolean {
    const line = this.windows.row(y - this.from);
    const hasPicture = this.pictures.lay(kernels, y);
    if (this.bare.equals(line)) return hasPicture;
    kernels.pixels.set(line);
    kernels.convert(hasPicture);
    return true;
  }

  close(): void {
    this.windows.close();
    this.pictures.close();
  }
}
