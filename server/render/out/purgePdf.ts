import { type PageInk, figure, inkPage } from './inkPage.ts';

export interface PurgePdfChannel extends PageInk {
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
export function purgePdf(title: string, page: PurgePdfPage): Promise<Uint8Array> {
  return inkPage(title, page, page.channels, linesOf(page));
}

/** Lines that run down and to the left, in a frame that is clipped to what is printed. */
function linesOf({ printed, pitchMm, channels }: PurgePdfPage): string[] {
  const { xMm, yMm, widthMm, heightMm: longMm } = printed;
  const ops = [`${figure(xMm)} ${figure(yMm)} ${figure(widthMm)} ${figure(longMm)} re W n`];
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
  return ops;
}
