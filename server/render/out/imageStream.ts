import { deflateSync } from 'node:zlib';
import { type PDFDocument, PDFRawStream } from '@cantoo/pdf-lib';
import type { PackedPixels } from '../picture/packedPixels.ts';

/** A picture of a PDF, packed here. @param pixels samples of 8 bits, rows from the top */
export function imageStream(
  out: PDFDocument,
  pixels: Uint8Array,
  size: { readonly width: number; readonly height: number },
  colourSpace: string,
): PDFRawStream {
  return packedStream(out, { ...size, data: deflateSync(pixels, { level: 3 }) }, colourSpace);
}

/** A picture of a PDF whose samples are packed already. */
export function packedStream(
  out: PDFDocument,
  { data, width, height }: PackedPixels,
  colourSpace: string,
): PDFRawStream {
  const dict = out.context.obj({
    Type: 'XObject',
    Subtype: 'Image',
    Width: width,
    Height: height,
    ColorSpace: colourSpace,
    BitsPerComponent: 8,
    Filter: 'FlateDecode',
  });
  return PDFRawStream.of(dict, data);
}
