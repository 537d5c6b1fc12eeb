import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { svgOf } from '../../testing/pictures/corpus.ts';
import { pictureDifference } from '../../testing/pictures/pdfPicture.ts';
import { seenAndPrinted } from '../../testing/pictures/seenAndPrinted.ts';
import { alike } from '../picture/alike.ts';
import { rasterDpi } from './drawSvg.ts';
import { svgText, withVariables } from './svgText.ts';

const near = (colour: readonly number[]) => colour.map((value) => expect.closeTo(value, -1) as number);

/** The same SVG by a renderer that has no part in ours. */
async function byAnother(svg: Buffer, picture: Buffer): Promise<Buffer> {
  const dir = mkdtempSync(join(tmpdir(), 'yellow-spool-test-'));
  try {
    const { width, height } = await sharp(picture).metadata();
    writeFileSync(join(dir, 'a.svg'), svg);
    const size = ['-w', String(width), '-h', String(height)];
    return execFileSync('rsvg-convert', [...size, '-b', 'white', join(dir, 'a.svg')], { maxBuffer: 2 ** 27 });
  } finally {
    rmSync(dir, { recursive: true });
  }
}

const square = '<rect x="10" y="10" width="40" height="40" fill="#c33"/>';

describe('vectors stay vectors where their drawing is right', () => {
  test.each([
    [
      'shapes, strokes and groups',
      `${square}<g transform="rotate(20 80 40)" stroke="#036" stroke-width="3" fill="none"><circle cx="80" cy="40" r="20"/><path d="M60 20q20 30 40 0"/></g>`,
    ],
    [
      'gradients',
      '<defs><linearGradient id="a"><stop offset="0" stop-color="#fff"/><stop offset="1" stop-color="#036"/></linearGradient></defs><rect width="120" height="80" fill="url(#a)"/>',
    ],
    ['style sheets', `<style>.k{fill:#093}</style><rect class="k" width="60" height="80"/>`],
  ])('%s', async (_name, inside) => {
    const file = svgOf(inside);
    const { facts, seen, printed } = await seenAndPrinted(file);
    expect([facts.nature.svg, facts.pages[0]?.dpi]).toEqual([undefined, null]);
    expect(await pictureDifference(seen, printed)).toBeLessThan(0.004);
    expect(await pictureDifference(seen, await byAnother(file, seen))).toBeLessThan(0.004);
  });

  test('text is set in a typeface of ours, alike in both', async () => {
    const { facts, seen, printed } = await seenAndPrinted(
      svgOf('<text x="10" y="40" font-size="16" font-family="Quay Sans">Tide times</text>'),
    );
    expect(facts.nature).toMatchObject({ missingFonts: ['Quay Sans'] });
    expect(facts.nature.svg).toBeUndefined();
    expect(await pictureDifference(seen, printed)).toBeLessThan(0.01);
    expect((await sharp(seen).stats()).channels[0]?.min).toBeLessThan(60);
  });
});

describe('what vectors would lose is printed as a picture, and said', () => {
  test.each([
    [
      'a gradient that inherits from another kind',
      '<defs><linearGradient id="a"><stop offset="0" stop-color="#f00"/><stop offset="1" stop-color="#00f"/></linearGradient><radialGradient id="b" href="#a"/></defs><rect width="120" height="80" fill="url(#b)"/>',
    ],
    [
      'selectors of children, colours by hue',
      '<style>svg > g > rect{fill:hsl(120 100% 40%)}</style><g><rect width="60" height="80"/></g>',
    ],
    [
      'filters',
      '<defs><filter id="f"><feFlood flood-color="#f80"/></filter></defs><rect width="60" height="80" filter="url(#f)"/>',
    ],
    [
      'blending',
      '<rect width="60" height="80" fill="#ff0"/><rect width="60" height="40" fill="#0ff" style="mix-blend-mode:multiply"/>',
    ],
    [
      'a drawing within the drawing',
      `<image width="60" height="80" href="data:image/svg+xml;base64,${svgOf('<rect width="120" height="80" fill="#0a0"/>').toString('base64')}"/>`,
    ],
    [
      'one of several by what is supported',
      '<switch><rect width="60" height="80" fill="#c0c" requiredExtensions="http://nowhere"/><rect width="60" height="80" fill="#080"/></switch>',
    ],
    [
      'masks',
      '<defs><mask id="m"><rect width="60" height="40" fill="#fff"/></mask></defs><rect width="120" height="80" fill="#00c" mask="url(#m)"/>',
    ],
  ])('%s', async (_name, inside) => {
    const file = svgOf(inside);
    const { facts, seen, printed } = await seenAndPrinted(file);
    expect(await pictureDifference(seen, printed)).toBeLessThan(0.004);
    expect(await pictureDifference(seen, await byAnother(file, seen))).toBeLessThan(0.02);
    if (facts.nature.svg)
      expect([facts.nature.svg.rasterDpi, facts.pages[0]?.dpi]).toEqual([300, expect.closeTo(300, 0)]);
    // Something is there at all.
    expect((await sharp(seen).stats()).entropy).toBeGreaterThan(0.2);
  });

  test('at least one of them does need it: transparency stays transparent, size stays true', async () => {
    const { facts } = await seenAndPrinted(
      svgOf('<style>svg > rect{fill:hsl(120 100% 40%)}</style><rect width="60" height="80"/>'),
    );
    expect(facts.nature).toMatchObject({ hasAlpha: true, svg: { rasterDpi: 300, lost: [], letters: [] } });
    expect(facts.pages[0]).toMatchObject({
      widthMm: expect.closeTo(120, 1) as number,
      heightMm: expect.closeTo(80, 1) as number,
    });
  });

  test('a large one is a picture of as many dots as there is room for', () => {
    expect(rasterDpi({ widthMm: 500, heightMm: 400 })).toBe(300);
    expect(rasterDpi({ widthMm: 3000, heightMm: 2000 })).toBe(65);
    expect(rasterDpi({ widthMm: 60_000, heightMm: 1600 })).toBe(16);
  });
});

