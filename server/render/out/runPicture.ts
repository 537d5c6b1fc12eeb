import { readFile } from 'node:fs/promises';
import { PDFiumLibrary } from '@hyzyla/pdfium';
import sharp from 'sharp';

export interface RunPictureInput {
  readonly laidOut: string;
  readonly widthPx: number;
  readonly heightPx: number;
  readonly dpi: number;
}

let library: ReturnType<typeof PDFiumLibrary.init> | undefined;

/** A laid-out run as PNG, at the size that its density says. */
export async function runPicture({ laidOut, widthPx, heightPx, dpi }: RunPictureInput): Promise<Uint8Array> {
  library ??= PDFiumLibrary.init();
  const document = await (await library).loadDocument(await readFile(laidOut));
  try {
    const drawn = await document.getPage(0).render({ width: widthPx, height: heightPx, render: 'bitmap' });
    const { width, height } = drawn;
    return await sharp(drawn.data, { raw: { width, height, channels: 4 }, limitInputPixels: false })
      .flatten({ background: '#fff' })
      .withMetadata({ density: dpi })
      .png({ compressionLevel: 6 })
      .toBuffer();
  } finally {
    document.destroy();
  }
}
