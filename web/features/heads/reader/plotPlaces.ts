import { type CheckPlot, type PlotBlock, linePlace } from '../../../../core/heads/checkPlot.ts';

/** Pixels between two lines of a column: a finger meets one of them. */
const DISTANCE_PX = 13;
/** Free around a block (px); at the left stand numbers. */
export const EDGE = { left: 40, top: 14, right: 12, bottom: 14 } as const;

/** How a block lies on a screen. */
export interface BlockView {
  readonly scale: number;
  readonly width: number;
  readonly height: number;
}

/** A block so large that its lines can be told apart. */
export function blockView(block: PlotBlock): BlockView {
  const scale = DISTANCE_PX / block.distanceMm;
  return {
    scale,
    width: Math.ceil(block.widthMm * scale) + EDGE.left + EDGE.right,
    height: Math.ceil(block.heightMm * scale) + EDGE.top + EDGE.bottom,
  };
}

/** A line on the screen: where it begins, and how long it is along its direction. */
export function lineAt(
  plot: CheckPlot,
  block: PlotBlock,
  n: number,
  { scale }: BlockView,
): { readonly x: number; readonly y: number; readonly length: number } {
  const { xMm, yMm } = linePlace(block, n);
  return {
    x: EDGE.left + (xMm - block.xMm) * scale,
    y: EDGE.top + (yMm - block.yMm) * scale,
    length: plot.lineMm * scale,
  };
}

/** The nozzle whose line lies nearest to a point of the screen; undefined: none of the block. */
export function nozzleAt(plot: CheckPlot, block: PlotBlock, view: BlockView, x: number, y: number): number | undefined {
  const mmX = (x - EDGE.left) / view.scale;
  const mmY = (y - EDGE.top) / view.scale;
  const [along, across] = block.along ? [mmY, mmX] : [mmX, mmY];
  const column = Math.floor((along + plot.gapMm / 2) / (plot.lineMm + plot.gapMm));
  if (column < 0 || column >= block.columns) return undefined;
  const row = Math.round((across - column * block.pitchMm) / block.distanceMm);
  const j = row * block.columns + column;
  return row < 0 || j >= block.count ? undefined : block.firstN + j;
}

const STEPS: Readonly<Record<string, readonly [along: number, across: number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The nozzle that an arrow leads to; undefined: no arrow. It never leaves its block. */
export function stepped(block: PlotBlock, n: number, key: string): number | undefined {
  const step = STEPS[key];
  if (!step) return undefined;
  const [right, down] = step;
  const [columns, rows] = block.along ? [down, right] : [right, down];
  const j = n - block.firstN + columns + rows * block.columns;
  return block.firstN + Math.min(block.count - 1, Math.max(0, j));
}
