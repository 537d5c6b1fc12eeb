import { PDFContext, type PDFObject, PDFRawStream } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import { parseProcedure, runProcedure } from './calculator.ts';
import { samplesOfImage } from './imageSamples.ts';
import { pdfFunction } from './pdfFunction.ts';

const context = PDFContext.create();

test.each([
  // Worked by hand, one for each operator.
  ['{add}', [1, 2], [3]],
  ['{sub}', [5, 2], [3]],
  ['{mul}', [3, 4], [12]],
  ['{div}', [1, 4], [0.25]],
  ['{idiv}', [7, 2], [3]],
  ['{mod}', [-7, 3], [-1]],
  ['{neg abs}', [4], [4]],
  ['{ceiling}', [1.2], [2]],
  ['{floor}', [-1.2], [-2]],
  ['{round}', [2.5], [3]],
  ['{truncate}', [-1.7], [-1]],
  ['{sqrt}', [9], [3]],
  ['{sin}', [30], [0.5]],
  ['{cos}', [60], [0.5]],
  ['{atan}', [1, 0], [90]],
  ['{exp}', [2, 3], [8]],
  ['{ln}', [Math.E], [1]],
  ['{log}', [1000], [3]],
  ['{cvi cvr}', [1.9], [1]],
  ['{2 copy lt {exch} if pop}', [3, 8], [8]],
  ['{dup 0.5 gt {pop 1} {pop 0} ifelse}', [0.7], [1]],
  ['{dup 0.5 gt {pop 1} {pop 0} ifelse}', [0.2], [0]],
  ['{2 index}', [7, 8, 9], [7, 8, 9, 7]],
  ['{3 1 roll}', [1, 2, 3], [3, 1, 2]],
  ['{3 -1 roll}', [1, 2, 3], [2, 3, 1]],
  ['{eq not}', [1, 1], [0]],
  ['{true false or}', [], [1]],
  ['{5 3 and 5 3 xor}', [], [1, 6]],
  ['{1 3 bitshift}', [], [8]],
  ['{% a comment }\n 1 add}', [1], [2]],
] as const)('%s on %j', (text, inputs, wanted) => {
  const got = runProcedure(parseProcedure(text), inputs);
  expect(got).toHaveLength(wanted.length);
  got.forEach((value, i) => {
    expect(value).toBeCloseTo(wanted[i] ?? NaN, 9);
  });
});

test.each(['{add', 'add}', '{', '{1 add', '{pop pop}', '{9 index}', '{if}', '{5 2 roll}', '{what}', ''])(
  'a calculation that can’t be done is refused: %s',
  (text) => {
    expect(() => runProcedure(parseProcedure(text), [1])).toThrow(/damaged calculation/);
  },
);

const read = (value: PDFObject) => pdfFunction(value, context);

test('tints that grow by a power, one stretch after the other', () => {
  const power = (n: number, from: number, to: number) => ({
    FunctionType: 2,
    Domain: [0, 1],
    N: n,
    C0: [from],
    C1: [to],
  });
  expect(read(context.obj(power(2, 0, 1)))([0.5])).toEqual([0.25]);
  const stitched = read(
    context.obj({
      ...{ FunctionType: 3, Domain: [0, 1], Bounds: [0.5], Encode: [0, 1, 1, 0] },
      Functions: [power(1, 0, 1), power(1, 0, 1)],
    }),
  );
  expect([0, 0.25, 0.5, 0.75, 1, 2].map((x) => stitched([x])[0])).toEqual([0, 0.5, 1, 0.5, 0, 0]);
});

test('a table is read between its samples, along both axes', () => {
  const table = context.stream(Uint8Array.of(0, 255, 51, 102), {
    ...{ FunctionType: 0, Domain: [0, 1, 0, 1], Range: [0, 1], Size: [2, 2], BitsPerSample: 8 },
  });
  const at = read(table);
  expect([at([0, 0]), at([1, 0]), at([0, 1]), at([1, 1])].flat()).toEqual([0, 1, 0.2, 0.4]);
  expect(at([0.5, 0.5])[0]).toBeCloseTo((0 + 1 + 0.2 + 0.4) / 4, 9);
});

test.each([
  [{ FunctionType: 7, Domain: [0, 1] }],
  [{ FunctionType: 2 }],
  [{ FunctionType: 3, Domain: [0, 1], Functions: [] }],
] as const)('a function that can’t be read is refused: %j', (content) => {
  expect(() => read(context.obj(content))).toThrow(/damaged function/);
});

test('pixels that are packed by differences are those of the picture', async () => {
  // Of a PNG the packed rows are as a PDF has them; noise on slopes makes its writer use every kind of difference.
  const [width, height] = [61, 47];
  let state = 7;
  const noise = (): number => (state = (state * 16_807) % 2_147_483_647) % 9;
  const pixels = Uint8Array.from({ length: width * height * 3 }, (_, i) => {
    const [x, y] = [Math.floor(i / 3) % width, Math.floor(i / 3 / width)];
    return (y < 12 ? x * 4 : y < 24 ? y * 9 : y < 36 ? x * 3 + y * 5 : noise() * 28) + (i % 3) + (noise() > 6 ? 1 : 0);
  });
  const png = await sharp(pixels, { raw: { width, height, channels: 3 } })
    .png({ adaptiveFiltering: true, compressionLevel: 9 })
    .toBuffer();
  const parts: Buffer[] = [];
  for (let at = 8; at < png.length;) {
    const length = png.readUInt32BE(at);
    if (png.toString('latin1', at + 4, at + 8) === 'IDAT') parts.push(png.subarray(at + 8, at + 8 + length));
    at += 12 + length;
  }
  const dict = context.obj({
    ...{ Width: width, Height: height, BitsPerComponent: 8, Filter: 'FlateDecode' },
    DecodeParms: { Predictor: 15, Colors: 3, Columns: width },
  });
  const samples = samplesOfImage(PDFRawStream.of(dict, Buffer.concat(parts)));
  expect(Buffer.from(samples).equals(Buffer.from(pixels))).toBe(true);
});
