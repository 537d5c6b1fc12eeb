import { PDFDocument, degrees, rgb } from '@cantoo/pdf-lib';
import sharp from 'sharp';

const PT = 72 / 25.4;

export interface PageSpec {
  readonly widthMm: number;
  readonly heightMm: number;
  /** Media around the trim (mm). */
  readonly around?: number;
  readonly rotate?: 0 | 90 | 180 | 270;
}

/** A real PDF: each page with its TrimBox inside a larger media, and a /Rotate where asked. Sizes are as shown. */
export async function pdfFile(pages: readonly PageSpec[]): Promise<Buffer> {
  const out = await PDFDocument.create();
  pages.forEach(({ widthMm, heightMm, around = 0, rotate = 0 }, i) => {
    const lying = rotate === 90 || rotate === 270;
    const w = (lying ? heightMm : widthMm) * PT;
    const h = (lying ? widthMm : heightMm) * PT;
    const pad = around * PT;
    const page = out.addPage([w + 2 * pad, h + 2 * pad]);
    page.setTrimBox(pad, pad, w, h);
    page.setRotation(degrees(rotate));
    page.drawRectangle({ x: pad, y: pad, width: w, height: h, color: rgb(0.9, 0.85, 0.6) });
    page.drawCircle({
      x: pad + w / 2,
      y: pad + h / 2,
      size: Math.min(w, h) / 3,
      color: rgb(0.1 + 0.2 * (i % 4), 0.4, 0.5),
    });
  });
  return Buffer.from(await out.save());
}

export async function pngFile(widthPx: number, heightPx: number, dpi: number): Promise<Buffer> {
  const hole = await sharp({
    create: { width: Math.ceil(widthPx / 2), height: Math.ceil(heightPx / 2), channels: 4, background: '#0e6a6b' },
  })
    .png()
    .toBuffer();
  return sharp({ create: { width: widthPx, height: heightPx, channels: 4, background: '#00000000' } })
    .composite([{ input: hole }])
    .withMetadata({ density: dpi })
    .png()
    .toBuffer();
}

export async function jpegFile(widthPx: number, heightPx: number, dpi: number): Promise<Buffer> {
  return sharp({ create: { width: widthPx, height: heightPx, channels: 3, background: '#c98b5e' } })
    .withMetadata({ density: dpi })
    .jpeg()
    .toBuffer();
}

/** A picture of a right-angled triangle on nothing: its right angle at the upper left, with 10 mm of nothing around it. */
export async function trianglePng(widthMm: number, heightMm: number): Promise<Buffer> {
  const [w, h] = [widthMm + 20, heightMm + 20];
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${w * 10}" height="${h * 10}" viewBox="0 0 ${w} ${h}"><path d="M10 10h${widthMm}L10 ${10 + heightMm}z" fill="#b3261e"/></svg>`;
  return sharp(Buffer.from(svg)).withMetadata({ density: 254 }).png().toBuffer();
}
