import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { PDFArray, PDFDict, PDFDocument, PDFName, PDFString } from '@cantoo/pdf-lib';
import DxfParser from 'dxf-parser';
import sharp from 'sharp';
import svgpath from 'svgpath';
import type { CutLine } from '../../core/contour/contourRule.ts';
import { laidOutline } from '../../core/geometry/laidOutline.ts';
import { type Outline, boundsOf } from '../../core/geometry/polygon.ts';
import { turnedSize } from '../../core/geometry/turn.ts';
import type { FinishedPage } from '../../core/ticket/finishedPage.ts';
import { finishPage, outsideOf } from '../../core/ticket/finish.ts';
import { PLAIN_TICKET, type TicketPart } from '../../core/ticket/ticket.ts';
import { pageAppearance } from '../db/jobLook.ts';
import { readLimits } from '../limits.ts';
import { decalPdf } from '../testing/pictures/decalPdf.ts';
import { pdfPicture } from '../testing/pictures/pdfPicture.ts';
import { cutDxf, cutSvg } from './out/cutFiles.ts';
import type { FileFacts, PageFacts } from './facts.ts';
import type { LaidArt } from './out/artPlace.ts';
import { layPdf } from './out/layPdf.ts';
import { firstLook } from '../work/runTask.ts';
import { testFolder } from '../testing/testFolder.ts';

const LIMITS = readLimits({});
const { root, paths } = testFolder('contours');

async function taken(
  name: string,
  bytes: Uint8Array | string,
): Promise<{ sha256: string; facts: FileFacts; page: PageFacts }> {
  const path = join(root, name);
  writeFileSync(path, bytes);
  const answer = await firstLook(path, root, LIMITS);
  if (!answer.ok) throw new Error(answer.reason);
  const [page] = answer.facts.pages;
  if (!page) throw new Error('no page');
  return { sha256: answer.sha256, facts: answer.facts, page };
}

function lineOf(page: PageFacts, from: CutLine['from'], name: string | null = null): CutLine {
  const line = page.cutLines?.find((each) => each.from === from && each.name === name);
  if (!line)
    throw new Error(`no ${from} ${name ?? ''} among ${JSON.stringify(page.cutLines?.map((each) => each.name))}`);
  return line;
}

function points(ring: readonly number[] = []): { x: number; y: number }[] {
  return Array.from({ length: ring.length / 2 }, (_, i) => ({ x: ring[2 * i] ?? NaN, y: ring[2 * i + 1] ?? NaN }));
}

function finished(page: PageFacts, values: TicketPart): FinishedPage {
  const made = finishPage(page, { ...PLAIN_TICKET, ...values }, 1500);
  if (!made.ok) throw new Error(made.reason.code);
  return made.value;
}

test('the lines of spot colours and layers are found, exact to 0.03 mm, upright however the page is turned', async () => {
  const { page } = await taken('upright', await decalPdf());
  const ring = points(lineOf(page, 'spot', 'Knife').rings[0]);
  expect(ring.length).toBeGreaterThan(20);
  for (const { x, y } of ring) expect(Math.abs(Math.hypot(x - 50, y - 30) - 20)).toBeLessThan(0.03);
  const corners = points(lineOf(page, 'layer', 'Die line').rings[0]);
  expect(corners).toEqual([
    { x: 10, y: 10 },
    { x: 40, y: 10 },
    { x: 10, y: 50 },
  ]);
  const { page: turned } = await taken('turned', await decalPdf(90));
  expect([turned.widthMm, turned.heightMm]).toEqual([60, 100]);
  // Shown turned clockwise: what was at the top left is at the top right.
  expect(points(lineOf(turned, 'layer', 'Die line').rings[0])).toEqual([
    { x: 50, y: 10 },
    { x: 50, y: 40 },
    { x: 10, y: 10 },
  ]);
});

