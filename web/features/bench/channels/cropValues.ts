import type { ShownCoat } from './shownCoat.ts';
import { type Camera, type Size, dotAt, tilesInView } from './channelCamera.ts';
import type { InkTile, TileKey } from './inkTiles.ts';

/** What lies in view of a coat: its place in dots, and the mean ink of each channel there, 0 … 1. */
export interface CropValues {
  readonly from: { readonly x: number; readonly y: number };
  readonly to: { readonly x: number; readonly y: number };
  readonly inks: readonly number[];
}

/**
 * Values of what is in view, by the tiles that it is drawn from.
 * @param known a tile that is there
 * @returns undefined where nothing of the coat is in view, or tiles of it are still on their way
 */
export function cropValues(
  coat: ShownCoat,
  camera: Camera,
  view: Size,
  zoom: number,
  known: (key: TileKey) => InkTile | undefined,
): CropValues | undefined {
  const feedStep = coat.dpiX / coat.dpiY;
  const { widthDots, heightDots, tilePx, channels } = coat;
  const head = dotAt(camera, view, { x: 0, y: 0 });
  const foot = dotAt(camera, view, { x: view.width, y: view.height });
  const from = { x: Math.max(0, Math.floor(foot.x)), y: Math.max(0, Math.floor(head.y / feedStep)) };
  const to = { x: Math.min(widthDots, Math.ceil(head.x)), y: Math.min(heightDots, Math.ceil(foot.y / feedStep)) };
  if (from.x >= to.x || from.y >= to.y) return undefined;
  const dots = 2 ** zoom;
  const whole = { width: widthDots, height: heightDots * feedStep };
  const sums = channels.map(() => 0);
  let pixels = 0;
  for (const { x, y } of tilesInView(camera, whole, view, zoom, tilePx, feedStep)) {
    const tile = known({ zoom, x, y });
    if (!tile) return undefined;
    const [left, top] = [x * tilePx, y * tilePx];
    for (let row = 0; row < tile.height; row += 1) {
      const at = (top + row) * dots;
      if (at + dots <= from.y || at >= to.y) continue;
      for (let column = 0; column < tile.width; column += 1) {
        const over = (left + column) * dots;
        if (over + dots <= from.x || over >= to.x) continue;
        pixels += 1;
        tile.inks.forEach((inks, channel) => {
          sums[channel] = (sums[channel] ?? 0) + (inks[row * tile.width + column] ?? 0);
        });
      }
    }
  }
  if (pixels === 0) return undefined;
  return { from, to, inks: sums.map((sum) => sum / (pixels * 255)) };
}
