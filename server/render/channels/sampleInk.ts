import { type SampledInk, type WindowInk, isSure, sampledInk } from '../../../core/estimate/inkSample.ts';
import { LANES, type InkTable } from '../../../core/coats/inkTable.ts';
import { seededRandom } from '../../../core/random.ts';
import type { DataPaths } from '../../files/paths.ts';
import { PageWindows } from './pageWindows.ts';
import { type CoatOrder, artOf, tableOf } from './renderPart.ts';
import { TableReader } from './tableReader.ts';

/** Dots along each side of a window. */
const WINDOW = 256;
/** The coarse picture of all of a run has no more pixels than this, unless one would stand for more dots than a window has. */
const MOST_COARSE = 4_000_000;
const LEAST_SCALE = 8;
const SLICE = WINDOW * WINDOW;
/** Windows of a round, across and along the feed together. */
const ROUND = 49;
const MOST_WINDOWS = 1225;
const SEED = 11;

export interface InkSample {
  readonly channels: readonly SampledInk[];
  readonly windows: number;
}

/**
 * How much ink a run takes by a sample of its real pixels: windows at the resolution of its mode, evenly strewn, until each channel is known
 * within 2 %, or time is up.
 * @param mostMs what is known by then is the answer
 * @throws Unreadable where its profile can't be used
 */
export async function sampleInk(coat: CoatOrder, paths: DataPaths, mostMs: number): Promise<InkSample> {
  const { width, height, channels } = coat;
  const begun = performance.now();
  const { table } = await tableOf(coat, paths);
  const reader = new TableReader(table.nodes, SLICE);
  const pages = await PageWindows.open(artOf(coat, paths), width, height);
  try {
    const coarse = new CoarsePicture(coat, pages, reader, table);
    const [columns, rows] = [Math.min(WINDOW, width), Math.min(WINDOW, height)];
    const windows: WindowInk[] = [];
    const random = seededRandom(SEED);
    // Cells of a round are about as long as they are wide.
    const across = Math.min(ROUND, Math.max(1, Math.round(Math.sqrt((ROUND * width) / height))));
    const along = Math.max(1, Math.floor(ROUND / across));
    for (;;) {
      for (let cell = 0; cell < across * along; cell += 1) {
        const left = coarse.onEdge(((cell % across) + random()) / across, width - columns);
        const top = coarse.onEdge((Math.floor(cell / across) + random()) / along, height - rows);
        const lanes = reader.read(table, pages.drawSmaller(1, { left, top, columns, rows }));
        windows.push({ real: meansOf(lanes, channels.length), coarse: coarse.meansAt(left, top, columns, rows) });
      }
      const sampled = sampledInk(coarse.means, windows);
      if (isSure(sampled) || windows.length >= MOST_WINDOWS || performance.now() - begun > mostMs)
        return { channels: sampled, windows: windows.length };
    }
  } finally {
    pages.close();
  }
}

/** All of a run in a few pixels, by the ink of each channel. */
class CoarsePicture {
  private readonly scale: number;
  private readonly columns: number;
  private readonly rows: number;
  private readonly lanes: Uint8Array;
  private readonly channels: number;
  readonly means: readonly number[];

  constructor({ width, height, channels }: CoatOrder, pages: PageWindows, reader: TableReader, table: InkTable) {
    this.channels = channels.length;
    let scale = LEAST_SCALE;
    while (scale < WINDOW && Math.ceil(width / scale) * Math.ceil(height / scale) > MOST_COARSE) scale *= 2;
    this.scale = scale;
    this.columns = Math.ceil(width / scale);
    this.rows = Math.ceil(height / scale);
    const { columns, rows } = this;
    const pixels = pages.drawSmaller(scale, { left: 0, top: 0, columns, rows }).slice();
    this.lanes = new Uint8Array(columns * rows * LANES);
    for (let from = 0; from < columns * rows; from += SLICE) {
      const slice = pixels.subarray(from * 4, Math.min(columns * rows, from + SLICE) * 4);
      this.lanes.set(reader.read(table, slice), from * LANES);
    }
    this.means = meansOf(this.lanes, this.channels);
  }

  /** A place on an edge of its pixels. @param share of the way to `most` dots */
  onEdge(share: number, most: number): number {
    return Math.floor((share * Math.max(0, most)) / this.scale) * this.scale;
  }

  meansAt(left: number, top: number, columns: number, rows: number): number[] {
    const [fromX, fromY] = [left / this.scale, top / this.scale];
    const toX = Math.min(this.columns, Math.ceil((left + columns) / this.scale));
    const toY = Math.min(this.rows, Math.ceil((top + rows) / this.scale));
    const part = new Uint8Array((toX - fromX) * (toY - fromY) * LANES);
    for (let y = fromY; y < toY; y += 1) {
      const at = (y * this.columns + fromX) * LANES;
      part.set(this.lanes.subarray(at, at + (toX - fromX) * LANES), (y - fromY) * (toX - fromX) * LANES);
    }
    return meansOf(part, this.channels);
  }
}

/** Mean ink of each channel, 0 … 1. */
function meansOf(lanes: Uint8Array, channels: number): number[] {
  const count = Math.max(1, lanes.length / LANES);
  return Array.from({ length: channels }, (_, channel) => {
    let sum = 0;
    for (let at = channel; at < lanes.length; at += LANES) sum += lanes[at] ?? 0;
    return sum / (count * 255);
  });
}
