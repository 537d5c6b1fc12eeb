import { PDFArray, PDFDocument, PDFName, PDFNumber, StandardFonts, cmyk, degrees, rgb } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import type { FileFormat } from '../../../core/ticket/fileFormat.ts';

/*
 * Files for tests, each made here from code: one for every rule of every format, and hand-made edge cases.
 */

const MM = 72 / 25.4;

export interface TiffPlan {
  readonly width: number;
  readonly height: number;
  readonly photometric: number;
  /** Samples of one pixel, or of each by its place. */
  readonly pixel: readonly number[] | ((x: number, y: number) => readonly number[]);
  readonly bits?: 8 | 16 | 32;
  readonly floating?: boolean;
  /** One strip for each sample, not pixel by pixel. */
  readonly planar?: boolean;
  readonly orientation?: number;
  /** 1 CMYK, 2 some inks. */
  readonly inkSet?: number;
  /** Only claimed: the data are not packed. */
  readonly compression?: number;
  readonly downPerUnit?: number;
  readonly extraSamples?: readonly number[];
  readonly inkNames?: readonly string[];
  readonly perUnit?: number;
  /** 1 none, 2 inch, 3 cm. */
  readonly unit?: number;
  readonly big?: boolean;
  /** A reduced copy of another picture. */
  readonly reduced?: boolean;
}

type Tag = readonly [tag: number, type: 2 | 3 | 4 | 5, values: readonly number[] | Buffer];

/** A TIFF of one colour, uncompressed, little- or big-endian, as one strip a picture. */
export function tiffOf(plans: readonly TiffPlan[], options: { readonly bigEndian?: boolean } = {}): Buffer {
  const be = options.bigEndian === true;
  const u16 = (v: number): Buffer => {
    const b = Buffer.alloc(2);
    if (be) b.writeUInt16BE(v);
    else b.writeUInt16LE(v);
    return b;
  };
  const u32 = (v: number): Buffer => {
    const b = Buffer.alloc(4);
    if (be) b.writeUInt32BE(v);
    else b.writeUInt32LE(v);
    return b;
  };
  const parts: Buffer[] = [Buffer.from(be ? 'MM' : 'II'), u16(42)];
  let at = 8;
  const blocks: Buffer[] = [];
  const place = (block: Buffer): number => {
    const where = at;
    const padded = block.length % 2 === 0 ? block : Buffer.concat([block, Buffer.alloc(1)]);
    blocks.push(padded);
    at += padded.length;
    return where;
  };
  const directories: { where: number; body: (next: number) => Buffer; length: number }[] = [];
  for (const plan of plans) {
    const { width, height, photometric, bits = 8 } = plan;
    const { pixel } = plan;
    const pixelAt = typeof pixel === 'function' ? pixel : () => pixel;
    const samples = pixelAt(0, 0).length;
    const sample = (v: number): Buffer => {
      if (plan.floating === true) {
        const b = Buffer.alloc(4);
        if (be) b.writeFloatBE(v);
        else b.writeFloatLE(v);
        return b;
      }
      return bits === 32 ? u32(v) : bits === 16 ? u16(v) : Buffer.from([v]);
    };
    /** All pixels, of some of their samples. */
    const strip = (which: (of: readonly number[]) => readonly number[]): Buffer => {
      const first = Buffer.concat(which(pixelAt(0, 0)).map(sample));
      const data = Buffer.alloc(first.length * width * height);
      for (let i = 0; i < width * height; i++) {
        const own =
          typeof pixel === 'function' ? which(pixelAt(i % width, Math.floor(i / width))).map(sample) : [first];
        Buffer.concat(own).copy(data, i * first.length);
      }
      return data;
    };
    const strips =
      plan.planar === true
        ? Array.from({ length: samples }, (_, k) => strip((of) => of.slice(k, k + 1)))
        : [strip((of) => of)];
    const offsets = strips.map(place);
    const perUnit = plan.perUnit ?? 300;
    const tags: Tag[] = [
      [254, 4, [plan.reduced === true ? 1 : 0]],
      [256, 4, [width]],
      [257, 4, [height]],
      [258, 3, Array.from({ length: samples }, () => bits)],
      [259, 3, [plan.compression ?? 1]],
      [262, 3, [photometric]],
      [273, 4, offsets],
      [274, 3, [plan.orientation ?? 1]],
      [277, 3, [samples]],
      [278, 4, [height]],
      [279, 4, strips.map((strip) => strip.length)],
      [282, 5, [Math.round(perUnit * 1000), 1000]],
      [283, 5, [Math.round((plan.downPerUnit ?? perUnit) * 1000), 1000]],
      [284, 3, [plan.planar === true ? 2 : 1]],
      [296, 3, [plan.unit ?? 2]],
      ...(plan.inkSet === undefined ? [] : ([[332, 3, [plan.inkSet]]] as Tag[])),
      ...(plan.inkNames ? ([[333, 2, Buffer.from(`${plan.inkNames.join('\0')}\0`)]] as Tag[]) : []),
      ...(plan.extraSamples ? ([[338, 3, plan.extraSamples]] as Tag[]) : []),
      ...(plan.floating === true ? ([[339, 3, Array.from({ length: samples }, () => 3)]] as Tag[]) : []),
    ];
    const entries = tags.map(([tag, type, values]) => {
      const bytes = Buffer.isBuffer(values) ? values : Buffer.concat(values.map((v) => (type === 3 ? u16(v) : u32(v))));
      const count = Buffer.isBuffer(values) ? values.length : type === 5 ? values.length / 2 : values.length;
      const inline = bytes.length <= 4 ? Buffer.concat([bytes, Buffer.alloc(4 - bytes.length)]) : u32(place(bytes));
      return Buffer.concat([u16(tag), u16(type), u32(count), inline]);
    });
    const body = (next: number): Buffer => Buffer.concat([u16(entries.length), ...entries, u32(next)]);
    const { length } = body(0);
    directories.push({ where: at, body, length });
    at += length + (length % 2);
    blocks.push(Buffer.alloc(length + (length % 2)));
  }
  const whole = Buffer.concat([...parts, u32(directories[0]?.where ?? 0), ...blocks]);
  directories.forEach(({ where, body }, i) => body(directories[i + 1]?.where ?? 0).copy(whole, where));
  return whole;
}

