/*
 * How well a check plot is read from a picture, and how long that takes: 500 made-up scans with 8.5 pixels between two lines
 * (turned by up to 3 degrees, corners off by 2 %, light that falls off, blur, noise, JPEG of quality 70), then others that are harder.
 *
 *   npm run bench:scan [scans]
 */
import sharp from 'sharp';
import { type PlotReading, readPlot } from '../core/heads/scan/readPlot.ts';
import type { Taking } from '../core/machine/photograph.ts';
import { type Random, seededRandom } from '../core/random.ts';
import {
  CORPUS_PLOT,
  NO_SCORE,
  type ScanScore,
  addScore,
  pictureFrom,
  scanOf,
  someFaults,
  takingOf,
} from '../server/testing/pictures/scanCorpus.ts';

const SCANS = Number(process.argv[2] ?? 500);

interface Series {
  readonly name: string;
  readonly scans: number;
  readonly taking: (random: Random) => Taking;
}

const SERIES: readonly Series[] = [
  { name: '8.5 px per line distance', scans: SCANS, taking: (random) => takingOf(8.5, random) },
  {
    name: '8.5 px, blur 1.6, noise double',
    scans: SCANS / 25,
    taking: (random) => takingOf(8.5, random, { blur: 1.6, noise: 6 }),
  },
  {
    name: '12° turn, 15 % perspective',
    scans: SCANS / 25,
    taking: (random) => takingOf(12, random, { turnDeg: 12, perspective: 0.075 }),
  },
  { name: '5.6 px: too coarse', scans: SCANS / 50, taking: (random) => takingOf(5.6, random) },
];

const percent = (part: number, of: number): string =>
  of === 0 ? '–' : `${((100 * part) / of).toFixed(3)} % (${String(part)} of ${String(of)})`;

async function read(file: Buffer): Promise<{ reading: PlotReading; ms: number }> {
  const began = performance.now();
  const picture = await pictureFrom(file);
  const reading = readPlot(CORPUS_PLOT, [picture]);
  return { reading, ms: performance.now() - began };
}

for (const { name, scans, taking } of SERIES) {
  const score: ScanScore = { ...NO_SCORE };
  const times: number[] = [];
  let lost = 0;
  for (let scan = 0; scan < scans; scan += 1) {
    const random = seededRandom(1000 + scan);
    const faults = someFaults(random);
    const { reading, ms } = await read(await scanOf(faults, taking(random), random));
    times.push(ms);
    lost += reading.of - reading.blocks;
    addScore(score, faults, reading);
  }
  times.sort((a, b) => a - b);
  console.log(`\n${name}, ${String(Math.ceil(scans))} scans`);
  console.log(`  missing found            ${percent(score.missingFound, score.missing)}`);
  console.log(`  called missing, is not   ${percent(score.calledMissing, score.others)}`);
  console.log(`  good called other        ${percent(score.goodCalledOther, score.good)}`);
  console.log(`  crooked found            ${percent(score.crookedFound, score.crooked)}`);
  console.log(`  can't judge              ${String(score.unjudged)}, blocks not found ${String(lost)}`);
  console.log(
    `  a scan takes             ${String(Math.round(times[Math.floor(times.length / 2)] ?? 0))} ms, longest ${String(Math.round(times.at(-1) ?? 0))} ms`,
  );
}

// A photo of 12 megapixels: what a phone takes.
const random = seededRandom(7);
const file = await scanOf(someFaults(random), takingOf(12, random), random);
const { width } = await sharp(file).metadata();
const large = await sharp(file)
  .resize(4000, 3000, { fit: 'contain', background: '#cdc9c2' })
  .jpeg({ quality: 85 })
  .toBuffer();
const { ms, reading } = await read(large);
console.log(
  `\nA photo of 12 megapixels (${String(width)} px of it the plot): ${String(Math.round(ms))} ms, ${String(reading.blocks)} of ${String(reading.of)} blocks`,
);
