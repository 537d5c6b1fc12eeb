import sharp, { type Sharp } from 'sharp';
import type { DataPaths } from '../files/paths.ts';
import type { Limits } from '../limits.ts';
import { type FileFacts, type FileFormat, NO_BLEED, Unreadable, tidyMm } from './facts.ts';
import { firstLook, storePicture } from './pictures.ts';
import type { PictureSize } from './pictureSizes.ts';

/** Size, density and picture of a PNG or JPEG; pixels are streamed, never held whole. */
export async function readPicture(
  path: string,
  format: Exclude<FileFormat, 'pdf'>,
  sha256: string,
  paths: DataPaths,
  limits: Limits,
): Promise<FileFacts> {
  const name = format === 'png' ? 'PNG' : 'JPEG';
  let facts: FileFacts;
  try {
    const meta = await openPicture(path, limits).metadata();
    if (meta.format !== format) throw new Unreadable(`Not a ${name} inside, although it begins like one.`);
    // As it is seen: EXIF orientation turns the picture.
    const { width, height } = meta.autoOrient;
    const turned = width !== meta.width;
    const dpi = meta.density !== undefined && meta.density > 1 ? meta.density : undefined;
    const used = dpi ?? limits.assumedDpi;
    const coverage = await firstLook(openPicture(path, limits).autoOrient(), paths, sha256, 0);
    facts = {
      format,
      pages: [
        {
          widthMm: tidyMm((width / used) * 25.4),
          heightMm: tidyMm((height / used) * 25.4),
          bleed: NO_BLEED,
          coverage: { ...coverage },
        },
      ],
      pixelsAcross: turned ? meta.height : meta.width,
      assumedDpi: dpi === undefined ? used : null,
      hasAlpha: meta.hasAlpha,
    };
  } catch (error) {
    if (error instanceof Unreadable) throw error;
    const text = error instanceof Error ? error.message : '';
    if (/pixel limit/i.test(text)) {
      throw new Unreadable(`The picture has more than ${String(limits.pixels / 1e6)} million pixels. Make it smaller.`);
    }
    throw new Unreadable(`The ${name} is damaged and cannot be decoded. Export it again.`);
  }
  return facts;
}

function openPicture(path: string, limits: Limits): Sharp {
  return sharp(path, { limitInputPixels: limits.pixels, sequentialRead: true, failOn: 'error', unlimited: true });
}

/** Draws a picture that somebody wants to see. */
export async function drawPicture(
  path: string,
  sha256: string,
  size: PictureSize,
  paths: DataPaths,
  limits: Limits,
): Promise<void> {
  await storePicture(openPicture(path, limits).autoOrient(), paths, sha256, 0, size);
}
