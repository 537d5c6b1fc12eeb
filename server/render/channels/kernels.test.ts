import { execFileSync } from 'node:child_process';
import fc from 'fast-check';
import { blueNoise } from '../../../core/coats/blueNoise.ts';
import { type Step, enlargedRow, stepAt } from '../../../core/coats/enlarge.ts';
import { bakeTable, inksOf, inksOver, LANES } from '../../../core/coats/inkTable.ts';
import { cellsOfDots } from '../../../core/coats/cells.ts';
import { seededRandom } from '../../../core/random.ts';
import { type DropSizes, firedShare } from '../../../core/coats/dropSizes.ts';
import {
  MASK_SIZE,
  type Screening,
  diffuseRow,
  diffusionErrors,
  diffusionMask,
  orderedMask,
  orderedRow,
  SCREENINGS,
} from '../../../core/coats/screening.ts';
import { INK_KERNELS } from './inkKernels.ts';
import { InkKernels, dotSteps } from './kernels.ts';

const RANKS = blueNoise(MASK_SIZE, seededRandom(1));
const DROPS: DropSizes = [3, 5, 7];

/** Rough in every direction, so that each of the six ways through a cell is walked. */
const rough = (channels: number, nodes: number) => {
  const random = seededRandom(7);
  return bakeTable(nodes, channels, () => Array.from({ length: channels }, random));
};

function noisePixels(width: number, seed: number): Uint8Array {
  const random = seededRandom(seed);
  return Uint8Array.from({ length: width * 4 }, (_, i) => {
    const value = Math.floor(random() * 256);
    // Opaque, clear and in between.
    return i % 4 === 3 ? (value < 128 ? 255 : value < 160 ? 0 : value) : value;
  });
}

/** Levels of a row of a strip, in lanes, as the packed dots say. */
function levelsOfRow(kernels: InkKernels, width: number, row: number): Uint8Array {
  const levels = new Uint8Array(width * LANES);
  for (let channel = 0; channel < LANES; channel += 1) {
    const columns = Array.from({ length: Math.ceil(width / 1024) }, (_, column) => kernels.tile(channel, column));
    for (let x = 0; x < width; x += 1) {
      const tile = columns[x >> 10] ?? new Uint8Array();
      levels[x * LANES + channel] = ((tile[row * 256 + ((x & 1023) >> 2)] ?? 0) >> (6 - 2 * (x & 3))) & 3;
    }
  }
  return levels;
}

test('the kernels that are shipped are those of their source', () => {
  const compiled = execFileSync(
    process.execPath,
    [
      '--input-type=module',
      '-e',
      "const { compileKernels } = await import('./scripts/kernels.mjs'); process.stdout.write(Buffer.from(await compileKernels()).toString('base64'))",
    ],
    { encoding: 'utf8' },
  );
  expect(INK_KERNELS).toBe(compiled);
});

test.each([
  [4, 17],
  [6, 33],
  [8, 9],
])('inks of %i channels by a table of %i nodes are those of the reference, sample by sample', (channels, nodes) => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 300 }), fc.integer(), (width, seed) => {
      const table = rough(channels, nodes);
      const kernels = new InkKernels({ width, table, screening: 'error diffusion', drops: DROPS, ranks: RANKS });
      const pixels = noisePixels(width, seed);
      kernels.pixels.set(pixels);
      kernels.convert();
      expect(Buffer.compare(kernels.inks, inksOf(table, pixels))).toBe(0);
    }),
    { numRuns: 25 },
  );
});

test.each(SCREENINGS)('dots by %s are those of the reference, and are counted', (screening: Screening) => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 1100 }),
      fc.integer(),
      fc.constantFrom<DropSizes>([3, 5, 7], [4, 4, 4], [1, 6, 12]),
      (width, seed, drops) => {
        const table = rough(8, 5);
        const kernels = new InkKernels({ width, table, screening, drops, ranks: RANKS });
        kernels.begin();
        kernels.clearStrip();
        const errors = diffusionErrors(width);
        const mask = screening === 'error diffusion' ? diffusionMask(RANKS, drops) : orderedMask(RANKS);
        const counted = Array.from({ length: 8 }, () => [0, 0, 0, 0]);
        for (let row = 0; row < 6; row += 1) {
          // The first two only warm up; rows are those of a place far down a page.
          const y = 123_456 + row;
          const pixels = noisePixels(width, seed + row);
          kernels.pixels.set(pixels);
          kernels.convert();
          kernels.screen(y, row < 2 ? null : row - 2);
          const inks = inksOf(table, pixels);
          const levels =
            screening === 'error diffusion'
              ? diffuseRow(inks, y, errors, mask, drops)
              : orderedRow(inks, y, mask, drops);
          if (row === 1) kernels.takeCells(2);
          if (row < 2) continue;
          expect(Buffer.compare(levelsOfRow(kernels, width, row - 2), levels)).toBe(0);
          levels.forEach((level, i) => {
            const own = counted[i % LANES];
            if (own && level > 0) own[level] = (own[level] ?? 0) + 1;
          });
        }
        const lines = kernels.takeCells(4);
        for (let channel = 0; channel < LANES; channel += 1) {
          const { dots, rowBytes } = kernels.plane(channel);
          const { cells } = cellsOfDots(dots, { width, rows: 4, rowBytes, sizes: drops });
          cells.forEach((cell, i) => {
            expect(Math.abs(cell - (lines[channel]?.[i] ?? -9))).toBeLessThanOrEqual(1);
          });
        }
        expect(kernels.takeCounts()).toEqual(counted);
        expect(
          kernels
            .takeCounts()
            .flat()
            .every((n) => n === 0),
        ).toBe(true);
      },
    ),
    { numRuns: 20 },
  );
});

