import { TESTER } from '../../testing/tester.ts';
import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { tz } from '@date-fns/tz';
import { PDFDocument } from '@cantoo/pdf-lib';
import { format } from 'date-fns';
import sharp from 'sharp';
import { Refused } from '../../shop.ts';
import { readCode } from '../../testing/pictures/readCode.ts';
import { type TestShop, admitPlain, openTestShop } from '../../testing/shopFixture.ts';
import { changeJob } from '../ticket/changeJobs.ts';
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

/** What the decoder reads in the first `count` places of two columns and three rows, page by page. */
async function readPlaces(bytes: Uint8Array, count: number): Promise<string[]> {
  const file = join(shop.paths.root, 'worksheet.pdf');
  writeFileSync(file, bytes);
  const read: string[] = [];
  for (let page = 1; read.length < count; page++) {
    const only = ['-f', String(page), '-l', String(page)];
    const png = execFileSync('pdftoppm', ['-r', String(DPI), ...only, '-gray', '-png', file]);
    const { data, info } = await sharp(png).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
    // Places of 89 mm by (297 − 38 − 8) / 3 mm; the code is at the upper left of its place.
    for (let place = 0; place < 6 && read.length < count; place++) {
      const left = px(14 + (place % 2) * 93 + 1);
      const top = px(24 + Math.floor(place / 2) * (251 / 3 + 4) + 1);
      const at = { left, top, width: px(32), height: px(32) };
      read.push(await readCode({ data, width: info.width, height: info.height }, at, false));
    }
  }
  return read;
}

const PLACES = { places: { columns: 2, rows: 3 }, gapMm: 4, kind: 'qr' } as const;

test('a worksheet has a code that reads back in every place, filled in order, over as many sheets as it takes', async () => {
  const codes = Array.from({ length: 8 }, (_, i) => `job-tidal-${String(i)}`);
  const entries = codes.map((code) => ({ code, lines: ['card.pdf', 'LM-77', '1 copy'] }));
  const made = await shop.work.run('worksheet', { title: 'Jobs', ...PLACES, entries });
  if (!made.ok) throw new Error('refused');
  expect((await PDFDocument.load(made.bytes)).getPageCount()).toBe(2);
  expect(await readPlaces(made.bytes, 8)).toEqual(codes);
});

test('jobs stand on it in the order in which they are named, with what a person must know', async () => {
  const jobIds = ['a.pdf', 'b.pdf', 'c.pdf'].map((name) => admitPlain(shop, name, [[80, 40]], 'magpie-labels'));
  changeJob(shop, jobIds[1] ?? '', { copies: 12, orderNo: 'LM-77', customer: 'Lantern Street' }, TESTER);
  const order = [...jobIds].reverse();
  const bytes = await worksheetOf(shop, { jobIds: order, columns: 2, rows: 3, gapMm: 4, kind: 'qr' });
  const lines = [
    ['c.pdf', ' ', '1 copy'],
    ['b.pdf', 'LM-77, Lantern Street', '12 copies'],
    ['a.pdf', ' ', '1 copy'],
  ];
  const title = `Jobs, ${format(shop.clock.now(), 'EEE d MMM yyyy', { in: tz(shop.clock.zone) })}`;
  const entries = order.map((code, i) => ({ code, lines: lines[i] ?? [] }));
  const wanted = await shop.work.run('worksheet', { title, ...PLACES, entries });
  expect(wanted.ok && Buffer.from(wanted.bytes).equals(Buffer.from(bytes))).toBe(true);
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
  expect(wide.message).toMatch(/^A code is larger than its place: [\d.]+\u00a0mm of 15.3\u00a0mm.$/);
  expect((await refusal(3, 20, 'qr')).code).toBe('too-large-for-place');
  await expect(worksheetOf(shop, { jobIds: ['job-x'], columns: 3, rows: 6, gapMm: 4, kind: 'qr' })).rejects.toThrow(
    'There is no job job-x.',
  );
});
