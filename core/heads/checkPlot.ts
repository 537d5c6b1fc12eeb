import type { RectMm } from '../geometry/frame.ts';

const MM_PER_IN = 25.4;
/** Length of the line that a nozzle draws, the gap to the next column, and the thickness of one drop's line (mm). */
const LINE_MM = 4;
const GAP_MM = 1;
const THICK_MM = 0.085;
/** Distance of the lines of a column, at least (mm): a scan of 300 dpi has 8 pixels for it. */
const LINE_DISTANCE_MM = 0.68;
/** Corner marks, and what is left free between them and the lines. */
const MARK_MM = 9;
const QUIET_MM = 3;
const BLOCK_GAP_MM = 6;
/** Free around all of it, so that the outermost marks stand alone. */
const EDGE_MM = 6;
/** No block is wider, so that parts of a wide plot are read alone. */
const WIDEST_BLOCK_MM = 200;
/** Between two corner marks there is room for the code. */
const LEAST_OUTER_MM = 3 * MARK_MM + 2 * QUIET_MM;

/** A printer as its check plot needs it. */
export interface PlotPrinter {
  readonly id: string;
  readonly head: 'carriage' | 'page-wide';
  readonly printableWidthMm: number;
  readonly nozzles: number;
  readonly nozzlesPerInch: number;
  readonly bars: number;
  readonly channels: readonly {
    readonly id: string;
    readonly heads: number;
    readonly colour: string;
    readonly pale: boolean;
  }[];
  /** Channels that are drawn; left out: all. A block keeps its number and its marks whichever others are drawn. */
  readonly only?: readonly string[];
}

export interface PlotMark {
  /** Of the dictionary ARUCO_MIP_36h12. */
  readonly id: number;
  readonly xMm: number;
  readonly yMm: number;
  readonly sizeMm: number;
}

/** Lines of one head, or of a part of an array, with corner marks and a code of their own. All lengths mm, from its plot's corner. */
export interface PlotBlock {
  readonly index: number;
  readonly channelId: string;
  readonly head: number;
  /** Number of its first nozzle within the channel, and how many it shows. */
  readonly firstN: number;
  readonly count: number;
  readonly columns: number;
  /** Distance of the lines of one column. */
  readonly distanceMm: number;
  readonly pitchMm: number;
  /** Of an array: lines lie along the feed, side by side across the media. */
  readonly along: boolean;
  /** Corner of the lines. */
  readonly xMm: number;
  readonly yMm: number;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly marks: readonly PlotMark[];
  readonly code: { readonly text: string; readonly xMm: number; readonly yMm: number; readonly sizeMm: number };
  /** Everything of it, and the ground that it takes. */
  readonly outer: { readonly xMm: number; readonly yMm: number; readonly widthMm: number; readonly heightMm: number };
  readonly colour: string;
  /** It shows on dark media only. */
  readonly pale: boolean;
}

export interface CheckPlot {
  readonly printerId: string;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly lineMm: number;
  /** From the end of a line to the next column. */
  readonly gapMm: number;
  readonly thicknessMm: number;
  readonly blocks: readonly PlotBlock[];
}

/** Marks of one dictionary that blocks can be told apart by; a plot of more says which one it is by its code. */
const MARKED_BLOCKS = 62;

/** Columns of a block: as few as keep the lines of one column apart. */
export function plotColumns(nozzlesPerInch: number): number {
  return Math.ceil((LINE_DISTANCE_MM * nozzlesPerInch) / MM_PER_IN - 1e-9);
}

/**
 * The check plot of a printer: every nozzle of every channel draws one line at a known place, in blocks of one channel and head with
 * four corner marks and a code. Source: check plot, second sheet.
 */
export function checkPlot(printer: PlotPrinter): CheckPlot {
  const { blocks, widthMm, heightMm } = printer.head === 'carriage' ? carriageBlocks(printer) : arrayBlocks(printer);
  return { printerId: printer.id, widthMm, heightMm, lineMm: LINE_MM, gapMm: GAP_MM, thicknessMm: THICK_MM, blocks };
}

function isDrawn({ only }: Pick<PlotPrinter, 'only'>, channelId: string): boolean {
  return only?.includes(channelId) ?? true;
}

type Placed = Pick<CheckPlot, 'blocks' | 'widthMm' | 'heightMm'>;

