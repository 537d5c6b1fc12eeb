import { rgbOf } from '../../../core/heads/grounds.ts';
import { PDFDocument, PDFName, PDFNumber } from '@cantoo/pdf-lib';

export const POINTS_PER_MM = 72 / 25.4;

/** An ink as a page has it. */
export interface PageInk {
  /** The name of its ink, as the separation is called. */
  readonly name: string;
  /** On screens: `#RRGGBB`. */
  readonly colour: string;
}

/**
 * A page on which each ink is a separation of its own that prints over the others: ink i is chosen by `/Ci cs 1 scn`.
 * @param ops what is drawn, in mm from the upper left corner
 */
export async function inkPage(
  title: string,
  { widthMm, heightMm }: { readonly widthMm: number; readonly heightMm: number },
  inks: readonly PageInk[],
  ops: readonly string[],
): Promise<Uint8Array> {
  const out = await PDFDocument.create();
  out.setTitle(title);
  out.setCreator('Yellow Spool');
  const sheet = out.addPage([widthMm * POINTS_PER_MM, heightMm * POINTS_PER_MM]);
  const { context } = out;
  const spaces = context.obj({});
  inks.forEach(({ name, colour }, i) => {
    const tint = context.obj({
      FunctionType: 2,
      Domain: [0, 1],
      N: 1,
      C0: [1, 1, 1],
      C1: rgbOf(colour).map((value) => value / 255),
    });
    spaces.set(
      PDFName.of(`C${String(i)}`),
      context.obj([PDFName.of('Separation'), PDFName.of(name), PDFName.of('DeviceRGB'), tint]),
    );
  });
  const overprint = context.obj({ Type: 'ExtGState', OP: true, op: true, OPM: PDFNumber.of(1) });
  sheet.node.set(
    PDFName.of('Resources'),
    context.obj({ ColorSpace: spaces, ExtGState: context.obj({ Over: overprint }) }),
  );
  const frame = `${figure(POINTS_PER_MM)} 0 0 ${figure(-POINTS_PER_MM)} 0 ${figure(heightMm * POINTS_PER_MM)} cm`;
  const stream = ['q', frame, '/Over gs', ...ops, 'Q'].join('\n');
  sheet.node.set(PDFName.of('Contents'), context.register(context.flateStream(stream)));
  return out.save();
}

/** A number as pages have it. */
export function figure(value: number): string {
  return value.toFixed(4);
}
