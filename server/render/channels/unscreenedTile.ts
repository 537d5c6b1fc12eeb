import type { DataPaths } from '../../files/paths.ts';
import { LANES } from '../../../core/coats/inkTable.ts';
import { VIEW_TILE } from './coatTiles.ts';
import { PageWindows } from './pageWindows.ts';
import { type CoatOrder, artOf, tableOf } from './renderPart.ts';
import { TableReader } from './tableReader.ts';

export interface UnscreenedOrder {
  readonly coat: CoatOrder;
  /** A pixel is 2^zoom dots along each side. */
  readonly zoom: number;
  readonly x: number;
  readonly y: number;
}

export interface UnscreenedTile {
  readonly width: number;
  readonly height: number;
  /** Of each channel: ink of each pixel, 0 … 255, row by row. */
  readonly inks: readonly Uint8Array[];
}

/** The run that was looked at last: to open a long one takes longer than to draw a tile of it. */
let opened: { readonly key: string; readonly windows: PageWindows } | undefined;
let reader: TableReader | undefined;

/**
 * A tile of a coat that is not rendered: ink before screening, by the table that its rendering goes by. Null where nothing of the run lies.
 * @throws Unreadable where the profile can't be used
 */
export async function unscreenedTile(
  { coat, zoom, x, y }: UnscreenedOrder,
  paths: DataPaths,
): Promise<UnscreenedTile | null> {
  const { width, height, channels } = coat;
  const scale = 2 ** zoom;
  const [left, top] = [x * VIEW_TILE, y * VIEW_TILE];
  const columns = Math.min(VIEW_TILE, Math.ceil(width / scale) - left);
  const rows = Math.min(VIEW_TILE, Math.ceil(height / scale) - top);
  if (columns <= 0 || rows <= 0) return null;
  const { table } = await tableOf(coat, paths);
  const windows = await windowsOf(coat, paths);
  const rgba = windows.drawSmaller(scale, { left, top, columns, rows });
  if (reader?.nodes !== table.nodes) reader = new TableReader(table.nodes, VIEW_TILE * VIEW_TILE);
  const lanes = reader.read(table, rgba);
  const inks = channels.map((_, channel) =>
    Uint8Array.from({ length: columns * rows }, (__, i) => lanes[i * LANES + channel] ?? 0),
  );
  return { width: columns, height: rows, inks };
}

async function windowsOf(coat: CoatOrder, paths: DataPaths): Promise<PageWindows> {
  const { width, height } = coat;
  const file = artOf(coat, paths);
  const key = JSON.stringify([file, width, height]);
  if (opened?.key === key) return opened.windows;
  opened?.windows.close();
  opened = undefined;
  const windows = await PageWindows.open(file, width, height);
  opened = { key, windows };
  return windows;
}
