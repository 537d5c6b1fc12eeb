import sharp, { type Sharp } from 'sharp';
import { type Coverage, separatePicture } from '../../../core/estimate/ink.ts';
import type { DataPaths } from '../../files/paths.ts';
import { writeWhole } from '../../files/atomic.ts';
import type { CutLine } from '../../../core/contour/contourRule.ts';
import { PICTURE_SIZES, type PictureSize } from './pictureSizes.ts';

/** Longest side of the picture that a file is first seen by: the ink estimate and the thumb come from it. */
export const FIRST_LOOK_PX = 400;

sharp.cache(false);
sharp.concurrency(1);

/** How a ticket makes a page look, in shares of the page with its bleed. */
export interface Appearance {
  /** Names the picture: another look is another file. */
  readonly key: string;
  readonly window: { readonly x: number; readonly y: number; readonly width: number; readonly height: number };
  /** Width ÷ height of the finished piece, before it is turned. */
  readonly aspect: number;
  /** Counter-clockwise. */
  readonly turn: 0 | 90 | 180 | 270;
  readonly mirror: boolean;
  /** A line of the file that is cut, not printed. */
  readonly without?: Pick<CutLine, 'from' | 'name'>;
}

export interface FirstLook {
  readonly coverage: Coverage;
  /** It lies on nothing, and has an edge that is worth tracing. */
  readonly edge: boolean;
}

/** Transparent share of a picture that has an edge; and what crosses it more often in a row is text, not a decal. */
const LEAST_CLEAR = 0.002;
const MOST_CROSSINGS = 16;

/** Whether what is transparent makes a shape that could be cut: some of it is clear, and rows cross its edge few times. */
function hasEdge(rgba: Buffer, width: number, height: number): boolean {
  let clear = 0;
  let crossings = 0;
  let rows = 0;
  for (let y = 0; y < height; y++) {
    let inRow = 0;
    let before = false;
    for (let x = 0; x < width; x++) {
      const opaque = (rgba[(y * width + x) * 4 + 3] ?? 0) >= 128;
      if (!opaque) clear += 1;
      if (opaque !== before) inRow += 1;
      before = opaque;
    }
    crossings += inRow;
    if (inRow > 0) rows += 1;
  }
  const share = clear / (width * height);
  return share > LEAST_CLEAR && share < 1 - LEAST_CLEAR && crossings <= MOST_CROSSINGS * rows;
}

/**
 * The first look at a page: one small picture, from which the thumb is stored and the ink estimate is read. The large
 * picture is drawn when somebody looks at it.
 */
export async function firstLook(picture: Sharp, paths: DataPaths, sha256: string, page: number): Promise<FirstLook> {
  const { data, info } = await picture
    .resize({ width: FIRST_LOOK_PX, height: FIRST_LOOK_PX, fit: 'inside', withoutEnlargement: true })
    .toColourspace('srgb')
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  const rgba = info.channels === 4 ? data : fourChannels(data, info.channels);
  const small = sharp(rgba, { raw: { width: info.width, height: info.height, channels: 4 } });
  await storePicture(small, paths, sha256, page, 'thumb', undefined);
  return { coverage: separatePicture(rgba), edge: hasEdge(rgba, info.width, info.height) };
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
  appearance: Appearance | undefined,
): Promise<void> {
  const longest = PICTURE_SIZES[size];
  const whole = picture.resize({ width: longest, height: longest, fit: 'inside', withoutEnlargement: true });
  const finished = appearance ? await applyAppearance(whole, appearance) : whole;
  const bytes = await finished.toColourspace('srgb').webp({ quality: 82, effort: 0 }).toBuffer();
  await writeWhole(paths.picture(sha256, page, size, appearance?.key), bytes, { flush: false });
}

const CLEAR = { r: 0, g: 0, b: 0, alpha: 0 };

/** What a window takes of a row of pixels: where from, how many, and how many empty ones before and behind it. */
function windowPixels(from: number, share: number, pixels: number): readonly [number, number, number, number] {
  const start = Math.round(from * pixels);
  const end = Math.max(start + 1, Math.round((from + share) * pixels));
  const first = Math.min(pixels - 1, Math.max(0, start));
  const last = Math.max(first + 1, Math.min(pixels, end));
  return [first, last - first, Math.max(0, first - start), Math.max(0, end - last)];
}

/** Crops, stretches, turns and mirrors a picture as the ticket does it to the artwork. */
async function applyAppearance(picture: Sharp, appearance: Appearance): Promise<Sharp> {
  const { data, info } = await picture.toColourspace('srgb').ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  const { width: w, height: h } = info;
  const [left, width, before, after] = windowPixels(appearance.window.x, appearance.window.width, w);
  const [top, height, above, below] = windowPixels(appearance.window.y, appearance.window.height, h);
  const longest = Math.max(before + width + after, above + height + below);
  const [toW, toH] =
    appearance.aspect >= 1 ? [longest, longest / appearance.aspect] : [longest * appearance.aspect, longest];
  const cut = await sharp(data, { raw: { width: w, height: h, channels: info.channels } })
    .extract({ left, top, width, height })
    .extend({ left: before, right: after, top: above, bottom: below, background: CLEAR })
    .raw()
    .toBuffer({ resolveWithObject: true });
  // Made as large as it is seen in a pipeline of its own: within one, that would come before the edge is drawn out.
  const sized = await sharp(cut.data, { raw: { width: cut.info.width, height: cut.info.height, channels: 4 } })
    .resize({ width: Math.max(1, Math.round(toW)), height: Math.max(1, Math.round(toH)), fit: 'fill' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  // Turned in a pipeline of its own: within one, turning would come before the cut.
  const turned = await sharp(sized.data, { raw: { width: sized.info.width, height: sized.info.height, channels: 4 } })
    .rotate((360 - appearance.turn) % 360)
    .raw()
    .toBuffer({ resolveWithObject: true });
  const laid = sharp(turned.data, { raw: { width: turned.info.width, height: turned.info.height, channels: 4 } });
  return appearance.mirror ? laid.flop() : laid;
}
