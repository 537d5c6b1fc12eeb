import { memo, useEffect, useRef } from 'react';
import { turnedSize } from '../../../core/geometry/turn.ts';
import type { RunNestView } from '../../../contract/api/run.ts';
import { pictureUrl } from '../../api/data.ts';

/** Above so many pieces only their outlines are drawn. */
const PICTURES = 60;
const HEIGHT_PX = 128;
const MOST_PX = 1024;
/** Seen on light and dark paper. */
const OUTLINE = 'rgb(128 122 112 / 0.8)';
const FILL = 'rgb(128 122 112 / 0.25)';

interface NestThumbProps {
  readonly nest: RunNestView;
  /** How wide it is on the strip at present. */
  readonly widthPx: number;
}

/**
 * The real nest, its length along the time that it takes: leading edge at the left. Drawn into one bitmap: hundreds of pieces,
 * each an element of its own, would have to be sorted into layers on every frame of a zoom.
 */
export const NestThumb = memo(NestDrawing, (a, b) => a.nest === b.nest && dotsFor(a.widthPx) === dotsFor(b.widthPx));

/** Dots along the run: steps, so that a small zoom draws nothing anew. */
function dotsFor(widthPx: number): number {
  return Math.min(MOST_PX, 2 ** Math.ceil(Math.log2(Math.max(32, widthPx * window.devicePixelRatio))));
}

/** Draws boxes first and pictures over them as they come; a run of very many pieces stays with its boxes. */
function NestDrawing({ nest, widthPx }: NestThumbProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const dots = dotsFor(widthPx);
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    let gone = false;
    const placed = nest.pieces;
    drawNest(element, nest, new Map());
    if (placed.length > PICTURES) return;
    const urls = [...new Set(placed.map(urlOf))];
    void Promise.all(urls.map(async (url) => [url, await picture(url)] as const)).then((found) => {
      if (!gone) drawNest(element, nest, new Map(found));
    });
    return () => {
      gone = true;
    };
  }, [nest, dots]);
  return <canvas ref={canvas} width={dots} height={HEIGHT_PX} className="block size-full" aria-hidden="true" />;
}

type Piece = RunNestView['pieces'][number];

function urlOf({ jobId, page, look }: Piece): string {
  return pictureUrl(jobId, page, 'thumb', look);
}

const pictures = new Map<string, Promise<HTMLImageElement | undefined>>();
/** So many are held; the same artwork is in many runs. */
const HELD = 400;

/** A picture of a page, loaded once for all strips that show it. */
function picture(url: string): Promise<HTMLImageElement | undefined> {
  const known = pictures.get(url);
  if (known) return known;
  const image = new Image();
  image.src = url;
  const loaded = image.decode().then(
    () => image,
    () => {
      // It may only not be made yet: the next drawing asks again.
      pictures.delete(url);
      return undefined;
    },
  );
  pictures.set(url, loaded);
  const oldest = pictures.keys().next();
  if (pictures.size > HELD && oldest.value !== undefined) pictures.delete(oldest.value);
  return loaded;
}

function drawNest(
  canvas: HTMLCanvasElement,
  nest: RunNestView,
  found: ReadonlyMap<string, HTMLImageElement | undefined>,
): void {
  const to = canvas.getContext('2d');
  if (!to) return;
  to.setTransform(1, 0, 0, 1, 0, 0);
  to.clearRect(0, 0, canvas.width, canvas.height);
  // The media lies with x across it and y along the feed; here the feed goes to the right and x goes up.
  const alongPx = canvas.width / Math.max(1, nest.lengthMm);
  const acrossPx = canvas.height / nest.mediaWidthMm;
  const frame = new DOMMatrix([0, -acrossPx, alongPx, 0, 0, (nest.mediaWidthMm - nest.usableFromMm) * acrossPx]);
  for (const piece of nest.pieces) {
    const { widthMm: w, heightMm: h } = turnedSize(piece.widthMm, piece.heightMm, piece.angleDeg);
    const image = found.get(urlOf(piece));
    to.setTransform(frame);
    to.fillStyle = FILL;
    to.fillRect(piece.xMm, piece.yMm, w, h);
    if (image) {
      to.translate(piece.xMm + w / 2, piece.yMm + h / 2);
      to.rotate((-piece.angleDeg * Math.PI) / 180);
      if (nest.mirrored) to.scale(-1, 1);
      to.translate(-piece.widthMm / 2, -piece.heightMm / 2);
      drawPicture(to, image, piece);
    }
    outline(to, frame, [piece.xMm, piece.yMm, w, h]);
  }
}

function drawPicture(to: CanvasRenderingContext2D, image: HTMLImageElement, piece: Piece): void {
  const { panel, widthMm, heightMm } = piece;
  if (!panel) {
    to.drawImage(image, 0, 0, widthMm, heightMm);
    return;
  }
  const x = image.naturalWidth / panel.wholeWidthMm;
  const y = image.naturalHeight / panel.wholeHeightMm;
  to.drawImage(image, panel.xMm * x, panel.yMm * y, widthMm * x, heightMm * y, 0, 0, widthMm, heightMm);
}

/** A line of one dot whatever the scale. */
function outline(to: CanvasRenderingContext2D, frame: DOMMatrix, [x, y, w, h]: [number, number, number, number]): void {
  const a = frame.transformPoint({ x, y });
  const b = frame.transformPoint({ x: x + w, y: y + h });
  to.setTransform(1, 0, 0, 1, 0, 0);
  to.strokeStyle = OUTLINE;
  to.strokeRect(Math.min(a.x, b.x), Math.min(a.y, b.y), Math.abs(b.x - a.x), Math.abs(b.y - a.y));
}
