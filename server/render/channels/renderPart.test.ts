import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { inflateSync } from 'node:zlib';
import { PDFDocument, rgb } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { firedShare } from '../../../core/coats/dropSizes.ts';
import { LANES, inksOf } from '../../../core/coats/inkTable.ts';
import { PART_ROWS, partCount } from '../../../core/raster/bands.ts';
import { dotsOfFile } from '../../../core/raster/channelFile.ts';
import { profileFile } from '../../demo/profileFile.ts';
import { heronCoat, putHeronProfile } from '../../testing/heronCoat.ts';
import { testFolder } from '../../testing/testFolder.ts';
import { bakeInks } from '../colour/bakeInks.ts';
import { CoatReader, coatFile } from './coatFile.ts';
import { VIEW_TILE, mostZoom, viewTile } from './coatTiles.ts';
import { type PartIndex, renderPart } from './renderPart.ts';

const { paths } = testFolder('channels');
const MM = 72 / 25.4;
const [WIDTH_MM, HEIGHT_MM] = [70, 160];
const dots = (mm: number): number => Math.round((mm / 25.4) * 720);

const COAT = heronCoat('whole', 'artwork', dots(WIDTH_MM), dots(HEIGHT_MM), 720);

/** A blue patch at the head, letters, half-clear circles in the middle, a grey patch at the foot; from 50 mm on bare. */
async function artwork(): Promise<void> {
  const document = await PDFDocument.create();
  const page = document.addPage([WIDTH_MM * MM, HEIGHT_MM * MM]);
  const top = (mm: number): number => (HEIGHT_MM - mm) * MM;
  page.drawRectangle({ x: 5 * MM, y: top(25), width: 40 * MM, height: 20 * MM, color: rgb(0.2, 0.4, 0.8) });
  page.drawText('drawn in bands', { x: 5 * MM, y: top(40), size: 16 });
  for (let i = 0; i < 12; i += 1) {
    page.drawCircle({
      x: (8 + 3 * i) * MM,
      y: top(60 + 6 * i),
      size: 7 * MM,
      color: rgb(i / 12, 0.5, 0.1),
      opacity: 0.6,
    });
  }
  page.drawRectangle({ x: 5 * MM, y: top(158), width: 40 * MM, height: 18 * MM, color: rgb(0.5, 0.5, 0.5) });
  mkdirSync(dirname(paths.laidOut('artwork')), { recursive: true });
  writeFileSync(paths.laidOut('artwork'), await document.save());
  putHeronProfile(paths);
}

const PARTS = partCount(COAT.height);
const indexes: PartIndex[] = [];

beforeAll(async () => {
  await artwork();
  for (let part = 0; part < PARTS; part += 1) indexes.push(await renderPart({ coat: COAT, part }, paths));
});

test('a part that is made again alone, in another order, has the same dots', async () => {
  expect(PARTS).toBe(3);
  const again = { ...COAT, key: 'again' };
  for (let part = PARTS - 1; part >= 0; part -= 1) {
    expect(await renderPart({ coat: again, part }, paths)).toEqual(indexes[part]);
    for (const file of ['dots', 'cells'] as const) {
      const [one, other] = ['whole', 'again'].map((key) => readFileSync(paths.coatPart(key, part, file)));
      expect(one?.equals(other ?? Buffer.alloc(0))).toBe(true);
    }
  }
});

test('patches fire what their table asks for, and bare media stays bare', async () => {
  const { channels, intent, inkLimit } = COAT;
  const output = readFileSync(profileFile('Heron banner 6-pass'));
  const table = await bakeInks({ input: null, output, channels, intent, inkLimit });
  const reader = new CoatReader(paths, COAT);
  const patches = [
    { tile: [2, 1], colour: [51, 102, 204] },
    { tile: [2, 16], colour: [128, 128, 128] },
    { tile: [6, 9], colour: [255, 255, 255] },
  ] as const;
  for (const {
    tile: [x, y],
    colour,
  } of patches) {
    const asked = inksOf(table, Uint8Array.of(...colour, 255));
    for (let channel = 0; channel < channels.length; channel += 1) {
      // A tile of 256 dots, nine millimetres wide, that lies within the patch.
      const place = { channel, zoom: 0, x, y };
      const tile = await viewTile(reader, COAT, COAT.drops, place);
      const mean = (tile?.ink ?? new Uint8Array()).reduce((sum, ink) => sum + ink, 0) / VIEW_TILE ** 2;
      const ink = asked[channel] ?? 0;
      if (ink === 0) expect(mean).toBe(0);
      else expect(Math.abs(mean - ink)).toBeLessThan(0.6);
    }
  }
});

