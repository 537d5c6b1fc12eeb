import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { PDFDocument, PDFHexString, PDFName, type PDFObject, PDFRawStream } from '@cantoo/pdf-lib';
import { PDFiumLibrary } from '@hyzyla/pdfium';
import sharp, { type Sharp } from 'sharp';
import { PROCESS_INKS } from '../../../../core/ticket/parts.ts';
import { readLimits } from '../../../limits.ts';
import { layPdf } from '../../out/layPdf.ts';
import { firstLook } from '../../../work/runTask.ts';
import { testFolder } from '../../../testing/testFolder.ts';

const { root, paths } = testFolder('parts');

const SIDE = 20;
const GOLD = 'Lantern Gold';
const PARTS = [...PROCESS_INKS, GOLD] as const;
type Inks = Partial<Record<(typeof PARTS)[number], number>>;

/**
 * One square for every way in which a PDF sets a colour, with the share of each ink that must come out of it.
 * Each is drawn in the square 0…1.
 */
const SQUARES: readonly (readonly [how: string, content: string, inks: Inks])[] = [
  ['black by default', '0 0 1 1 re f', { black: 1 }],
  ['grey', '0.25 g 0 0 1 1 re f', { black: 0.75 }],
  ['RGB', '0.2 0.6 1 rg 0 0 1 1 re f', { cyan: 0.8, magenta: 0.4 }],
  ['CMYK', '0.5 0.25 0 0.1 k 0 0 1 1 re f', { cyan: 0.5, magenta: 0.25, black: 0.1 }],
  ['a stroke in CMYK', '0 0 0.7 0 K 1 w 0 0.5 m 1 0.5 l S', { yellow: 0.7 }],
  ['a spot', '/Gold cs 0.5 scn 0 0 1 1 re f', { [GOLD]: 0.5 }],
  ['black as a spot', '/Blk cs 0.4 scn 0 0 1 1 re f', { black: 0.4 }],
  ['DeviceN of spot and ink', '/Duo cs 0.3 0.9 scn 0 0 1 1 re f', { [GOLD]: 0.3, cyan: 0.9 }],
  ['all inks at once', '/Every cs 0.6 scn 0 0 1 1 re f', Object.fromEntries(PARTS.map((part) => [part, 0.6]))],
  ['a named space before its colour', '/DeviceCMYK cs 0 0 1 1 re f', { black: 1 }],
  ['a spot over CMYK knocks it out', '1 0 0 0 k 0 0 1 1 re f /Gold cs 1 scn 0 0 1 1 re f', { [GOLD]: 1 }],
  ['half transparent', '/Half gs 1 0 0 0 k 0 0 1 1 re f', { cyan: 0.5 }],
  ['a form', '/Form Do', { magenta: 0.5, black: 0.5 }],
  ['a picture in CMYK', '/Pic Do', { yellow: 0.8, cyan: 0.2 }],
  ['an inline picture in RGB', 'BI /W 1 /H 1 /BPC 8 /CS /RGB ID \xff\x00\x00 EI', { magenta: 1, yellow: 1 }],
  ['a picture in few colours', '/Few Do', { magenta: 0.6 }],
  ['a shade of CMYK', '0 0 1 1 re W n /Shade sh', { black: 0.5 }],
  ['a pattern', '/Pattern cs /Tiles scn 0 0 1 1 re f', { yellow: 0.5 }],
];

