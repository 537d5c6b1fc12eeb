import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import type { CheckPlotView } from '../../../contract/api/heads.ts';
import { type CheckPlot, type PlotPrinter, checkPlot, linePlace, lineRect } from '../../../core/heads/checkPlot.ts';
import { drawPlot } from '../../../core/heads/drawPlot.ts';
import { LIGHT_GROUND } from '../../../core/heads/grounds.ts';
import { blockFrame } from '../../../core/heads/blockFrame.ts';
import { MARK_DICTIONARY } from '../../../core/heads/markBits.ts';
import type { RectMm } from '../../../core/geometry/frame.ts';
import { pictureOf } from '../../../core/heads/scan/picture.ts';
import { type PlotReading, readPlot } from '../../../core/heads/scan/readPlot.ts';
import { encodeCode } from './encodeCode.ts';
import { type PageInk, figure, inkPage } from './inkPage.ts';

/** A check plot as it is asked of a worker. */
export interface PlotOrder {
  readonly printer: PlotPrinter;
  /** Nozzles of each bar of an array; of a carriage those of a head. */
  readonly perHead: number;
  readonly inks: readonly (PageInk & { readonly id: string })[];
  /** What marks are printed with. */
  readonly ink: PageInk & { readonly id: string };
}

/** What is wanted of it. */
export interface PlotFileOrder extends PlotOrder {
  readonly as:
    | { readonly kind: 'json' }
    | { readonly kind: 'pdf'; readonly title: string }
    | { readonly kind: 'png'; readonly dpi: number };
}

/** A check plot as list of its lines, page or picture. */
export function checkPlotFile(order: PlotFileOrder): Promise<Uint8Array> {
  const plot = checkPlot(order.printer);
  const { as } = order;
  if (as.kind === 'json') return Promise.resolve(Buffer.from(JSON.stringify(plotView(plot, order.perHead))));
  if (as.kind === 'pdf') return inkPage(as.title, plot, order.inks, plotOps(plot, order));
  return plotPng(plot, as.dpi, order.ink.colour);
}

function plotView(plot: CheckPlot, perHead: number): CheckPlotView {
  const channels = new Map<string, CheckPlotView['channels'][number]>();
  for (const block of plot.blocks) {
    const own = channels.get(block.channelId) ?? { id: block.channelId, nozzles: [] };
    channels.set(block.channelId, own);
    for (let n = block.firstN; n < block.firstN + block.count; n += 1) {
      const { xMm, yMm } = linePlace(block, n);
      const [lengthMm, thicknessMm] = [plot.lineMm, plot.thicknessMm];
      own.nozzles.push({
        head: Math.floor(n / perHead),
        n,
        xMm: rounded(xMm),
        yMm: rounded(yMm),
        lengthMm,
        thicknessMm,
      });
    }
  }
  return {
    widthMm: plot.widthMm,
    heightMm: plot.heightMm,
    marks: plot.blocks.flatMap((block) =>
      block.marks.map((mark) => ({ ...mark, block: block.index, dictionary: MARK_DICTIONARY })),
    ),
    blocks: plot.blocks.map(({ index, channelId, head, firstN, count, along, distanceMm, pale, code, outer }) => ({
      ...{ index, channelId, head, firstN, count, distanceMm, code: code.text },
      direction: along ? 'along the feed' : 'across',
      ground: pale ? 'dark' : 'light',
      ...outer,
    })),
    channels: [...channels.values()],
  };
}

function rounded(mm: number): number {
  return Math.round(mm * 1e6) / 1e6;
}

function plotPng(plot: CheckPlot, dpi: number, ink: string): Promise<Uint8Array> {
  const { rgb, width, height } = drawPlot(plot, dpi, { code: (text) => encodeCode('qr', text), ink });
  return sharp(rgb, { raw: { width, height, channels: 3 }, limitInputPixels: false })
    .withMetadata({ density: dpi })
    .png({ compressionLevel: 6 })
    .toBuffer();
}

/** Every line and mark as a rectangle of its ink. */
function plotOps(plot: CheckPlot, { inks, ink }: PlotOrder): string[] {
  const ops: string[] = [];
  const use = (id: string): void => {
    ops.push(`/C${String(inks.findIndex((each) => each.id === id))} cs 1 scn`);
  };
  const rect = ({ xMm, yMm, widthMm, heightMm }: RectMm): void => {
    ops.push(`${figure(xMm)} ${figure(yMm)} ${figure(widthMm)} ${figure(heightMm)} re f`);
  };
  for (const block of plot.blocks) {
    use(block.pale ? block.channelId : ink.id);
    for (const each of blockFrame(block, encodeCode('qr', block.code.text))) rect(each);
    use(block.channelId);
    for (let n = block.firstN; n < block.firstN + block.count; n += 1) rect(lineRect(plot, block, n));
  }
  return ops;
}

/** Pictures of a check plot to be read. */
export interface ReadPlotOrder {
  readonly printer: PlotPrinter;
  readonly paths: readonly string[];
}

/** What pictures of a check plot show, or why one of them is none. */
export type ReadPlotAnswer = PlotReading | { readonly refused: string };

/** Reads pictures of a check plot. */
export async function readCheckPlot({ printer, paths }: ReadPlotOrder): Promise<ReadPlotAnswer> {
  const pictures = [];
  for (const path of paths) {
    try {
      const { data, info } = await sharp(await readFile(path), { limitInputPixels: MOST_PIXELS })
        .rotate()
        .flatten({ background: LIGHT_GROUND })
        .toColourspace('srgb')
        .raw()
        .toBuffer({ resolveWithObject: true });
      pictures.push(pictureOf(data, info.width, info.height, info.channels));
    } catch (error) {
      return { refused: error instanceof Error ? error.message : 'unknown' };
    }
  }
  return readPlot(checkPlot(printer), pictures);
}

/** A scan of a metre of a page-wide plot at 400 dpi. */
const MOST_PIXELS = 300e6;
