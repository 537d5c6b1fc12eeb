import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { PDFDocument } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { Refused } from '../shop.ts';
import { readCode } from '../testing/readCode.ts';
import { type TestShop, admitPlain, openTestShop } from '../testing/shopFixture.ts';
import { worksheetOf } from './worksheets.ts';

let shop: TestShop;
let close: () => void;
beforeEach(() => {
  ({ shop, close } = openTestShop());
});
afterEach(() => {
  close();
});

const DPI = 150;
const px = (mm: number): number => Math.round((mm / 25.4) * DPI);

test('a worksheet has a code that reads back in every place, in the order of the jobs, over as many sheets as it takes', async () => {
  const jobIds = Array.from({ length: 8 }, (_, i) =>
    admitPlain(shop, `card ${String(i)}.pdf`, [[80, 40]], 'magpie-labels'),
  );
  const order = [...jobIds].reverse();
  const bytes = await worksheetOf(shop, { jobIds: order, columns: 2, rows: 3, gapMm: 4, kind: 'qr' });
  expect((await PDFDocument.load(bytes)).getPageCount()).toBe(2);
  const file = join(shop.paths.root, 'worksheet.pdf');
  writeFileSync(file, bytes);
  const read: string[] = [];
  for (const page of [1, 2]) {
    const png = execFileSync('pdftoppm', [
      '-r',
      String(DPI),
      '-f',
      String(page),
      '-l',
      String(page),
      '-gray',
      '-png',
      file,
    ]);
    const { data, info } = await sharp(png).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
    // Places of 89 mm by (297 − 38 − 8) / 3 mm; the code is at the upper left of its place.
    for (let place = 0; place < (page === 1 ? 6 : 2); place++) {
      const left = px(14 + (place % 2) * 93);
      const top = px(24 + Math.floor(place / 2) * (251 / 3 + 4));
      const at = { left: left + px(1), top: top + px(1), width: px(32), height: px(32) };
      read.push(await readCode({ data, width: info.width, height: info.height }, at, false));
    }
  }
  expect(read).toEqual(order);
});

test('a place that is too small for its code is told with both figures', async () => {
  const jobId = admitPlain(shop, 'card.pdf', [[80, 40]], 'magpie-labels');
  const refusal = async (columns: number, rows: number, kind: 'qr' | 'code128'): Promise<Refused> => {
    const made = worksheetOf(shop, { jobIds: [jobId], columns, rows, gapMm: 4, kind });
    const error: unknown = await made.catch((why: unknown) => why);
    if (!(error instanceof Refused)) throw new Error('it was made');
    return error;
  };
  const wide = await refusal(8, 6, 'code128');
  expect(wide.message).toMatch(/^A code is larger than its place: \d+\.\d mm of 15.3 mm.$/);
  expect((await refusal(3, 20, 'qr')).code).toBe('too-large-for-place');
  await expect(worksheetOf(shop, { jobIds: ['job-x'], columns: 3, rows: 6, gapMm: 4, kind: 'qr' })).rejects.toThrow(
    'There is no job job-x.',
  );
});
