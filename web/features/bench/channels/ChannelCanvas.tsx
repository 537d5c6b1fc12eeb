import { type RefObject, useEffect } from 'react';
import type { ShownCoat } from './shownCoat.ts';
import { type Camera, type Size, tilesInView, zoomFor } from './channelCamera.ts';
import { rgbOf } from '../../../../core/heads/grounds.ts';
import type { Rgb } from '../../../../core/coats/heat.ts';
import type { InkTiles } from './inkTiles.ts';

interface ChannelCanvasProps {
  readonly coat: ShownCoat;
  readonly tiles: InkTiles;
  readonly size: Size;
  readonly camera: Camera;
  /** Channels that are shown, by their places in the coat. */
  readonly shown: ReadonlySet<number>;
  readonly mediaColour: string;
  /** How much ink lies where, in place of its colours. */
  readonly asHeat: boolean;
  readonly canvas: RefObject<HTMLCanvasElement | null>;
  /** How many tiles have come: it is drawn anew with each. */
  readonly arrived: number;
  readonly label: string;
}

/** The dots of a coat on the colour of the media, as near as wanted: coarse tiles first, sharp ones as they come. */
export function ChannelCanvas(props: ChannelCanvasProps) {
  const { size, label, canvas } = props;
  useEffect(() => {
    const frame = requestAnimationFrame(() => {
      if (canvas.current) draw(canvas.current, props);
    });
    return () => {
      cancelAnimationFrame(frame);
    };
  }, [props, canvas]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={label}
      className="absolute inset-0 cursor-crosshair touch-none"
      style={{ width: size.width, height: size.height }}
    />
  );
}

function draw(
  canvas: HTMLCanvasElement,
  { coat, tiles, size, camera, shown, mediaColour, asHeat }: ChannelCanvasProps,
): void {
  const ratio = globalThis.devicePixelRatio || 1;
  const [width, height] = [Math.round(size.width * ratio), Math.round(size.height * ratio)];
  if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
  const context = canvas.getContext('2d');
  if (!context || width === 0) return;
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.clearRect(0, 0, width, height);
  const feedStep = coat.dpiX / coat.dpiY;
  // Dots to the screen, to scale: rows from left to right, their right ends up.
  const s = camera.scale * ratio;
  context.setTransform(0, -s, s * feedStep, 0, width / 2 - camera.y * s, height / 2 + camera.x * s);
  context.fillStyle = mediaColour;
  context.fillRect(0, 0, coat.widthDots, coat.heightDots);
  const media: Rgb = rgbOf(mediaColour);
  const lit = coat.channels.flatMap(({ colour }, index) =>
    shown.has(index) ? [{ index, colour: rgbOf(colour) }] : [],
  );
  const zoom = zoomFor(camera.scale * ratio, coat.mostZoom);
  const whole = { width: coat.widthDots, height: coat.heightDots * feedStep };
  // What is sharp lies over what is coarse, which is there sooner: what is wished for last is fetched first.
  const levels = [...new Set([coat.mostZoom, Math.min(coat.mostZoom, zoom + 3), zoom])];
  for (const level of [...levels].reverse())
    for (const { x, y } of tilesInView(camera, whole, size, level, coat.tilePx, feedStep))
      tiles.tile({ zoom: level, x, y });
  for (const level of levels) {
    const dots = 2 ** level;
    // Single dots have edges; what is drawn smaller than it is keeps none of its rows to itself.
    context.imageSmoothingEnabled = level > 0 || s < 1;
    for (const { x, y } of tilesInView(camera, whole, size, level, coat.tilePx, feedStep)) {
      const picture = tiles.picture({ zoom: level, x, y }, lit, media, asHeat);
      if (!picture) continue;
      const span = coat.tilePx * dots;
      // The last pixel of a row may stand for fewer dots than it is wide.
      context.drawImage(picture, x * span, y * span, picture.width * dots, picture.height * dots);
    }
  }
}
