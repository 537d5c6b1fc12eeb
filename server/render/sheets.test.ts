import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { PDFArray, PDFDict, PDFDocument, PDFName } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { readLimits } from '../limits.ts';
import { firstLook } from '../work/runTask.ts';
import { jobSheet } from './out/jobSheet.ts';
import type { LaidArt } from './out/artPlace.ts';
import { layPdf } from './out/layPdf.ts';
import { runPicture } from './out/runPicture.ts';
import { testFolder } from '../testing/testFolder.ts';

const LIMITS = readLimits({});
const { root, paths } = testFolder('sheets');

const WIDTH = 200;
const SHEET = 150;
const MM = 72 / 25.4;

async function plain(name: string, colour: string): Promise<string> {
  const path = join(root, name);
  const create = { width: 100, height: 60, channels: 3, background: colour } as const;
  writeFileSync(path, await sharp({ create }).withMetadata({ density: 25.4 }).png().toBuffer());
  const answer = await firstLook(path, root, LIMITS);
  if (!answer.ok) throw new Error(answer.reason);
  return answer.sha256;
}

/** Red at the head of sheet 1, green at the foot of sheet 2, a blue one with a cut on sheet 3. */
async function laid(): Promise<string> {
  const common = {
    format: 'png',
    page: 0,
    appearance: null,
    part: null,
    widthMm: 100,
    heightMm: 60,
    angleDeg: 0,
  } as const;
  const [red, green, blue] = [await plain('r', '#f00'), await plain('g', '#0f0'), await plain('b', '#00f')];
  const ring = [
    { x: 50, y: 2 * SHEET + 20 },
    { x: 120, y: 2 * SHEET + 20 },
    { x: 120, y: 2 * SHEET + 60 },
  ];
  const art: LaidArt[] = [
    { ...common, sha256: red, xMm: 10, yMm: 10 },
    { ...common, sha256: green, xMm: 90, yMm: SHEET + 80 },
    { ...common, sha256: blue, xMm: 40, yMm: 2 * SHEET + 10, cut: [ring], within: ring },
  ];
  const list = [0, 1, 2].map((n) => ({ kind: 'dot', xMm: 5, yMm: n * SHEET + 145, diameterMm: 6 }) as const);
  const marks = { list, fromMm: 0 };
  await layPdf(
    { key: 'sheets', title: 't', widthMm: WIDTH, lengthMm: 3 * SHEET, sheetMm: SHEET, art, marks },
    paths,
    LIMITS,
  );
  return paths.laidOut('sheets');
}

/** Colour in the middle of so many millimetres from a page's upper left corner, as poppler draws it. */
async function colourAt(file: string, page: number, xMm: number, yMm: number): Promise<number[]> {
  const at = ['-f', String(page), '-l', String(page)];
  const png = execFileSync('pdftoppm', ['-r', '25.4', ...at, '-png', file]);
  const { data } = await sharp(png)
    .extract({ left: Math.round(xMm), top: Math.round(yMm), width: 1, height: 1 })
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return [...data];
}

test('each sheet is a page of its own, with what lies on it and its marks, at its own place', async () => {
  const file = await laid();
  const out = await PDFDocument.load(readFileSync(file));
  expect(out.getPages().map((page) => [page.getWidth() / MM, page.getHeight() / MM].map(Math.round))).toEqual([
    [WIDTH, SHEET],
    [WIDTH, SHEET],
    [WIDTH, SHEET],
  ]);
  const white = [255, 255, 255];
  expect(await colourAt(file, 1, 60, 40)).toEqual([255, 0, 0]);
  expect(await colourAt(file, 1, 140, 110)).toEqual(white);
  expect(await colourAt(file, 2, 140, 110)).toEqual([0, 255, 0]);
  expect(await colourAt(file, 2, 60, 40)).toEqual(white);
  // Within its contour only, which came along.
  expect(await colourAt(file, 3, 110, 30)).toEqual([0, 0, 255]);
  expect(await colourAt(file, 3, 60, 55)).toEqual(white);
  for (const page of [1, 2, 3]) expect((await colourAt(file, page, 5, 145))[0]).toBeLessThan(60);
  // The layers of all sheets are the same three.
  const layers = out.catalog.lookup(PDFName.of('OCProperties'), PDFDict).lookup(PDFName.of('OCGs'), PDFArray);
  expect(layers.size()).toBe(3);
});