test('the file is read by a reader of its own: each page is a channel, dot by dot what is shown', async () => {
  const { head, parts, directories, bytes } = await coatFile(paths, COAT);
  const file = Buffer.concat([head, ...parts.map((part) => readFileSync(part)), directories]);
  expect(file).toHaveLength(bytes);
  // By our own reader of channel files: names, and dots of each level.
  const counted = dotsOfFile(file, inflateSync);
  expect([...counted.keys()]).toEqual(COAT.channels);
  const reader = new CoatReader(paths, COAT);
  for (const [channel, name] of COAT.channels.entries()) {
    const sums = [0, 1, 2, 3].map((level) =>
      indexes.reduce((sum, { dots: own }) => sum + (own[channel]?.[level] ?? 0), 0),
    );
    expect(counted.get(name)).toEqual(sums);
    expect(sums.reduce((sum, each) => sum + each, 0)).toBe(COAT.width * COAT.height);
    // By another: two bits, where more ink is darker.
    const { data, info } = await sharp(file, { page: channel, limitInputPixels: false })
      .toColourspace('b-w')
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect([info.width, info.height, info.channels]).toEqual([COAT.width, COAT.height, 1]);
    const levels = [0, 0, 0, 0];
    for (const grey of data) {
      const level = 3 - Math.round(grey / 85);
      levels[level] = (levels[level] ?? 0) + 1;
    }
    expect(levels).toEqual(sums);
    // Dot by dot: a tile that lies over two tiles of the file and two parts.
    const place = { channel, zoom: 0, x: 3, y: Math.floor(PART_ROWS / VIEW_TILE) };
    const tile = await viewTile(reader, COAT, COAT.drops, place);
    const ink = [0, ...COAT.drops.map((size) => Math.round((size / COAT.drops[2]) * 255))];
    const seen = Uint8Array.from({ length: VIEW_TILE * VIEW_TILE }, (_, i) => {
      const at = (place.y * VIEW_TILE + Math.floor(i / VIEW_TILE)) * COAT.width + place.x * VIEW_TILE + (i % VIEW_TILE);
      return ink[3 - Math.round((data[at] ?? 0) / 85)] ?? 0;
    });
    expect(Buffer.compare(Buffer.from(tile?.ink ?? []), seen)).toBe(0);
  }
});

test('at every zoom the ink of all tiles is the ink of all dots', async () => {
  const reader = new CoatReader(paths, COAT);
  const far = mostZoom(COAT.width, COAT.height);
  expect(far).toBe(5);
  for (const channel of [0, 3]) {
    const all = [0, 1, 2, 3].map((level) =>
      indexes.reduce((sum, { dots: own }) => sum + (own[channel]?.[level] ?? 0), 0),
    );
    const share = firedShare(all, COAT.drops);
    expect(share).toBeGreaterThan(0.005);
    for (const zoom of [1, 2, 3, 4, 5, 6, 8]) {
      let sum = 0;
      let area = 0;
      const tiles = Math.ceil(Math.max(COAT.width, COAT.height) / 2 ** zoom / VIEW_TILE);
      for (let y = 0; y < tiles; y += 1) {
        for (let x = 0; x < tiles; x += 1) {
          const tile = await viewTile(reader, COAT, COAT.drops, { channel, zoom, x, y });
          if (!tile) continue;
          const scale = 2 ** zoom;
          tile.ink.forEach((ink, i) => {
            const px = x * VIEW_TILE + (i % tile.width);
            const py = y * VIEW_TILE + Math.floor(i / tile.width);
            const covered = Math.min(scale, COAT.width - px * scale) * Math.min(scale, COAT.height - py * scale);
            sum += ink * covered;
            area += covered;
          });
        }
      }
      expect(area).toBe(COAT.width * COAT.height);
      // Cells are rounded to 1 / 255.
      expect(Math.abs(sum / area / 255 - share)).toBeLessThan(0.0025);
    }
    expect(await viewTile(reader, COAT, COAT.drops, { channel, zoom: far, x: 1, y: 0 })).toBeNull();
  }
  expect(LANES).toBeGreaterThanOrEqual(COAT.channels.length);
});

test('a profile that is damaged, and a part that is missing, are told', async () => {
  writeFileSync(paths.profile('broken'), 'no profile');
  const broken = { ...COAT, key: 'broken', profile: { name: 'Broken', sha256: 'broken' } };
  await expect(renderPart({ coat: broken, part: 0 }, paths)).rejects.toThrow('This is no ICC profile.');
  await expect(coatFile(paths, { ...COAT, key: 'nowhere' })).rejects.toThrow('part 0 of a coat is missing');
});
