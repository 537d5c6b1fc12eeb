import { PDFDict, PDFDocument, PDFName, PDFString } from '@cantoo/pdf-lib';

const PT = 72 / 25.4;

/** How far the handles of a quarter circle reach. */
const HANDLE = 0.5522847498;

function circle(x: number, y: number, r: number): string {
  const k = r * HANDLE;
  return (
    `${x + r} ${y} m ${x + r} ${y + k} ${x + k} ${y + r} ${x} ${y + r} c ` +
    `${x - k} ${y + r} ${x - r} ${y + k} ${x - r} ${y} c ${x - r} ${y - k} ${x - k} ${y - r} ${x} ${y - r} c ` +
    `${x + k} ${y - r} ${x + r} ${y - k} ${x + r} ${y} c h`
  );
}

/**
 * A page of 100 × 60 mm, all blue, its upper left quarter green. A ring of 20 mm about its middle is drawn in the spot colour
 * *Knife*; a triangle 10, 10 · 40, 10 · 10, 50 (mm from the upper left) lies in the layer *Die line*, in a form of its own.
 */
export async function decalPdf(rotate: 0 | 90 = 0): Promise<Uint8Array> {
  const out = await PDFDocument.create();
  const page = out.addPage([100 * PT, 60 * PT]);
  const { context } = out;
  const tint = context.obj({ FunctionType: 2, Domain: [0, 1], C0: [1, 1, 1], C1: [1, 0, 0], N: 1 });
  const knife = context.obj(['Separation', 'Knife', 'DeviceRGB']);
  knife.push(context.register(tint));
  const group = context.register(context.obj({ Type: 'OCG', Name: PDFString.of('Die line') }));
  const form = context.stream(
    `q 1 0 0 RG 1 w ${10 * PT} ${50 * PT} m ${40 * PT} ${50 * PT} l ${10 * PT} ${10 * PT} l s Q`,
    { Type: 'XObject', Subtype: 'Form', BBox: [0, 0, 100 * PT, 60 * PT], Resources: {} },
  );
  const resources = page.node.Resources() ?? context.obj({});
  resources.set(PDFName.of('ColorSpace'), context.obj({ Cut: knife }));
  resources.set(PDFName.of('Properties'), context.obj({ L1: group }));
  resources.set(PDFName.of('XObject'), context.obj({ Fm: context.register(form) }));
  const content = [
    `0 0 1 rg 0 0 ${100 * PT} ${60 * PT} re f 0 1 0 rg 0 ${30 * PT} ${50 * PT} ${30 * PT} re f`,
    `q ${PT} 0 0 ${PT} 0 0 cm /Cut CS 1 SCN 1 w ${circle(50, 30, 20)} S Q`,
    '/OC /L1 BDC /Fm Do EMC',
  ].join('\n');
  page.node.set(PDFName.of('Contents'), context.register(context.flateStream(content)));
  if (rotate === 90) page.node.set(PDFName.of('Rotate'), context.obj(90));
  const properties = context.obj({ OCGs: [group], D: { Order: [group], ON: [group] } });
  if (properties instanceof PDFDict) out.catalog.set(PDFName.of('OCProperties'), context.register(properties));
  return out.save();
}
