import sharp, { type Sharp } from 'sharp';
import type { Limits } from '../../limits.ts';
import { Unreadable } from '../facts.ts';
import type { TiffPage } from './tiffTags.ts';

/** Pictures with spot channels are held whole, beside what is made of them: their samples may take this much (bytes). */
const MOST_BYTES = 400 * 1024 * 1024;

/** Samples of a pixel as they stand in the file, 8 bits each. */
export interface Samples {
  readonly data: Buffer;
  readonly width: number;
  readonly height: number;
  readonly channels: number;
}

/**
 * All samples of a TIFF with spot channels. The image library takes any channel behind the colours for transparency when it
 * scales, so that a spot colour that is empty would blank the picture: here nothing is scaled.
 */
export async function readSamples(path: string, limits: Limits, page: number, tiff: TiffPage): Promise<Samples> {
  const pixels = tiff.width * tiff.height;
  const most = Math.floor(MOST_BYTES / (tiff.samples * (tiff.bits > 8 ? 2 : 1)));
  if (pixels > most) {
    throw new Unreadable(
      `The TIFF has spot channels and ${String(Math.round(pixels / 1e6))} million pixels; with ${String(tiff.samples)} channels ${String(Math.floor(most / 1e6))} million is the limit. Save the spots apart, or at a lower resolution.`,
    );
  }
  const open = (): Sharp =>
    sharp(path, { limitInputPixels: limits.pixels, limitInputChannels: 32, unlimited: true, page });
  // A set of inks that does not call itself CMYK has no colours for the library: its samples are taken as they are.
  const { space } = await open().metadata();
  const as = space === 'multiband' ? 'multiband' : 'cmyk';
  const picture = open().autoOrient();
  const inks = tiff.photometric === 5 ? picture.pipelineColourspace(as).toColourspace(as) : picture;
  const deep = tiff.bits > 8;
  const { data, info } = await inks.raw({ depth: deep ? 'ushort' : 'uchar' }).toBuffer({ resolveWithObject: true });
  const samples = deep ? highBytes(data) : data;
  return { data: samples, width: info.width, height: info.height, channels: info.channels };
}

function highBytes(data: Buffer): Buffer {
  const out = Buffer.alloc(data.length / 2);
  for (let i = 0; i < out.length; i++) out[i] = data[i * 2 + 1] ?? 0;
  return out;
}

/** What is seen of a picture with spot channels: its process colours, on white. */
export async function spotPicture(path: string, limits: Limits, page: number, tiff: TiffPage): Promise<Sharp> {
  const { data, width, height, channels } = await readSamples(path, limits, page, tiff);
  const rgb = Buffer.alloc(width * height * 3);
  for (let i = 0; i < width * height; i++) {
    const at = i * channels;
    if (tiff.photometric === 5) {
      const light = 255 - (data[at + 3] ?? 0);
      for (let c = 0; c < 3; c++) rgb[i * 3 + c] = Math.round(((255 - (data[at + c] ?? 0)) * light) / 255);
    } else {
      const grey = tiff.photometric < 2;
      for (let c = 0; c < 3; c++) rgb[i * 3 + c] = data[at + (grey ? 0 : c)] ?? 0;
    }
  }
  return sharp(rgb, { raw: { width, height, channels: 3 } });
}
