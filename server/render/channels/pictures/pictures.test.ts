import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { inflateSync } from 'node:zlib';
import {
  PDFDocument,
  type PDFImage,
  type PDFPage,
  StandardFonts,
  clip,
  closePath,
  concatTransformationMatrix,
  degrees,
  drawObject,
  endPath,
  lineTo,
  moveTo,
  popGraphicsState,
  pushGraphicsState,
  rectangle,
  rgb,
} from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { LANES } from '../../../../core/coats/inkTable.ts';
import { CELLS, PART_ROWS, partCount } from '../../../../core/raster/bands.ts';
import { seededRandom } from '../../../../core/random.ts';
import { heronCoat, putHeronProfile } from '../../../testing/heronCoat.ts';
import { testFolder } from '../../../testing/testFolder.ts';
import { PageWindows } from '../pageWindows.ts';
import { type CoatOrder, type PartIndex, renderPart, tableOf, underOf } from '../renderPart.ts';
import { TableReader } from '../tableReader.ts';

const { paths } = testFolder('pictures');
const MM = 72 / 25.4;
const [WIDTH_MM, HEIGHT_MM] = [120, 90];
const DPI = 720;
const dots = (mm: number): number => Math.round((mm / 25.4) * DPI);

const coat = (key: string): CoatOrder => heronCoat(key, key, dots(WIDTH_MM), dots(HEIGHT_MM), DPI);

beforeAll(() => {
  putHeronProfile(paths);
});

/** Slopes that differ in each direction, so that whatever is turned or mirrored wrongly is seen. */
function slopes(width: number, height: number, channels: 1 | 3): Uint8Array {
  return Uint8Array.from({ length: width * height * channels }, (_, i) => {
    const [x, y] = [(Math.floor(i / channels) % width) / width, Math.floor(i / channels / width) / height];
    return Math.round([60 + 180 * x, 40 + 200 * y, 255 - 120 * x - 100 * y][channels === 1 ? 1 : i % 3] ?? 0);
  });
}

async function jpeg(width: number, height: number, channels: 1 | 3 = 3): Promise<Buffer> {
  return sharp(slopes(width, height, channels), { raw: { width, height, channels } })
    .jpeg({ quality: 95, chromaSubsampling: '4:4:4' })
    .toBuffer();
}

async function page(key: string, draw: (document: PDFDocument, page: PDFPage) => Promise<void>): Promise<void> {
  const document = await PDFDocument.create();
  await draw(document, document.addPage([WIDTH_MM * MM, HEIGHT_MM * MM]));
  mkdirSync(dirname(paths.laidOut(key)), { recursive: true });
  writeFileSync(paths.laidOut(key), await document.save());
}

/** Mean ink of each channel in cells of 16 dots, as it was fired. */
async function fired(order: CoatOrder): Promise<Uint8Array[]> {
  const across = Math.ceil(order.width / CELLS[0]);
  const cells = order.channels.map(() => [] as Uint8Array[]);
  for (let part = 0; part < partCount(order.height); part += 1) {
    const index: PartIndex = await renderPart({ coat: order, part }, paths);
    const bytes = readFileSync(paths.coatPart(order.key, part, 'cells'));
    let at = 0;
    index.cells[0]?.forEach((length, channel) => {
      cells[channel]?.push(inflateSync(bytes.subarray(at, at + length)));
      at += length;
    });
  }
  expect(PART_ROWS % CELLS[0]).toBe(0);
  const all = cells.map((parts) => Buffer.concat(parts));
  expect(all[0]?.length).toBe(across * Math.ceil(order.height / CELLS[0]));
  return all;
}

/** The same from the pages as the page library draws them alone. */
async function asked(order: CoatOrder): Promise<Uint8Array[]> {
  const { width, height } = order;
  const { table } = await tableOf(order, paths);
  const windows = await PageWindows.open(paths.laidOut(order.pdfKey), width, height);
  const reader = new TableReader(table.nodes, width);
  const across = Math.ceil(width / CELLS[0]);
  const sums = new Float64Array(across * Math.ceil(height / CELLS[0]) * LANES);
  const counts = new Float64Array(across * Math.ceil(height / CELLS[0]));
  windows.draw(0, height);
  for (let y = 0; y < height; y += 1) {
    const lanes = reader.read(table, Uint8Array.from(windows.row(y)));
    for (let x = 0; x < width; x += 1) {
      const cell = Math.floor(y / CELLS[0]) * across + Math.floor(x / CELLS[0]);
      counts[cell] = (counts[cell] ?? 0) + 1;
      for (let c = 0; c < LANES; c += 1)
        sums[cell * LANES + c] = (sums[cell * LANES + c] ?? 0) + (lanes[x * LANES + c] ?? 0);
    }
  }
  windows.close();
  return order.channels.map((_, c) =>
    Uint8Array.from(counts, (count, cell) => Math.round((sums[cell * LANES + c] ?? 0) / count)),
  );
}

/** How many cells of a hundred differ by more than 12 of 255: edges may lie half a dot off. */
function farOff(a: readonly Uint8Array[], b: readonly Uint8Array[]): number {
  let [far, all] = [0, 0];
  a.forEach((cells, channel) => {
    cells.forEach((ink, i) => {
      all += 1;
      if (Math.abs(ink - (b[channel]?.[i] ?? NaN)) > 12) far += 1;
    });
  });
  return (100 * far) / all;
}

const SPOTS = [
  { x: 3, y: 50, width: 30, height: 20, turn: 0 },
  { x: 70, y: 48, width: 24, height: 30, turn: 90 },
  { x: 110, y: 80, width: 26, height: 18, turn: 180 },
  { x: 75, y: 42, width: 22, height: 32, turn: 270 },
] as const;

