import { type PDFArray, PDFDict, PDFDocument, PDFName } from '@cantoo/pdf-lib';
import { type PdfScan, scanPdf } from './scanPdf.ts';

const name = (text: string): PDFName => PDFName.of(text);

interface Made {
  readonly out: PDFDocument;
  /** A spot colour as a colour space. */
  readonly spot: (called: string) => PDFArray;
  readonly stream: (text: string, dict?: Record<string, unknown>) => ReturnType<PDFDocument['context']['register']>;
}

/** Scans a page with this content; `resources` are made by the callback. */
async function scanned(content: string, resources: (made: Made) => Record<string, unknown>): Promise<PdfScan> {
  const out = await PDFDocument.create();
  const page = out.addPage([200, 100]);
  const tint = (): unknown =>
    out.context.obj({ FunctionType: 2, Domain: [0, 1], C0: [0, 0, 0, 0], C1: [0, 1, 1, 0], N: 1 });
  const made: Made = {
    out,
    spot: (called) => out.context.obj(['Separation', called, 'DeviceCMYK', tint()] as never) as unknown as PDFArray,
    stream: (text, dict = {}) => out.context.register(out.context.stream(text, dict as never)),
  };
  page.node.set(name('Resources'), out.context.obj(resources(made) as never));
  page.node.set(name('Contents'), out.context.register(out.context.stream(content)));
  return scanPdf(await PDFDocument.load(await out.save()));
}

test('spot colours within a tiling pattern are found, and a pattern in itself ends', async () => {
  const scan = await scanned('/Pattern cs /P1 scn 0 0 50 50 re f', ({ spot, stream, out }) => {
    const inner = { Pattern: {} as Record<string, unknown>, ColorSpace: { Tide: spot('Tide teal') } };
    const tile = stream('/Tide cs 1 scn 0 0 5 5 re f /Pattern cs /P1 scn 0 0 1 1 re f', {
      ...{ PatternType: 1, PaintType: 1, TilingType: 1, BBox: [0, 0, 10, 10], XStep: 10, YStep: 10 },
      Resources: inner,
    });
    const made = out.context.lookup(tile) as unknown as { dict: PDFDict };
    made.dict.lookup(name('Resources'), PDFDict).set(name('Pattern'), out.context.obj({ P1: tile }));
    return { Pattern: { P1: tile } };
  });
  expect(scan.spots).toEqual(['Tide teal']);
});

test('spot colours of a shading are found, painted as a pattern and by itself', async () => {
  const shading = ({ spot }: Made, called: string) => ({
    ...{ ShadingType: 2, Coords: [0, 0, 10, 0] },
    ColorSpace: spot(called),
    Function: { FunctionType: 2, Domain: [0, 1], C0: [0], C1: [1], N: 1 },
  });
  const scan = await scanned('/Pattern cs /P1 scn 0 0 50 50 re f /S1 sh', (made) => ({
    Pattern: { P1: { PatternType: 2, Shading: shading(made, 'Foil') } },
    Shading: { S1: shading(made, 'Varnish') },
  }));
  expect(scan.spots).toEqual(['Foil', 'Varnish']);
});

test('what the letters of a Type 3 font and inline pictures are painted with is found', async () => {
  const content =
    'BT /T3 10 Tf (a) Tj ET q 20 0 0 20 0 0 cm BI /W 1 /H 1 /BPC 8 /CS /Gold ID x EI Q q BI /W 1 /H 1 /BPC 8 /CS /CMYK ID xxxx EI Q';
  const scan = await scanned(content, ({ spot, stream }) => ({
    ColorSpace: { Gold: spot('Gold') },
    Font: {
      T3: {
        ...{ Type: 'Font', Subtype: 'Type3', FontBBox: [0, 0, 10, 10], FontMatrix: [0.1, 0, 0, 0.1, 0, 0] },
        CharProcs: { a: stream('10 0 d0 /Silver cs 1 scn 0 0 5 5 re f') },
        Resources: { ColorSpace: { Silver: spot('Silver') } },
      },
    },
  }));
  expect(scan.spots).toEqual(['Gold', 'Silver']);
  expect(scan.colourSpaces).toContain('CMYK');
  expect(scan.missingFonts).toEqual([]);
});

test('overprint is found where a page uses it, not where it only lies in the file', async () => {
  const states = { On: { OP: true }, Fill: { op: true }, Off: { OP: false, op: false } };
  const overprint = async (content: string): Promise<boolean> =>
    (await scanned(content, () => ({ ExtGState: states }))).overprint;
  expect(await overprint('/On gs 0 0 1 0 k 0 0 9 9 re f')).toBe(true);
  expect(await overprint('/Fill gs 0 0 1 0 k 0 0 9 9 re f')).toBe(true);
  expect(await overprint('/Off gs 0 0 1 0 k 0 0 9 9 re f')).toBe(false);
  expect(await overprint('0 0 9 9 re f')).toBe(false);
});

test('lines of a pattern are no lines of the page: how large they come out is not known', async () => {
  const scan = await scanned('/Pattern cs /P1 scn 0 0 50 50 re f 2 w 0 0 m 9 9 l S', ({ stream }) => ({
    Pattern: {
      P1: stream('0.001 w 0 0 m 5 5 l S', {
        ...{ PatternType: 1, PaintType: 1, TilingType: 1, BBox: [0, 0, 10, 10], XStep: 10, YStep: 10, Resources: {} },
      }),
    },
  }));
  expect(scan.pages[0]?.thinnestMm).toBeCloseTo((2 * 25.4) / 72, 6);
});
