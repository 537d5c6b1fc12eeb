import { readFileSync } from 'node:fs';
import { PDFiumLibrary } from '@hyzyla/pdfium';
import sharp from 'sharp';

/** The first page of a PDF as a PNG of this size (px), on white, drawn by a reader that had no part in writing it. */
export async function pdfPicture(file: string, width: number, height: number): Promise<Buffer> {
  const library = await PDFiumLibrary.init();
  const document = await library.loadDocument(readFileSync(file));
  try {
    const drawn = await document.getPage(0).render({ width, height, render: 'bitmap' });
    return await sharp(Buffer.from(drawn.data), { raw: { width: drawn.width, height: drawn.height, channels: 4 } })
      .flatten({ background: '#fff' })
      .png()
      .toBuffer();
  } finally {
    document.destroy();
    library.destroy();
  }
}

/** Share of the samples in which two pictures of one size differ by more than the softness of edges. */
export async function pictureDifference(a: Buffer, b: Buffer): Promise<number> {
  const raw = async (picture: Buffer) => sharp(picture).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const [one, two] = [await raw(a), await raw(b)];
  expect([two.info.width, two.info.height]).toEqual([one.info.width, one.info.height]);
  let off = 0;
  for (let i = 0; i < one.data.length; i++) if (Math.abs((one.data[i] ?? 0) - (two.data[i] ?? 0)) > 90) off += 1;
  return off / one.data.length;
}
