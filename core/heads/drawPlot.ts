import type { CodeModules } from '../layout/marks/codeShape.ts';
import type { ChannelFaults } from './nozzleFaults.ts';
import { type CheckPlot, type PlotBlock, lineRect } from './checkPlot.ts';
import { blockFrame } from './blockFrame.ts';
import { DARK_GROUND, LIGHT_GROUND, rgbOf } from './grounds.ts';

/** Pixels of three bytes, row by row. */
export interface Drawing {
  readonly width: number;
  readonly height: number;
  readonly rgb: Uint8ClampedArray;
}

/** How a nozzle that is not well draws: what a weak one leaves of its ink, and where a crooked one lands (line distances). */
export interface FaultLook {
  readonly weakShare: (channelId: string, n: number) => number;
  readonly crookedBy: (channelId: string, n: number) => number;
}

const PLAIN_LOOK: FaultLook = { weakShare: () => 0.42, crookedBy: (_, n) => (n % 2 === 0 ? 0.5 : -0.5) };

/** What a drawing needs beside the plot. */
export interface PlotLook {
  /** The code that says this text; undefined: it is left out. */
  readonly code: (text: string) => CodeModules | undefined;
  /** Colour of what is printed of the marks on light media. */
  readonly ink: string;
  /** By channel; left out: every nozzle prints. */
  readonly faults?: Readonly<Record<string, ChannelFaults>>;
  readonly faultLook?: FaultLook;
}

type Rgb = ReturnType<typeof rgbOf>;

/** Pixels that a plot takes at a resolution. */
export function plotPixels(
  { widthMm, heightMm }: Pick<CheckPlot, 'widthMm' | 'heightMm'>,
  dpi: number,
): { readonly width: number; readonly height: number } {
  return {
    width: Math.max(1, Math.round((widthMm / 25.4) * dpi)),
    height: Math.max(1, Math.round((heightMm / 25.4) * dpi)),
  };
}

/** Draws a check plot, its first line at the top. Lines are anti-aliased: they keep their place to a fraction of a pixel. */
export function drawPlot(plot: CheckPlot, dpi: number, look: PlotLook): Drawing {
  const { width, height } = plotPixels(plot, dpi);
  const canvas = new Canvas(width, height, dpi / 25.4);
  canvas.fill(rgbOf(LIGHT_GROUND));
  for (const block of plot.blocks) if (block.pale) drawGround(canvas, block);
  for (const block of plot.blocks) {
    drawFrame(canvas, block, look);
    drawLines(canvas, plot, block, look);
  }
  return { width, height, rgb: canvas.rgb };
}

/** Dark ground reaches so far beyond a block that shows on it (mm). */
const GROUND_BEYOND_MM = 3;

function drawGround(canvas: Canvas, { outer: { xMm, yMm, widthMm, heightMm } }: PlotBlock): void {
  const by = GROUND_BEYOND_MM;
  canvas.rect(xMm - by, yMm - by, widthMm + 2 * by, heightMm + 2 * by, rgbOf(DARK_GROUND));
}

function drawFrame(canvas: Canvas, block: PlotBlock, look: PlotLook): void {
  const ink = rgbOf(block.pale ? block.colour : look.ink);
  for (const { xMm, yMm, widthMm, heightMm } of blockFrame(block, look.code(block.code.text))) {
    canvas.rect(xMm, yMm, widthMm, heightMm, ink);
  }
}

function drawLines(
  canvas: Canvas,
  plot: CheckPlot,
  block: PlotBlock,
  { faults, faultLook = PLAIN_LOOK }: PlotLook,
): void {
  const ink = rgbOf(block.colour);
  const own = faults?.[block.channelId];
  const missing = new Set(own?.missing);
  const weak = new Set(own?.weak);
  const crooked = new Set(own?.crooked);
  for (let n = block.firstN; n < block.firstN + block.count; n += 1) {
    if (missing.has(n)) continue;
    const share = weak.has(n) ? faultLook.weakShare(block.channelId, n) : 1;
    const by = crooked.has(n) ? faultLook.crookedBy(block.channelId, n) * block.distanceMm : 0;
    const { xMm, yMm, widthMm, heightMm } = lineRect(plot, block, n);
    canvas.rect(xMm + (block.along ? by : 0), yMm + (block.along ? 0 : by), widthMm, heightMm, ink, share);
  }
}

/** Rectangles in mm, laid over what is there by the share of each pixel that they cover. */
class Canvas {
  readonly rgb: Uint8ClampedArray;

  constructor(
    private readonly width: number,
    private readonly height: number,
    private readonly scale: number,
  ) {
    this.rgb = new Uint8ClampedArray(width * height * 3);
  }

  fill([r, g, b]: Rgb): void {
    for (let i = 0; i < this.rgb.length; i += 3) {
      this.rgb[i] = r;
      this.rgb[i + 1] = g;
      this.rgb[i + 2] = b;
    }
  }

  rect(xMm: number, yMm: number, widthMm: number, heightMm: number, colour: Rgb, share = 1): void {
    const { scale } = this;
    const left = Math.max(0, xMm * scale);
    const right = Math.min(this.width, (xMm + widthMm) * scale);
    const top = Math.max(0, yMm * scale);
    const bottom = Math.min(this.height, (yMm + heightMm) * scale);
    for (let y = Math.floor(top); y < bottom; y += 1) {
      const down = Math.min(bottom, y + 1) - Math.max(top, y);
      for (let x = Math.floor(left); x < right; x += 1) {
        const across = Math.min(right, x + 1) - Math.max(left, x);
        this.lay((y * this.width + x) * 3, colour, down * across * share);
      }
    }
  }

  private lay(at: number, colour: Rgb, share: number): void {
    for (let plane = 0; plane < 3; plane += 1) {
      const before = this.rgb[at + plane] ?? 0;
      this.rgb[at + plane] = before + ((colour[plane] ?? 0) - before) * share;
    }
  }
}
