import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { PDFDocument, PDFName } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { CODE_KINDS, type CodeKind, NO_MARKS } from '../../core/layout/marks/markSettings.ts';
import type { LaidMarks } from '../../core/layout/marks/mark.ts';
import { marksOf } from '../../core/layout/marks/marks.ts';
import { readLimits } from '../limits.ts';
import { encodeCode } from './out/encodeCode.ts';
import { readCode } from '../testing/pictures/readCode.ts';
import { jobSheet } from './out/jobSheet.ts';
import { layPdf } from './out/layPdf.ts';
import { scanPdf } from './pdf/scanPdf.ts';
import { testFolder } from '../testing/testFolder.ts';

const { root, paths } = testFolder('marks');

const WIDTH = 320;
const LENGTH = 200;

function laid(kind: CodeKind, heightMm: number, dpi: number): LaidMarks {
  const marks = {
    ...NO_MARKS,
    crop: { ...NO_MARKS.crop, on: true },
    code: { on: true, kind, ends: 'both' as const, heightMm, pattern: '{id}', white: true },
    pieceCode: { ...NO_MARKS.pieceCode, on: true, kind, heightMm, pattern: '{order} {copy}' },
    slug: { ...NO_MARKS.slug, on: true },
    registration: { ...NO_MARKS.registration, on: true },
  };
  const words = { id: 'RUN-7F3A19', run: 'Run 7', date: '6 Oct 2026', printer: 'Magpie', mode: 'Label' };
  const rect = { xMm: 20, yMm: 60, widthMm: 200, heightMm: 60 };
  const piece = { ...rect, trim: rect, jobId: 'a', words: { order: 'LM-77', copy: '3' } };
  const run = {
    usableWidthMm: 300,
    leadMm: 20,
    sheetMm: null,
    pieces: [piece],
    words,
    dpi: { x: dpi, y: dpi },
    channels: [],
  };
  return marksOf(marks, { ...run, encode: encodeCode });
}

async function pdfOf(key: string, { marks, troubles }: LaidMarks): Promise<string> {
  expect(troubles).toEqual([]);
  const input = { key, title: 't', widthMm: WIDTH, lengthMm: LENGTH, art: [], marks: { list: marks, fromMm: 10 } };
  await layPdf(input, paths, readLimits({}));
  return paths.laidOut(key);
}

/** The output as a printer fires it: one bit a dot, at the resolution of the mode. */
async function oneBit(
  file: string,
  dpi: number,
  part?: { left: number; top: number; width: number; height: number },
): Promise<{ data: Buffer; width: number; height: number }> {
  const cut = part ? ['-x', part.left, '-y', part.top, '-W', part.width, '-H', part.height].map(String) : [];
  const png = execFileSync('pdftoppm', ['-r', String(dpi), ...cut, '-mono', '-png', file], { maxBuffer: 1e9 });
  const { data, info } = await sharp(png, { limitInputPixels: false })
    .toColourspace('b-w')
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { data, width: info.width, height: info.height };
}

test.each(CODE_KINDS.flatMap((kind) => [360, 720].map((dpi) => [kind, dpi] as const)))(
  '%s at %s dpi reads back from the output at both ends, whichever is fed first',
  async (kind, dpi) => {
    const marks = laid(kind, kind === 'qr' ? 18 : 10, dpi);
    const file = await pdfOf(`${kind}-${String(dpi)}`, marks);
    const codes = marks.marks.filter((mark) => mark.kind === 'code');
    // At the head, at the foot, and behind the piece.
    expect(codes.map((code) => code.upsideDown)).toEqual([false, true, false]);
    for (const code of codes) {
      const px = (mm: number): number => Math.round((mm / 25.4) * dpi);
      const { widthMm, heightMm } = code.shape;
      const part = { left: px(code.xMm + 10), top: px(code.yMm), width: px(widthMm), height: px(heightMm) };
      const bits = await oneBit(file, dpi, part);
      expect(await readCode(bits, { left: 0, top: 0, width: bits.width, height: bits.height }, code.upsideDown)).toBe(
        code.text,
      );
      expect(code.text).toMatch(/^(RUN-7F3A19|LM-77 3)$/);
    }
  },
);

