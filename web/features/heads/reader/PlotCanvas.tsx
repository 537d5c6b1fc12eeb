import { type KeyboardEvent, useEffect, useRef } from 'react';
import type { CheckPlot, PlotBlock } from '../../../../core/heads/checkPlot.ts';
import { DARK_GROUND, LIGHT_GROUND } from '../../../../core/heads/grounds.ts';
import type { ChannelDraft } from './faultsDraft.ts';
import { EDGE, blockView, lineAt, nozzleAt, stepped } from './plotPlaces.ts';

/** Signs of faults on the plot: the same on light and dark media. */
const SIGNS = { missing: '#B3261E', weak: '#9A6700', crooked: '#0E6A6B' } as const;
const SIGNS_ON_DARK = { missing: '#F2857C', weak: '#E0A93B', crooked: '#4FB9B6' } as const;

interface PlotCanvasProps {
  readonly plot: CheckPlot;
  readonly block: PlotBlock;
  readonly said: ChannelDraft;
  /** The line that keys act on; undefined: it is only looked at. */
  readonly cursor?: number | undefined;
  readonly label: string;
  readonly onTap?: (n: number) => void;
  readonly onCursor?: (n: number) => void;
}

/** One block of a check plot as it lies on the media, large enough to tap its lines. Arrows go from line to line, Space taps. */
export function PlotCanvas({ plot, block, said, cursor, label, onTap, onCursor }: PlotCanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const view = blockView(block);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !canvas.current) return;
    const ratio = window.devicePixelRatio;
    canvas.current.width = view.width * ratio;
    canvas.current.height = view.height * ratio;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    drawBlock(context, plot, block, said, cursor);
  });
  const onKeyDown = (event: KeyboardEvent): void => {
    if (cursor === undefined) return;
    const next = stepped(block, cursor, event.key);
    if (next !== undefined) onCursor?.(next);
    else if (event.key === ' ' || event.key === 'Enter') onTap?.(cursor);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const drawn = (
    <canvas
      ref={canvas}
      style={{ width: view.width, height: view.height }}
      className="block"
      onClick={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        const n = nozzleAt(plot, block, view, event.clientX - box.left, event.clientY - box.top);
        if (n === undefined || !onTap) return;
        onCursor?.(n);
        onTap(n);
      }}
    />
  );
  if (!onTap)
    return (
      <div role="img" aria-label={label}>
        {drawn}
      </div>
    );
  return (
    <div
      role="application"
      aria-label={label}
      aria-describedby="plot-keys"
      tabIndex={0}
      onKeyDown={onKeyDown}
      className="w-fit outline-offset-2"
    >
      {drawn}
    </div>
  );
}

/** Lines of a row are numbered so often. */
const NUMBERED_ROWS = 5;

function drawBlock(
  context: CanvasRenderingContext2D,
  plot: CheckPlot,
  block: PlotBlock,
  { faults, unjudged }: ChannelDraft,
  cursor: number | undefined,
): void {
  const view = blockView(block);
  const signs = block.pale ? SIGNS_ON_DARK : SIGNS;
  const thick = Math.max(1.5, plot.thicknessMm * view.scale);
  context.fillStyle = block.pale ? DARK_GROUND : LIGHT_GROUND;
  context.fillRect(0, 0, view.width, view.height);
  const box = (x: number, y: number, length: number, wide: number, by = 0): void => {
    if (block.along) context.fillRect(x - wide / 2 + by, y, wide, length);
    else context.fillRect(x, y - wide / 2 + by, length, wide);
  };
  context.font = '12px "Archivo Variable", sans-serif';
  context.textAlign = 'right';
  context.textBaseline = 'middle';
  for (let n = block.firstN; n < block.firstN + block.count; n += 1) {
    const { x, y, length } = lineAt(plot, block, n, view);
    const fault = faults.get(n);
    if (!block.along && (n - block.firstN) % (block.columns * NUMBERED_ROWS) === 0) {
      context.fillStyle = block.pale ? '#A9A499' : '#6B655A';
      context.fillText(String(n), EDGE.left - 6, y);
    }
    context.fillStyle = block.colour;
    context.globalAlpha = unjudged.has(n) ? 0.25 : fault === 'weak' ? 0.55 : 1;
    if (fault === 'weak') box(x, y, length, thick * 0.7);
    else if (fault === 'crooked') box(x, y, length, thick, block.distanceMm * view.scale * 0.4);
    else if (fault === undefined) box(x, y, length, thick);
    context.globalAlpha = 1;
    if (fault !== undefined) {
      context.strokeStyle = signs[fault];
      context.lineWidth = 1.5;
      context.setLineDash(fault === 'missing' ? [] : fault === 'weak' ? [3, 2] : [6, 2]);
      frame(context, block.along, x, y, length);
      context.setLineDash([]);
    }
    if (n === cursor) {
      context.strokeStyle = block.pale ? '#F2B90C' : '#23211C';
      context.lineWidth = 2;
      frame(context, block.along, x - 1, y, length + 2);
    }
  }
}

function frame(context: CanvasRenderingContext2D, along: boolean, x: number, y: number, length: number): void {
  const half = 4.5;
  if (along) context.strokeRect(x - half, y, 2 * half, length);
  else context.strokeRect(x, y - half, length, 2 * half);
}
