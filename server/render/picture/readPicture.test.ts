import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { seededRandom } from '../../../core/random.ts';
import { type TiffPlan, pdfWith, tiffOf } from '../../testing/pictures/corpus.ts';
import { pictureDifference } from '../../testing/pictures/pdfPicture.ts';
import { seenAndPrinted } from '../../testing/pictures/seenAndPrinted.ts';
import { type Completeness, inspectFile } from '../completeness.ts';

const near = (colour: readonly number[]) => colour.map((value) => expect.closeTo(value, -1) as number);
const colours = { width: 120, height: 60, photometric: 2, pixel: [200, 100, 50] } satisfies TiffPlan;

/** What a look at the structure of a file says. */
async function lookAt(bytes: Buffer): Promise<Completeness> {
  const dir = mkdtempSync(join(tmpdir(), 'yellow-spool-test-'));
  try {
    writeFileSync(join(dir, 'file'), bytes);
    return await inspectFile(join(dir, 'file'));
  } finally {
    rmSync(dir, { recursive: true });
  }
}

/** The left half has one pixel, the right half another: stripes, turns and swapped channels all show. */
const halves =
  (left: readonly number[], right: readonly number[]): TiffPlan['pixel'] =>
  (x) =>
    x < 60 ? left : right;

async function bothAlike(file: Uint8Array): Promise<Awaited<ReturnType<typeof seenAndPrinted>>> {
  const result = await seenAndPrinted(file);
  expect(await pictureDifference(result.seen, result.printed)).toBeLessThan(0.01);
  return result;
}

describe('resolution', () => {
  const made = { create: { width: 400, height: 200, channels: 3 as const, background: '#0af' } };

  /** A PNG with its resolution in dots per metre, or none. */
  async function png(perMetre?: readonly [number, number], unit = 1): Promise<Buffer> {
    const plain = await sharp(made).png().toBuffer();
    const at = plain.indexOf('pHYs') - 4;
    const rest = Buffer.concat([plain.subarray(0, at), plain.subarray(at + 21)]);
    if (!perMetre) return rest;
    const body = Buffer.alloc(9);
    body.writeUInt32BE(perMetre[0], 0);
    body.writeUInt32BE(perMetre[1], 4);
    body[8] = unit;
    return Buffer.concat([rest.subarray(0, at), chunkOf('pHYs', body), rest.subarray(at)]);
  }

  /** A JPEG with a JFIF segment as it is given. */
  async function jpeg(unit: number, x: number, y: number): Promise<Buffer> {
    const plain = await sharp(made).jpeg().toBuffer();
    const segment = Buffer.from([0xff, 0xe0, 0, 16, 0x4a, 0x46, 0x49, 0x46, 0, 1, 2, unit, 0, 0, 0, 0, 0, 0]);
    segment.writeUInt16BE(x, 12);
    segment.writeUInt16BE(y, 14);
    return Buffer.concat([plain.subarray(0, 2), segment, plain.subarray(2)]);
  }

  const sizeOf = async (file: Buffer) => {
    const { pages, nature } = (await seenAndPrinted(file)).facts;
    return [pages[0]?.widthMm, pages[0]?.heightMm, nature.assumedDpi];
  };

  test.each([
    ['a PNG in whole dots per metre, unrounded', () => png([3805, 3805]), [105.1248, 52.5624, null]],
    [
      'a PNG of 300 dpi, which it can only write as 11,811 dots per metre',
      () => png([11_811, 11_811]),
      [33.8667, 16.9333, null],
    ],
    ['a PNG whose dots are not square', () => png([4000, 2000]), [100, 100, null]],
    ['a coarse PNG', () => png([787, 787]), [508, 254, null]],
    ['a PNG that tells the shape of its dots only', () => png([2, 1], 0), [67.7333, 33.8667, 150]],
    ['a PNG that says nothing', () => png(), [67.7333, 33.8667, 150]],
    ['a JPEG per inch, wider dots than high', () => jpeg(1, 200, 100), [50.8, 50.8, null]],
    ['a JPEG per centimetre', () => jpeg(2, 40, 40), [100, 50, null]],
    ['a JPEG that tells the shape of its dots only', () => jpeg(0, 300, 300), [67.7333, 33.8667, 150]],
    ['a JPEG that says nothing', () => sharp(made).jpeg().toBuffer(), [67.7333, 33.8667, 150]],
    [
      'a JPEG by its EXIF, in a fraction',
      () => sharp(made).withMetadata({ density: 105.12 }).jpeg().toBuffer(),
      [96.6524, 48.3262, null],
    ],
    [
      'a TIFF whose dots are not square',
      () => Promise.resolve(tiffOf([{ ...colours, perUnit: 300, downPerUnit: 150 }])),
      [10.16, 10.16, null],
    ],
  ])('%s', async (_name, file, expected) => {
    expect(await sizeOf(await file())).toEqual(
      expected.map((n) => (n === null ? null : (expect.closeTo(n, 3) as number))),
    );
  });

  test('a PNG that states its gamma and no profile has the tones that it states', async () => {
    /** Grey of 128 with a gamma of this many hundred-thousandths, and an sRGB chunk where it is wanted. */
    const grey = async (gamma: number | undefined, alpha = false, srgb = false): Promise<Buffer> => {
      const create = { width: 40, height: 20, channels: alpha ? (4 as const) : (3 as const), background: '#808080' };
      const plain = await sharp({ create }).png().toBuffer();
      const at = plain.indexOf('IHDR') + 4 + 13 + 4;
      const figure = Buffer.alloc(4);
      figure.writeUInt32BE(gamma ?? 0);
      const chunks = [
        ...(gamma === undefined ? [] : [chunkOf('gAMA', figure)]),
        ...(srgb ? [chunkOf('sRGB', Buffer.from([0]))] : []),
      ];
      return Buffer.concat([plain.subarray(0, at), ...chunks, plain.subarray(at)]);
    };
    const tone = async (file: Buffer) => {
      const { seen, printed } = await (await bothAlike(file)).at(0.5, 0.5);
      expect(printed).toEqual(near(seen));
      return seen[0];
    };
    // Half of the light, which looks like 188; the usual gamma, and one that is said to be sRGB besides, stay as they are.
    expect(await tone(await grey(100_000))).toBeCloseTo(188, -1);
    expect(await tone(await grey(100_000, true))).toBeCloseTo(188, -1);
    for (const file of [await grey(undefined), await grey(45_455), await grey(100_000, false, true)]) {
      expect(await tone(file)).toBeCloseTo(128, -0.5);
    }
  });

  test('turned by EXIF, each side keeps its own resolution', async () => {
    const file = tiffOf([{ ...colours, perUnit: 300, downPerUnit: 150, orientation: 6 }]);
    expect(await sizeOf(file)).toEqual([expect.closeTo(10.16, 3), expect.closeTo(10.16, 3), null]);
  });
});

