import { turnedSize } from '../../../core/geometry/turn.ts';
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { PDFDocument, PDFName, type PDFPage, degrees, rgb } from '@cantoo/pdf-lib';
import { PDFiumLibrary } from '@hyzyla/pdfium';
import sharp from 'sharp';
import { readLimits } from '../../limits.ts';
import type { LaidArt } from '../out/artPlace.ts';
import { layPdf } from '../out/layPdf.ts';
import { firstLook } from '../../work/runTask.ts';
import { testFolder } from '../../testing/testFolder.ts';

const LIMITS = readLimits({});

const { root, paths } = testFolder('pdf');

const MM = 72 / 25.4;
const RED = rgb(1, 0, 0);

async function taken(bytes: Uint8Array | Buffer) {
  const path = join(root, 'in');
  writeFileSync(path, bytes);
  const answer = await firstLook(path, root, LIMITS);
  if (!answer.ok) throw new Error(answer.reason);
  return answer;
}

async function refused(bytes: Uint8Array | Buffer): Promise<string> {
  const path = join(root, 'in');
  writeFileSync(path, bytes);
  const answer = await firstLook(path, root, LIMITS);
  return answer.ok ? 'was taken' : answer.reason;
}

/** A red block in the lower left quarter of the page, blue elsewhere: tells every turn and mirror apart. */
function cornerPage(page: PDFPage, x: number, y: number, w: number, h: number): void {
  page.drawRectangle({ x, y, width: w, height: h, color: rgb(0, 0, 1) });
  page.drawRectangle({ x, y, width: w / 2, height: h / 2, color: RED });
}

async function cornerPdf(setup: (page: PDFPage) => void): Promise<Buffer> {
  const out = await PDFDocument.create();
  const page = out.addPage([400, 300]);
  cornerPage(page, 50, 50, 200, 100);
  page.setTrimBox(50, 50, 200, 100);
  setup(page);
  return Buffer.from(await out.save());
}

/** Which quarters of a piece are red: [top left, top right, bottom left, bottom right]. */
async function redQuarters(file: string, art: LaidArt, pageMm: { w: number; h: number }): Promise<boolean[]> {
  const library = await PDFiumLibrary.init();
  const document = await library.loadDocument(readFileSync(file));
  const drawn = await document.getPage(0).render({ scale: 1, render: 'bitmap' });
  const { data } = await sharp(drawn.data, { raw: { width: drawn.width, height: drawn.height, channels: 4 } })
    .raw()
    .toBuffer({ resolveWithObject: true });
  const laid = turnedSize(art.widthMm, art.heightMm, art.angleDeg);
  const at = (fx: number, fy: number): boolean => {
    const x = Math.floor(((art.xMm + laid.widthMm * fx) / pageMm.w) * drawn.width);
    const y = Math.floor(((art.yMm + laid.heightMm * fy) / pageMm.h) * drawn.height);
    const i = (y * drawn.width + x) * 4;
    return (data[i] ?? 0) > 200 && (data[i + 2] ?? 0) < 60;
  };
  document.destroy();
  library.destroy();
  return [at(0.25, 0.25), at(0.75, 0.25), at(0.25, 0.75), at(0.75, 0.75)];
}

test('size: the trim box, turned by /Rotate and scaled by UserUnit; bleed only where it is named', async () => {
  const plain = await taken(await cornerPdf(() => undefined));
  expect(plain.facts.pages[0]).toMatchObject({ widthMm: 70.5556, heightMm: 35.2778, bleed: { leftMm: 0 } });
  const turned = await taken(
    await cornerPdf((page) => {
      page.setRotation(degrees(90));
      page.node.set(PDFName.of('UserUnit'), page.doc.context.obj(2));
      page.setBleedBox(45, 47, 210, 106);
    }),
  );
  const unit = 2 * 0.352778;
  const [page] = turned.facts.pages;
  expect(page?.widthMm).toBeCloseTo(100 * unit, 3);
  expect(page?.heightMm).toBeCloseTo(200 * unit, 3);
  // Rotated clockwise: the page's left side is on top, its bottom on the left.
  expect(page?.bleed.topMm).toBeCloseTo(5 * unit, 3);
  expect(page?.bleed.leftMm).toBeCloseTo(3 * unit, 3);
});

