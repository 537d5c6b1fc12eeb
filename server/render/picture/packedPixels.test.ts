import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { inflateSync } from 'node:zlib';
import sharp, { type Sharp } from 'sharp';
import { Unreadable } from '../facts.ts';
import { LayBudget } from '../out/layBudget.ts';
import { packPixels } from './packedPixels.ts';

let dir: string;
beforeEach(() => {
  dir = mkdtempSync(join(tmpdir(), 'yellow-spool-pack-'));
});
afterEach(() => {
  rmSync(dir, { recursive: true, force: true });
});

/** Each pixel another, so that a shift by one or a swap of channels shows. */
function noise(width: number, height: number, channels: 1 | 2 | 3 | 4): Buffer {
  return Buffer.from(Array.from({ length: width * height * channels }, (_, i) => (i * 73 + ((i * i) >> 5)) & 255));
}

const rough = new LayBudget(1e9);

test.each([
  [1, 1, 'b-w'],
  [3, 3, 'srgb'],
  [4, 4, 'srgb'],
  [4, 3, 'srgb'],
] as const)(
  '%i channels, of which %i are kept, are packed as the image library has them',
  async (channels, wanted, space) => {
    const [width, height] = [613, 377];
    const samples = noise(width, height, channels);
    const open = (): Sharp => sharp(samples, { raw: { width, height, channels } }).toColourspace(space);
    const packed = await packPixels(open(), wanted, dir, rough);
    const plain = await open().raw({ depth: 'uchar' }).toBuffer();
    const kept = Buffer.from(Array.from(plain).filter((_, i) => i % channels < wanted));
    expect([packed.width, packed.height]).toEqual([width, height]);
    expect(inflateSync(packed.data).equals(kept)).toBe(true);
    expect(readdirSync(dir)).toEqual([]);
  },
);

test('a CMYK picture stays CMYK, ink for ink', async () => {
  const file = join(dir, 'inks.tif');
  const [width, height] = [211, 99];
  await sharp(noise(width, height, 3), { raw: { width, height, channels: 3 } })
    .pipelineColourspace('cmyk')
    .toColourspace('cmyk')
    .tiff({ compression: 'lzw' })
    .toFile(file);
  const open = (): Sharp => sharp(file).pipelineColourspace('cmyk').toColourspace('cmyk');
  const plain = await open().raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
  expect(plain.info.channels).toBe(4);
  const packed = await packPixels(open(), 4, dir, rough);
  const apart = inflateSync(packed.data).map((value, i) => Math.abs(value - (plain.data[i] ?? 0)));
  expect([apart.length, Math.max(...apart)]).toEqual([plain.data.length, 0]);
});

test('a picture that is turned by its file is packed as it is seen', async () => {
  const file = join(dir, 'turned.jpg');
  await sharp(noise(120, 80, 3), { raw: { width: 120, height: 80, channels: 3 } })
    .withMetadata({ orientation: 6 })
    .jpeg({ quality: 100 })
    .toFile(file);
  const open = (): Sharp => sharp(file).autoOrient().toColourspace('srgb');
  const packed = await packPixels(open(), 3, dir, rough);
  expect([packed.width, packed.height]).toEqual([80, 120]);
  expect(inflateSync(packed.data).equals(await open().raw().toBuffer())).toBe(true);
});

test('what would be too much to hold is refused with the figures, and leaves nothing behind', async () => {
  const [width, height] = [900, 900];
  const picture = sharp(noise(width, height, 3), { raw: { width, height, channels: 3 } });
  const tight = packPixels(picture, 3, dir, new LayBudget(1000));
  await expect(tight).rejects.toThrow(Unreadable);
  await expect(tight).rejects.toThrow(/more than 0\.0 GB of memory together/);
  expect(existsSync(dir) && readdirSync(dir)).toEqual([]);
});

test('large pictures are never held whole: their file is written and read in parts', async () => {
  const [width, height] = [6000, 6000];
  const file = join(dir, 'large.png');
  await sharp({ create: { width, height, channels: 3, background: '#c84' } })
    .png()
    .toFile(file);
  const before = process.memoryUsage().arrayBuffers;
  let most = 0;
  const look = setInterval(() => (most = Math.max(most, process.memoryUsage().arrayBuffers)), 5);
  const packed = await packPixels(sharp(file), 3, dir, rough);
  clearInterval(look);
  // 108 MB of samples.
  expect(most - before).toBeLessThan(40e6);
  expect(packed.data.length).toBeLessThan(2e6);
});