describe('TIFF samples', () => {
  test.each([
    [
      'grey with alpha, pixel by pixel',
      { photometric: 1, extraSamples: [2], pixel: halves([40, 255], [220, 255]) },
      [40, 40, 40],
      [220, 220, 220],
    ],
    [
      'RGB, sample by sample',
      { planar: true, pixel: halves([200, 100, 50], [0, 0, 250]) },
      [200, 100, 50],
      [0, 0, 250],
    ],
    ['white is zero, 16 bits', { photometric: 0, bits: 16, pixel: halves([0], [65_535]) }, [255, 255, 255], [0, 0, 0]],
    [
      'a spot that is empty, turned by its orientation',
      { photometric: 5, extraSamples: [0], orientation: 3, pixel: halves([0, 0, 0, 255, 0], [0, 0, 0, 0, 0]) },
      [255, 255, 255],
      [0, 0, 0],
    ],
    [
      'inks that are not called CMYK',
      { photometric: 5, inkSet: 2, extraSamples: [0], pixel: halves([0, 0, 0, 255, 9], [0, 0, 0, 0, 9]) },
      [0, 0, 0],
      [255, 255, 255],
    ],
  ] as const)('%s: seen and printed alike, left and right', async (_name, plan, left, right) => {
    const { at } = await bothAlike(tiffOf([{ ...colours, ...(plan as Partial<TiffPlan>) }]));
    for (const [x, colour] of [
      [0.25, left],
      [0.75, right],
    ] as const) {
      const { seen, printed } = await at(x, 0.5);
      expect(seen).toEqual(near(colour));
      // Poppler has another black than the screen's.
      if (Math.max(...colour) - Math.min(...colour) === 0 && colour[0] === 0)
        expect(Math.max(...printed)).toBeLessThan(60);
      else expect(printed).toEqual(near(colour));
    }
  });

  test('a quarter turn turns the picture of one with spots, not only its size', async () => {
    const plan: TiffPlan = {
      ...colours,
      photometric: 5,
      extraSamples: [0],
      orientation: 6,
      pixel: halves([0, 0, 0, 255, 0], [0, 0, 0, 0, 0]),
    };
    const { facts, at } = await bothAlike(tiffOf([plan]));
    expect(facts.pages[0]).toMatchObject({ widthMm: 5.08, heightMm: 10.16 });
    // What is on the left in the file is above when it is turned clockwise.
    expect((await at(0.5, 0.25)).seen).toEqual(near([0, 0, 0]));
    expect((await at(0.5, 0.75)).seen).toEqual(near([255, 255, 255]));
  });

  test('one ink alone is turned like the whole', async () => {
    const plan: TiffPlan = { ...colours, photometric: 5, orientation: 6, pixel: halves([255, 0, 0, 0], [0, 0, 0, 0]) };
    const { at } = await seenAndPrinted(tiffOf([plan]), 0, 'cyan');
    expect(Math.max(...(await at(0.5, 0.25)).printed)).toBeLessThan(60);
    expect((await at(0.5, 0.75)).printed).toEqual(near([255, 255, 255]));
  });

  test.each([
    [
      'grey with alpha, sample by sample',
      { photometric: 1, extraSamples: [2], planar: true, pixel: [40, 255] },
      'Save it with interleaved channels.',
    ],
    ['32 whole bits', { photometric: 1, bits: 32, pixel: [0xc8000000] }, 'The TIFF has 32 bits a channel'],
    ['floating grey', { photometric: 1, bits: 32, floating: true, pixel: [0.8] }, 'The TIFF has 32 bits a channel'],
    ['RGB of 32 whole bits', { bits: 32, pixel: [1, 2, 3] }, 'Save it with 8 or 16 bits a channel.'],
    ['packed with Zstandard', { compression: 50_000 }, 'The TIFF is packed with Zstandard, which is not supported.'],
    ['packed with LZMA', { compression: 34_925 }, 'Save it with LZW, ZIP or JPEG.'],
  ] as const)('%s: not supported, and what to do', async (_name, plan, text) => {
    await expect(seenAndPrinted(tiffOf([{ ...colours, ...(plan as Partial<TiffPlan>) }]))).rejects.toThrow(text);
  });

  test('floating light of three channels is read', async () => {
    const { at } = await bothAlike(tiffOf([{ ...colours, bits: 32, floating: true, pixel: [1, 0.214, 0] }]));
    expect((await at(0.5, 0.5)).seen).toEqual(near([255, 127, 0]));
  });
});

