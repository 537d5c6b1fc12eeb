import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { execFileSync } from 'node:child_process';
import sharp from 'sharp';
import { seededRandom } from '../../core/random.ts';
import { DataPaths } from '../files/paths.ts';
import { readLimits } from '../limits.ts';
import {
  boxedPdf,
  cmykJpeg,
  encodedTiff,
  faultyPdf,
  pdfWith,
  plainCorpus,
  spotTiff,
  svgOf,
  tiffOf,
} from '../testing/pictures/corpus.ts';
import { mutate } from '../testing/mutate.ts';
import type { FileFacts } from './facts.ts';
import { layPdf } from './out/layPdf.ts';
import { profileName } from './picture/profileName.ts';
import { firstLook, runTask } from '../work/runTask.ts';

const LIMITS = readLimits({});
let root: string;
let paths: DataPaths;

beforeEach(() => {
  root = mkdtempSync(join(tmpdir(), 'yellow-spool-test-'));
  paths = new DataPaths(root);
  paths.make();
});
afterEach(() => {
  rmSync(root, { recursive: true, force: true });
});

let count = 0;
async function answerTo(bytes: Buffer, limits = LIMITS) {
  const path = join(root, `file-${String(count++)}`);
  writeFileSync(path, bytes);
  return firstLook(path, root, limits);
}
async function factsOf(bytes: Buffer): Promise<FileFacts> {
  const answer = await answerTo(bytes);
  if (!answer.ok) throw new Error(answer.reason);
  return answer.facts;
}
async function reasonFor(bytes: Buffer, limits = LIMITS): Promise<string> {
  const answer = await answerTo(bytes, limits);
  if (answer.ok) throw new Error('it was taken');
  return answer.reason;
}
const near = (value: number) => expect.closeTo(value, 1) as number;

