import { type PDFPage, PDFName, PDFNumber } from '@cantoo/pdf-lib';
import type { Sides as Bleed } from '../../../core/ticket/ticket.ts';
import { tidyMm } from '../facts.ts';

const MM_PER_PT = 25.4 / 72;

/** Corners in unrotated page space (pt × user unit not yet applied). */
export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export interface PageGeometry {
  /** What is printed: the trim with its bleed, in page space. */
  readonly printed: Box;
  readonly crop: Box;
  readonly rotate: 0 | 90 | 180 | 270;
  readonly userUnit: number;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly bleed: Bleed;
}

/**
 * Size and place of a page as it will be printed. The trim box is the size where there is one, else the crop box; bleed
 * counts only where the file names a bleed box. Rotation is clockwise and already in widthMm × heightMm.
 */
export function pageGeometry(page: PDFPage): PageGeometry {
  const media = page.getMediaBox();
  const crop = inside(page.getCropBox(), media);
  const hasTrim = page.node.get(PDFName.of('TrimBox')) !== undefined;
  const hasBleed = page.node.get(PDFName.of('BleedBox')) !== undefined;
  const trim = hasTrim ? inside(page.getTrimBox(), media) : crop;
  const printed = hasBleed ? around(trim, inside(page.getBleedBox(), media)) : trim;
  const unit = page.node.lookupMaybe(PDFName.of('UserUnit'), PDFNumber)?.asNumber() ?? 1;
  const rotate = ((((Math.round(page.getRotation().angle / 90) * 90) % 360) + 360) % 360) as PageGeometry['rotate'];
  const scale = unit * MM_PER_PT;
  const left = (trim.x - printed.x) * scale;
  const bottom = (trim.y - printed.y) * scale;
  const right = (printed.x + printed.width - trim.x - trim.width) * scale;
  const top = (printed.y + printed.height - trim.y - trim.height) * scale;
  const w = trim.width * scale;
  const h = trim.height * scale;
  const sides = [top, right, bottom, left];
  const turned = rotate / 90;
  const side = (k: number): number => sides[(k - turned + 4) % 4] ?? 0;
  return {
    printed,
    crop,
    rotate,
    userUnit: unit,
    widthMm: tidyMm(turned % 2 ? h : w),
    heightMm: tidyMm(turned % 2 ? w : h),
    bleed: { topMm: tidyMm(side(0)), rightMm: tidyMm(side(1)), bottomMm: tidyMm(side(2)), leftMm: tidyMm(side(3)) },
  };
}

/** A point of page space from the upper left corner of the trim as it is shown (mm). */
export function toTrim(geometry: PageGeometry, x: number, y: number): readonly [number, number] {
  const { printed, rotate, userUnit, bleed } = geometry;
  const mm = userUnit * MM_PER_PT;
  const left = (x - printed.x) * mm;
  const below = (y - printed.y) * mm;
  const [w, h] = [printed.width * mm, printed.height * mm];
  const shown = {
    0: [left, h - below],
    90: [below, left],
    180: [w - left, below],
    270: [h - below, w - left],
  }[rotate] as [number, number];
  return [shown[0] - bleed.leftMm, shown[1] - bleed.topMm];
}

/** Where `box` lies on the crop box as shown (rotated), as shares from the top left: what to cut out of a picture. */
export function shownPart(
  geometry: PageGeometry,
  box: Box,
): { left: number; top: number; width: number; height: number } {
  const { crop } = geometry;
  const left = (box.x - crop.x) / crop.width;
  const right = 1 - (box.x + box.width - crop.x) / crop.width;
  const bottom = (box.y - crop.y) / crop.height;
  const top = 1 - (box.y + box.height - crop.y) / crop.height;
  const sides = [top, right, bottom, left];
  const turned = geometry.rotate / 90;
  const side = (k: number): number => sides[(k - turned + 4) % 4] ?? 0;
  return { top: side(0), left: side(3), width: 1 - side(1) - side(3), height: 1 - side(0) - side(2) };
}

function inside(box: Box, limit: Box): Box {
  const x = Math.max(box.x, limit.x);
  const y = Math.max(box.y, limit.y);
  const width = Math.min(box.x + box.width, limit.x + limit.width) - x;
  const height = Math.min(box.y + box.height, limit.y + limit.height) - y;
  return width > 0 && height > 0 ? { x, y, width, height } : limit;
}

function around(a: Box, b: Box): Box {
  const x = Math.min(a.x, b.x);
  const y = Math.min(a.y, b.y);
  return {
    x,
    y,
    width: Math.max(a.x + a.width, b.x + b.width) - x,
    height: Math.max(a.y + a.height, b.y + b.height) - y,
  };
}