test.each(['jpeg', 'png', 'grey'] as const)(
  'pictures in %s are laid as inks where the page library would draw them, whichever way they lie',
  async (kind) => {
    const key = `turned ${kind}`;
    await page(key, async (document, sheet) => {
      const image: PDFImage =
        kind === 'png'
          ? await document.embedPng(
              await sharp(slopes(60, 40, 3), { raw: { width: 60, height: 40, channels: 3 } })
                .png()
                .toBuffer(),
            )
          : await document.embedJpg(await jpeg(60, 40, kind === 'grey' ? 1 : 3));
      for (const { x, y, width, height, turn } of SPOTS) {
        sheet.drawImage(image, { x: x * MM, y: y * MM, width: width * MM, height: height * MM, rotate: degrees(turn) });
      }
    });
    const order = coat(key);
    const under = await underOf(order, paths);
    expect([under.isApart, under.pictures.length, new Set(under.pictures.map(({ file }) => file)).size]).toEqual([
      true,
      4,
      2,
    ]);
    expect(farOff(await fired(order), await asked(order))).toBeLessThan(1);
  },
);

test('what is drawn over a picture lies over it; a mirrored, cut one is laid as it is', async () => {
  const key = 'over';
  await page(key, async (document, sheet) => {
    const image = await document.embedJpg(await jpeg(80, 60));
    const font = await document.embedFont(StandardFonts.Helvetica);
    sheet.drawImage(image, { x: 5 * MM, y: 5 * MM, width: 60 * MM, height: 45 * MM });
    // Mirrored, and cut to the right half of its place.
    sheet.pushOperators(
      pushGraphicsState(),
      rectangle(90 * MM, 10 * MM, 20 * MM, 30 * MM),
      clip(),
      endPath(),
      concatTransformationMatrix(-40 * MM, 0, 0, 30 * MM, 110 * MM, 10 * MM),
      drawObject(sheet.node.newXObject('Cut', image.ref)),
      popGraphicsState(),
    );
    sheet.drawCircle({ x: 30 * MM, y: 30 * MM, size: 12 * MM, color: rgb(1, 0.8, 0) });
    sheet.drawText('over it', { x: 20 * MM, y: 12 * MM, size: 40, font, color: rgb(0.1, 0.1, 0.4) });
  });
  const order = coat(key);
  expect((await underOf(order, paths)).pictures).toHaveLength(2);
  expect(farOff(await fired(order), await asked(order))).toBeLessThan(1);
});

test('on sheets each picture lies on its own, turned ones across the border of none', async () => {
  const key = 'sheets';
  const document = await PDFDocument.create();
  const image = await document.embedJpg(await jpeg(60, 40));
  for (const turn of [0, 90, 180]) {
    const sheet = document.addPage([WIDTH_MM * MM, (HEIGHT_MM / 3) * MM]);
    const [x, y] = turn === 0 ? [10, 4] : turn === 90 ? [60, 2] : [70, 26];
    sheet.drawImage(image, { x: x * MM, y: y * MM, width: 24 * MM, height: 18 * MM, rotate: degrees(turn) });
  }
  writeFileSync(paths.laidOut(key), await document.save());
  const order = coat(key);
  expect((await underOf(order, paths)).pictures).toHaveLength(3);
  expect(farOff(await fired(order), await asked(order))).toBeLessThan(1);
});

test('a part that is made again has the same dots, and any other part beside it', async () => {
  const key = 'over';
  const again = { ...coat('again'), pdfKey: key };
  const parts = [...new Array(partCount(again.height)).keys()].reverse();
  for (const part of parts) {
    await renderPart({ coat: again, part }, paths);
    const [one, other] = [key, 'again'].map((each) => readFileSync(paths.coatPart(each, part, 'dots')));
    expect(one?.equals(other ?? Buffer.alloc(0))).toBe(true);
  }
});

test('pictures that are clear, made smaller, skew, within a shape, or over something else are left to the page library', async () => {
  const key = 'left';
  await page(key, async (document, sheet) => {
    const image = await document.embedJpg(await jpeg(60, 40));
    const random = seededRandom(3);
    const clear = await document.embedPng(
      await sharp(
        Uint8Array.from({ length: 40 * 40 * 4 }, () => Math.floor(random() * 256)),
        { raw: { width: 40, height: 40, channels: 4 } },
      )
        .png()
        .toBuffer(),
    );
    sheet.drawImage(clear, { x: 5 * MM, y: 5 * MM, width: 20 * MM, height: 20 * MM });
    sheet.drawImage(image, { x: 30 * MM, y: 5 * MM, width: 1 * MM, height: 0.7 * MM });
    sheet.drawImage(image, { x: 60 * MM, y: 5 * MM, width: 20 * MM, height: 15 * MM, rotate: degrees(30) });
    sheet.drawImage(image, { x: 90 * MM, y: 5 * MM, width: 20 * MM, height: 15 * MM, opacity: 0.5 });
    sheet.pushOperators(
      pushGraphicsState(),
      ...[moveTo(10, 150), lineTo(60, 150), lineTo(40, 200), closePath(), clip(), endPath()],
      concatTransformationMatrix(60, 0, 0, 60, 5, 145),
      drawObject(sheet.node.newXObject('Shaped', image.ref)),
      popGraphicsState(),
    );
    // Over the clear one.
    sheet.drawImage(image, { x: 10 * MM, y: 10 * MM, width: 20 * MM, height: 15 * MM });
  });
  expect(await underOf(coat(key), paths)).toEqual({ isApart: false, pictures: [] });
});
