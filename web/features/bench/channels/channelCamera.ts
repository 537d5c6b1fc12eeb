/**
 * What of a coat is looked at: the place in the middle, and pixels of the screen a dot. Places are counted in dots across the media, also
 * along the feed, where dots may lie nearer together: the picture is to scale.
 */
export interface Camera {
  readonly x: number;
  readonly y: number;
  readonly scale: number;
}

export interface Size {
  readonly width: number;
  readonly height: number;
}

/** Largest a dot is drawn (px). */
export const MOST_SCALE = 24;

/*
 * As on the Bench the feed runs to the right, and the right edge of the media is up: rows of dots lie from left to right, and a row from
 * the foot of the picture to its head.
 */

/** All of a coat in the middle of a view. */
export function fitCamera(coat: Size, view: Size): Camera {
  const scale = Math.min(view.width / coat.height, view.height / coat.width) * 0.96;
  return { x: coat.width / 2, y: coat.height / 2, scale };
}

/** Where a place lies on the screen. */
export function onScreen(
  { x, y, scale }: Camera,
  view: Size,
  dot: { readonly x: number; readonly y: number },
): { x: number; y: number } {
  return { x: view.width / 2 + (dot.y - y) * scale, y: view.height / 2 - (dot.x - x) * scale };
}

/** The place of the coat under one of the screen. */
export function dotAt(
  { x, y, scale }: Camera,
  view: Size,
  place: { readonly x: number; readonly y: number },
): { x: number; y: number } {
  return { x: x - (place.y - view.height / 2) / scale, y: y + (place.x - view.width / 2) / scale };
}

/** Nearer or farther, what is under a place staying there. */
export function zoomed(
  camera: Camera,
  coat: Size,
  view: Size,
  factor: number,
  place: { readonly x: number; readonly y: number },
): Camera {
  const least = fitCamera(coat, view).scale;
  const scale = Math.min(MOST_SCALE, Math.max(Math.min(least, MOST_SCALE), camera.scale * factor));
  const held = dotAt(camera, view, place);
  const moved = { ...camera, scale };
  const now = dotAt(moved, view, place);
  return within({ x: moved.x + held.x - now.x, y: moved.y + held.y - now.y, scale }, coat);
}

/** Moved by so many pixels of the screen. */
export function panned(camera: Camera, coat: Size, dx: number, dy: number): Camera {
  return within({ ...camera, x: camera.x + dy / camera.scale, y: camera.y - dx / camera.scale }, coat);
}

/** The middle stays on the coat. */
function within(camera: Camera, coat: Size): Camera {
  return {
    ...camera,
    x: Math.min(coat.width, Math.max(0, camera.x)),
    y: Math.min(coat.height, Math.max(0, camera.y)),
  };
}

/** The zoom of tiles that is sharp at a scale: a pixel of a tile is about one of the screen. */
export function zoomFor(scale: number, most: number): number {
  return Math.min(most, Math.max(0, Math.round(Math.log2(1 / scale))));
}

/**
 * Tiles of a zoom that are seen.
 * @param feedStep length of a dot along the feed, in dots across
 */
export function tilesInView(
  camera: Camera,
  coat: Size,
  view: Size,
  zoom: number,
  tilePx: number,
  feedStep: number,
): { x: number; y: number }[] {
  const span = tilePx * 2 ** zoom;
  const head = dotAt(camera, view, { x: 0, y: 0 });
  const foot = dotAt(camera, view, { x: view.width, y: view.height });
  const range = (from: number, to: number, all: number, step: number): number[] => {
    const first = Math.max(0, Math.floor(from / step));
    const last = Math.min(Math.ceil(all / step) - 1, Math.floor(to / step));
    return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => first + i);
  };
  const rows = range(head.y, foot.y, coat.height, span * feedStep);
  return rows.flatMap((y) => range(foot.x, head.x, coat.width, span).map((x) => ({ x, y })));
}
