import { outlinedText } from '../svg/textOutlines.ts';

export const MM = 72 / 25.4;
/** A4 upright. */
export const PAGE = { widthMm: 210, heightMm: 297 };
export const EDGE_MM = 14;
/** Height of a line of text by the size of its capitals and digits. */
export const LINE = 1.25;

/** What is drawn on one page of a sheet for the floor, in black; mm from its upper left corner. */
export class SheetPage {
  private readonly ops: string[] = ['0 0 0 1 k 0 0 0 1 K 0.5 w'];

  content(): string {
    return this.ops.join('\n');
  }

  /** @param grey 0 white … 1 black; @returns the width (mm) */
  text(xMm: number, baseMm: number, sizeMm: number, text: string, ink = 1, mostMm = Infinity): number {
    const { path, width } = outlinedText(text);
    const size = sizeMm * LINE;
    const widthMm = width * size;
    const narrow = Math.min(1, mostMm / widthMm || 1);
    const cm = `${num(size * narrow * MM)} 0 0 ${num(size * MM)} ${num(xMm * MM)} ${num((PAGE.heightMm - baseMm) * MM)} cm`;
    this.ops.push(`q 0 0 0 ${num(ink)} k ${cm} ${path} f Q`);
    return widthMm * narrow;
  }

  code(
    xMm: number,
    yMm: number,
    rects: readonly { xMm: number; yMm: number; widthMm: number; heightMm: number }[],
  ): void {
    for (const rect of rects) this.box(xMm + rect.xMm, yMm + rect.yMm, rect.widthMm, rect.heightMm, 'f');
  }

  box(xMm: number, yMm: number, widthMm: number, heightMm: number, paint: 'f' | 'S'): void {
    const y = PAGE.heightMm - yMm - heightMm;
    this.ops.push(`${num(xMm * MM)} ${num(y * MM)} ${num(widthMm * MM)} ${num(heightMm * MM)} re ${paint}`);
  }

  /** Fills a named picture into a rectangle, drawn round. */
  image(name: string, xMm: number, yMm: number, widthMm: number, heightMm: number): void {
    const y = PAGE.heightMm - yMm - heightMm;
    this.ops.push(`q ${num(widthMm * MM)} 0 0 ${num(heightMm * MM)} ${num(xMm * MM)} ${num(y * MM)} cm /${name} Do Q`);
    this.box(xMm, yMm, widthMm, heightMm, 'S');
  }

  /** A number on a white ground, about its middle. */
  number(xMm: number, yMm: number, sizeMm: number, text: string): void {
    const width = outlinedText(text).width * sizeMm * LINE;
    const [w, h] = [width + sizeMm, sizeMm * 1.7];
    this.ops.push('q 0 0 0 0 k');
    this.box(xMm - w / 2, yMm - h / 2, w, h, 'f');
    this.ops.push('Q');
    this.text(xMm - width / 2, yMm + sizeMm * 0.45, sizeMm, text);
  }

  /** A straight line; ink from 0 white to 1 black, dashed where asked. */
  line(x1: number, y1: number, x2: number, y2: number, ink = 1, dashMm = 0): void {
    const at = (x: number, y: number): string => `${num(x * MM)} ${num((PAGE.heightMm - y) * MM)}`;
    const dash = dashMm > 0 ? `[${num(dashMm * MM)}] 0 d ` : '';
    this.ops.push(`q 0 0 0 ${num(ink)} K ${dash}${at(x1, y1)} m ${at(x2, y2)} l S Q`);
  }

  /** Rows under headings: column titles and widths (mm). */
  table(topMm: number, columns: readonly (readonly [string, number])[], rows: readonly (readonly string[])[]): void {
    let x = EDGE_MM;
    for (const [title, width] of columns) {
      this.text(x, topMm, 3.2, title, 0.6, width - 2);
      x += width;
    }
    rows.forEach((cells, i) => {
      const base = topMm + (i + 1) * ROW_MM;
      let at = EDGE_MM;
      cells.forEach((cell, c) => {
        const width = columns[c]?.[1] ?? 20;
        if (cell !== '') this.text(at, base, 3.6, cell, 1, width - 2);
        at += width;
      });
      this.line(EDGE_MM, base + 1.8, PAGE.widthMm - EDGE_MM, base + 1.8, 0.25);
    });
  }
}

const ROW_MM = 6.2;

function num(value: number): string {
  return Number(value.toFixed(4)).toString();
}
