import sharp, { type Sharp } from 'sharp';
import { type Coverage, separatePicture } from '../../core/estimate/ink.ts';
import type { DataPaths } from '../files/paths.ts';
import { writeWhole } from '../files/atomic.ts';
import { PICTURE_SIZES, type PictureSize } from './pictureSizes.ts';

/** Longest side of the picture that a file is first seen by: the ink estimate and the thumb come from it. */
export const FIRST_LOOK_PX = 400;

sharp.cache(false);
sharp.concurrency(1);

/**
 * The first look at a page: one small picture, from which the thumb is stored and the ink estimate is read. The large
 * picture is drawn when somebody looks at it.
 */
export async function firstLook(picture: Sharp, paths: DataPaths, sha256: string, page: number): Promise<Coverage> {
  const { data, info } = await picture
    .resize({ width: FIRST_LOOK_PX, height: FIRST_LOOK_PX, fit: 'inside', withoutEnlargement: true })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const small = sharp(data, { raw: { width: info.width, height: info.height, channels: 4 } });
  await storePicture(small, paths, sha256, page, 'thumb');
  return separatePicture(data);
}

/** Stores one picture of a page. Not flushed to disk: it can always be made again. */
export async function storePicture(
  picture: Sharp,
  paths: DataPaths,
  sha256: string,
  page: number,
  size: PictureSize,
): Promise<void> {
  const longest = PICTURE_SIZES[size];
  const bytes = await picture
    .resize({ width: longest, height: longest, fit: 'inside', withoutEnlargement: true })
    .toColourspace('srgb')
    .webp({ quality: 82, effort: 0 })
    .toBuffer();
  await writeWhole(paths.picture(sha256, page, size), bytes, { flush: false });
}
