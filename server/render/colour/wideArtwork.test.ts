import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { deflateSync } from 'node:zlib';
import {
  type PDFArray,
  PDFDocument,
  PDFHexString,
  PDFName,
  type PDFObject,
  type PDFRef,
  PDFRawStream,
  rgb,
} from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { ASSUMED_CMYK } from '../../../core/coats/artworkProfiles.ts';
import { seededRandom } from '../../../core/random.ts';
import { profileFile } from '../../demo/profileFile.ts';
import { readLimits } from '../../limits.ts';
import { testFolder } from '../../testing/testFolder.ts';
import { PageWindows } from '../channels/pageWindows.ts';
import { ColourLibrary } from './colourLibrary.ts';
import { type ArtworkOrder, wideArtwork } from './wideArtwork.ts';
import { labOfWide, wideProfile } from './wideSpace.ts';

const { paths } = testFolder('wide-artwork');
const PRESS = readFileSync(profileFile(ASSUMED_CMYK));
const OTHER = readFileSync(profileFile('Gannet poster'));
const SIDE = 24;

beforeAll(() => {
  for (const [name, bytes] of [
    ['press', PRESS],
    ['wide', wideProfile()],
  ] as const) {
    mkdirSync(dirname(paths.profile(name)), { recursive: true });
    writeFileSync(paths.profile(name), bytes);
  }
});

type Triple = readonly [number, number, number];

/** What a colour looks like, straight from its profile. */
type Look =
  | { readonly cmyk: readonly number[]; readonly by?: Uint8Array }
  | { readonly rgb: readonly number[]; readonly by?: Uint8Array }
  | { readonly lab: Triple };

async function labOf(look: Look): Promise<Triple> {
  if ('lab' in look) return look.lab;
  const library = await ColourLibrary.open();
  try {
    const isCmyk = 'cmyk' in look;
    const own = look.by ? library.profile(look.by) : isCmyk ? library.profile(PRESS) : library.sRgb();
    const parts = isCmyk ? look.cmyk : look.rgb;
    const lab = library.transform(
      own,
      library.lab(),
      'relative',
    )(Uint16Array.from(parts, (v) => Math.round(v * 65_535)));
    return [(lab[0] ?? 0) / 655.35, (lab[1] ?? 0) / 257 - 128, (lab[2] ?? 0) / 257 - 128];
  } finally {
    library.close();
  }
}

const GREY_HALF = { rgb: [0.5, 0.5, 0.5] } as const;