describe('endings', () => {
  test('a JPEG may carry something behind its end, also another JPEG; without its end it is cut short', async () => {
    const noise = {
      create: {
        width: 300,
        height: 200,
        channels: 3 as const,
        background: '#fff',
        noise: { type: 'gaussian' as const, mean: 128, sigma: 40 },
      },
    };
    for (const progressive of [false, true]) {
      const jpeg = await sharp(noise).jpeg({ progressive }).toBuffer();
      const small = await sharp(noise).resize(30).jpeg().toBuffer();
      expect(await lookAt(jpeg)).toMatchObject({ kind: 'whole' });
      expect(
        await lookAt(Buffer.concat([jpeg, Buffer.from('trailer of a camera'), small.subarray(0, 400)])),
      ).toMatchObject({ kind: 'whole' });
      expect((await seenAndPrinted(Buffer.concat([jpeg, Buffer.alloc(9000, 7)]))).facts.format).toBe('jpeg');
      expect(await lookAt(jpeg.subarray(0, jpeg.length - 200))).toMatchObject({ kind: 'incomplete' });
      // The end of a preview within the head of a file is not its end.
      const preview = Buffer.concat([
        Buffer.from([0xff, 0xe1, (small.length + 2) >> 8, (small.length + 2) & 255]),
        small,
      ]);
      const withPreview = Buffer.concat([jpeg.subarray(0, 2), preview, jpeg.subarray(2)]);
      expect(await lookAt(withPreview)).toMatchObject({ kind: 'whole' });
      for (let length = 2; length < withPreview.length - 1; length += 211) {
        expect(await lookAt(withPreview.subarray(0, length))).not.toMatchObject({ kind: 'whole' });
      }
    }
  });

  test('a PDF with a long tail is doubted, not refused: it may be one that is written on', async () => {
    const pdf = await pdfWith(() => undefined);
    const tail = (length: number) => Buffer.concat([pdf, Buffer.alloc(length, 'x')]);
    expect(await lookAt(tail(8_000))).toEqual({ kind: 'whole', format: 'pdf' });
    expect(await lookAt(tail(300_000))).toEqual({ kind: 'doubtful', format: 'pdf' });
    expect((await seenAndPrinted(tail(300_000))).facts.pages).toHaveLength(1);
  });

  test.each([
    ['RIFF\0\0\0\0WEBPVP8 ', 'a WebP picture', 'PNG or TIFF'],
    ['\0\0\0 ftypheic', 'a HEIC picture', 'JPEG or TIFF'],
    ['8BPS\0\x01', 'a layered picture document', 'flat TIFF or PDF'],
    ['%!PS-Adobe-3.0 EPSF-3.0', 'an EPS file', 'Save it as PDF'],
    ['PK\x03\x04....word/document.xml', 'an office document or an archive', 'PDF'],
    ['BM\0\0', 'a BMP picture', 'PNG'],
    ['nothing at all', 'no format that can be printed', 'PDF, PNG, JPEG, TIFF and SVG'],
  ])('%j is refused by its name, with what to export', async (head, name, advice) => {
    const text = await seenAndPrinted(Buffer.from(head.padEnd(64, ' '), 'latin1')).then(
      () => 'taken',
      (error: unknown) => String(error),
    );
    expect(text).toContain(name);
    expect(text).toContain(advice);
  });
});

