import { open } from 'node:fs/promises';
import ExifReader, { type ExpandedTags } from 'exifreader';
import type { TiffPage } from './tiffTags.ts';

/** Dots per inch across and down, as the pixels lie in the file. */
export interface Density {
  readonly x: number;
  readonly y: number;
}

/** What a PNG or a JPEG says of itself stands before its pixels; colour profiles are the longest of it. */
const HEAD_BYTES = 4 * 1024 * 1024;
const METRES_PER_INCH = 0.0254;
/** One dot per inch is what programs write that don't know. */
const LEAST_DPI = 1;

/** What the head of a PNG or a JPEG says beside its pixels; nothing where it can't be read. */
export async function headTags(path: string): Promise<ExpandedTags> {
  const file = await open(path, 'r');
  try {
    const { size } = await file.stat();
    const head = Buffer.alloc(Math.min(size, HEAD_BYTES));
    await file.read(head, 0, head.length, 0);
    return ExifReader.load(head, { expanded: true });
  } catch (error) {
    if (error instanceof Error && !('code' in error)) return {};
    throw error;
  } finally {
    await file.close();
  }
}

/** The resolution that a PNG or a JPEG states, unrounded; null: it states none, or only the shape of its pixels. */
export function statedDensity(tags: ExpandedTags): Density | null {
  return metres(tags) ?? exif(tags) ?? jfif(tags);
}

/** The resolution that a TIFF states. */
export function tiffDensity({ resolutionUnit, xResolution, yResolution }: TiffPage): Density | null {
  if (resolutionUnit === 1) return null;
  const perInch = resolutionUnit === 3 ? 2.54 : 1;
  return usable((xResolution ?? 0) * perInch, (yResolution ?? 0) * perInch);
}

/** The pHYs chunk of a PNG. */
function metres({ png }: ExpandedTags): Density | null {
  if (png?.['Pixel Units']?.value !== 1) return null;
  const across = numberIn(png['Pixels Per Unit X']);
  const down = numberIn(png['Pixels Per Unit Y']);
  return usable(perInch(across), perInch(down));
}

/** A PNG counts in whole dots per metre: 300 dpi can only be written as 11,811, and is meant by it. */
function perInch(perMetre: number): number {
  const whole = Math.round(perMetre * METRES_PER_INCH);
  return Math.round(whole / METRES_PER_INCH) === perMetre ? whole : perMetre * METRES_PER_INCH;
}

function exif({ exif: tags }: ExpandedTags): Density | null {
  const unit = numberIn(tags?.ResolutionUnit);
  if (unit !== 2 && unit !== 3) return null;
  const perInch = unit === 3 ? 2.54 : 1;
  return usable(numberIn(tags?.XResolution) * perInch, numberIn(tags?.YResolution) * perInch);
}

/** The first segment of a JPEG; without a unit it tells the shape of pixels only. */
function jfif({ jfif: tags }: ExpandedTags): Density | null {
  const unit = numberIn(tags?.['Resolution Unit']);
  if (unit !== 1 && unit !== 2) return null;
  const perInch = unit === 2 ? 2.54 : 1;
  return usable(numberIn(tags?.XResolution) * perInch, numberIn(tags?.YResolution) * perInch);
}

function usable(x: number, y: number): Density | null {
  return Number.isFinite(x) && Number.isFinite(y) && x > LEAST_DPI && y > LEAST_DPI ? { x, y } : null;
}

/** A figure or a fraction. */
function numberIn(tag: { readonly value: unknown } | undefined): number {
  const value = tag?.value;
  if (typeof value === 'number') return value;
  if (Array.isArray(value) && value.length === 2) return Number(value[0]) / Number(value[1]);
  return 0;
}
