import sharp, { type Metadata, type Sharp } from 'sharp';
import { FORMAT_NAMES } from '../../../core/ticket/fileFormat.ts';
import type { FileNature } from '../../../core/ticket/finding.ts';
import type { DataPaths } from '../../files/paths.ts';
import type { Limits } from '../../limits.ts';
import { type FileFacts, NO_BLEED, type PageFacts, Unreadable, tidyMm } from '../facts.ts';
import { type Density, headTags, statedDensity, tiffDensity } from './density.ts';
import { traceEdge } from './traceEdge.ts';
import { type Appearance, firstLook, storePicture } from './pictures.ts';
import type { PictureSize } from './pictureSizes.ts';
import { toned, tonesOf } from './pngTones.ts';
import { profileName } from './profileName.ts';
import { spotPicture } from './spotPicture.ts';
import { type TiffPage, readTiff, spotNames } from './tiffTags.ts';

const FLOAT = 3;
/** Ways of packing that the image library does not know. */
const NOT_UNPACKED: Readonly<Record<number, string>> = {
  32_908: 'PixarFilm',
  32_909: 'PixarLog',
  34_661: 'JBIG',
  34_712: 'JPEG 2000',
  34_887: 'LERC',
  34_925: 'LZMA',
  50_000: 'Zstandard',
  50_001: 'WebP',
};

type PictureFormat = 'png' | 'jpeg' | 'tiff';

/** Size, density and picture of a PNG, JPEG or TIFF; pixels are streamed, never held whole. */
export async function readPicture(
  path: string,
  format: PictureFormat,
  sha256: string,
  paths: DataPaths,
  limits: Limits,
): Promise<FileFacts> {
  const name = FORMAT_NAMES[format];
  try {
    const tiff = format === 'tiff' ? await readTiff(path, limits.pages) : undefined;
    const indices = tiff ? pageIndices(tiff, limits) : [0];
    const stated = tiff ? null : statedDensity(await headTags(path));
    const pages: PageFacts[] = [];
    let nature: FileNature | undefined;
    for (const [page, index] of indices.entries()) {
      mustBeReadable(tiff?.[index]);
      const meta = await openPicture(path, limits, index).metadata();
      if (meta.format !== format) throw new Unreadable(`Not a ${name} inside, although it begins like one.`);
      const own = tiff?.[index];
      const facts = sizeOf(meta, own ? tiffDensity(own) : stated, limits);
      const first = await firstLook(
        await shownPicture(path, format, limits, index, tiff?.[index]),
        paths,
        sha256,
        page,
      );
      const { widthMm, heightMm } = facts.size;
      const cutLines = first.edge
        ? await traceEdge(await shownPicture(path, format, limits, index, tiff?.[index]), {
            xMm: 0,
            yMm: 0,
            widthMm,
            heightMm,
          })
        : [];
      pages.push({ ...facts.size, coverage: { ...first.coverage }, cutLines });
      nature ??= natureOf(meta, tiff?.[index], facts.assumedDpi);
    }
    if (!nature) throw new Unreadable('The TIFF has no pictures.');
    return { format, pages, nature };
  } catch (error) {
    if (error instanceof Unreadable) throw error;
    const text = error instanceof Error ? error.message : '';
    if (/pixel limit|exceeds.*limit/i.test(text)) {
      throw new Unreadable(`The picture has more than ${String(limits.pixels / 1e6)} million pixels. Make it smaller.`);
    }
    throw new Unreadable(`The ${name} is damaged and cannot be decoded. Export it again.`);
  }
}

/** A picture as it is seen: turned as EXIF asks, spot channels left out. */
async function shownPicture(
  path: string,
  format: PictureFormat,
  limits: Limits,
  index: number,
  tiff: TiffPage | undefined,
): Promise<Sharp> {
  if (tiff && spotNames(tiff).length > 0) return spotPicture(path, limits, index, tiff);
  return toned(openPicture(path, limits, index).autoOrient(), await tonesOf(path, format));
}

/** Which pictures of a TIFF are pages; reduced copies and masks are not. */
function pageIndices(tiff: readonly TiffPage[], limits: Limits): number[] {
  const indices = tiff.flatMap((page, index) => (page.secondary ? [] : [index]));
  if (indices.length > limits.pages) {
    throw new Unreadable(`The TIFF has more than ${String(limits.pages)} pages. Split it.`);
  }
  return indices.length > 0 ? indices : [0];
}

