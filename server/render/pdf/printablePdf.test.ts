import { PDFDocument, PDFName, type PDFObject, type PDFPage, PDFString, rgb } from '@cantoo/pdf-lib';
import { pictureDifference } from '../../testing/pictures/pdfPicture.ts';
import { seenAndPrinted } from '../../testing/pictures/seenAndPrinted.ts';

const WHITE = [255, 255, 255];
const name = (text: string): PDFName => PDFName.of(text);
const near = (colour: readonly number[]) => colour.map((value) => expect.closeTo(value, -1) as number);

/** Four fields of 100 pt each, side by side; `paint` fills one of them. */
async function stripes(draw: (page: PDFPage, document: PDFDocument) => void | Promise<void>): Promise<Uint8Array> {
  const document = await PDFDocument.create();
  const page = document.addPage([400, 100]);
  page.drawRectangle({ x: 0, y: 0, width: 400, height: 8, color: rgb(0, 0, 0) });
  await draw(page, document);
  return document.save();
}

/** What of the middle of each field is seen and printed; both must be the same. */
async function fieldsOf(file: Uint8Array): Promise<(readonly number[])[]> {
  const result = await seenAndPrinted(file);
  expect(await pictureDifference(result.seen, result.printed)).toBeLessThan(0.005);
  const fields: (readonly number[])[] = [];
  for (const i of [0, 1, 2, 3]) {
    const { seen, printed } = await result.at((i + 0.5) / 4, 0.5);
    expect(printed).toEqual(near(seen));
    fields.push(seen);
  }
  return fields;
}

/** Layers by their names, and content in them. */
function layered(
  document: PDFDocument,
  page: PDFPage,
  layers: Readonly<Record<string, { readonly content: string; readonly usage?: object }>>,
  config: (groups: Readonly<Record<string, PDFObject>>) => Record<string, unknown>,
): void {
  const { context } = document;
  const groups = Object.fromEntries(
    Object.entries(layers).map(([key, { usage }]) => [
      key,
      context.register(
        context.obj({ Type: 'OCG', Name: PDFString.of(key), ...(usage ? { Usage: usage as never } : {}) }),
      ),
    ]),
  );
  document.catalog.set(
    name('OCProperties'),
    context.obj({ OCGs: Object.values(groups), D: config(groups) as never } as never),
  );
  page.node.Resources()?.set(name('Properties'), context.obj(groups));
  const content = Object.entries(layers).map(([key, { content: text }]) => `/OC /${key} BDC ${text} EMC`);
  page.node.addContentStream(context.register(context.flateStream(content.join('\n'))));
}

const red = (field: number): string => `1 0 0 rg ${String(field * 100)} 20 100 80 re f`;
const green = (field: number): string => `0 1 0 rg ${String(field * 100)} 20 100 80 re f`;

describe('layers', () => {
  test('one that is off by default is neither seen nor printed, and is named', async () => {
    const file = await stripes((page, document) => {
      layered(document, page, { Artwork: { content: red(0) }, Guides: { content: green(1) } }, ({ Guides }) => ({
        OFF: [Guides],
      }));
    });
    expect(await fieldsOf(file)).toEqual([near([255, 0, 0]), WHITE, WHITE, WHITE]);
    expect((await seenAndPrinted(file)).facts.nature.layers).toEqual({ printed: ['Artwork'], left: ['Guides'] });
  });

  test('base state, print usage and pictures within a line: each as the document says', async () => {
    const inline = 'q 100 0 0 80 200 20 cm BI /W 1 /H 1 /CS /RGB /BPC 8 ID abc EI Q';
    const file = await stripes((page, document) => {
      layered(
        document,
        page,
        {
          On: { content: red(0) },
          ScreenOnly: { content: green(1), usage: { Print: { PrintState: 'OFF' } } },
          Inline: { content: `${inline} 0 0 1 rg 200 60 100 20 re f` },
          PrintOnly: { content: red(3), usage: { Print: { PrintState: 'ON' } } },
        },
        ({ On, ScreenOnly, PrintOnly }) => ({
          BaseState: 'OFF',
          ON: [On, ScreenOnly],
          AS: [{ Event: 'Print', Category: ['Print'], OCGs: [ScreenOnly, PrintOnly] }],
        }),
      );
    });
    expect(await fieldsOf(file)).toEqual([near([255, 0, 0]), WHITE, WHITE, near([255, 0, 0])]);
  });

  test('forms and conditions on several layers; text that is not seen keeps the place of what follows', async () => {
    const file = await stripes((page, document) => {
      const { context } = document;
      layered(document, page, { A: { content: '' }, B: { content: '' } }, ({ B }) => ({ OFF: [B] }));
      const properties = page.node.Resources()?.lookup(name('Properties'));
      const groups = properties as unknown as { get: (key: PDFName) => PDFObject };
      const [a, b] = [groups.get(name('A')), groups.get(name('B'))];
      const form = (content: string, layer: PDFObject): PDFObject =>
        context.register(
          context.flateStream(content, {
            Type: 'XObject',
            Subtype: 'Form',
            BBox: [0, 0, 400, 100],
            OC: layer as never,
          }),
        );
      const both = context.register(context.obj({ Type: 'OCMD', OCGs: [a, b], P: 'AllOn' }));
      const notB = context.register(context.obj({ Type: 'OCMD', VE: ['Not', b] }));
      page.node.newXObject('Hidden', form(red(0), both) as never);
      page.node.setXObject(name('FormB'), form(red(0), b) as never);
      page.node.setXObject(name('FormBoth'), form(red(1), both) as never);
      page.node.setXObject(name('FormNotB'), form(green(2), notB) as never);
      page.node.addContentStream(context.register(context.flateStream('/FormB Do /FormBoth Do /FormNotB Do')));
    });
    expect(await fieldsOf(file)).toEqual([WHITE, WHITE, near([0, 255, 0]), WHITE]);
  });
});

