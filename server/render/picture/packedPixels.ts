import { createReadStream } from 'node:fs';
import { mkdir, open, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createDeflate } from 'node:zlib';
import type { OutputInfo, Sharp } from 'sharp';
import type { LayBudget } from '../out/layBudget.ts';

export interface PackedPixels {
  /** Deflated samples, 8 bits each, rows from the top. */
  readonly data: Buffer;
  readonly width: number;
  readonly height: number;
}

/** Where the samples of a TIFF that is written in one go begin: behind its head. */
const HEAD_BYTES = 16;

/**
 * Decodes a picture and packs it without ever holding it whole: the image library writes it strip by strip to a file, from
 * which it is packed. A banner of 2 billion pixels would take 8 GB otherwise.
 * @param image in its final colours, without alpha unless that is what is wanted
 * @param wanted channels that are kept; spot channels and alpha behind them are left out
 * @param temporaryDir where the file lies meanwhile
 * @param budget what the whole PDF may hold
 * @param change what becomes of whole pixels, as they come
 */
export async function packPixels(
  image: Sharp,
  wanted: number,
  temporaryDir: string,
  budget: LayBudget,
  change?: (pixels: Buffer) => Uint8Array,
): Promise<PackedPixels> {
  return streamPixels(image, temporaryDir, async (samples, { width, height, channels }) => {
    const kept = wholePixels(samples, channels, (pixels) => {
      const own = keepChannels(pixels, channels, wanted);
      return change ? change(own) : own;
    });
    return { data: await packSamples(kept, budget), width, height };
  });
}

/**
 * Decodes a picture without ever holding it whole, and hands its samples on as they come from a file.
 * @param use reads them; parts may end within a pixel (see {@link wholePixels})
 */
export async function streamPixels<T>(
  image: Sharp,
  temporaryDir: string,
  use: (samples: Readable, size: Pick<OutputInfo, 'width' | 'height' | 'channels'>) => Promise<T>,
): Promise<T> {
  await mkdir(temporaryDir, { recursive: true });
  const path = join(temporaryDir, `pixels-${crypto.randomUUID()}.part`);
  try {
    const info = await image.tiff({ compression: 'none', bigtiff: true }).toFile(path);
    await mustBeginAtHead(path);
    const bytes = info.width * info.height * info.channels;
    const samples = createReadStream(path, { start: HEAD_BYTES, end: HEAD_BYTES + bytes - 1, highWaterMark: 1 << 20 });
    return await use(samples, info);
  } finally {
    await rm(path, { force: true });
  }
}

/** The list of what a TIFF holds stands behind the samples where they were written first. */
async function mustBeginAtHead(path: string): Promise<void> {
  const file = await open(path, 'r');
  try {
    const head = Buffer.alloc(HEAD_BYTES);
    await file.read(head, 0, HEAD_BYTES, 0);
    const listAt = Number(head.readBigUInt64LE(8));
    if (listAt <= HEAD_BYTES) throw new Error('the picture was not written in one go');
  } finally {
    await file.close();
  }
}

/** Samples as they come, whole pixels at a time: a part may end within one, and what is left of it goes before the next. */
export async function* wholePixels(
  samples: AsyncIterable<Uint8Array>,
  channels: number,
  change: (pixels: Buffer) => Uint8Array,
): AsyncGenerator<Uint8Array> {
  let rest: Buffer = Buffer.alloc(0);
  for await (const part of samples) {
    const own = Buffer.from(part.buffer, part.byteOffset, part.length);
    const whole = rest.length > 0 ? Buffer.concat([rest, own]) : own;
    const length = whole.length - (whole.length % channels);
    rest = whole.subarray(length);
    yield change(whole.subarray(0, length));
  }
}

/** Packs samples as they come, so that a picture of a gigabyte is never held whole. */
export async function packSamples(
  samples: AsyncIterable<Uint8Array> | Iterable<Uint8Array>,
  budget: LayBudget,
): Promise<Buffer> {
  const chunks: Buffer[] = [];
  await pipeline(samples, createDeflate({ level: 3 }), async (parts: AsyncIterable<Buffer>) => {
    for await (const part of parts) {
      budget.take(part.length);
      chunks.push(part);
    }
  });
  return Buffer.concat(chunks);
}

/** Spot channels and alpha behind the colours are left out. */
export function keepChannels(data: Buffer, channels: number, wanted: number): Buffer {
  if (channels === wanted) return data;
  const pixels = Math.floor(data.length / channels);
  const kept = Buffer.alloc(pixels * wanted);
  for (let i = 0; i < pixels; i++) {
    for (let c = 0; c < wanted; c++) kept[i * wanted + c] = data[i * channels + Math.min(c, channels - 1)] ?? 0;
  }
  return kept;
}