function carriageBlocks(printer: PlotPrinter): Placed {
  const { nozzles, nozzlesPerInch, printableWidthMm, channels } = printer;
  const columns = plotColumns(nozzlesPerInch);
  const widthMm = columns * (LINE_MM + GAP_MM) - GAP_MM;
  const pitchMm = MM_PER_IN / nozzlesPerInch;
  const heightMm = nozzles * pitchMm;
  const outerW = Math.max(widthMm, LEAST_OUTER_MM);
  const outerH = heightMm + 2 * (MARK_MM + QUIET_MM);
  const room = printableWidthMm - 2 * EDGE_MM + BLOCK_GAP_MM;
  const perRow = Math.max(1, Math.floor(room / (outerW + BLOCK_GAP_MM) + 1e-9));
  const every = channels.flatMap((channel) => Array.from({ length: channel.heads }, (_, head) => ({ channel, head })));
  const all = every.map((each, index) => ({ ...each, index })).filter(({ channel }) => isDrawn(printer, channel.id));
  const blocks = all.map(({ channel, head, index }, place) =>
    blockAt(printer, channel, {
      index,
      head,
      firstN: head * nozzles,
      count: nozzles,
      columns,
      pitchMm,
      along: false,
      outer: {
        xMm: EDGE_MM + (place % perRow) * (outerW + BLOCK_GAP_MM),
        yMm: EDGE_MM + Math.floor(place / perRow) * (outerH + BLOCK_GAP_MM),
        widthMm: outerW,
        heightMm: outerH,
      },
      lines: { widthMm, heightMm },
      insetMm: 0,
    }),
  );
  const across = Math.min(perRow, all.length);
  const down = Math.ceil(all.length / perRow);
  return {
    blocks,
    widthMm: across * (outerW + BLOCK_GAP_MM) - BLOCK_GAP_MM + 2 * EDGE_MM,
    heightMm: down * (outerH + BLOCK_GAP_MM) - BLOCK_GAP_MM + 2 * EDGE_MM,
  };
}

/** Each nozzle of an array stands over one place: its line lies there, and channels follow one another in the feed. */
function arrayBlocks(printer: PlotPrinter): Placed {
  const { nozzles, nozzlesPerInch, channels } = printer;
  const columns = plotColumns(nozzlesPerInch);
  const pitchMm = MM_PER_IN / nozzlesPerInch;
  const heightMm = columns * (LINE_MM + GAP_MM) - GAP_MM;
  const outerH = heightMm + 2 * (MARK_MM + QUIET_MM);
  const parts = Math.ceil((nozzles * pitchMm) / WIDEST_BLOCK_MM - 1e-9);
  const count = Math.ceil(nozzles / parts);
  const drawn = channels
    .map((channel, number) => ({ channel, number }))
    .filter(({ channel }) => isDrawn(printer, channel.id));
  const blocks = drawn.flatMap(({ channel, number }, row) =>
    Array.from({ length: parts }, (_, part) => {
      const firstN = part * count;
      const own = Math.min(count, nozzles - firstN);
      const widthMm = own * pitchMm;
      return blockAt(printer, channel, {
        index: number * parts + part,
        head: part,
        firstN,
        count: own,
        columns,
        pitchMm,
        along: true,
        outer: {
          xMm: EDGE_MM + firstN * pitchMm,
          yMm: EDGE_MM + row * (outerH + BLOCK_GAP_MM),
          widthMm,
          heightMm: outerH,
        },
        lines: { widthMm, heightMm },
        insetMm: QUIET_MM,
      });
    }),
  );
  return {
    blocks,
    widthMm: nozzles * pitchMm + 2 * EDGE_MM,
    heightMm: drawn.length * (outerH + BLOCK_GAP_MM) - BLOCK_GAP_MM + 2 * EDGE_MM,
  };
}

function blockAt(
  printer: PlotPrinter,
  channel: PlotPrinter['channels'][number],
  given: Pick<PlotBlock, 'index' | 'head' | 'firstN' | 'count' | 'columns' | 'pitchMm' | 'along' | 'outer'> & {
    readonly lines: { readonly widthMm: number; readonly heightMm: number };
    /** How far its marks lie within its sides. */
    readonly insetMm: number;
  },
): PlotBlock {
  const { lines, insetMm, ...kept } = given;
  const { xMm, yMm, widthMm, heightMm } = given.outer;
  const left = xMm + insetMm;
  const right = xMm + widthMm - insetMm - MARK_MM;
  const bottom = yMm + heightMm - MARK_MM;
  const places: [number, number][] = [
    [left, yMm],
    [right, yMm],
    [right, bottom],
    [left, bottom],
  ];
  return {
    ...kept,
    channelId: channel.id,
    colour: channel.colour,
    pale: channel.pale,
    distanceMm: given.columns * given.pitchMm,
    xMm,
    yMm: yMm + MARK_MM + QUIET_MM,
    ...lines,
    marks: places.map(([x, y], corner) => ({
      id: (given.index % MARKED_BLOCKS) * 4 + corner,
      xMm: x,
      yMm: y,
      sizeMm: MARK_MM,
    })),
    code: {
      text: `${printer.id} ${String(given.index)}`,
      xMm: (left + right + MARK_MM) / 2 - MARK_MM / 2,
      yMm,
      sizeMm: MARK_MM,
    },
  };
}

/** Where nozzle n of a block draws its line: the corner of the line that is nearest to the corner of its plot (mm). */
export function linePlace(block: PlotBlock, n: number): { readonly xMm: number; readonly yMm: number } {
  const j = n - block.firstN;
  const step = (j % block.columns) * (LINE_MM + GAP_MM);
  return block.along
    ? { xMm: block.xMm + j * block.pitchMm, yMm: block.yMm + step }
    : { xMm: block.xMm + step, yMm: block.yMm + j * block.pitchMm };
}

/** The line of a nozzle as a rectangle (mm). */
export function lineRect({ lineMm, thicknessMm }: CheckPlot, block: PlotBlock, n: number): RectMm {
  const [widthMm, heightMm] = block.along ? [thicknessMm, lineMm] : [lineMm, thicknessMm];
  return { ...linePlace(block, n), widthMm, heightMm };
}