test('a contour lies on its own sheet, though the rectangle around it reaches over the edge', async () => {
  const ring = [
    { x: 50, y: SHEET + 2 },
    { x: 120, y: SHEET + 2 },
    { x: 120, y: SHEET + 45 },
    { x: 50, y: SHEET + 45 },
  ];
  const art: LaidArt[] = [
    {
      ...{ format: 'png', page: 0, appearance: null, part: null, angleDeg: 0 },
      ...{ sha256: await plain('edge', '#00f'), xMm: 40, yMm: SHEET - 8, widthMm: 100, heightMm: 60, within: ring },
    },
  ];
  await layPdf({ key: 'edge', title: 't', widthMm: WIDTH, lengthMm: 2 * SHEET, sheetMm: SHEET, art }, paths, LIMITS);
  const file = paths.laidOut('edge');
  expect(await colourAt(file, 2, 80, 20)).toEqual([0, 0, 255]);
  expect(await colourAt(file, 1, 80, SHEET - 4)).toEqual([255, 255, 255]);
});

test('the picture of the run has its sheets one below the other', async () => {
  const png = await runPicture({ laidOut: await laid(), widthPx: 200, heightPx: 451, dpi: 25.4 });
  const { width, height } = await sharp(png).metadata();
  expect([width, height]).toEqual([200, 451]);
  const at = async (left: number, top: number): Promise<number[]> => [
    ...(await sharp(png).extract({ left, top, width: 1, height: 1 }).removeAlpha().raw().toBuffer()),
  ];
  expect(await at(60, 40)).toEqual([255, 0, 0]);
  expect(await at(140, 150 + 110)).toEqual([0, 255, 0]);
  expect(await at(110, 300 + 30)).toEqual([0, 0, 255]);
});

test('the job sheet has all sheets side by side, then a page for each with what lies on it', async () => {
  const laidOut = await laid();
  const row = { name: 'Stall card.pdf', order: '', customer: '', size: '100 × 60', pieces: '1', due: '' };
  const bytes = await jobSheet({
    laidOut,
    runId: 'run-7f3a19',
    title: 'Run 7',
    mediaWidthMm: WIDTH,
    overMm: 0,
    lengthMm: 3 * SHEET,
    facts: [],
    jobs: [row],
    sheets: [1, 2, 3].map(() => ({ lengthMm: SHEET, jobs: [row] })),
  });
  const file = join(root, 'job-sheet.pdf');
  writeFileSync(file, bytes);
  expect((await PDFDocument.load(bytes)).getPageCount()).toBe(4);
  /** Which of the three colours a page shows. */
  const colours = async (page: number): Promise<string> => {
    const png = execFileSync('pdftoppm', ['-r', '40', '-f', String(page), '-l', String(page), '-png', file]);
    const { data } = await sharp(png).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    const seen = new Set<string>();
    for (let i = 0; i < data.length; i += 3) {
      const [r = 0, g = 0, b = 0] = [data[i], data[i + 1], data[i + 2]];
      if (r > 200 && g < 60 && b < 60) seen.add('red');
      if (g > 200 && r < 60 && b < 60) seen.add('green');
      if (b > 200 && r < 60 && g < 60) seen.add('blue');
    }
    return [...seen].sort().join(' ');
  };
  expect([await colours(1), await colours(2), await colours(3), await colours(4)]).toEqual([
    'blue green red',
    'red',
    'green',
    'blue',
  ]);
});

test('what is printed over the edges of the media is on the page, and the media is its trim box', async () => {
  const art: LaidArt[] = [
    {
      ...{ format: 'png', page: 0, appearance: null, part: null, angleDeg: 0 },
      sha256: await plain('wide', '#f00'),
      ...{ xMm: -3, yMm: 10, widthMm: WIDTH + 6, heightMm: 60 },
    },
  ];
  const over = { leftMm: 3, rightMm: 3 };
  await layPdf({ key: 'over', title: 't', widthMm: WIDTH, over, lengthMm: SHEET, art }, paths, LIMITS);
  const file = paths.laidOut('over');
  const [page] = (await PDFDocument.load(readFileSync(file))).getPages();
  const media = page?.getMediaBox();
  const trim = page?.getTrimBox();
  expect([media?.x, (media?.width ?? 0) / MM]).toEqual([0, expect.closeTo(206, 3)]);
  expect([(trim?.x ?? 0) / MM, (trim?.width ?? 0) / MM]).toEqual([expect.closeTo(3, 3), expect.closeTo(200, 3)]);
  for (const xMm of [1, 100, 204]) expect(await colourAt(file, 1, xMm, 40)).toEqual([255, 0, 0]);
  expect(await colourAt(file, 1, 100, 5)).toEqual([255, 255, 255]);
});
