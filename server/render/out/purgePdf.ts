import { PDFDocument, PDFName, PDFNumber } from '@cantoo/pdf-lib';

const POINTS_PER_MM = 72 / 25.4;

export interface PurgePdfChannel {
  /** The name of its ink, as the separation is called. */
  readonly name: string;
  /** On screens: `#RRGGBB`. */
  readonly colour: string;
  /** Of the area that its lines cover, 0 … 1. */
  readonly share: number;
}

/** Lengths in mm; x and y from the upper left corner of the media. */
export interface PurgePdfPage {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly printed: { readonly xMm: number; readonly yMm: number; readonly widthMm: number; readonly heightMm: number };
  /** From the start of one line of a channel to the start of the next. */
  readonly pitchMm: number;
  readonly channels: readonly PurgePdfChannel[];
}

/** A purge as one page: slanted lines, each channel a separation of its own that prints over the others. */
export async function purgePdf(title: string, page: PurgePdfPage): Promise<Uint8Array> {
  const out = await PDFDocument.create();
  out.setTitle(title);
  out.setCreator('Yellow Spool');
  const size: [number, number] = [page.widthMm * POINTS_PER_MM, page.heightMm * POINTS_PER_MM];
  const sheet = out.addPage(size);
  const { context } = out;
  const spaces = context.obj({});
  page.channels.forEach(({ name, colour }, i) => {
    const tint = context.obj({ FunctionType: 2, Domain: [0, 1], N: 1, C0: [1, 1, 1], C1: rgbOf(colour) });
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
  sheet.node.set(PDFName.of('Contents'), context.register(context.flateStream(linesOf(page))));
  return out.save();
}

function rgbOf(colour: string): number[] {
  return [1, 3, 5].map((at) => Number.parseInt(colour.slice(at, at + 2), 16) / 255);
}

/** Lines that run down and to the left, in a frame that is clipped to what is printed. */
function linesOf({ heightMm, printed, pitchMm, channels }: PurgePdfPage): string {
  const { xMm, yMm, widthMm, heightMm: longMm } = printed;
  const ops = [
    'q',
    `${figure(POINTS_PER_MM)} 0 0 ${figure(-POINTS_PER_MM)} 0 ${figure(heightMm * POINTS_PER_MM)} cm`,
    `${figure(xMm)} ${figure(yMm)} ${figure(widthMm)} ${figure(longMm)} re W n`,
    '/Over gs',
  ];
  const count = Math.ceil((widthMm + longMm) / pitchMm) + 1;
  channels.forEach(({ share }, i) => {
    ops.push(`/C${String(i)} cs 1 scn`);
    const shift = (pitchMm * i) / channels.length;
    for (let line = -1; line < count; line += 1) {
      const from = xMm + line * pitchMm - shift;
      const to = from + share * pitchMm;
      const [top, foot] = [yMm, yMm + longMm];
      ops.push(
        `${figure(from)} ${figure(top)} m ${figure(to)} ${figure(top)} l ${figure(to - longMm)} ${figure(foot)} l ${figure(from - longMm)} ${figure(foot)} l f`,
      );
    }
  });
  ops.push('Q');
  return ops.join('\n');
}

function figure(value: number): string {
  return value.toFixed(4);
}