describe('TIFF', () => {
  const plain = { width: 300, height: 150, photometric: 2, pixel: [200, 100, 50] };
  test.each([
    ['RGB, per inch', tiffOf([plain]), { widthMm: 25.4, heightMm: 12.7, dpi: 300 }, 'RGB'],
    [
      'RGB, per centimetre, big-endian',
      tiffOf([{ ...plain, unit: 3, perUnit: 100 }], { bigEndian: true }),
      { widthMm: 30, heightMm: 15 },
      'RGB',
    ],
    ['CMYK', tiffOf([{ ...plain, photometric: 5, pixel: [10, 20, 30, 0] }]), { widthMm: 25.4 }, 'CMYK'],
    ['Lab', tiffOf([{ ...plain, photometric: 8, pixel: [40_000, 20, 200], bits: 16 }]), { widthMm: 25.4 }, 'Lab'],
    ['grey of 16 bits', tiffOf([{ ...plain, photometric: 1, pixel: [30_000], bits: 16 }]), { widthMm: 25.4 }, 'grey'],
    ['RGB of 16 bits', tiffOf([{ ...plain, pixel: [60_000, 100, 9_000], bits: 16 }]), { widthMm: 25.4 }, 'RGB'],
  ])('%s', async (_name, file, page, space) => {
    const facts = await factsOf(file);
    expect(facts).toMatchObject({ format: 'tiff', nature: { colourSpaces: [space], assumedDpi: null, spots: [] } });
    for (const [key, value] of Object.entries(page)) expect(facts.pages[0]).toMatchObject({ [key]: near(value) });
  });
  test('Lab of 8 bits can’t be read, and the refusal says what can', async () => {
    expect(await reasonFor(tiffOf([{ ...plain, photometric: 8, pixel: [150, 20, 200] }]))).toContain(
      'Save it with 16 bits',
    );
  });
  test('without a resolution its size is assumed, and said to be', async () => {
    const facts = await factsOf(tiffOf([{ ...plain, unit: 1, perUnit: 1 }]));
    expect(facts.nature.assumedDpi).toBe(LIMITS.assumedDpi);
    expect(facts.pages[0]?.widthMm).toBeCloseTo((300 / LIMITS.assumedDpi) * 25.4, 1);
  });
  test('spot channels keep their names; alpha is none of them', async () => {
    expect((await factsOf(spotTiff())).nature).toMatchObject({
      colourSpaces: ['CMYK'],
      spots: ['Lantern Gold'],
      hasAlpha: false,
    });
    expect((await factsOf(spotTiff(16))).nature.spots).toEqual(['Lantern Gold']);
    // An empty spot channel is no transparency: the colours are all there.
    const empty = tiffOf([
      {
        ...plain,
        photometric: 5,
        pixel: [200, 0, 100, 0, 0],
        extraSamples: [0],
        inkNames: ['C', 'M', 'Y', 'K', 'Gold'],
      },
    ]);
    expect((await factsOf(empty)).pages[0]?.coverage.cyan).toBeGreaterThan(0.5);
    const alpha = tiffOf([{ ...plain, pixel: [200, 100, 50, 128], extraSamples: [2] }]);
    expect((await factsOf(alpha)).nature).toMatchObject({ hasAlpha: true, spots: [] });
  });
  test('many pictures are pages; reduced copies are not', async () => {
    const facts = await factsOf(
      tiffOf([plain, { ...plain, width: 30, height: 15, reduced: true }, { ...plain, height: 600 }]),
    );
    expect(facts.pages.map((page) => Math.round(page.heightMm))).toEqual([13, 51]);
  });
  test.each(['lzw', 'deflate', 'jpeg'] as const)('%s, tiled and in strips', async (compression) => {
    for (const tile of [false, true]) {
      const facts = await factsOf(await encodedTiff({ compression, tile, tileWidth: 64, tileHeight: 64 }));
      expect(facts.pages[0]).toMatchObject({ widthMm: near(30), heightMm: near(20) });
      expect(facts.pages[0]?.coverage.yellow).toBeGreaterThan(0.1);
    }
  });
  test('cut short, in a circle, or too many: refused with the figure', async () => {
    const file = tiffOf([plain, plain]);
    expect(await reasonFor(tiffOf([plain]).subarray(0, 9_000))).toMatch(/^The TIFF is cut short: it lacks/);
    const circle = Buffer.from(file);
    // The last directory points back to the first.
    circle.writeUInt32LE(circle.readUInt32LE(4), circle.length - 4);
    expect(await reasonFor(circle)).toMatch(/TIFF/);
    expect(await reasonFor(file, { ...LIMITS, pages: 1 })).toBe('The TIFF has more than 1 pages. Split it.');
  });
});

describe('PNG and JPEG', () => {
  const png = (density: number) => {
    const made = sharp({ create: { width: 400, height: 200, channels: 4, background: '#0af8' } });
    return made.withMetadata({ density }).png().toBuffer();
  };
  test('pHYs or none, alpha, 16 bits', async () => {
    expect(await factsOf(await png(200))).toMatchObject({
      nature: { hasAlpha: true, assumedDpi: null },
      pages: [{ widthMm: near(50.8), dpi: near(200) }],
    });
    const deep = await sharp({ create: { width: 40, height: 20, channels: 3, background: '#123' } })
      .toColourspace('rgb16')
      .png()
      .toBuffer();
    expect((await factsOf(deep)).nature.colourSpaces).toEqual(['RGB']);
  });
  test('CMYK JPEG stays CMYK in the run', async () => {
    const answer = await answerTo(await cmykJpeg());
    if (!answer.ok) throw new Error(answer.reason);
    expect(answer.facts.nature.colourSpaces).toEqual(['CMYK']);
    const art = {
      sha256: answer.sha256,
      format: 'jpeg' as const,
      page: 0,
      appearance: null,
      part: null,
      xMm: 0,
      yMm: 0,
      widthMm: 50,
      heightMm: 25,
      angleDeg: 0,
    };
    await layPdf({ key: 'cmyk', title: 't', widthMm: 60, lengthMm: 30, art: [art] }, paths, LIMITS);
    expect(execFileSync('pdfimages', ['-list', paths.laidOut('cmyk')], { encoding: 'utf8' })).toContain('cmyk');
  });
  test('a picture beyond the limit of pixels is refused with the figure', async () => {
    const reason = await reasonFor(await png(200), { ...LIMITS, pixels: 10_000 });
    expect(reason).toContain('0.01 million');
  });
});