describe('a drawing in a frame of another shape', () => {
  const frame = (fit: string) =>
    svgOf('<rect width="40" height="40" fill="#c33"/>', `width="120mm" height="40mm" viewBox="0 0 40 40" ${fit}`);
  test.each([
    ['is fitted into the middle', '', [false, true, false]],
    ['stands at its beginning where it says so', 'preserveAspectRatio="xMinYMin meet"', [true, false, false]],
    ['stands at its end', 'preserveAspectRatio="xMaxYMid"', [false, false, true]],
    ['is stretched only where it says so', 'preserveAspectRatio="none"', [true, true, true]],
    ['fills the frame where it says so', 'preserveAspectRatio="xMidYMid slice"', [true, true, true]],
  ])('%s', async (_name, fit, filled) => {
    const { at, seen } = await seenAndPrinted(frame(fit));
    for (const [i, is] of filled.entries()) {
      const colour = near(is ? [204, 51, 51] : [255, 255, 255]);
      expect(await at((i + 0.5) / 3, 0.5)).toEqual({ seen: colour, printed: colour });
    }
    expect(await pictureDifference(seen, await byAnother(frame(fit), seen))).toBeLessThan(0.004);
  });
});

describe('letters, names and variables', () => {
  test('UTF-16, Latin-1 and a prefix of its own are read like any other', async () => {
    const text = svgOf(
      '<rect width="60" height="80" fill="#c33"/><text y="70" font-size="8">Über Zoë</text>',
    ).toString();
    const latin = Buffer.from(
      text.replace('<?xml version="1.0"?>', '<?xml version="1.0" encoding="ISO-8859-1"?>'),
      'latin1',
    );
    const wide = Buffer.from(
      `\uFEFF${text.replace('<?xml version="1.0"?>', '<?xml version="1.0" encoding="UTF-16"?>')}`,
      'utf16le',
    );
    const prefixed = Buffer.from(
      '<s:svg xmlns:s="http://www.w3.org/2000/svg" width="120mm" height="80mm" viewBox="0 0 120 80"><s:rect width="60" height="80" fill="#c33"/></s:svg>',
    );
    const plain = await seenAndPrinted(Buffer.from(text));
    for (const file of [latin, wide]) {
      const { facts, seen } = await seenAndPrinted(file);
      expect(facts.nature.svg).toBeUndefined();
      expect(await pictureDifference(seen, plain.seen)).toBe(0);
    }
    const own = await seenAndPrinted(prefixed);
    expect(await own.at(0.25, 0.5)).toEqual({ seen: near([204, 51, 51]), printed: near([204, 51, 51]) });
    expect(svgText(latin)).toContain('Über');
  });

  test('variables have the value that the file gives them; several values are said, not guessed', async () => {
    const file = svgOf(
      '<style>:root{--brand:#093;--edge:var(--brand)}</style><rect width="60" height="80" style="fill:var(--edge)"/><rect x="60" width="60" height="80" fill="var(--none, #00c)"/>',
    );
    const { at, facts } = await seenAndPrinted(file);
    expect((await at(0.25, 0.5)).printed).toEqual(near([0, 153, 51]));
    expect((await at(0.75, 0.5)).printed).toEqual(near([0, 0, 204]));
    expect(facts.nature.svg?.lost ?? []).toEqual([]);
    expect(withVariables('a{--x:1}b{--x:2}c{y:var(--x)}')).toEqual({
      text: 'a{--x:1}b{--x:2}c{y:var(--x)}',
      unknown: ['--x'],
    });
  });

  test('what is drawn by nobody here is said', async () => {
    const nature = async (inside: string) => (await seenAndPrinted(svgOf(square + inside))).facts.nature.svg;
    expect((await nature('<foreignObject width="9" height="9"/><animate attributeName="x" dur="1s"/>'))?.lost).toEqual([
      'web pages within it',
      'animation',
    ]);
    expect((await nature('<rect style="width:10px;height:9px"/>'))?.lost).toEqual(['sizes and places in style sheets']);
    expect((await nature('<text x="5" y="60">潮 Tide</text>'))?.letters).toEqual(['潮']);
  });
});

test('drawings are alike but for their edges; what is missing, moved or thinner by far is not', () => {
  const size = { width: 200, height: 100 };
  const drawing = (paint: (x: number, y: number) => readonly number[]) => {
    const data = new Uint8Array(size.width * size.height * 4);
    for (let i = 0; i < size.width * size.height; i++) data.set(paint(i % 200, Math.floor(i / 200)), i * 4);
    return { ...size, data };
  };
  const bar = (from: number, to: number, edge = 255) =>
    drawing((x, y) =>
      y < 20 ? [0, 0, 0, 0] : x >= from && x < to ? [200, 0, 0, x === from ? edge : 255] : [0, 0, 0, 0],
    );
  expect(alike(bar(50, 90), bar(50, 90, 120))).toBe(true);
  expect(alike(bar(50, 90), bar(51, 90))).toBe(true);
  expect(alike(bar(50, 90), bar(54, 90))).toBe(false);
  expect(alike(bar(50, 90), bar(0, 0))).toBe(false);
  // White that is not there counts, too.
  const white = drawing((x) => (x < 60 ? [255, 255, 255, 255] : [0, 0, 0, 0]));
  expect(
    alike(
      white,
      drawing(() => [0, 0, 0, 0]),
    ),
  ).toBe(false);
});