function mustBeReadable(tiff: TiffPage | undefined): void {
  if (!tiff) return;
  const { photometric, bits, sampleFormat, compression, planar, samples } = tiff;
  if (photometric === 8 && bits === 8) {
    throw new Unreadable(
      'The TIFF is in Lab with 8 bits a channel, which is not supported. Save it with 16 bits, or in CMYK or RGB.',
    );
  }
  // Three floating-point channels are light, by common consent; nobody says what one channel is, or what 32 whole bits are.
  if (bits > 16 && !(sampleFormat === FLOAT && photometric === 2)) {
    throw new Unreadable(
      `The TIFF has ${String(bits)} bits a channel, which is not supported. Save it with 8 or 16 bits a channel.`,
    );
  }
  // The image library mixes up the rows of these.
  if (planar && ((samples === 2 && bits === 8) || photometric === 8)) {
    throw new Unreadable(
      `The TIFF keeps its channels apart (planar), which is not supported ${photometric === 8 ? 'in Lab' : 'with two channels'}. Save it with interleaved channels.`,
    );
  }
  const method = NOT_UNPACKED[compression];
  if (method !== undefined) {
    throw new Unreadable(`The TIFF is packed with ${method}, which is not supported. Save it with LZW, ZIP or JPEG.`);
  }
}

function sizeOf(
  meta: Metadata,
  density: Density | null,
  limits: Limits,
): { size: Omit<PageFacts, 'coverage' | 'cutLines'>; assumedDpi: number | null } {
  // As it is seen: EXIF orientation turns the picture.
  const { width, height } = meta.autoOrient;
  const pixels = width * height;
  if (pixels > limits.pixels) {
    throw new Unreadable(
      `The picture has ${String(Math.round(pixels / 1e6))} million pixels; ${String(limits.pixels / 1e6)} million is the limit. Make it smaller.`,
    );
  }
  const turned = width !== meta.width;
  const { x, y } = density ?? { x: limits.assumedDpi, y: limits.assumedDpi };
  const [dpiX, dpiY] = turned ? [y, x] : [x, y];
  return {
    size: {
      widthMm: tidyMm((width / dpiX) * 25.4),
      heightMm: tidyMm((height / dpiY) * 25.4),
      bleed: NO_BLEED,
      dpi: Math.min(dpiX, dpiY),
      thinnestMm: null,
    },
    assumedDpi: density ? null : limits.assumedDpi,
  };
}

const SPACES: Readonly<Record<string, string>> = {
  srgb: 'RGB',
  rgb: 'RGB',
  rgb16: 'RGB',
  cmyk: 'CMYK',
  lab: 'Lab',
  labs: 'Lab',
  'b-w': 'grey',
  grey16: 'grey',
};

function natureOf(meta: Metadata, tiff: TiffPage | undefined, assumedDpi: number | null): FileNature {
  return {
    assumedDpi,
    // A spot channel looks like transparency to the image library; the file itself says what is what.
    hasAlpha: tiff ? tiff.extraSamples.some((kind) => kind === 1 || kind === 2) : meta.hasAlpha,
    colourSpaces: [SPACES[meta.space] ?? (tiff?.photometric === 5 ? 'CMYK' : meta.space)],
    profile: profileName(meta.icc),
    spots: tiff ? spotNames(tiff) : [],
    missingFonts: [],
  };
}

/** Opens a picture within the limits; its rows are read in order, so that it is never held whole. */
export function openPicture(path: string, limits: Limits, page = 0): Sharp {
  return sharp(path, {
    limitInputPixels: limits.pixels,
    limitInputChannels: 32,
    sequentialRead: true,
    failOn: 'error',
    unlimited: true,
    ...(page > 0 ? { page } : {}),
  });
}

/** Draws a picture that somebody wants to see. */
export async function drawPicture(
  path: string,
  page: number,
  format: PictureFormat,
  where: { readonly sha256: string; readonly size: PictureSize; readonly appearance: Appearance | undefined },
  paths: DataPaths,
  limits: Limits,
): Promise<void> {
  const index = format === 'tiff' ? await tiffIndex(path, page, limits) : 0;
  const tiff = format === 'tiff' ? (await readTiff(path, limits.pages))[index] : undefined;
  const picture = await shownPicture(path, format, limits, index, tiff);
  await storePicture(picture, paths, where.sha256, page, where.size, where.appearance);
}

/** Which picture of a TIFF a page is. */
export async function tiffIndex(path: string, page: number, limits: Limits): Promise<number> {
  return pageIndices(await readTiff(path, limits.pages), limits)[page] ?? 0;
}