describe('PDF', () => {
  test('boxes, rotation and user unit: the trim is the size, the bleed goes along', async () => {
    const facts = await factsOf(await boxedPdf());
    // 100 × 50 mm at a user unit of 2, turned by a quarter.
    expect(facts.pages[0]).toMatchObject({
      widthMm: near(100),
      heightMm: near(200),
      bleed: { leftMm: near(6), topMm: near(6) },
    });
  });
  test('what it is made of: spots, colour spaces, fonts, lines, and the resolution of its pictures', async () => {
    const facts = await factsOf(await faultyPdf());
    expect(facts.nature).toMatchObject({
      spots: ['Lantern Gold'],
      missingFonts: ['Helvetica'],
      colourSpaces: ['CMYK', 'RGB'],
    });
    expect(facts.pages[0]).toMatchObject({
      dpi: near(25.4),
      thinnestMm: expect.closeTo((0.1 * 25.4) / 72, 4) as number,
    });
  });
  test('many pages, a blank one among them', async () => {
    const facts = await factsOf(await pdfWith((document) => void document.addPage([300, 300]), 3));
    const inks = facts.pages.map((page) => Object.values(page.coverage).reduce((sum, share) => sum + share, 0));
    expect(inks.map((ink) => ink > 0.001)).toEqual([true, true, true, false]);
  });
  test('locked with a password: refused in plain words', async () => {
    // As an encrypted file stands: its trailer names an Encrypt dictionary.
    const plain = (await pdfWith(() => undefined)).toString('latin1');
    const dict =
      '<< /Filter /Standard /V 2 /R 3 /Length 128 /P -3904 /O <' +
      '00'.repeat(32) +
      '> /U <' +
      '11'.repeat(32) +
      '> >>';
    const locked = plain.replace(/trailer\s*<</, `trailer\n<< /Encrypt ${dict} /ID [<00><00>]`);
    expect(await reasonFor(Buffer.from(locked, 'latin1'))).toBe(
      'The PDF is locked with a password. Save it without one.',
    );
  });
});