describe('a TIFF whose length was laid out before its pixels', () => {
  /** The tags are there, and half of the pixels. */
  function halfFilled(file: Buffer, dataFrom: number, dataEnd: number): Buffer {
    const half = Buffer.from(file);
    half.fill(0, Math.floor((dataFrom + dataEnd) / 2), dataEnd);
    return half;
  }

  test('plain samples: it may be black down there, so it is waited for as long as for one that is cut short', async () => {
    const whole = tiffOf([colours]);
    expect(await lookAt(whole)).toEqual({ kind: 'whole', format: 'tiff' });
    expect(await lookAt(halfFilled(whole, 8, 8 + 120 * 60 * 3))).toEqual({ kind: 'doubtful', format: 'tiff' });
    expect(await lookAt(tiffOf([{ ...colours, pixel: [0, 0, 0] }]))).toEqual({ kind: 'doubtful', format: 'tiff' });
  });

  test('packed samples never end in so many zeros: it is not whole', async () => {
    const random = seededRandom(7);
    const noise = Buffer.from(Array.from({ length: 120 * 60 * 3 }, () => Math.floor(random() * 256)));
    const whole = await sharp(noise, { raw: { width: 120, height: 60, channels: 3 } })
      .tiff({ compression: 'deflate' })
      .toBuffer();
    expect(await lookAt(whole)).toEqual({ kind: 'whole', format: 'tiff' });
    const listAt = whole.readUInt32LE(4);
    const cut = Buffer.from(whole);
    // The data lie in front of the list of tags here.
    cut.fill(0, Math.floor(listAt / 2), listAt);
    expect(await lookAt(cut)).toMatchObject({ kind: 'incomplete', lacks: 'the last of its picture data' });
  });
});

/** A chunk of a PNG. */
function chunkOf(kind: string, body: Buffer): Buffer {
  const named = Buffer.concat([Buffer.from(kind, 'latin1'), body]);
  const chunk = Buffer.alloc(named.length + 8);
  chunk.writeUInt32BE(body.length, 0);
  named.copy(chunk, 4);
  chunk.writeUInt32BE(crc32(named), named.length + 4);
  return chunk;
}

/** The check sum of a PNG chunk. */
function crc32(bytes: Buffer): number {
  let crc = 0xffffffff;
  for (const byte of bytes) {
    crc ^= byte;
    for (let k = 0; k < 8; k++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
  }
  return (crc ^ 0xffffffff) >>> 0;
}