test.each([
  [0, [false, false, true, false], [false, false, false, true]],
  [90, [true, false, false, false], [false, false, true, false]],
  [180, [false, true, false, false], [true, false, false, false]],
  [270, [false, false, false, true], [false, true, false, false]],
])('a page rotated by %s lies in the run as it is shown, upright and turned', async (angle, upright, quarterTurned) => {
  const file = await cornerPdf((page) => {
    page.setRotation(degrees(angle));
  });
  const { sha256, facts } = await taken(file);
  const [page] = facts.pages;
  if (!page) throw new Error('no page');
  const art = (turned: boolean): LaidArt => ({
    sha256,
    format: 'pdf',
    page: 0,
    appearance: null,
    part: null,
    xMm: 30,
    yMm: 40,
    angleDeg: turned ? 90 : 0,
    widthMm: page.widthMm,
    heightMm: page.heightMm,
  });
  for (const [turned, expected] of [
    [false, upright],
    [true, quarterTurned],
  ] as const) {
    await layPdf(
      { key: `turn-${String(angle)}`, title: 't', widthMm: 200, lengthMm: 260, art: [art(turned)] },
      paths,
      LIMITS,
    );
    expect(await redQuarters(paths.laidOut(`turn-${String(angle)}`), art(turned), { w: 200, h: 260 })).toEqual(
      expected,
    );
  }
});

test('pictures keep their orientation: PNG with alpha, JPEG turned by EXIF', async () => {
  const half = { create: { width: 100, height: 50, channels: 3 as const, background: '#00f' } };
  const block = await sharp({ create: { width: 50, height: 25, channels: 3, background: '#f00' } })
    .png()
    .toBuffer();
  const base = sharp(half).composite([{ input: block, left: 0, top: 25 }]);
  const png = await taken(
    await sharp(await base.png().toBuffer())
      .ensureAlpha()
      .withMetadata({ density: 100 })
      .png()
      .toBuffer(),
  );
  expect(png.facts).toMatchObject({
    format: 'png',
    nature: { hasAlpha: true, assumedDpi: null },
    pages: [{ widthMm: 25.4, heightMm: 12.7, dpi: expect.closeTo(100, 1) as number }],
  });
  // Stored lying; orientation 6 asks to be turned clockwise: the lower left block comes to the upper left.
  const jpeg = await taken(
    await sharp(await base.png().toBuffer())
      .withMetadata({ density: 100, orientation: 6 })
      .jpeg({ quality: 100, chromaSubsampling: '4:4:4' })
      .toBuffer(),
  );
  expect(jpeg.facts).toMatchObject({ format: 'jpeg', pages: [{ widthMm: 12.7, heightMm: 25.4 }] });
  const art = (taking: typeof png, format: 'png' | 'jpeg', widthMm: number, heightMm: number): LaidArt => ({
    sha256: taking.sha256,
    format,
    page: 0,
    appearance: null,
    part: null,
    xMm: 10,
    yMm: 10,
    widthMm,
    heightMm,
    angleDeg: 0,
  });
  for (const [item, expected] of [
    [art(png, 'png', 254, 127), [false, false, true, false]],
    [art(jpeg, 'jpeg', 127, 254), [true, false, false, false]],
  ] as const) {
    await layPdf({ key: 'pictures', title: 't', widthMm: 300, lengthMm: 300, art: [item] }, paths, LIMITS);
    expect(await redQuarters(paths.laidOut('pictures'), item, { w: 300, h: 300 })).toEqual(expected);
  }
});

test('an 18 m run is exact for two readers, keeps vectors, embeds each source once, and has the same bytes again', async () => {
  const { sha256, facts } = await taken(await cornerPdf(() => undefined));
  const [page] = facts.pages;
  if (!page) throw new Error('no page');
  const art = Array.from({ length: 40 }, (_, i): LaidArt => ({
    sha256,
    format: 'pdf',
    page: 0,
    appearance: null,
    part: null,
    xMm: 10,
    yMm: 20 + i * 440,
    widthMm: page.widthMm,
    heightMm: page.heightMm,
    angleDeg: 0,
  }));
  const input = { key: 'long', title: 'Run', widthMm: 914.4, lengthMm: 18_000.37, art };
  const first = await layPdf(input, paths, LIMITS);
  expect(await layPdf(input, paths, LIMITS)).toEqual(first);
  const file = paths.laidOut('long');
  const bytes = readFileSync(file);
  const reread = await PDFDocument.load(bytes);
  const unit = Number(reread.getPage(0).node.get(PDFName.of('UserUnit'))?.toString());
  const library = await PDFiumLibrary.init();
  const document = await library.loadDocument(bytes);
  const size = document.getPage(0).getOriginalSize();
  document.destroy();
  library.destroy();
  expect((size.originalWidth * unit) / MM).toBeCloseTo(914.4, 2);
  expect((size.originalHeight * unit) / MM).toBeCloseTo(18_000.37, 2);
  const info = execFileSync('pdfinfo', ['-box', file], { encoding: 'utf8' });
  const box = /MediaBox:\s+([\d.]+)\s+([\d.]+)\s+([\d.]+)\s+([\d.]+)/.exec(info)?.slice(1).map(Number) ?? [];
  // pdfinfo prints two decimals of a point.
  expect(Math.abs(((box[2] ?? 0) * unit) / MM - 914.4)).toBeLessThan(0.01 + (0.005 * unit) / MM);
  expect(Math.abs(((box[3] ?? 0) * unit) / MM - 18_000.37)).toBeLessThan(0.01 + (0.005 * unit) / MM);
  const images = execFileSync('pdfimages', ['-list', file], { encoding: 'utf8' }).trim().split('\n');
  expect(images).toHaveLength(2);
  expect(bytes.length).toBeLessThan(12_000);
});

