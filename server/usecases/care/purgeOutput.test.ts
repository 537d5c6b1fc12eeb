import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { PDFArray, PDFDict, PDFDocument, PDFName } from '@cantoo/pdf-lib';
import sharp, { type Region } from 'sharp';
import { pdfPicture } from '../../testing/pictures/pdfPicture.ts';
import { inflateSync } from 'node:zlib';
import { dotsOfFile } from '../../../core/raster/channelFile.ts';
import { testFolder } from '../../testing/testFolder.ts';
import { type TestShop, openTestShop } from '../../testing/shopFixture.ts';
import { carePrinter, figuresOf } from './careWork.ts';
import { purgeAsPdf, purgeRaster } from './purgeOutput.ts';

const { root } = testFolder('purges');
let shop: TestShop;
let close: () => void;
beforeAll(() => {
  ({ shop, close } = openTestShop());
});
afterAll(() => {
  close();
});

const DESIGN = {
  ...{ id: 'design-1', printerId: 'wren', name: 'White', modeId: 'draft', stockId: 'film-sheet', onlyNeeded: false },
  sheet: {
    ...{ form: 'sheet' as const, widthMm: 320, lengthMm: 450, density: 0.1 },
    levels: { white: 1, cyan: 0.3, magenta: 0 },
  },
};

test('the dots of a purge come to its figures: 0.209237 ml of white, 0.015693 ml of cyan', () => {
  const printer = carePrinter(shop.db, 'wren');
  const { file, dropPl } = purgeRaster(printer, DESIGN);
  const { inkMl } = figuresOf(printer, DESIGN);
  const dots = dotsOfFile(file, inflateSync);
  expect([...dots.keys()]).toEqual(['cyan', 'white']);
  for (const [id, [, small = 0, middle = 0, full = 0]] of dots) {
    const heads = printer.config.channels.find((channel) => channel.id === id)?.heads ?? 0;
    expect([small, middle]).toEqual([0, 0]);
    expect((full * dropPl * heads * 1e-9) / (inkMl[id] ?? 0)).toBeCloseTo(1, 3);
  }
  expect(inkMl['white']).toBeCloseTo(0.209237, 6);
  // Where only white needs it, only white is in the file.
  expect([...dotsOfFile(purgeRaster(printer, DESIGN, ['white']).file, inflateSync).keys()]).toEqual(['white']);
});

test('another library reads the same dots from the channel file, page by page', async () => {
  const printer = carePrinter(shop.db, 'wren');
  const { file } = purgeRaster(printer, DESIGN);
  const own = [...dotsOfFile(file, inflateSync).values()];
  for (const [page, counts] of own.entries()) {
    const { data, info } = await sharp(file, { page, limitInputPixels: false })
      .raw()
      .toBuffer({ resolveWithObject: true });
    // 310 × 420 mm at 720 dpi.
    expect([info.width, info.height]).toEqual([8787, 11_906]);
    let fired = 0;
    for (let i = 0; i < data.length; i += info.channels) if ((data[i] ?? 0) < 128) fired += 1;
    expect(fired).toBe(counts[3]);
  }
});

test('as PDF its lines cover the share that is fired, and each channel is a separation of its own', async () => {
  const printer = carePrinter(shop.db, 'wren');
  const black = { ...DESIGN, sheet: { ...DESIGN.sheet, density: 0.25, levels: { black: 1 } } };
  const file = join(root, 'purge.pdf');
  writeFileSync(file, await purgeAsPdf(printer, black));
  const { leadMm, mediaMarginMm } = printer.config;
  const at = {
    left: Math.ceil(mediaMarginMm.leftMm * 4) + 4,
    top: Math.ceil(leadMm * 4) + 4,
    width: 1200,
    height: 1600,
  };
  const drawn = await pdfPicture(file, 1280, 1800);
  const redOf = async (part: Region) =>
    (await sharp(await sharp(drawn).extract(part).png().toBuffer()).stats()).channels[0];
  const red = await redOf(at);
  const dark = Number.parseInt(
    (printer.config.channels.find(({ id }) => id === 'black')?.colour ?? '#000000').slice(1, 3),
    16,
  );
  expect((255 - (red?.mean ?? 0)) / (255 - dark)).toBeCloseTo(0.25, 2);
  // The margin stays bare.
  const edge = await redOf({ left: 0, top: 0, width: 12, height: 1800 });
  expect(edge?.min).toBe(255);
  const two = await PDFDocument.load(await purgeAsPdf(printer, DESIGN));
  const spaces = two.getPage(0).node.Resources()?.lookup(PDFName.of('ColorSpace'), PDFDict);
  const names = spaces?.values().map((space) => (space instanceof PDFArray ? String(space.get(1)) : ''));
  expect(names).toEqual(['/Cyan', '/White']);
});