const SVG = `<?xml version="1.0"?>
<svg xmlns="http://www.w3.org/2000/svg" xmlns:d="urn:drawing" width="80mm" height="40mm" viewBox="10 0 160 80">
  <rect x="10" y="0" width="160" height="80" fill="#06c"/>
  <g id="art"><text x="20" y="20">Ebb</text><rect x="1" y="1" width="5" height="5"/></g>
  <g id="g12" d:label="Outline" transform="translate(10 0)" fill="none" stroke="red">
    <g transform="scale(2)"><rect x="10" y="10" width="40" height="20"/></g>
    <path d="M20 20q40 -20 80 0v20h-80z"/>
    <path d="M0 0 L5 5"/>
  </g>
</svg>`;

test('an SVG offers the closed lines of its named groups, and is printed without the group that is cut along', async () => {
  const { page, sha256 } = await taken('decal.svg', SVG);
  expect(page.cutLines?.map(({ from, name }) => `${from} ${name ?? ''}`)).toEqual(['layer Outline']);
  const [rect, path] = lineOf(page, 'layer', 'Outline').rings.map(points);
  expect(lineOf(page, 'layer', 'Outline').rings).toHaveLength(2);
  // 160 units are 80 mm, the view begins at 10: (10·2 + 10 − 10) / 2.
  expect(boundsOf(rect ?? [])).toEqual({ minX: 10, minY: 10, maxX: 50, maxY: 30 });
  const bounds = boundsOf(path ?? []);
  // The curve reaches half way to its handle.
  expect(bounds.minX).toBeCloseTo(10, 6);
  expect(bounds.minY).toBeCloseTo(5, 1);
  const contour = { from: 'layer', name: 'Outline', offsetMm: 1, bleedMm: 5 } as const;
  const made = finished(page, { contour });
  const picture = await laidPicture('svg', sha256, 'svg', page, made, 0, false);
  // The red line is gone where it lay: the left side of the rectangle.
  expect(await picture.at(...picture.laid({ x: 10, y: 20 }))).toEqual([0, 102, 204]);
});

test('the edge of a picture is traced between its pixels', async () => {
  const size = 400;
  const disc = Buffer.from(
    `<svg width="${size}" height="${size}"><circle cx="200" cy="180" r="150"/><circle cx="200" cy="180" r="50" fill="#fff"/></svg>`,
  );
  const png = await sharp(disc).withMetadata({ density: 254 }).png().toBuffer();
  const { page } = await taken('disc.png', png);
  expect(page.cutLines).toHaveLength(1);
  const [ring, ...more] = lineOf(page, 'picture').rings;
  expect(more).toEqual([]);
  // 10 pixels a millimetre.
  for (const { x, y } of points(ring)) expect(Math.abs(Math.hypot(x - 20, y - 18) - 15)).toBeLessThan(0.05);
  const opaque = await sharp(disc).flatten({ background: '#fff' }).png().toBuffer();
  expect((await taken('opaque.png', opaque)).page.cutLines).toEqual([]);
});

interface Laid {
  readonly cut: readonly Outline[];
  readonly at: (xMm: number, yMm: number) => Promise<number[]>;
  /** Where a point of the upright source lies on the page. */
  readonly laid: (point: { x: number; y: number }) => [number, number];
  readonly file: string;
}

const PAGE = { widthMm: 160, lengthMm: 150 };
const PX_PER_MM = 6;

