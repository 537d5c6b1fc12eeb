import type { ChannelFaults } from '../nozzleFaults.ts';
import type { CheckPlot, PlotBlock } from '../checkPlot.ts';
import { type SeenMark, findMarks, lookFactor } from './findMarks.ts';
import { type Homography, type Point, homographyOf, seenAt } from './homography.ts';
import { type Picture, brightness } from './picture.ts';
import { codeOf, printerOfCode } from './readCode.ts';
import { type ReadNozzle, readBlock } from './readBlock.ts';

/** What a picture says of one channel: nozzles by what is wrong with them, and those of which it says nothing. */
export interface ReadChannel extends ChannelFaults {
  readonly id: string;
  readonly unjudged: readonly number[];
}

export interface PlotReading {
  readonly channels: readonly ReadChannel[];
  /** Share of the judged nozzles of which it is sure; null: none was judged. */
  readonly confidence: number | null;
  /** Blocks that were found, of how many. */
  readonly blocks: number;
  readonly of: number;
  /** The printer whose plot it is, where its code says another than was asked for; nothing else is claimed then. */
  readonly otherPrinterId: string | null;
  /** Crooked nozzles and how far their lines lie off their places (mm). */
  readonly off: readonly { readonly channelId: string; readonly n: number; readonly mm: number }[];
}

/** How sure a reading of a nozzle must be to count as sure. */
const SURE = 0.95;
/** Of four corner marks so many say where a block lies. */
const LEAST_MARKS = 3;

/** A block that was found in a picture. */
export interface SeenBlock {
  readonly block: PlotBlock;
  readonly view: Homography;
}

/** Reads a check plot from pictures of it: each shows all of it or some blocks; of a block that is seen twice the surer one counts. */
export function readPlot(plot: CheckPlot, pictures: readonly Picture[]): PlotReading {
  const read = new Map<number, readonly ReadNozzle[]>();
  for (const picture of pictures) {
    const seen = seenBlocks(plot, picture);
    const other = otherPrinter(plot, picture, seen);
    if (other !== null) return { ...readingOf(plot, new Map()), otherPrinterId: other };
    for (const { block, view } of seen) {
      const nozzles = readBlock(picture, view, plot, block, whiteOf(picture, view, block));
      const before = read.get(block.index);
      if (!before || sureCount(nozzles) > sureCount(before)) read.set(block.index, nozzles);
    }
  }
  return readingOf(plot, read);
}

/** Blocks whose codes are tried: on a picture in which the first ones can't be read, the others can't either. */
const CODES_TRIED = 3;

/** The printer that a plot belongs to by its codes, if that is another; codes that can't be read say nothing. */
function otherPrinter({ printerId }: CheckPlot, picture: Picture, seen: readonly SeenBlock[]): string | null {
  for (const { block, view } of seen.slice(0, CODES_TRIED)) {
    const text = codeOf(picture, view, block);
    const owner = text === undefined ? undefined : printerOfCode(text);
    if (owner !== undefined) return owner === printerId ? null : owner;
  }
  return null;
}

/** The blocks of a plot that a picture shows. */
export function seenBlocks(plot: CheckPlot, picture: Picture): SeenBlock[] {
  const least = lookFactor(picture);
  for (let factor = least; ; factor = Math.ceil(factor / 2)) {
    const found = blocksAt(plot, picture, factor);
    // A large picture of small marks is looked at again, closer.
    if (found.length > 0 || factor === 1) return found;
  }
}

function blocksAt(plot: CheckPlot, picture: Picture, factor: number): SeenBlock[] {
  const light = plot.blocks.some(({ pale }) => !pale) ? findMarks(picture, false, factor) : [];
  const pale = plot.blocks.some((block) => block.pale) ? findMarks(picture, true, factor) : [];
  return plot.blocks.flatMap((block) => {
    const view = viewOf(block, block.pale ? pale : light);
    return view ? [{ block, view }] : [];
  });
}

/** Where a block is seen, by the corners of its marks. */
function viewOf(block: PlotBlock, seen: readonly SeenMark[]): Homography | undefined {
  const from: Point[] = [];
  const to: Point[] = [];
  let marks = 0;
  for (const { id, xMm, yMm, sizeMm } of block.marks) {
    const mark = seen.find((each) => each.id === id);
    if (!mark) continue;
    marks += 1;
    from.push(
      { x: xMm, y: yMm },
      { x: xMm + sizeMm, y: yMm },
      { x: xMm + sizeMm, y: yMm + sizeMm },
      { x: xMm, y: yMm + sizeMm },
    );
    to.push(...mark.corners);
  }
  return marks < LEAST_MARKS ? undefined : homographyOf(from, to);
}

/** How bright light media is, or would be, where a block lies: the lightest of what lies between its marks, or white where it is dark. */
function whiteOf({ width, height, grey }: Picture, view: Homography, { outer, pale }: PlotBlock): number {
  if (pale) return 255;
  let best = 0;
  for (const share of [0.35, 0.45, 0.55, 0.65]) {
    const { x, y } = seenAt(view, outer.xMm + outer.widthMm * share, outer.yMm + outer.heightMm - 2);
    best = Math.max(best, brightness(grey, width, height, x, y));
  }
  return best;
}

function sureCount(nozzles: readonly ReadNozzle[]): number {
  return nozzles.filter(({ confidence }) => confidence !== null && confidence >= SURE).length;
}

function readingOf(plot: CheckPlot, read: ReadonlyMap<number, readonly ReadNozzle[]>): PlotReading {
  const channels = new Map<string, { missing: number[]; weak: number[]; crooked: number[]; unjudged: number[] }>();
  const off: { channelId: string; n: number; mm: number }[] = [];
  let judged = 0;
  let sure = 0;
  for (const block of plot.blocks) {
    const own = channels.get(block.channelId) ?? { missing: [], weak: [], crooked: [], unjudged: [] };
    channels.set(block.channelId, own);
    const nozzles = read.get(block.index);
    if (!nozzles) {
      for (let n = block.firstN; n < block.firstN + block.count; n += 1) own.unjudged.push(n);
      continue;
    }
    for (const { n, is, offMm, confidence } of nozzles) {
      if (confidence !== null) judged += 1;
      if (confidence !== null && confidence >= SURE) sure += 1;
      if (is !== 'good') own[is].push(n);
      if (is === 'crooked') off.push({ channelId: block.channelId, n, mm: offMm });
    }
  }
  return {
    channels: [...channels].map(([id, faults]) => ({
      id,
      missing: sorted(faults.missing),
      weak: sorted(faults.weak),
      crooked: sorted(faults.crooked),
      unjudged: sorted(faults.unjudged),
    })),
    confidence: judged === 0 ? null : sure / judged,
    blocks: read.size,
    of: plot.blocks.length,
    otherPrinterId: null,
    off,
  };
}

function sorted(numbers: readonly number[]): number[] {
  return [...numbers].sort((a, b) => a - b);
}