test.each(SCREENINGS)(
  'by %s a tint fires what was asked, all over the scale, and bare media stays bare',
  (screening) => {
    const width = 1024;
    const rows = 256;
    // The share of full ink is the red of a pixel.
    const table = bakeTable(2, 1, (r) => [r]);
    const kernels = new InkKernels({ width, table, screening, drops: DROPS, ranks: RANKS });
    let asked = 0;
    let fired = 0;
    for (const value of [0, 3, 8, 20, 46, 90, 128, 180, 230, 255]) {
      kernels.begin();
      kernels.clearStrip();
      for (let y = 0; y < rows; y += 1) {
        const pixels = kernels.pixels;
        for (let x = 0; x < width; x += 1) pixels.set([value, 0, 0, 255], x * 4);
        kernels.convert();
        kernels.screen(y, y);
      }
      const [counts = []] = kernels.takeCounts();
      const dots = [width * rows - counts.reduce((sum, n) => sum + n, 0), ...counts.slice(1)];
      const share = firedShare(dots, DROPS);
      // Of a light tint the mask itself has steps of 1 / 4,096.
      expect(Math.abs(share - value / 255)).toBeLessThan(screening === 'error diffusion' ? 0.0006 : 0.0003);
      if (value === 0) expect(counts).toEqual([0, 0, 0, 0]);
      asked += value / 255;
      fired += share;
    }
    expect(Math.abs(fired / asked - 1)).toBeLessThan(0.002);
  },
);

test('pictures of inks are enlarged, and what is drawn lies over them, as the reference does it, sample by sample', () => {
  fc.assert(
    fc.property(
      ...([
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 1, max: 300 }),
        fc.integer({ min: 0, max: 32_767 }),
      ] as const),
      ...([fc.boolean(), fc.integer()] as const),
      (pixels, width, down, isTurned, seed) => {
        const table = rough(6, 9);
        const kernels = new InkKernels({
          ...{ width, table, screening: 'error diffusion', drops: DROPS, ranks: RANKS, mostPixels: pixels },
        });
        const random = seededRandom(seed);
        const row = (): Uint8Array => Uint8Array.from({ length: pixels * LANES }, () => Math.floor(random() * 256));
        const [above, below] = [row(), row()];
        const first = Math.floor(random() * width);
        const count = 1 + Math.floor(random() * (width - first));
        const [from, to] = [first - random(), first + count + random()];
        const steps = Array.from({ length: count }, (_, i): Step => stepAt(first + i, from, to, pixels, isTurned));
        kernels.clearInks();
        kernels.layPicture(above, below, down, { first, steps: dotSteps(steps) });
        const laid = new Uint8Array(width * LANES);
        laid.set(enlargedRow(above, below, down, steps), first * LANES);
        expect(Buffer.compare(kernels.inks, laid)).toBe(0);
        const drawn = noisePixels(width, seed);
        kernels.pixels.set(drawn);
        kernels.convert(true);
        expect(Buffer.compare(kernels.inks, inksOver(table, drawn, laid))).toBe(0);
      },
    ),
    { numRuns: 60 },
  );
});

test('a picture as large as its dots comes out pixel for pixel, and turned the other way round', () => {
  const pixels = 50;
  const random = seededRandom(5);
  const row = Uint8Array.from({ length: pixels * LANES }, () => Math.floor(random() * 256));
  const at = (isTurned: boolean): Step[] =>
    Array.from({ length: pixels }, (_, i) => stepAt(i, 0, pixels, pixels, isTurned));
  expect(Buffer.compare(enlargedRow(row, row, 0, at(false)), row)).toBe(0);
  const back = enlargedRow(row, row, 0, at(true));
  for (let i = 0; i < pixels; i += 1) {
    expect(back.subarray(i * LANES, (i + 1) * LANES)).toEqual(
      row.subarray((pixels - 1 - i) * LANES, (pixels - i) * LANES),
    );
  }
});
