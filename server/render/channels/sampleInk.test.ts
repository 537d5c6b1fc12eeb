import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { PDFDocument, StandardFonts, rgb } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { dropSizesOf, firedShare } from '../../../core/coats/dropSizes.ts';
import { PLAIN_TONE } from '../../../core/coats/tone.ts';
import { isSure } from '../../../core/estimate/inkSample.ts';
import { partCount } from '../../../core/raster/bands.ts';
import { seededRandom } from '../../../core/random.ts';
import { profileFile } from '../../demo/profileFile.ts';
import { DataPaths } from '../../files/paths.ts';
import { type CoatOrder, renderPart } from './renderPart.ts';
import { sampleInk } from './sampleInk.ts';

const MM = 72 / 25.4;
const [WIDTH_MM, HEIGHT_MM] = [300, 420];
const DPI = 360;
const dots = (mm: number): number => Math.round((mm / 25.4) * DPI);

let root: string;
let paths: DataPaths;
beforeAll(() => {
  root = mkdtempSync(join(tmpdir(), 'yellow-spool-test-'));
  paths = new DataPaths(root);
  paths.make();
  mkdirSync(dirname(paths.profile('wren')), { recursive: true });
  writeFileSync(paths.profile('wren'), readFileSync(profileFile('Wren film 8-pass')));
  mkdirSync(dirname(paths.laidOut('x')), { recursive: true });
});
afterAll(() => {
  rmSync(root, { recursive: true });
});

function coatOf(pdfKey: string): CoatOrder {
  return {
    ...{ key: pdfKey, pdfKey, width: dots(WIDTH_MM), height: dots(HEIGHT_MM), dpiX: DPI, dpiY: DPI },
    ...{ channels: ['cyan', 'magenta', 'yellow', 'black'], profile: { name: 'Wren film 8-pass', sha256: 'wren' } },
    ...{ intent: 'relative with black point', artwork: null, inkLimit: 2.4, tone: PLAIN_TONE, curves: [] },
    ...{ screening: 'error diffusion', drops: dropSizesOf(7) },
  };
}

/** Small text and hairlines, which a small picture blurs; circles that show through; a picture with noise. */
async function artwork(): Promise<Uint8Array> {
  const random = seededRandom(4);
  const document = await PDFDocument.create();
  const page = document.addPage([WIDTH_MM * MM, HEIGHT_MM * MM]);
  const font = await document.embedFont(StandardFonts.Helvetica);
  for (let line = 0; line < 60; line += 1) {
    page.drawText('the quick brown fox jumps over the lazy dog and over this line '.repeat(2), {
      ...{ x: 10 * MM, y: (410 - line * 2.6) * MM, size: 6, font },
    });
  }
  for (let i = 0; i < 40; i += 1) {
    const [x, y] = [(10 + i * 3) * MM, 120 * MM];
    page.drawLine({ start: { x, y }, end: { x, y: y + 100 * MM }, thickness: 0.5, color: rgb(0.8, 0, 0.2) });
  }
  for (let i = 0; i < 60; i += 1) {
    const [x, y, size] = [(150 + 140 * random()) * MM, (10 + 230 * random()) * MM, (3 + 15 * random()) * MM];
    page.drawCircle({ x, y, size, color: rgb(random(), random(), random()), opacity: 0.6 });
  }
  const pixels = Uint8Array.from({ length: 300 * 300 * 3 }, () => Math.floor(random() * 256));
  const png = await sharp(pixels, { raw: { width: 300, height: 300, channels: 3 } })
    .png()
    .toBuffer();
  page.drawImage(await document.embedPng(png), { x: 10 * MM, y: 10 * MM, width: 100 * MM, height: 100 * MM });
  return document.save();
}

test('what a sample says of a run lies within what it says of what is counted dot by dot, and within 2 %', async () => {
  writeFileSync(paths.laidOut('art'), await artwork());
  const coat = coatOf('art');
  const { channels, windows } = await sampleInk(coat, paths, 60_000);
  expect(isSure(channels) || windows >= 1225).toBe(true);
  const parts = await Promise.all(
    Array.from({ length: partCount(coat.height) }, (_, part) => renderPart({ coat, part }, paths)),
  );
  coat.channels.forEach((_, channel) => {
    const counts = [0, 1, 2, 3].map((level) =>
      parts.reduce((sum, part) => sum + (part.dots[channel]?.[level] ?? 0), 0),
    );
    const fired = firedShare(counts, coat.drops);
    const { share = NaN } = channels[channel] ?? {};
    if (fired > 0.005) expect(Math.abs(share / fired - 1)).toBeLessThan(0.02);
    else expect(Math.abs(share - fired)).toBeLessThan(0.0005);
  });
});

test('bare media takes nothing, a plain sheet is known by the first windows, and what takes too long is told as far as it is known', async () => {
  const bare = await PDFDocument.create();
  bare.addPage([WIDTH_MM * MM, HEIGHT_MM * MM]);
  writeFileSync(paths.laidOut('bare'), await bare.save());
  const none = await sampleInk(coatOf('bare'), paths, 60_000);
  expect(none.channels).toEqual(new Array(4).fill({ share: 0, within: 0 }));
  const plain = await PDFDocument.create();
  const page = plain.addPage([WIDTH_MM * MM, HEIGHT_MM * MM]);
  page.drawRectangle({ x: -1, y: -1, width: 2000, height: 2000, color: rgb(0.1, 0.3, 0.8) });
  writeFileSync(paths.laidOut('plain'), await plain.save());
  const even = await sampleInk(coatOf('plain'), paths, 60_000);
  expect(even.windows).toBeLessThan(60);
  expect(even.channels[0]?.within).toBe(0);
  writeFileSync(paths.laidOut('hurried'), await artwork());
  const hurried = await sampleInk(coatOf('hurried'), paths, 0);
  expect(hurried.windows).toBeLessThan(60);
});