describe('SVG', () => {
  const square = '<rect x="10" y="10" width="100" height="60" fill="#c33"/>';
  test.each([
    ['in mm', 'width="120mm" height="80mm" viewBox="0 0 120 80"', 120, 80, null],
    ['in inches', 'width="4in" height="2in"', 101.6, 50.8, null],
    ['in pixels', 'width="960" height="480px"', 254, 127, null],
    ['by width and viewBox', 'width="50cm" viewBox="0 0 100 50"', 500, 250, null],
    ['by viewBox alone', 'viewBox="0 0 960 480"', 254, 127, 96],
    [
      'longer than a page may be',
      'width="18m" height="1m" viewBox="0 0 180 10"'.replace('18m', '18000mm').replace('1m', '1000mm'),
      18_000,
      1000,
      null,
    ],
  ])('%s', async (_name, head, w, h, assumed) => {
    const facts = await factsOf(svgOf(square, head));
    expect(facts).toMatchObject({ format: 'svg', nature: { assumedDpi: assumed } });
    expect(facts.pages[0]?.widthMm).toBeCloseTo(w, 1);
    expect(facts.pages[0]?.heightMm).toBeCloseTo(h, 1);
  });
  test('it goes into the run as vectors, in its colour', async () => {
    const answer = await answerTo(svgOf(square));
    if (!answer.ok) throw new Error(answer.reason);
    const art = {
      sha256: answer.sha256,
      format: 'svg' as const,
      page: 0,
      appearance: null,
      part: null,
      xMm: 0,
      yMm: 0,
      widthMm: 120,
      heightMm: 80,
      angleDeg: 0,
    };
    await layPdf({ key: 'svg', title: 't', widthMm: 120, lengthMm: 80, art: [art] }, paths, LIMITS);
    const file = paths.laidOut('svg');
    expect(execFileSync('pdfimages', ['-list', file], { encoding: 'utf8' }).trim().split('\n')).toHaveLength(2);
    const png = execFileSync('pdftoppm', ['-r', '25.4', '-png', file]);
    const { data, info } = await sharp(png).raw().toBuffer({ resolveWithObject: true });
    const at = (x: number, y: number) => [
      ...data.subarray((y * info.width + x) * info.channels, (y * info.width + x) * info.channels + 3),
    ];
    expect(at(60, 40)).toEqual([204, 51, 51]);
    expect(at(4, 4)).toEqual([255, 255, 255]);
  });
  test.each([
    ['another file', '<image href="../../secret.png" width="10" height="10"/>', 'outside the file'],
    ['an address', '<image xlink:href="http://127.0.0.1:9/x.png" width="10" height="10"/>', 'outside the file'],
    ['a style from elsewhere', '<style>@import url(http://127.0.0.1:9/a.css);</style>', 'outside the file'],
    [
      'a fill from elsewhere',
      '<rect fill="url(http://127.0.0.1:9/a.svg#b)" width="5" height="5"/>',
      'outside the file',
    ],
  ])('what needs %s is refused and never fetched', async (_name, inside, words) => {
    expect(await reasonFor(svgOf(inside))).toContain(words);
  });
  test('entities, damage and endless nesting are refused', async () => {
    const bomb =
      '<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;">]><svg width="10mm" height="10mm">&b;</svg>';
    expect(await reasonFor(Buffer.from(bomb))).toContain('entities');
    expect(await reasonFor(svgOf('<g><rect width="5"></g>'))).toContain('damaged');
    expect(await reasonFor(svgOf('<g>'.repeat(300) + '</g>'.repeat(300)))).toBe(
      'The SVG is nested more than 256 deep.',
    );
    expect(await reasonFor(svgOf(square).subarray(0, 120))).toContain('cut short');
    expect(await reasonFor(svgOf(square), { ...LIMITS, svgBytes: 10 })).toMatch(/MiB is the limit/);
  });
  test('scripts do nothing, and text says which fonts it wants', async () => {
    const facts = await factsOf(
      svgOf(`${square}<script>throw new Error('ran')</script><text x="10" y="40" font-family="Quay Sans">Tide</text>`),
    );
    expect(facts.nature.missingFonts).toEqual(['Quay Sans']);
  });
});

test.each(['pdf', 'png', 'jpeg', 'tiff', 'svg'] as const)(
  '%s files with wounds are taken or refused with a reason, never more',
  async (format) => {
    const random = seededRandom(40);
    const bases = (await plainCorpus())[format];
    const answers = { taken: 0, refused: 0 };
    // Thousands of each in bench/fuzz.ts.
    for (let i = 0; i < 24; i++) {
      const answer = await answerTo(mutate(bases[i % bases.length] ?? Buffer.alloc(1), random));
      if (answer.ok) answers.taken += 1;
      else {
        expect(answer.reason).toMatch(/^[A-Z].{10,}\.$/);
        answers.refused += 1;
      }
    }
    expect(answers.taken).toBeGreaterThan(0);
    expect(answers.refused).toBeGreaterThan(0);
  },
  120_000,
);

test('a profile that claims millions of tags is unreadable at once', () => {
  const icc = Buffer.alloc(400);
  icc.writeUInt32BE(400, 0);
  icc.write('acsp', 36);
  icc.writeUInt32BE(0xfffffff0, 128);
  expect(profileName(icc)).toBe('unreadable profile');
  expect(profileName(icc.subarray(0, 90))).toBe('unreadable profile');
});

