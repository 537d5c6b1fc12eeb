import sharp, { type Sharp } from 'sharp';
import { type Coverage, separatePicture } from '../../core/estimate/ink.ts';
import type { DataPaths } from '../files/paths.ts';
import { writeWhole } from '../files/atomic.ts';
import { PICTURE_SIZES, type PictureSize } from './pictureSizes.ts';

/** Longest side of the picture that a file is first seen by: the ink estimate and the thumb come from it. */
export const FIRST_LOOK_PX = 400;

sharp.cache(false);
sharp.concurrency(1);

/** How a ticket makes a page look, in shares of the page with its bleed. */
export interface Look {
  /** Names the picture: another look is another file. */
  readonly key: string;
  readonly window: { readonly x: number; readonly y: number; readonly width: number; readonly height: number };
  /** Width ÷ height of the finished piece, before it is turned. */
  readonly aspect: number;
  /** Counter-clockwise. */
  readonly turn: 0 | 90 | 180 | 270;
  readonly mirror: boolean;
}

/**
 * The first look at a page: one small picture, from which the thumb is stored and the ink estimate is read. The large
 * picture is drawn when somebody looks at it.
 */
export async function firstLook(picture: Sharp, paths: DataPaths, sha256: string, page: number): Promise<Coverage> {
  const { data, info } = await picture
    .resize({ width: FIRST_LOOK_PX, height: FIRST_LOOK_PX, fit: 'inside', withoutEnlargement: true })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  const rgba = info.channels === 4 ? data : fourChannels(data, info.channels);
  const small = sharp(rgba, { raw: { width: info.width, height: info.height, channels: 4 } });
  await storePicture(small, paths, sha256, page, 'thumb', undefined);
  return separatePicture(rgba);
}

/** Spot channels of a file are no part of its picture; its last channel is the alpha that was made sure of. */
function fourChannels(data: Buffer, channels: number): Buffer {
  const pixels = data.length / channels;
  const rgba = Buffer.alloc(pixels * 4);
  const grey = channels < 4;
  for (let i = 0; i < pixels; i++) {
    for (let c = 0; c < 3; c++) rgba[i * 4 + c] = data[i * channels + (grey ? 0 : c)] ?? 0;
    rgba[i * 4 + 3] = data[i * channels + channels - 1] ?? 255;
  }
  return rgba;
}

/** Stores one picture of a page. Not flushed to disk: it can always be made again. */
export async function storePicture(
  picture: Sharp,
  paths: DataPaths,
  sha256: string,
  page: number,
  size: PictureSize,
  look: Look | undefined,
): Promise<void> {
  const longest = PICTURE_SIZES[size];
  const whole = picture.resize({ width: longest, height: longest, fit: 'inside', withoutEnlargement: true });
  const finished = look ? await applyLook(whole, look) : whole;
  const bytes = await finished.toColourspace('srgb').webp({ quality: 82, effort: 0 }).toBuffer();
  await writeWhole(paths.picture(sha256, page, size, look?.key), bytes, { flush: false });
}

/** Crops, stretches, turns and mirrors a picture as the ticket does it to the artwork. */
async function applyLook(picture: Sharp, look: Look): Promise<Sharp> {
  const { data, info } = await picture.toColourspace('srgb').ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  const { width: w, height: h } = info;
  const clamp = (value: number, most: number): number => Math.min(most, Math.max(0, Math.round(value)));
  const left = clamp(look.window.x * w, w - 1);
  const top = clamp(look.window.y * h, h - 1);
  const width = Math.max(1, clamp(look.window.width * w, w - left));
  const height = Math.max(1, clamp(look.window.height * h, h - top));
  const longest = Math.max(width, height);
  const [toW, toH] = look.aspect >= 1 ? [longest, longest / look.aspect] : [longest * look.aspect, longest];
  const cut = await sharp(data, { raw: { width: w, height: h, channels: info.channels } })
    .extract({ left, top, width, height })
    .resize({ width: Math.max(1, Math.round(toW)), height: Math.max(1, Math.round(toH)), fit: 'fill' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  // Turned in a pipeline of its own: within one, turning would come before the cut.
  const turned = await sharp(cut.data, { raw: { width: cut.info.width, height: cut.info.height, channels: 4 } })
    .rotate((360 - look.turn) % 360)
    .raw()
    .toBuffer({ resolveWithObject: true });
  const laid = sharp(turned.data, { raw: { width: turned.info.width, height: turned.info.height, channels: 4 } });
  return look.mirror ? laid.flop() : laid;
}