async function laidPicture(
  key: string,
  sha256: string,
  format: 'pdf' | 'svg',
  source: PageFacts,
  page: FinishedPage,
  angleDeg: number,
  mirrored: boolean,
): Promise<Laid> {
  const size = outsideOf(page);
  const appearance = pageAppearance({ ...source, finished: page }) ?? null;
  const place = { xMm: 20, yMm: 25, angleDeg };
  const contour = page.contour;
  if (!contour) throw new Error('no contour');
  const onPage = (ring: Outline): Outline => laidOutline(ring, size, place, mirrored);
  const art: LaidArt = {
    ...{ sha256, format, page: 0, appearance, part: null, mirrored, ...place, ...size },
    ...(appearance?.without ? { without: appearance.without } : {}),
    within: onPage(contour.outline),
    cut: contour.cut.map(onPage),
  };
  await layPdf({ key, title: key, ...PAGE, art: [art] }, paths, LIMITS);
  const file = paths.laidOut(key);
  const [w, h] = [PAGE.widthMm * PX_PER_MM, PAGE.lengthMm * PX_PER_MM];
  const picture = await pdfPicture(file, w, h);
  const { data } = await sharp(picture).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return {
    cut: art.cut ?? [],
    file,
    at: (xMm, yMm) => {
      const i = (Math.floor(yMm * PX_PER_MM) * w + Math.floor(xMm * PX_PER_MM)) * 3;
      return Promise.resolve([...data.subarray(i, i + 3)]);
    },
    laid: ({ x, y }) => {
      const u = (x - page.window.xMm) * page.scaleX;
      const v = (y - page.window.yMm) * page.scaleY;
      const [p] = onPage([{ x: u, y: v }]);
      return [p?.x ?? 0, p?.y ?? 0];
    },
  };
}

const BLUE = [0, 0, 255];
const GREEN = [0, 255, 0];
const WHITE = [255, 255, 255];

test.each([
  { angleDeg: 0, mirrored: false },
  { angleDeg: 90, mirrored: false },
  { angleDeg: 180, mirrored: true },
  { angleDeg: 37, mirrored: false },
  { angleDeg: 37, mirrored: true },
])('printed within the contour and its bleed, without the line itself: %o', async ({ angleDeg, mirrored }) => {
  const { page, sha256 } = await taken('upright', await decalPdf());
  const made = finished(page, { contour: { from: 'spot', name: 'Knife', offsetMm: 2, bleedMm: 3 } });
  expect(made.widthMm).toBeCloseTo(44, 1);
  expect(made.bleed.leftMm).toBeCloseTo(3, 0);
  const picture = await laidPicture(`ring ${angleDeg} ${mirrored}`, sha256, 'pdf', page, made, angleDeg, mirrored);
  const from = (dx: number, dy: number): Promise<number[]> => picture.at(...picture.laid({ x: 50 + dx, y: 30 + dy }));
  // The quarters of the artwork are where they belong.
  expect(await from(-10, -10)).toEqual(GREEN);
  expect(await from(10, -10)).toEqual(BLUE);
  // Where the knife line of the file was, there is artwork.
  const inked = (turn: number): number[] => (Math.cos(turn) < 0 && Math.sin(turn) < 0 ? GREEN : BLUE);
  for (const turn of [0.3, 2.1, 4.4]) expect(await from(20 * Math.cos(turn), 20 * Math.sin(turn))).toEqual(inked(turn));
  // Up to 25 mm it is printed, beyond not; the artwork ends at 30 mm above and below.
  for (const turn of [0.2, 1.4, 2.9, 5]) {
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    expect(await from(24.6 * c, 24.6 * s)).toEqual(inked(turn));
    expect(await from(25.6 * c, 25.6 * s)).toEqual(WHITE);
  }
});

/** What poppler says of the strokes of a PDF: rings in mm from the upper left corner of the page. */
function strokesByPoppler(file: string): Outline[] {
  const svg = execFileSync('pdftocairo', ['-svg', '-noshrink', '-nocenter', file, '-'], { encoding: 'utf8' });
  return [...svg.matchAll(/<path[^>]*fill:none[^>]*>/g)].flatMap(([tag]) => {
    const d = /\sd="([^"]+)"/.exec(tag)?.[1] ?? '';
    const transform = /\stransform="([^"]+)"/.exec(tag)?.[1] ?? '';
    const rings: { x: number; y: number }[][] = [];
    svgpath(d)
      .transform(transform)
      .scale(25.4 / 72)
      .abs()
      .iterate(([kind, x, y]) => {
        if (kind === 'M') rings.push([]);
        if (kind === 'M' || kind === 'L') rings[rings.length - 1]?.push({ x, y });
      });
    return rings.filter((ring) => ring.length > 2);
  });
}

