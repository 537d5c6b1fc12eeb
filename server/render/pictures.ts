import sharp, { type Sharp } from 'sharp';
import { type Coverage, separatePicture } from '../../core/estimate/ink.ts';
import type { DataPaths } from '../files/paths.ts';
import { writeWhole } from '../files/atomic.ts';
import { PICTURE_SIZES } from './pictureSizes.ts';

/** Longest side of the picture that the ink estimate is read from. */
const SEPARATION_PX = 400;

sharp.cache(false);
sharp.concurrency(1);

/**
 * Writes the pictures of one page into the picture store and reads the ink estimate from them.
 * @param picture opens the page's picture, at least as large as the view where the source allows
 */
export async function storePictures(
  picture: () => Sharp,
  paths: DataPaths,
  sha256: string,
  page: number,
): Promise<Coverage> {
  const view = await picture()
    .resize({ width: PICTURE_SIZES.view, height: PICTURE_SIZES.view, fit: 'inside', withoutEnlargement: true })
    .toColourspace('srgb')
    .webp({ quality: 82, effort: 0 })
    .toBuffer();
  await writeWhole(paths.picture(sha256, page, 'view'), view);
  const thumb = await sharp(view)
    .resize({ width: PICTURE_SIZES.thumb, height: PICTURE_SIZES.thumb, fit: 'inside', withoutEnlargement: true })
    .webp({ quality: 80, effort: 0 })
    .toBuffer();
  await writeWhole(paths.picture(sha256, page, 'thumb'), thumb);
  const { data } = await sharp(view)
    .resize({ width: SEPARATION_PX, height: SEPARATION_PX, fit: 'inside', withoutEnlargement: true })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return separatePicture(data);
}