/** A square for every way in which a PDF sets a colour, and what it must look like. */
const SQUARES: readonly (readonly [how: string, content: string, look: Look | 'as its pixels say'])[] = [
  ['black by default', '0 0 1 1 re f', { rgb: [0, 0, 0] }],
  ['grey', '0.5 g 0 0 1 1 re f', GREY_HALF],
  ['RGB', '0.2 0.6 1 rg 0 0 1 1 re f', { rgb: [0.2, 0.6, 1] }],
  ['CMYK', '0.5 0.25 0 0.1 k 0 0 1 1 re f', { cmyk: [0.5, 0.25, 0, 0.1] }],
  ['full cyan', '1 0 0 0 k 0 0 1 1 re f', { cmyk: [1, 0, 0, 0] }],
  ['black alone', '0 0 0 1 k 0 0 1 1 re f', { cmyk: [0, 0, 0, 1] }],
  ['a stroke', '0 0.4 0.7 0 K 1 w 0 0.5 m 1 0.5 l S', { cmyk: [0, 0.4, 0.7, 0] }],
  ['a named space', '/DeviceCMYK cs 0.1 0.2 0.3 0.4 sc 0 0 1 1 re f', { cmyk: [0.1, 0.2, 0.3, 0.4] }],
  ['a named space before its colour', '/DeviceCMYK cs 0 0 1 1 re f', { cmyk: [0, 0, 0, 1] }],
  ['a profile of four inks', '/Own cs 0.3 0.8 0.1 0 scn 0 0 1 1 re f', { cmyk: [0.3, 0.8, 0.1, 0], by: OTHER }],
  ['a profile of RGB', '/Vivid cs 0.1 0.7 0.3 scn 0 0 1 1 re f', { rgb: [0.1, 0.7, 0.3], by: wideProfile() }],
  ['Lab', '/Labs cs 60 -40 20 scn 0 0 1 1 re f', { lab: [60, -40, 20] }],
  ['a spot colour', '/Gold cs 0.5 scn 0 0 1 1 re f', { cmyk: [0, 0.15, 0.45, 0.05] }],
  ['a spot colour that calculates', '/Calc cs 0.5 scn 0 0 1 1 re f', { cmyk: [0.25, 0, 0.5, 0] }],
  ['two spots', '/Duo cs 0.4 0.6 scn 0 0 1 1 re f', { cmyk: [0.4, 0.6, 0, 0] }],
  ['a form', '/Form Do', { cmyk: [0, 0.5, 0, 0.5] }],
  ['a form that says what CMYK is', '/Said Do', { cmyk: [0.2, 0.6, 0.4, 0], by: OTHER }],
  ['a picture in CMYK', '/Pic Do', { cmyk: [0.2, 0, 0.8, 0] }],
  ['a picture in CMYK, turned round', '/Neg Do', { cmyk: [0.2, 0, 0.8, 0] }],
  ['a picture in 16 bits', '/Deep Do', { rgb: [0.6, 0.2, 0.4] }],
  ['a picture packed by differences', '/Png Do', { rgb: [0.8, 0.4, 0.2] }],
  ['a picture in grey', '/Grey Do', { rgb: [0.4, 0.4, 0.4] }],
  ['a picture in few colours', '/Few Do', { cmyk: [0, 0.6, 0, 0] }],
  ['a picture of a spot', '/SpotPic Do', { cmyk: [0, 0.15, 0.45, 0.05] }],
  ['a JPEG in CMYK', '/Jpeg Do', 'as its pixels say'],
  ['a JPEG in RGB with a profile', '/Jpeg3 Do', { rgb: [0.2, 0.6, 0.4], by: wideProfile() }],
  ['an inline picture', 'BI /W 1 /H 1 /BPC 8 /CS /RGB ID \xff\x33\x00 EI', { rgb: [1, 0.2, 0] }],
  ['a shade', '0 0 1 1 re W n /Shade sh', { cmyk: [0, 0.3, 0.6, 0] }],
  ['a pattern', '/Pattern cs /Tiles scn 0 0 1 1 re f', { cmyk: [0, 0, 0.5, 0] }],
];

/** A light sand, as a JPEG of four inks, and what its pixels are. */
async function cmykJpeg(): Promise<{ readonly file: Buffer; readonly inks: readonly number[] }> {
  const file = await sharp({ create: { width: 16, height: 16, channels: 3, background: '#e8d8a8' } })
    .toColourspace('cmyk')
    .jpeg({ quality: 100 })
    .toBuffer();
  const image = sharp(file, { ignoreIcc: true }).pipelineColourspace('cmyk').toColourspace('cmyk');
  const inks = [...(await image.raw().toBuffer()).subarray(0, 4)];
  return { file, inks: inks.map((ink) => ink / 255) };
}

