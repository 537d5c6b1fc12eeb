import { checkPlot } from '../../core/heads/checkPlot.ts';
import { drawPlot } from '../../core/heads/drawPlot.ts';
import { pictureOf } from '../../core/heads/scan/picture.ts';
import { readPlot } from '../../core/heads/scan/readPlot.ts';
import { seededRandom } from '../../core/random.ts';
import {
  CORPUS_PLOT,
  NO_SCORE,
  addScore,
  pictureFrom,
  scanOf,
  someFaults,
  takingOf,
} from '../testing/pictures/scanCorpus.ts';

const NO_CODE = { code: () => undefined, ink: '#000000' };

test('scans with 8.5 pixels between two lines: missing, weak and crooked nozzles are found, and no others', async () => {
  const score = { ...NO_SCORE };
  for (const seed of [11, 12, 13]) {
    const random = seededRandom(seed);
    const faults = someFaults(random);
    const picture = await pictureFrom(await scanOf(faults, takingOf(8.5, random), random));
    const reading = readPlot(CORPUS_PLOT, [picture]);
    expect(reading).toMatchObject({ blocks: 8, of: 8 });
    expect(reading.confidence).toBeGreaterThan(0.95);
    addScore(score, faults, reading);
  }
  expect(score.missing).toBeGreaterThan(40);
  expect(score.missingFound / score.missing).toBeGreaterThanOrEqual(0.995);
  expect(score.calledMissing / score.others).toBeLessThanOrEqual(0.0005);
  expect(score.crookedFound / score.crooked).toBeGreaterThanOrEqual(0.95);
  expect(score.unjudged).toBe(0);
});

test('a photo by hand, turned by 12 degrees and seen from one side, is read as well', async () => {
  const random = seededRandom(21);
  const faults = someFaults(random);
  const taking = takingOf(12, random, { turnDeg: 12, perspective: 0.075 });
  const reading = readPlot(CORPUS_PLOT, [await pictureFrom(await scanOf(faults, taking, random))]);
  const score = { ...NO_SCORE };
  addScore(score, faults, reading);
  expect([reading.blocks, score.missingFound, score.calledMissing]).toEqual([8, score.missing, 0]);
});

test('a picture that is too coarse is not judged: nothing is claimed of any nozzle', async () => {
  const random = seededRandom(22);
  const reading = readPlot(CORPUS_PLOT, [
    await pictureFrom(await scanOf(someFaults(random), takingOf(5.6, random), random)),
  ]);
  expect(reading).toMatchObject({ confidence: null, blocks: 8, off: [] });
  for (const { missing, weak, crooked, unjudged } of reading.channels) {
    expect([missing, weak, crooked, unjudged.length]).toEqual([[], [], [], 180]);
  }
});

/** Its own drawing, cut out of the whole: as many pixels as a scan of 300 dpi has. */
function part(
  fromMm: number,
  toMm: number,
  faults: Parameters<typeof drawPlot>[2]['faults'],
): ReturnType<typeof pictureOf> {
  const drawn = drawPlot(CORPUS_PLOT, 300, { ...NO_CODE, ...(faults ? { faults } : {}) });
  const [from, to] = [fromMm, toMm].map((mm) => Math.round((mm / 25.4) * 300));
  const width = (to ?? 0) - (from ?? 0);
  const rows = Array.from({ length: drawn.height }, (_, y) =>
    drawn.rgb.subarray((y * drawn.width + (from ?? 0)) * 3, (y * drawn.width + (to ?? 0)) * 3),
  );
  return pictureOf(Uint8Array.from(rows.flatMap((row) => [...row])), width, drawn.height, 3);
}

test('a plot in several blocks is read from several pictures; what none of them shows is not judged', () => {
  const faults = {
    cyan: { missing: [3], weak: [], crooked: [] },
    black: { missing: [], weak: [5], crooked: [] },
  };
  const half = CORPUS_PLOT.widthMm / 2;
  const left = part(0, half, faults);
  const whole = readPlot(CORPUS_PLOT, [left, part(half, CORPUS_PLOT.widthMm, faults)]);
  expect(whole).toMatchObject({ blocks: 8, confidence: 1 });
  const of = (id: string) => whole.channels.find((channel) => channel.id === id);
  expect([of('cyan')?.missing, of('black')?.weak]).toEqual([[3], [5]]);
  const alone = readPlot(CORPUS_PLOT, [left]);
  expect(alone.blocks).toBe(4);
  expect(alone.channels.filter(({ unjudged }) => unjudged.length === 180)).toHaveLength(4);
});

test('a head that fires nothing at all is missing as a whole; a picture of something else tells nothing', () => {
  const all = Array.from({ length: 180 }, (_, n) => n);
  const faults = { magenta: { missing: all, weak: [], crooked: [] } };
  const reading = readPlot(CORPUS_PLOT, [part(0, CORPUS_PLOT.widthMm, faults)]);
  expect(reading.channels.find(({ id }) => id === 'magenta')?.missing).toEqual(all);
  const other = readPlot(CORPUS_PLOT, [pictureOf(new Uint8Array(600 * 400).fill(200), 600, 400, 1)]);
  expect(other).toMatchObject({ blocks: 0, confidence: null });
});

test('a part of a page-wide plot is read alone', () => {
  const plot = checkPlot({
    id: 'gannet',
    head: 'page-wide',
    printableWidthMm: 1000,
    nozzles: 3000,
    nozzlesPerInch: 1200,
    bars: 6,
    channels: [{ id: 'cyan', heads: 1, colour: '#1391C7', pale: false }],
  });
  const { rgb, width, height } = drawPlot(plot, 300, {
    ...NO_CODE,
    faults: { cyan: { missing: [40, 41, 2000], weak: [7], crooked: [900] } },
  });
  const reading = readPlot(plot, [pictureOf(rgb, width, height, 3)]);
  expect(reading.channels).toEqual([{ id: 'cyan', missing: [40, 41, 2000], weak: [7], crooked: [900], unjudged: [] }]);
  expect(Math.abs(reading.off[0]?.mm ?? 0)).toBeCloseTo(0.35, 1);
});