test('white goes under a code and its quiet zone as a spot colour, where it is asked for', async () => {
  const marks = laid('code128', 10, 360);
  const white = marks.marks.filter((mark) => mark.kind === 'code' && mark.white);
  expect(white).toHaveLength(2);
  const file = await pdfOf('white', marks);
  const without = await pdfOf('no-white', {
    ...marks,
    marks: marks.marks.map((mark) => (mark.kind === 'code' ? { ...mark, white: false } : mark)),
  });
  const spots = async (path: string): Promise<string[]> => scanPdf(await PDFDocument.load(readFileSync(path))).spots;
  expect([await spots(file), await spots(without)]).toEqual([['White'], []]);
});

test('marks are vectors in a layer of their own, black ink alone, and the same run gives the same bytes', async () => {
  const file = await pdfOf('layers', laid('code128', 10, 720));
  const document = await PDFDocument.load(readFileSync(file));
  const properties = document.catalog.lookup(PDFName.of('OCProperties'))?.toString() ?? '';
  expect(properties).toMatch(/OCGs/);
  expect(execFileSync('pdfimages', ['-list', file]).toString().trim().split('\n')).toHaveLength(2);
  expect(execFileSync('pdffonts', [file]).toString().trim().split('\n')).toHaveLength(2);
  const again = await pdfOf('layers-again', laid('code128', 10, 720));
  expect(readFileSync(again).equals(readFileSync(file))).toBe(true);
});

test('a slug line stands where it should and can be seen; crop marks point at the corners of the piece', async () => {
  const marks = laid('code39', 10, 360);
  const { data, width } = await oneBit(await pdfOf('seen', marks), 100);
  const dark = (xMm: number, yMm: number, wMm: number, hMm: number): number => {
    const px = (mm: number): number => Math.round((mm / 25.4) * 100);
    let n = 0;
    for (let y = px(yMm); y < px(yMm + hMm); y++)
      for (let x = px(xMm); x < px(xMm + wMm); x++) if ((data[y * width + x] ?? 255) < 128) n += 1;
    return n;
  };
  const slug = marks.marks.find((mark) => mark.kind === 'text');
  if (slug?.kind !== 'text') throw new Error('no slug line');
  expect(slug.text).toBe('Run 7 6 Oct 2026 Magpie Label');
  expect(dark(slug.xMm + 10, slug.yMm, 40, slug.heightMm)).toBeGreaterThan(60);
  expect(dark(slug.xMm + 10, slug.yMm + slug.heightMm + 0.5, 40, 1)).toBe(0);
  // The piece's upper left corner lies at (30, 60) on the media: marks 2 to 6 mm from it, nothing nearer.
  expect(dark(24.2, 59.7, 3.6, 0.6)).toBeGreaterThan(8);
  expect(dark(29.7, 54.2, 0.6, 3.6)).toBeGreaterThan(8);
  expect(dark(28.3, 58.3, 1.4, 1.4)).toBe(0);
});

test('the job sheet: its code names the run, and jobs that do not fit go on over further pages', async () => {
  const laidOut = await pdfOf('sheet', laid('code128', 10, 360));
  const job = { order: 'LM-77', customer: 'Lantern Street', size: '200 × 60', pieces: '4', due: 'Fri 9 Oct 12:41' };
  const sheet = async (count: number): Promise<string> => {
    const bytes = await jobSheet({
      laidOut,
      runId: 'run-7f3a19',
      title: 'Run 7',
      mediaWidthMm: WIDTH,
      overMm: 0,
      lengthMm: LENGTH,
      facts: [['Printer', 'Magpie']],
      jobs: Array.from({ length: count }, (_, i) => ({ ...job, name: `Stall card ${String(i)}.pdf` })),
      sheets: [],
    });
    const file = join(root, `sheet-${String(count)}.pdf`);
    writeFileSync(file, bytes);
    return file;
  };
  const pages = async (file: string): Promise<number> => (await PDFDocument.load(readFileSync(file))).getPageCount();
  const one = await sheet(5);
  expect(await pages(one)).toBe(1);
  expect(await pages(await sheet(60))).toBe(3);
  const png = execFileSync('pdftoppm', ['-r', '200', '-gray', '-png', one]);
  const { data, info } = await sharp(png).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
  const px = (mm: number): number => Math.round((mm / 25.4) * 200);
  const at = { left: px(166), top: px(8), width: px(36), height: px(32) };
  expect(await readCode({ data, width: info.width, height: info.height }, at, false)).toBe('run-7f3a19');
  // The picture of the run is there: artwork or marks, not white only.
  const bright = await sharp(png)
    .extract({ left: px(16), top: px(46), width: px(40), height: px(20) })
    .stats();
  expect(bright.channels[0]?.min).toBeLessThan(250);
});
