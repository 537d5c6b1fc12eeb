import { PROCESS_INKS } from '../../../core/ticket/parts.ts';
import type { DataPaths } from '../../files/paths.ts';
import type { Limits } from '../../limits.ts';
import type { Source } from '../art.ts';
import { Unreadable } from '../facts.ts';
import { openPicture, tiffIndex } from './readPicture.ts';
import { toned, tonesOf } from './pngTones.ts';
import { readSamples } from './spotPicture.ts';
import { readTiff, spotNames, type TiffPage } from './tiffTags.ts';

export interface GreyPicture {
  readonly data: Buffer;
  readonly width: number;
  readonly height: number;
}

/** One ink or spot of a picture alone, as a grey picture: full ink is black. */
export async function separatePart(source: Source, paths: DataPaths, limits: Limits): Promise<GreyPicture> {
  const { sha256, format, page, part } = source;
  const path = paths.source(sha256);
  const index = format === 'tiff' ? await tiffIndex(path, page, limits) : 0;
  const tiff = format === 'tiff' ? (await readTiff(path, limits.pages))[index] : undefined;
  if (tiff && spotNames(tiff).length > 0) return sample(path, limits, index, tiff, part ?? '');
  const { space } = await openPicture(path, limits, index).metadata();
  if (space === 'cmyk') return channel(path, limits, index, inkIndex(part));
  const { data, info } = await toned(openPicture(path, limits, index).autoOrient(), await tonesOf(path, format))
    .toColourspace('srgb')
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return { data: oneInk(data, info.channels, inkIndex(part)), width: info.width, height: info.height };
}

/** A process ink or a spot of a file that has spot channels: it lies in the file as it is wanted. */
async function sample(path: string, limits: Limits, page: number, tiff: TiffPage, part: string): Promise<GreyPicture> {
  const spots = spotNames(tiff);
  const spot = spots.indexOf(part);
  const alphas = tiff.extraSamples.filter((kind) => kind === 1 || kind === 2).length;
  const index = spot >= 0 ? tiff.samples - spots.length - alphas + spot : inkIndex(part);
  const { data, width, height, channels } = await readSamples(path, limits, page, tiff);
  return { data: inverted(data, channels, index), width, height };
}

function inverted(data: Buffer, channels: number, index: number): Buffer {
  const out = Buffer.alloc(Math.floor(data.length / channels));
  for (let i = 0; i < out.length; i++) out[i] = 255 - (data[i * channels + index] ?? 0);
  return out;
}

function inkIndex(part: string | null): number {
  const index = PROCESS_INKS.findIndex((ink) => ink === part);
  if (index < 0) throw new Unreadable(`There is no ${part ?? 'ink'} to be had alone in this file.`);
  return index;
}

/** A channel of a file that is in inks already. */
async function channel(path: string, limits: Limits, page: number, index: number): Promise<GreyPicture> {
  const { data, info } = await openPicture(path, limits, page)
    .autoOrient()
    .pipelineColourspace('cmyk')
    .toColourspace('cmyk')
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return { data: inverted(data, info.channels, index), width: info.width, height: info.height };
}

/** The ink of RGBA pixels by full grey-component replacement, as core/estimate/ink.ts counts it. */
function oneInk(rgba: Buffer, channels: number, index: number): Buffer {
  const pixels = Math.floor(rgba.length / channels);
  const out = Buffer.alloc(pixels);
  for (let i = 0; i < pixels; i++) {
    const at = i * channels;
    const alpha = (rgba[at + 3] ?? 255) / 255;
    const c = 255 - (rgba[at] ?? 0);
    const m = 255 - (rgba[at + 1] ?? 0);
    const y = 255 - (rgba[at + 2] ?? 0);
    const k = Math.min(c, m, y);
    const ink = [c - k, m - k, y - k, k][index] ?? 0;
    out[i] = 255 - Math.round(ink * alpha);
  }
  return out;
}