async function squaresPdf(): Promise<Uint8Array> {
  const out = await PDFDocument.create();
  const { context } = out;
  const profile = (bytes: Uint8Array, channels: number): PDFArray => {
    const space = context.obj(['ICCBased']);
    space.push(context.register(context.flateStream(bytes, { N: channels })));
    return space;
  };
  const tint = (names: readonly string[], fn: PDFObject): PDFArray => {
    const [single = ''] = names;
    const space =
      names.length > 1
        ? context.obj(['DeviceN', [...names], 'DeviceCMYK'])
        : context.obj(['Separation', single, 'DeviceCMYK']);
    space.push(context.register(fn));
    return space;
  };
  const gold = tint(
    ['Gold'],
    context.obj({ FunctionType: 2, Domain: [0, 1], N: 1, C0: [0, 0, 0, 0], C1: [0, 0.3, 0.9, 0.1] }),
  );
  const range = [0, 1, 0, 1, 0, 1, 0, 1];
  const calculated = tint(
    ['Leaf'],
    context.stream('{dup 0.5 mul exch 0 exch 0}', { FunctionType: 4, Domain: [0, 1], Range: range }),
  );
  const duo = tint(['One', 'Two'], context.stream('{0 0}', { FunctionType: 4, Domain: [0, 1, 0, 1], Range: range }));
  const picture = (space: PDFObject, bytes: Uint8Array, more: Record<string, unknown> = {}): PDFRef => {
    const dict = context.obj({
      ...{ Type: 'XObject', Subtype: 'Image', Width: 1, Height: 1, BitsPerComponent: 8 },
      ...(more as Record<string, number>),
    });
    dict.set(PDFName.of('ColorSpace'), space);
    return context.register(PDFRawStream.of(dict, bytes));
  };
  const cmyk = PDFName.of('DeviceCMYK');
  const deviceRgb = PDFName.of('DeviceRGB');
  const few = context.obj(['Indexed', 'DeviceCMYK', 1]);
  few.push(PDFHexString.of('0000000000990000'));
  const form = (content: string, resources?: PDFObject): PDFRef => {
    const stream = context.flateStream(content, { Type: 'XObject', Subtype: 'Form', BBox: [0, 0, 1, 1] });
    if (resources) stream.dict.set(PDFName.of('Resources'), resources);
    return context.register(stream);
  };
  const raw = { width: 16, height: 16, channels: 3 } as const;
  const pixels = Buffer.from(Array.from({ length: 256 }, () => [51, 153, 102]).flat());
  const jpeg3 = await sharp(pixels, { raw }).jpeg({ quality: 100, chromaSubsampling: '4:4:4' }).toBuffer();
  const jpegs = { Width: 16, Height: 16, Filter: 'DCTDecode' };
  const resources = context.obj({
    ColorSpace: {
      Own: profile(OTHER, 4),
      Vivid: profile(wideProfile(), 3),
      Labs: context.obj(['Lab', { WhitePoint: [0.9642, 1, 0.8249], Range: [-128, 127, -128, 127] }]),
      Gold: gold,
      Calc: calculated,
      Duo: duo,
    },
    XObject: {
      Form: form('0 0.5 0 0.5 k 0 0 1 1 re f'),
      Said: form('0.2 0.6 0.4 0 k 0 0 1 1 re f', context.obj({ ColorSpace: { DefaultCMYK: profile(OTHER, 4) } })),
      Pic: picture(cmyk, Uint8Array.of(51, 0, 204, 0)),
      Neg: picture(cmyk, Uint8Array.of(204, 255, 51, 255), { Decode: [1, 0, 1, 0, 1, 0, 1, 0] }),
      Deep: picture(deviceRgb, Uint8Array.of(153, 153, 51, 51, 102, 102), { BitsPerComponent: 16 }),
      Png: picture(deviceRgb, deflateSync(Uint8Array.of(1, 204, 102, 51, 0, 0, 0)), {
        Width: 2,
        Filter: 'FlateDecode',
        DecodeParms: { Predictor: 15, Colors: 3, Columns: 2 },
      }),
      Grey: picture(PDFName.of('DeviceGray'), Uint8Array.of(102)),
      Few: picture(few, Uint8Array.of(1)),
      SpotPic: picture(gold, Uint8Array.of(128)),
      Jpeg: (await out.embedJpg((await cmykJpeg()).file)).ref,
      Jpeg3: picture(profile(wideProfile(), 3), jpeg3, jpegs),
    },
    Shading: {
      Shade: {
        ShadingType: 2,
        ColorSpace: 'DeviceCMYK',
        Coords: [0, 0, 1, 0],
        Extend: [true, true],
        Function: { FunctionType: 2, Domain: [0, 1], N: 1, C0: [0, 0.3, 0.6, 0], C1: [0, 0.3, 0.6, 0] },
      },
    },
    Pattern: {
      Tiles: context.register(
        context.flateStream('0 0 0.5 0 k 0 0 9 9 re f', {
          ...{ Type: 'Pattern', PatternType: 1, PaintType: 1, TilingType: 1 },
          ...{ BBox: [0, 0, 9, 9], XStep: 9, YStep: 9, Resources: {} },
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
  return out.save();
}

const order = (key: string, more: Partial<ArtworkOrder> = {}): ArtworkOrder => ({
  key,
  pdfKey: key,
  embedded: true,
  rgb: null,
  cmyk: { name: ASSUMED_CMYK, sha256: 'press' },
  intent: 'relative',
  ...more,
});

/** The wide RGB in the middle of each square of a page, 0 … 255. */
async function drawn(pdf: Uint8Array, asked: ArtworkOrder, squares: number): Promise<number[][]> {
  mkdirSync(dirname(paths.laidOut(asked.pdfKey)), { recursive: true });
  writeFileSync(paths.laidOut(asked.pdfKey), pdf);
  await wideArtwork(asked, paths, readLimits({}));
  const windows = await PageWindows.open(paths.wide(asked.key), SIDE * squares, SIDE);
  windows.draw(0, SIDE);
  const row = Uint8Array.from(windows.row(SIDE / 2));
  windows.close();
  return Array.from({ length: squares }, (_, i) => {
    const at = (i * SIDE + SIDE / 2) * 4;
    return [...row.subarray(at, at + 4)];
  });
}

const distance = (a: Triple, b: Triple): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
const looks = ([r = 0, g = 0, b = 0]: readonly number[]): Triple => labOfWide([r / 255, g / 255, b / 255]);

test('every way of setting a colour comes out as its profile says', async () => {
  const seen = await drawn(await squaresPdf(), order('squares'), SQUARES.length);
  const { inks } = await cmykJpeg();
  // Little ink, most of it yellow: so it is not read the wrong way round.
  expect(inks.every((ink) => ink < 0.5) && Math.max(...inks) === inks[2]).toBe(true);
  const off: string[] = [];
  for (const [i, [how, , look]] of SQUARES.entries()) {
    const [colour = [], wanted] = [seen[i], await labOf(look === 'as its pixels say' ? { cmyk: inks } : look)];
    const far = distance(looks(colour), wanted);
    if (!(far < 1.6) || colour[3] !== 255)
      off.push(
        `${how}: ${looks(colour)
          .map((v) => v.toFixed(1))
          .join(' ')}, wanted ${wanted.map((v) => v.toFixed(1)).join(' ')}`,
      );
  }
  expect(off).toEqual([]);
});

/** One square, and what stands among its resources. */
async function square(content: string, resources: (out: PDFDocument) => PDFObject): Promise<Uint8Array> {
  const out = await PDFDocument.create();
  const page = out.addPage([SIDE, SIDE]);
  page.node.set(PDFName.of('Resources'), resources(out));
  page.node.set(
    PDFName.of('Contents'),
    out.context.register(out.context.flateStream(`${String(SIDE)} 0 0 ${String(SIDE)} 0 0 cm ${content}`)),
  );
  return out.save();
}

const none = (out: PDFDocument): PDFObject => out.context.obj({});
const ownSpace =
  (bytes: Uint8Array, channels: number) =>
  (out: PDFDocument): PDFObject => {
    const stream = out.context.register(out.context.flateStream(bytes, { N: channels }));
    return out.context.obj({ ColorSpace: { Own: ['ICCBased', stream] } });
  };

test('no ink is the white of the media, whatever the intent but absolute, which shows what paper is meant', async () => {
  const bare = await square('0 0 0 0 k 0 0 1 1 re f', none);
  for (const intent of ['perceptual', 'relative', 'relative with black point', 'saturation'] as const) {
    const [seen] = await drawn(bare, order(`bare ${intent}`, { intent }), 1);
    expect({ intent, seen }).toEqual({ intent, seen: [255, 255, 255, 255] });
  }
  const [paper = []] = await drawn(bare, order('bare absolute', { intent: 'absolute' }), 1);
  expect(looks(paper)[0]).toBeLessThan(97);
});

test('RGB looks as it did: lying beside CMYK changes nothing of it that can be seen', async () => {
  const random = seededRandom(9);
  const colours = Array.from({ length: 60 }, () => [random(), random(), random()]);
  const document = await PDFDocument.create();
  const page = document.addPage([SIDE * colours.length, SIDE]);
  colours.forEach(([r = 0, g = 0, b = 0], i) => {
    page.drawRectangle({ x: i * SIDE, y: 0, width: SIDE, height: SIDE, color: rgb(r, g, b) });
  });
  const seen = await drawn(await document.save(), order('beside'), colours.length);
  for (const [i, colour] of colours.entries()) {
    expect(distance(looks(seen[i] ?? []), await labOf({ rgb: colour }))).toBeLessThan(0.9);
  }
});

test('profiles that files bring are left aside where the ticket says so', async () => {
  const own = await square('/Own cs 0.3 0.8 0.1 0 scn 0 0 1 1 re f', ownSpace(OTHER, 4));
  const [used = []] = await drawn(own, order('used'), 1);
  const [ignored = []] = await drawn(own, order('ignored', { embedded: false }), 1);
  expect(distance(looks(used), await labOf({ cmyk: [0.3, 0.8, 0.1, 0], by: OTHER }))).toBeLessThan(1.6);
  expect(distance(looks(ignored), await labOf({ cmyk: [0.3, 0.8, 0.1, 0] }))).toBeLessThan(1.6);
});

test('RGB that brings no profile is read by the one that the ticket names', async () => {
  const plain = await square('0.1 0.8 0.3 rg 0 0 1 1 re f', none);
  const [seen] = await drawn(plain, order('chosen', { rgb: { name: 'Wide', sha256: 'wide' } }), 1);
  expect(seen).toEqual([26, 204, 77, 255]);
});

test.each([
  ['cut short', PRESS.subarray(0, 4000), 4, /cut short/],
  ['rubbish', Buffer.alloc(500, 7), 4, /no ICC profile/],
  ['for other channels', wideProfile(), 4, /Wide RGB has 3 channels, and the artwork that it describes has 4/],
] as const)('a profile in a file that is %s is refused with the reason', async (_, bytes, channels, reason) => {
  const pdf = await square('/Own cs 0.3 0.8 0.1 0 scn 0 0 1 1 re f', ownSpace(bytes, channels));
  await expect(drawn(pdf, order('bad'), 1)).rejects.toThrow(reason);
  // Nobody is stuck with it.
  const [seen = []] = await drawn(pdf, order('bad ignored', { embedded: false }), 1);
  expect(distance(looks(seen), await labOf({ cmyk: [0.3, 0.8, 0.1, 0] }))).toBeLessThan(1.6);
});

test('what stands under two names, in two places, is changed once', async () => {
  const pdf = await square('/A Do q 0.5 0 0 1 0.5 0 cm /B Do Q', (out) => {
    const { context } = out;
    const form = context.register(
      context.flateStream('0 0.5 0 0.5 k 0 0 1 1 re f', { Type: 'XObject', Subtype: 'Form', BBox: [0, 0, 1, 1] }),
    );
    return context.obj({ XObject: { A: form, B: form } });
  });
  const [seen = []] = await drawn(pdf, order('twice'), 1);
  expect(distance(looks(seen), await labOf({ cmyk: [0, 0.5, 0, 0.5] }))).toBeLessThan(1.6);
});