describe('annotations and form fields', () => {
  const annotation = (document: PDFDocument, field: number, more: Record<string, unknown>): PDFObject => {
    const { context } = document;
    const look = context.register(
      context.flateStream('0 0 1 rg 0 0 10 10 re f', { Type: 'XObject', Subtype: 'Form', BBox: [0, 0, 10, 10] }),
    );
    const rectangle = [field * 100, 20, field * 100 + 100, 100];
    return context.register(
      context.obj({ Type: 'Annot', Subtype: 'Stamp', Rect: rectangle, AP: { N: look }, F: 4, ...more } as never),
    );
  };

  test('what prints is seen and printed, at its place; notes and hidden ones are neither', async () => {
    const file = await stripes((page, document) => {
      const turned = document.context.register(
        document.context.flateStream('0 1 0 rg 0 0 20 10 re f', {
          Type: 'XObject',
          Subtype: 'Form',
          BBox: [0, 0, 20, 10],
          Matrix: [0, 1, -1, 0, 0, 0],
        }),
      );
      page.node.set(
        name('Annots'),
        document.context.obj([
          annotation(document, 0, {}),
          annotation(document, 1, { F: 0 }),
          annotation(document, 2, { F: 6 }),
          annotation(document, 3, { AP: { N: turned } }),
        ]),
      );
    });
    expect(await fieldsOf(file)).toEqual([near([0, 0, 255]), WHITE, WHITE, near([0, 255, 0])]);
    const { facts } = await seenAndPrinted(file);
    expect(facts.nature.annotations).toEqual({ printed: 2, left: 2, fields: 0, empty: 0 });
  });

  test('a stamp behind content that leaves its state changed lies where it should', async () => {
    const file = await stripes((page, document) => {
      page.node.addContentStream(document.context.register(document.context.flateStream('q 0.1 0 0 0.1 50 50 cm 5 w')));
      page.node.set(name('Annots'), document.context.obj([annotation(document, 2, {})]));
    });
    expect(await fieldsOf(file)).toEqual([WHITE, WHITE, near([0, 0, 255]), WHITE]);
  });

  test('a form field prints with its value, a box with its state', async () => {
    const file = await stripes((page, document) => {
      const form = document.getForm();
      const text = form.createTextField('who');
      text.setText('IIIIIIII');
      text.addToPage(page, { x: 0, y: 20, width: 100, height: 80, backgroundColor: rgb(0, 1, 0), borderWidth: 0 });
      text.setFontSize(8);
      const box = form.createCheckBox('box');
      box.addToPage(page, { x: 300, y: 20, width: 100, height: 80, backgroundColor: rgb(1, 0, 0), borderWidth: 0 });
    });
    const fields = await fieldsOf(file);
    expect(fields[3]).toEqual(near([255, 0, 0]));
    const { facts, at } = await seenAndPrinted(file);
    expect(facts.nature.annotations).toEqual({ printed: 0, left: 0, fields: 2, empty: 0 });
    expect(await at(0.2, 0.25)).toEqual({ seen: near([0, 255, 0]), printed: near([0, 255, 0]) });
  });

  test('one that should print and has no picture of itself is counted', async () => {
    const file = await stripes((page, document) => {
      page.node.set(name('Annots'), document.context.obj([annotation(document, 0, { AP: {} })]));
    });
    expect((await seenAndPrinted(file)).facts.nature.annotations).toMatchObject({ printed: 0, empty: 1 });
  });
});

test('a crop box within the trim box hides nothing and squeezes nothing', async () => {
  const file = await stripes((page) => {
    page.drawRectangle({ x: 0, y: 20, width: 100, height: 80, color: rgb(1, 0, 0) });
    page.drawRectangle({ x: 300, y: 20, width: 100, height: 80, color: rgb(0, 1, 0) });
    page.setTrimBox(0, 0, 400, 100);
    page.setCropBox(50, 10, 250, 80);
  });
  expect(await fieldsOf(file)).toEqual([near([255, 0, 0]), WHITE, WHITE, near([0, 255, 0])]);
  const { pages, nature } = (await seenAndPrinted(file)).facts;
  expect(pages[0]).toMatchObject({ widthMm: 141.1111, heightMm: 35.2778 });
  expect(nature.forbids).toBeUndefined();
});

test('a page without contents is laid out like any other: it is blank', async () => {
  const file = await stripes((page) => {
    page.node.delete(name('Contents'));
  });
  expect(await fieldsOf(file)).toEqual([WHITE, WHITE, WHITE, WHITE]);
});

test('one that is locked against changes only is opened, and what its owner forbids is kept', async () => {
  const document = await PDFDocument.create();
  document.addPage([400, 100]).drawRectangle({ x: 0, y: 20, width: 100, height: 80, color: rgb(1, 0, 0) });
  document.encrypt({
    userPassword: '',
    ownerPassword: 'keeper',
    permissions: { printing: 'highResolution', modifying: false, copying: false },
  });
  const file = await document.save({ useObjectStreams: false });
  expect(await fieldsOf(file)).toEqual([near([255, 0, 0]), WHITE, WHITE, WHITE]);
  expect((await seenAndPrinted(file)).facts.nature.forbids).toEqual(['changing', 'copying']);
  document.encrypt({ userPassword: 'secret', ownerPassword: 'keeper' });
  await expect(seenAndPrinted(await document.save())).rejects.toThrow('The PDF is locked with a password.');
});
