import sharp from 'sharp';
import { writeWhole } from '../../files/atomic.ts';
import { PageWindows } from '../channels/pageWindows.ts';

export interface WidePictureOrder {
  /** A laid-out page in the wide RGB. */
  readonly from: string;
  readonly widthPx: number;
  readonly heightPx: number;
  /** Where the picture is put. */
  readonly to: string;
}

/** Draws a page whose colours are in the wide RGB, as they are: the picture is for the tables, not for eyes. */
export async function widePicture({ from, widthPx, heightPx, to }: WidePictureOrder): Promise<null> {
  const windows = await PageWindows.open(from, widthPx, heightPx);
  try {
    const pixels = windows.drawSmaller(1, { left: 0, top: 0, columns: widthPx, rows: heightPx });
    const bytes = await sharp(pixels, { raw: { width: widthPx, height: heightPx, channels: 4 } })
      .webp({ lossless: true, effort: 0 })
      .toBuffer();
    // Not flushed: it can always be made again.
    await writeWhole(to, bytes, { flush: false });
    return null;
  } finally {
    windows.close();
  }
}