test('a part alone: a spot channel, an ink of CMYK, an ink of RGB; full ink is black', async () => {
  const shade = async (file: Buffer, part: string): Promise<number> => {
    const answer = await answerTo(file);
    if (!answer.ok) throw new Error(answer.reason);
    const { format } = answer.facts;
    const art = {
      sha256: answer.sha256,
      format,
      page: 0,
      appearance: null,
      part,
      xMm: 0,
      yMm: 0,
      widthMm: 40,
      heightMm: 20,
      angleDeg: 0,
    };
    const key = `part-${String(count)}`;
    await layPdf({ key, title: 't', widthMm: 40, lengthMm: 20, art: [art] }, paths, LIMITS);
    const png = execFileSync('pdftoppm', ['-r', '50', '-png', paths.laidOut(key)]);
    const { data, info } = await sharp(png).greyscale().raw().toBuffer({ resolveWithObject: true });
    return data[Math.floor(info.height / 2) * info.width + Math.floor(info.width / 2)] ?? -1;
  };
  expect(await shade(spotTiff(), 'Lantern Gold')).toBeLessThan(3);
  expect(Math.abs((await shade(spotTiff(), 'cyan')) - 128)).toBeLessThan(4);
  expect(await shade(spotTiff(), 'magenta')).toBeGreaterThan(252);
  expect(Math.abs((await shade(spotTiff(16), 'cyan')) - 128)).toBeLessThan(4);
  const red = await sharp({ create: { width: 80, height: 40, channels: 3, background: '#f00' } })
    .withMetadata({ density: 50 })
    .png()
    .toBuffer();
  expect(await shade(red, 'yellow')).toBeLessThan(3);
  expect(await shade(red, 'black')).toBeGreaterThan(252);
});

test('the look of a ticket: picture and print are cropped, turned and mirrored alike', async () => {
  // Four quarters: red, green over blue, white.
  const quarter = (background: string) => ({ create: { width: 50, height: 50, channels: 3 as const, background } });
  const tile = (background: string) => sharp(quarter(background)).png().toBuffer();
  const file = await sharp({ create: { width: 100, height: 100, channels: 3, background: '#fff' } })
    .composite([
      { input: await tile('#f00'), left: 0, top: 0 },
      { input: await tile('#0f0'), left: 50, top: 0 },
      { input: await tile('#00f'), left: 0, top: 50 },
    ])
    .withMetadata({ density: 25.4 })
    .png()
    .toBuffer();
  const answer = await answerTo(file);
  if (!answer.ok) throw new Error(answer.reason);
  const { sha256 } = answer;
  const appearance = {
    key: 'look-1',
    window: { x: 0, y: 0, width: 1, height: 0.75 },
    aspect: 100 / 75,
    turn: 90 as const,
    mirror: true,
  };
  await runTask({
    kind: 'picture',
    input: { sha256, page: 0, size: 'thumb', format: 'png', appearance },
    root,
    limits: LIMITS,
  });
  const art = {
    sha256,
    format: 'png' as const,
    page: 0,
    appearance,
    part: null,
    xMm: 0,
    yMm: 0,
    widthMm: 75,
    heightMm: 100,
    angleDeg: 0,
  };
  await layPdf({ key: 'look', title: 't', widthMm: 75, lengthMm: 100, art: [art] }, paths, LIMITS);
  const printed = execFileSync('pdftoppm', ['-r', '25.4', '-png', paths.laidOut('look')]);
  const corner = async (input: Buffer | string): Promise<string[]> => {
    const { data, info } = await sharp(input)
      .removeAlpha()
      .resize(75, 100, { fit: 'fill', kernel: 'nearest' })
      .raw()
      .toBuffer({ resolveWithObject: true });
    return [
      [12, 12],
      [62, 12],
      [12, 88],
      [62, 88],
    ].map(([x = 0, y = 0]) => {
      const [r = 0, g = 0, b = 0] = data.subarray((y * info.width + x) * 3, (y * info.width + x) * 3 + 3);
      return r > 200 && g > 200 && b > 200 ? 'white' : r > 120 ? 'red' : g > 120 ? 'green' : 'blue';
    });
  };
  // Cut to red, green over half of blue, white; a quarter turn to the left brings green, white to the top; then mirrored.
  const expected = ['white', 'green', 'blue', 'red'];
  expect(await corner(printed)).toEqual(expected);
  expect(await corner(paths.picture(sha256, 0, 'thumb', 'look-1'))).toEqual(expected);
});
