import sharp from 'sharp';
import { type CheckPlot, checkPlot } from '../../../core/heads/checkPlot.ts';
import { drawPlot } from '../../../core/heads/drawPlot.ts';
import type { ChannelFaults, NozzleFault } from '../../../core/heads/nozzleFaults.ts';
import { type Picture, pictureOf } from '../../../core/heads/scan/picture.ts';
import type { PlotReading } from '../../../core/heads/scan/readPlot.ts';
import { type Taking, photograph } from '../../../core/machine/photograph.ts';
import type { Random } from '../../../core/random.ts';
import { encodeCode } from '../../render/out/encodeCode.ts';

const CHANNELS: readonly (readonly [string, string])[] = [
  ['cyan', '#1391C7'],
  ['magenta', '#C4246F'],
  ['yellow', '#E8C400'],
  ['black', '#2A2724'],
  ['light-cyan', '#8CC7DE'],
  ['light-magenta', '#E3A3C0'],
  ['grey', '#B3AEA6'],
  ['white', '#F4F1EA'],
];

/** The plot of the corpus: eight channels of 180 nozzles, as many to the inch as leave ten columns. */
export const CORPUS_PLOT: CheckPlot = checkPlot({
  id: 'heron',
  head: 'carriage',
  printableWidthMm: 250,
  nozzles: 180,
  nozzlesPerInch: 360,
  bars: 1,
  channels: CHANNELS.map(([id, colour]) => ({ id, colour, heads: 1, pale: id === 'white' })),
});

const DISTANCE_MM = CORPUS_PLOT.blocks[0]?.distanceMm ?? 1;
/** What is drawn is finer than what is taken. */
const DRAWN = 24;

/** How one scan is taken, by the pixels that it has between two lines. */
export function takingOf(pixels: number, random: Random, more: Partial<Taking> = {}): Taking {
  return {
    scale: pixels / DISTANCE_MM,
    turnDeg: (random() * 2 - 1) * 3,
    perspective: 0.02,
    falloff: 0.25 + random() * 0.2,
    blur: 0.9,
    noise: 3,
    ...more,
  };
}

/** Some nozzles of each channel with each fault. */
export function someFaults(random: Random): Record<string, ChannelFaults> {
  const faults: Record<string, ChannelFaults> = {};
  for (const [id] of CHANNELS) {
    const own: Record<NozzleFault, number[]> = { missing: [], weak: [], crooked: [] };
    for (let n = 0; n < 180; n += 1) {
      const drawn = random();
      if (drawn < 0.015) own.missing.push(n);
      else if (drawn < 0.025) own.weak.push(n);
      else if (drawn < 0.035) own.crooked.push(n);
    }
    faults[id] = own;
  }
  return faults;
}

/** A scan of the plot with these faults, as JPEG of quality 70, read back. */
export async function scanOf(
  faults: Readonly<Record<string, ChannelFaults>>,
  taking: Taking,
  random: Random,
): Promise<Buffer> {
  const share = 0.35 + random() * 0.15;
  const by = 0.4 + random() * 0.1;
  const drawn = drawPlot(CORPUS_PLOT, DRAWN * 25.4, {
    code: (text) => encodeCode('qr', text),
    ink: '#2A2724',
    faults,
    faultLook: { weakShare: () => share, crookedBy: (_, n) => (n % 2 === 0 ? by : -by) },
  });
  const { rgb, width, height } = photograph(drawn, DRAWN, taking, random);
  return sharp(rgb, { raw: { width, height, channels: 3 } })
    .jpeg({ quality: 70 })
    .toBuffer();
}

/** Pixels of a picture file. */
export async function pictureFrom(file: Buffer): Promise<Picture> {
  const { data, info } = await sharp(file).raw().toBuffer({ resolveWithObject: true });
  return pictureOf(data, info.width, info.height, info.channels);
}

/** What a reading got right and wrong. */
export interface ScanScore {
  missing: number;
  missingFound: number;
  /** Nozzles that print somehow, and those of them that were called missing. */
  others: number;
  calledMissing: number;
  crooked: number;
  crookedFound: number;
  good: number;
  goodCalledOther: number;
  unjudged: number;
}

export const NO_SCORE: Readonly<ScanScore> = {
  missing: 0,
  missingFound: 0,
  others: 0,
  calledMissing: 0,
  crooked: 0,
  crookedFound: 0,
  good: 0,
  goodCalledOther: 0,
  unjudged: 0,
};

/** Adds what a reading made of these faults to a score. */
export function addScore(
  score: ScanScore,
  faults: Readonly<Record<string, ChannelFaults>>,
  reading: PlotReading,
): void {
  for (const channel of reading.channels) {
    const own = faults[channel.id];
    const [missing, crooked, bad] = [new Set(own?.missing), new Set(own?.crooked), new Set(own?.weak)];
    const [readMissing, readCrooked] = [new Set(channel.missing), new Set(channel.crooked)];
    const other = new Set([...channel.missing, ...channel.weak, ...channel.crooked]);
    const unjudged = new Set(channel.unjudged);
    score.unjudged += unjudged.size;
    for (let n = 0; n < 180; n += 1) {
      if (unjudged.has(n)) continue;
      if (missing.has(n)) {
        score.missing += 1;
        if (readMissing.has(n)) score.missingFound += 1;
        continue;
      }
      score.others += 1;
      if (readMissing.has(n)) score.calledMissing += 1;
      if (crooked.has(n)) {
        score.crooked += 1;
        if (readCrooked.has(n)) score.crookedFound += 1;
      } else if (!bad.has(n)) {
        score.good += 1;
        if (other.has(n)) score.goodCalledOther += 1;
      }
    }
  }
}
