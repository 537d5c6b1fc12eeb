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

/** A laid-out run as PNG, at the size that its density says; its sheets one below the other. */
export async function runPicture({ laidOut, widthPx, heightPx, dpi }: RunPictureInput): Promise<Uint8Array> {
  library ??= PDFiumLibrary.init();
  const document = await (await library).loadDocument(await readFile(laidOut));
  try {
    const pages = document.getPageCount();
    const parts: Uint8Array[] = [];
    for (let i = 0; i < pages; i++) {
      // Rounded at the edges of the sheets, so that the rows of all of them are those of the whole.
      const [from, to] = [Math.round((i / pages) * heightPx), Math.round(((i + 1) / pages) * heightPx)];
      const drawn = await document.getPage(i).render({ width: widthPx, height: to - from, render: 'bitmap' });
      if (drawn.width !== widthPx || drawn.height !== to - from) throw new Error('a page was drawn in another size');
      parts.push(drawn.data);
    }
    const pixels = parts.length === 1 ? (parts[0] ?? new Uint8Array()) : Buffer.concat(parts);
    const raw = { width: widthPx, height: heightPx, channels: 4 } as const;
    return await sharp(pixels, { raw, limitInputPixels: false })
      .flatten({ background: '#fff' })
      .withMetadata({ density: dpi })
      .png({ compressionLevel: 6 })
      .toBuffer();
  } finally {
    document.destroy();
  }
}
