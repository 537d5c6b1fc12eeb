import sharp from 'sharp';
import type { MachineAbout } from '../contract/machine/about.ts';
import { checkPlot } from '../core/heads/checkPlot.ts';
import { drawPlot } from '../core/heads/drawPlot.ts';
import type { ChannelFaults } from '../core/heads/nozzleFaults.ts';
import { markInk, plotPrinter } from '../core/heads/printerHeads.ts';
import { photograph } from '../core/machine/photograph.ts';
import { seededRandom } from '../core/random.ts';

/** Pixels for each mm of what is drawn, and of what is taken of it: 305 dpi. */
const DRAWN = 20;
const TAKEN = 12;

/**
 * A check plot as somebody would photograph it: a little turned, not quite from above, in uneven light. The part of a page-wide plot
 * that fits into one picture.
 */
export async function plotPicture(
  about: MachineAbout,
  printed: Readonly<Record<string, ChannelFaults>>,
): Promise<Buffer> {
  const plot = checkPlot(plotPrinter(about.id, about, Object.keys(printed)));
  const drawn = drawPlot(plot, DRAWN * 25.4, {
    code: () => undefined,
    ink: markInk(about),
    faults: printed,
  });
  const taking = { scale: TAKEN, turnDeg: 1.5, perspective: 0.01, falloff: 0.25, blur: 0.8, noise: 2.5 };
  const { rgb, width, height } = photograph(drawn, DRAWN, taking, seededRandom(about.machine.nozzlesPerChannel));
  return sharp(rgb, { raw: { width, height, channels: 3 }, limitInputPixels: false })
    .jpeg({ quality: 85 })
    .toBuffer();
}
