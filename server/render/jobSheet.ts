import { readFile } from 'node:fs/promises';
import { PDFDocument, PDFName } from '@cantoo/pdf-lib';
import { PDFiumLibrary } from '@hyzyla/pdfium';
import sharp from 'sharp';
import { codeShape } from '../../core/layout/codeShape.ts';
import { encodeCode } from './encodeCode.ts';
import { outlinedText } from './textOutlines.ts';

export interface JobSheetInput {
  /** The run as laid out. */
  readonly laidOut: string;
  readonly runId: string;
  readonly title: string;
  readonly mediaWidthMm: number;
  readonly lengthMm: number;
  /** Label and value, in the order in which they are read. */
  readonly facts: readonly (readonly [label: string, value: string])[];
  readonly jobs: readonly {
    readonly name: string;
    readonly order: string;
    readonly customer: string;
    readonly size: string;
    readonly pieces: string;
    readonly due: string;
  }[];
}

const MM = 72 / 25.4;
const PAGE = { widthMm: 210, heightMm: 297 };
const EDGE_MM = 14;
const PICTURE = { widthMm: PAGE.widthMm - 2 * EDGE_MM, heightMm: 96 };
const PICTURE_DPI = 200;
const ROW_MM = 6.2;
/** Height of a line of text by the size of its capitals and digits. */
const LINE = 1.25;
const COLUMNS = [
  ['Job', 56],
  ['Order', 22],
  ['Customer', 36],
  ['Size, mm', 30],
  ['Pieces', 14],
  ['Due', 24],
] as const;
/** Rows on the first page, and on those that follow. */
const ROWS_FIRST = 14;
const ROWS_NEXT = 38;

/** What goes with a run to the floor: its picture to scale, what is in it, and the code by which it is found again. */
export async function jobSheet(input: JobSheetInput): Promise<Uint8Array> {
  const out = await PDFDocument.create({ updateMetadata: false });
  out.setTitle(`${input.title}: job sheet`);
  const rows = [...input.jobs];
  let sheet = new Page();
  const top = header(sheet, input);
  const picture = await pictureOf(input);
  const image = await out.embedPng(picture);
  const { heightMm } = pictureSize(input.mediaWidthMm, input.lengthMm);
  sheet.table(top + heightMm + 16, rows.splice(0, ROWS_FIRST));
  const pages = [sheet];
  while (rows.length > 0) {
    sheet = new Page();
    sheet.text(EDGE_MM, 20, 6, `${input.title}, continued`);
    sheet.table(30, rows.splice(0, ROWS_NEXT));
    pages.push(sheet);
  }
  pages.forEach((each, i) => {
    const page = out.addPage([PAGE.widthMm * MM, PAGE.heightMm * MM]);
    const resources = out.context.obj({});
    if (i === 0) resources.set(PDFName.of('XObject'), out.context.obj({ Picture: image.ref }));
    page.node.set(PDFName.of('Resources'), resources);
    if (i === 0) each.picture(input, top);
    page.node.set(PDFName.of('Contents'), out.context.register(out.context.flateStream(each.content())));
  });
  return out.save({ updateFieldAppearances: false, addDefaultPage: false });
}

/** @returns where the picture may begin (mm) */
function header(sheet: Page, { title, facts, runId }: JobSheetInput): number {
  sheet.text(EDGE_MM, 22, 11, title);
  const shape = encodeModules(runId);
  if (shape) sheet.code(PAGE.widthMm - EDGE_MM - shape.widthMm, 10, shape.rects);
  const most = PAGE.widthMm - EDGE_MM - (shape?.widthMm ?? 0) - 4;
  let [x, y] = [EDGE_MM, 32];
  for (const [label, value] of facts) {
    const width = Math.max(outlinedText(value).width * 4.2 * LINE, 16);
    if (x > EDGE_MM && x + width > most) [x, y] = [EDGE_MM, y + 12];
    sheet.text(x, y, 3.4, label, 0.6);
    sheet.text(x, y + 5.5, 4.2, value, 1, most - x);
    x += width + 7;
  }
  return y + 12;
}

function encodeModules(runId: string) {
  const modules = encodeCode('qr', runId);
  const shape = modules && codeShape(modules, 26, { x: 600, y: 600 });
  return shape?.ok === true ? shape.value : undefined;
}

/** The run as it lies on the Bench: the leading edge at the left. */
async function pictureOf({ laidOut, mediaWidthMm, lengthMm }: JobSheetInput): Promise<Buffer> {
  const { widthMm } = pictureSize(mediaWidthMm, lengthMm);
  const document = await (await PDFiumLibrary.init()).loadDocument(await readFile(laidOut));
  try {
    const page = document.getPage(0);
    const { originalHeight } = page.getOriginalSize();
    const wantedPx = (widthMm / 25.4) * PICTURE_DPI;
    const drawn = await page.render({ scale: wantedPx / originalHeight, render: 'bitmap' });
    return await sharp(drawn.data, { raw: { width: drawn.width, height: drawn.height, channels: 4 } })
      .flatten({ background: '#fff' })
      .rotate(270)
      .png()
      .toBuffer();
  } finally {
    document.destroy();
  }
}

/** Size of the picture on the sheet (mm): the length runs to the right. */
function pictureSize(mediaWidthMm: number, lengthMm: number): { widthMm: number; heightMm: number; scale: number } {
  const scale = Math.min(PICTURE.widthMm / lengthMm, PICTURE.heightMm / mediaWidthMm);
  return { widthMm: lengthMm * scale, heightMm: mediaWidthMm * scale, scale };
}

/** One page of the sheet; mm from its upper left corner. */
class Page {
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

  picture({ mediaWidthMm, lengthMm }: JobSheetInput, topMm: number): void {
    const { widthMm, heightMm, scale } = pictureSize(mediaWidthMm, lengthMm);
    const y = PAGE.heightMm - topMm - heightMm;
    this.ops.push(
      `q ${num(widthMm * MM)} 0 0 ${num(heightMm * MM)} ${num(EDGE_MM * MM)} ${num(y * MM)} cm /Picture Do Q`,
    );
    this.box(EDGE_MM, topMm, widthMm, heightMm, 'S');
    const text = `1 : ${(1 / scale).toFixed(scale > 0.1 ? 1 : 0)}   ${(lengthMm / 1000).toFixed(3)} m × ${mediaWidthMm.toFixed(0)} mm, leading edge at the left`;
    this.text(EDGE_MM, topMm + heightMm + 4.5, 3.2, text, 0.6);
  }

  table(topMm: number, jobs: JobSheetInput['jobs']): void {
    let x = EDGE_MM;
    for (const [title, width] of COLUMNS) {
      this.text(x, topMm, 3.2, title, 0.6);
      x += width;
    }
    jobs.forEach((job, i) => {
      const base = topMm + (i + 1) * ROW_MM;
      const cells = [job.name, job.order, job.customer, job.size, job.pieces, job.due];
      let at = EDGE_MM;
      cells.forEach((cell, c) => {
        const width = COLUMNS[c]?.[1] ?? 20;
        if (cell !== '') this.text(at, base, 3.6, cell, 1, width - 2);
        at += width;
      });
      const y = PAGE.heightMm - base - 1.8;
      this.ops.push(
        `q 0 0 0 0.25 K ${num(EDGE_MM * MM)} ${num(y * MM)} m ${num((PAGE.widthMm - EDGE_MM) * MM)} ${num(y * MM)} l S Q`,
      );
    });
  }
}

function num(value: number): string {
  return Number(value.toFixed(4)).toString();
}