test('what can not be read is refused in plain words', async () => {
  expect(await refused(Buffer.from(''))).toBe('The file is empty.');
  expect(await refused(Buffer.from('PK\u0003\u0004'))).toContain('an office document or an archive');
  const png = await sharp({ create: { width: 300, height: 300, channels: 3, background: '#123' } })
    .png({ compressionLevel: 0 })
    .toBuffer();
  const broken = Buffer.from(png);
  broken.fill(0x55, 60, broken.length - 40);
  expect(await refused(broken)).toBe('The PNG is damaged and cannot be decoded. Export it again.');
  expect(await refused(png.subarray(0, 5000))).toContain('cut short');
  const pdf = Buffer.from('%PDF-1.7\n%%%%\nnot a pdf at all\nstartxref\n12\n%%EOF\n');
  expect(await refused(pdf)).toMatch(/damaged|no pages/);
});

test('a PNG goes in with its colours and its transparency, grey as grey, and a large one within seconds', async () => {
  const red = await sharp({
    create: { width: 100, height: 100, channels: 4, background: { r: 255, g: 0, b: 0, alpha: 0.5 } },
  })
    .withMetadata({ density: 100 })
    .png()
    .toBuffer();
  const grey = await sharp({ create: { width: 60, height: 60, channels: 3, background: '#808080' } })
    .toColourspace('b-w')
    .withMetadata({ density: 100 })
    .png()
    .toBuffer();
  const large = await sharp({ create: { width: 6000, height: 5000, channels: 4, background: '#0a58' } })
    .withMetadata({ density: 150 })
    .png({ compressionLevel: 1 })
    .toBuffer();
  const art = (sha256: string, xMm: number): LaidArt => ({
    sha256,
    format: 'png',
    page: 0,
    appearance: null,
    part: null,
    xMm,
    yMm: 10,
    widthMm: 80,
    heightMm: 80,
    angleDeg: 0,
  });
  const [a, b, c] = [await taken(red), await taken(grey), await taken(large)];
  await layPdf(
    {
      key: 'pngs',
      title: 't',
      widthMm: 300,
      lengthMm: 100,
      art: [art(a.sha256, 10), art(b.sha256, 110), art(c.sha256, 210)],
    },
    paths,
    LIMITS,
  );
  const library = await PDFiumLibrary.init();
  const document = await library.loadDocument(readFileSync(paths.laidOut('pngs')));
  const drawn = await document.getPage(0).render({ scale: 1, render: 'bitmap' });
  const { data } = await sharp(drawn.data, { raw: { width: drawn.width, height: drawn.height, channels: 4 } })
    .raw()
    .toBuffer({ resolveWithObject: true });
  const at = (xMm: number): number[] => {
    const i = (Math.floor(drawn.height / 2) * drawn.width + Math.floor((xMm / 300) * drawn.width)) * 4;
    return [...data.subarray(i, i + 3)];
  };
  document.destroy();
  library.destroy();
  const near = (got: number[], want: number[]): void =>
    got.forEach((value, i) => {
      expect(Math.abs(value - (want[i] ?? 0))).toBeLessThan(6);
    });
  near(at(50), [255, 127, 127]);
  near(at(150), [128, 128, 128]);
  // #0a58 is a green of 53 % over white.
  near(at(250), [119, 209, 164]);
  const images = execFileSync('pdfimages', ['-list', paths.laidOut('pngs')], { encoding: 'utf8' })
    .trim()
    .split('\n')
    .slice(2);
  expect(images.map((line) => line.trim().split(/\s+/)[2])).toEqual(expect.arrayContaining(['image', 'smask']));
});