async function squaresPdf(): Promise<Buffer> {
  const out = await PDFDocument.create();
  const { context } = out;
  const toCmyk = (n: number) => {
    const domain = Array.from({ length: n }, () => [0, 1]).flat();
    const code = `{${'pop '.repeat(n)}0 0.3 0.9 0.1}`;
    return context.register(context.stream(code, { FunctionType: 4, Domain: domain, Range: [0, 1, 0, 1, 0, 1, 0, 1] }));
  };
  const spot = (named: string) => {
    const space = context.obj(['Separation', named, 'DeviceCMYK']);
    space.push(toCmyk(1));
    return space;
  };
  const duo = context.obj(['DeviceN', [GOLD, 'Cyan'], 'DeviceCMYK']);
  duo.push(toCmyk(2));
  const picture = (space: PDFObject, pixel: readonly number[]) => {
    const dict = context.obj({ Type: 'XObject', Subtype: 'Image', Width: 1, Height: 1, BitsPerComponent: 8 });
    dict.set(PDFName.of('ColorSpace'), space);
    return context.register(PDFRawStream.of(dict, Uint8Array.from(pixel)));
  };
  const few = context.obj(['Indexed', 'DeviceCMYK', 1]);
  few.push(PDFHexString.of('0000000000990000'));
  const resources = context.obj({
    ColorSpace: { Gold: spot(GOLD), Blk: spot('Black'), Every: spot('All'), Duo: duo },
    ExtGState: { Half: { ca: 0.5 } },
    XObject: {
      Form: context.register(
        context.flateStream('0 0.5 0 0.5 k 0 0 1 1 re f', { Type: 'XObject', Subtype: 'Form', BBox: [0, 0, 1, 1] }),
      ),
      Pic: picture(PDFName.of('DeviceCMYK'), [51, 0, 204, 0]),
      Few: picture(few, [1]),
    },
    Shading: {
      Shade: {
        ShadingType: 2,
        ColorSpace: 'DeviceCMYK',
        Coords: [0, 0, 1, 0],
        Extend: [true, true],
        Function: { FunctionType: 2, Domain: [0, 1], N: 1, C0: [0, 0, 0, 0.5], C1: [0, 0, 0, 0.5] },
      },
    },
    Pattern: {
      Tiles: context.register(
        context.flateStream('0 0 0.5 0 k 0 0 9 9 re f', {
          Type: 'Pattern',
          PatternType: 1,
          PaintType: 1,
          TilingType: 1,
          BBox: [0, 0, 9, 9],
          XStep: 9,
          YStep: 9,
          Resources: {},
        }),
      ),
    },
  });
  const page = out.addPage([SIDE * SQUARES.length, SIDE]);
  const content = SQUARES.map(
    ([, drawn], i) => `q ${String(SIDE)} 0 0 ${String(SIDE)} ${String(i * SIDE)} 0 cm ${drawn} Q`,
  ).join('\n');
  page.node.set(PDFName.of('Resources'), resources);
  page.node.set(PDFName.of('Contents'), context.register(context.flateStream(Buffer.from(content, 'latin1'))));
  return Buffer.from(await out.save());
}

/** Ink (0…1) in the middle of every square, as two independent readers see the page. */
async function inksOf(file: string): Promise<{ poppler: number[]; pdfium: number[] }> {
  const middles = async (input: Sharp): Promise<number[]> => {
    const { data, info } = await input
      .flatten({ background: '#fff' })
      .greyscale()
      .raw()
      .toBuffer({ resolveWithObject: true });
    return SQUARES.map((_, i) => {
      const x = Math.floor(((i + 0.5) / SQUARES.length) * info.width);
      return 1 - (data[(Math.floor(info.height / 2) * info.width + x) * info.channels] ?? 0) / 255;
    });
  };
  const library = await PDFiumLibrary.init();
  const document = await library.loadDocument(readFileSync(file));
  const drawn = await document.getPage(0).render({ scale: 1, render: 'bitmap' });
  document.destroy();
  return {
    poppler: await middles(sharp(execFileSync('pdftoppm', ['-r', '72', '-png', file]))),
    pdfium: await middles(sharp(drawn.data, { raw: { width: drawn.width, height: drawn.height, channels: 4 } })),
  };
}

test.each(PARTS)('%s alone, from every way of setting a colour, stays vector', async (part) => {
  const path = join(root, 'squares');
  writeFileSync(path, await squaresPdf());
  const answer = await firstLook(path, root, readLimits({}));
  if (!answer.ok) throw new Error(answer.reason);
  expect(answer.facts.nature.spots).toEqual([GOLD]);
  const widthMm = (SIDE * SQUARES.length * 25.4) / 72;
  const lengthMm = (SIDE * 25.4) / 72;
  const place = { xMm: 0, yMm: 0, widthMm, heightMm: lengthMm, angleDeg: 0 };
  const art = [{ sha256: answer.sha256, format: 'pdf' as const, page: 0, appearance: null, part, ...place }];
  await layPdf({ key: `part-${part}`, title: 't', widthMm, lengthMm, art }, paths, readLimits({}));
  const file = paths.laidOut(`part-${part}`);
  const seen = await inksOf(file);
  for (const ink of [seen.poppler, seen.pdfium]) {
    const rounded = SQUARES.map(([how], i) => [how, Math.round((ink[i] ?? -1) * 50) / 50]);
    expect(rounded).toEqual(SQUARES.map(([how, , inks]) => [how, expect.closeTo(inks[part] ?? 0, 1.3) as number]));
  }
  const images = execFileSync('pdfimages', ['-list', file]).toString().trim().split('\n').length - 2;
  expect(images).toBeLessThanOrEqual(3);
});