/** Layers that a PDF asks readers to leave out when they print. */
async function neverPrinted(file: string): Promise<string[]> {
  const document = await PDFDocument.load(readFileSync(file));
  const name = (text: string): PDFName => PDFName.of(text);
  const config = document.catalog.lookup(name('OCProperties'), PDFDict).lookup(name('D'), PDFDict);
  const rule = config.lookup(name('AS'), PDFArray).lookup(0, PDFDict);
  expect(String(rule.get(name('Event')))).toBe('/Print');
  const groups = rule.lookup(name('OCGs'), PDFArray);
  return groups.asArray().map((_, i) => {
    const group = groups.lookup(i, PDFDict);
    const print = group.lookup(name('Usage'), PDFDict).lookup(name('Print'), PDFDict);
    expect(String(print.get(name('PrintState')))).toBe('/OFF');
    return group.lookup(name('Name'), PDFString).decodeText();
  });
}

test('the cut layer is a spot colour, where another reader and both cut files say the same to 0.01 mm', async () => {
  const { page, sha256 } = await taken('upright', await decalPdf());
  const made = finished(page, { contour: { from: 'layer', name: 'Die line', offsetMm: 0, bleedMm: 2 } });
  const { cut, file } = await laidPicture('triangle', sha256, 'pdf', page, made, 90, true);
  // By hand: the triangle is 30 × 40 mm with 2 mm of bleed or more around it; mirrored, then turned to the left.
  const { bleed } = made;
  const size = outsideOf(made);
  const expected = [
    { x: 0, y: 0 },
    { x: 30, y: 0 },
    { x: 0, y: 40 },
  ].map(({ x, y }) => ({ x: 20 + bleed.topMm + y, y: 25 + bleed.leftMm + x }));
  expect(turnedSize(size.widthMm, size.heightMm, 90).widthMm).toBeCloseTo(40 + bleed.topMm + bleed.bottomMm, 3);
  const same = (ring: Outline | undefined, what: string): void => {
    for (const { x, y } of expected) {
      const off = Math.min(...(ring ?? []).map((p) => Math.hypot(p.x - x, p.y - y)));
      expect({ what, off: off < 0.01 }).toEqual({ what, off: true });
    }
    expect(ring?.length).toBe(3);
  };
  same(cut[0], 'layout');
  expect(await neverPrinted(file)).toEqual(['Cut']);
  const byPoppler = strokesByPoppler(file);
  expect(byPoppler).toHaveLength(1);
  same(byPoppler[0], 'poppler');

  const cuts = { title: 'Run 7', ...PAGE, contours: cut, trims: [], across: [PAGE.lengthMm] };
  const [d] = /(?<=id="contour">\s*<path d=")[^"]+/.exec(cutSvg(cuts)) ?? [];
  const fromSvg: { x: number; y: number }[] = [];
  svgpath(d ?? '').iterate(([kind, x, y]) => {
    if (kind === 'M' || kind === 'L') fromSvg.push({ x, y });
  });
  same(fromSvg, 'SVG');
  const dxf = new DxfParser().parseSync(cutDxf(cuts));
  const polyline = dxf?.entities.find((each) => each.layer === 'contour') as
    { vertices: { x: number; y: number }[]; shape: boolean } | undefined;
  expect(polyline?.shape).toBe(true);
  same(
    polyline?.vertices.map(({ x, y }) => ({ x, y: PAGE.lengthMm - y })),
    'DXF',
  );
  expect(dxf?.header.$INSUNITS).toBe(4);
  expect(dxf?.entities.filter((each) => each.layer === 'across')).toHaveLength(1);
});