/** CMYK with a spot channel and its name, at 8 or 16 bits. */
export const spotTiff = (bits: 8 | 16 = 8): Buffer =>
  tiffOf([
    {
      width: 120,
      height: 60,
      photometric: 5,
      bits,
      pixel: [0.5, 0, 0.25, 0, 1].map((share) => Math.round(share * (bits === 8 ? 255 : 65_535))),
      extraSamples: [0],
      inkNames: ['Cyan', 'Magenta', 'Yellow', 'Black', 'Lantern Gold'],
    },
  ]);

/** What the encoder of the image library can make. */
export function encodedTiff(options: Parameters<ReturnType<typeof sharp>['tiff']>[0]): Promise<Buffer> {
  return sharp({ create: { width: 300, height: 200, channels: 3, background: '#c84' } })
    .withMetadata({ density: 254 })
    .tiff(options)
    .toBuffer();
}

export function cmykJpeg(): Promise<Buffer> {
  const inks = tiffOf([{ width: 200, height: 100, photometric: 5, pixel: [200, 0, 120, 0], perUnit: 100 }]);
  return sharp(inks).pipelineColourspace('cmyk').toColourspace('cmyk').jpeg().toBuffer();
}

/** An A4 page and what is put on it. */
export async function pdfWith(draw: (document: PDFDocument) => Promise<void> | void, pages = 1): Promise<Buffer> {
  const document = await PDFDocument.create();
  for (let i = 0; i < pages; i++) {
    const page = document.addPage([210 * MM, 297 * MM]);
    page.drawRectangle({ x: 20, y: 20, width: 300, height: 200, color: rgb(0.2, 0.4, 0.7) });
  }
  await draw(document);
  return Buffer.from(await document.save({ useObjectStreams: false }));
}

export const boxedPdf = (): Promise<Buffer> =>
  pdfWith((document) => {
    const page = document.getPage(0);
    page.setTrimBox(10 * MM, 10 * MM, 100 * MM, 50 * MM);
    page.setBleedBox(7 * MM, 7 * MM, 106 * MM, 56 * MM);
    page.setRotation(degrees(90));
    page.node.set(PDFName.of('UserUnit'), PDFNumber.of(2));
  });

/** A spot colour, a hairline, a font that is not embedded, a coarse picture, and CMYK beside RGB. */
export const faultyPdf = (): Promise<Buffer> =>
  pdfWith(async (document) => {
    const page = document.getPage(0);
    const font = await document.embedFont(StandardFonts.Helvetica);
    page.drawText('Lantern Week', { x: 40, y: 400, size: 24, font });
    page.drawLine({ start: { x: 20, y: 300 }, end: { x: 300, y: 300 }, thickness: 0.1, color: cmyk(1, 0, 0, 0) });
    const picture = await sharp({ create: { width: 60, height: 40, channels: 3, background: '#fa0' } })
      .jpeg()
      .toBuffer();
    page.drawImage(await document.embedJpg(picture), { x: 40, y: 450, width: 60 * MM, height: 40 * MM });
    const { context } = document;
    const tint = context.register(
      context.obj({ FunctionType: 2, Domain: [0, 1], C0: [0, 0, 0, 0], C1: [0, 0.3, 1, 0], N: 1 }),
    );
    const space = PDFArray.withContext(context);
    for (const item of [PDFName.of('Separation'), PDFName.of('Lantern Gold'), PDFName.of('DeviceCMYK'), tint])
      space.push(item);
    const resources = page.node.Resources();
    resources?.set(PDFName.of('ColorSpace'), context.obj({ Spot: context.register(space) }));
    const content = context.register(context.flateStream('q /Spot cs 0.8 scn 400 600 100 100 re f Q'));
    page.node.addContentStream(content);
  });

export const svgOf = (inside: string, head = 'width="120mm" height="80mm" viewBox="0 0 120 80"'): Buffer =>
  Buffer.from(
    `<?xml version="1.0"?>\n<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" ${head}>${inside}</svg>\n`,
  );

/** Sound files of every format, to be broken. */
export async function plainCorpus(): Promise<Record<FileFormat, Buffer[]>> {
  const plain = { width: 300, height: 150, photometric: 2, pixel: [200, 100, 50] };
  const png = (channels: 3 | 4) =>
    sharp({ create: { width: 200, height: 100, channels, background: '#c84' } })
      .withMetadata({ density: 150 })
      .png()
      .toBuffer();
  return {
    pdf: [await boxedPdf(), await faultyPdf(), await pdfWith(() => undefined, 5)],
    png: [await png(3), await png(4)],
    jpeg: [
      await cmykJpeg(),
      await sharp({ create: { width: 200, height: 100, channels: 3, background: '#c84' } })
        .jpeg({ progressive: true })
        .toBuffer(),
    ],
    tiff: [
      spotTiff(),
      tiffOf([plain, { ...plain, height: 40 }]),
      await encodedTiff({ compression: 'lzw', tile: true, tileWidth: 64, tileHeight: 64 }),
      await encodedTiff({ compression: 'deflate' }),
    ],
    svg: [
      svgOf('<rect width="50" height="40" fill="#c33"/><g transform="rotate(20)"><circle cx="40" cy="40" r="20"/></g>'),
      svgOf(
        '<defs><linearGradient id="a"><stop offset="0"/><stop offset="1" stop-color="#fff"/></linearGradient></defs><path d="M0 0L50 50L10 70Z" fill="url(#a)"/><text x="5" y="20">Tide</text>',
      ),
    ],
  };
}
