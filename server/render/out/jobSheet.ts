import { readFile } from 'node:fs/promises';
import { PDFDocument, PDFName } from '@cantoo/pdf-lib';
import { PDFiumLibrary } from '@hyzyla/pdfium';
import sharp from 'sharp';
import { codeShape } from '../../../core/layout/marks/codeShape.ts';
import { encodeCode } from './encodeCode.ts';
import { EDGE_MM, LINE, MM, PAGE, SheetPage } from './sheetPage.ts';
import { outlinedText } from '../svg/textOutlines.ts';

/** Everything that is on a job sheet: plain data, so that any worker can make it. */
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

const PICTURE = { widthMm: PAGE.widthMm - 2 * EDGE_MM, heightMm: 96 };
const PICTURE_DPI = 200;
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
  let sheet = new SheetPage();
  const top = header(sheet, input);
  const picture = await pictureOf(input);
  const image = await out.embedPng(picture);
  const { heightMm } = pictureSize(input.mediaWidthMm, input.lengthMm);
  sheet.table(top + heightMm + 16, COLUMNS, rows.splice(0, ROWS_FIRST).map(cellsOf));
  const pages = [sheet];
  while (rows.length > 0) {
    sheet = new SheetPage();
    sheet.text(EDGE_MM, 20, 6, `${input.title}, continued`);
    sheet.table(30, COLUMNS, rows.splice(0, ROWS_NEXT).map(cellsOf));
    pages.push(sheet);
  }
  pages.forEach((each, i) => {
    const page = out.addPage([PAGE.widthMm * MM, PAGE.heightMm * MM]);
    const resources = out.context.obj({});
    if (i === 0) resources.set(PDFName.of('XObject'), out.context.obj({ Picture: image.ref }));
    page.node.set(PDFName.of('Resources'), resources);
    if (i === 0) drawPicture(each, input, top);
    page.node.set(PDFName.of('Contents'), out.context.register(out.context.flateStream(each.content())));
  });
  return out.save({ updateFieldAppearances: false, addDefaultPage: false });
}

/** @returns where the picture may begin (mm) */
function header(sheet: SheetPage, { title, facts, runId }: JobSheetInput): number {
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

function drawPicture(page: SheetPage, { mediaWidthMm, lengthMm }: JobSheetInput, topMm: number): void {
  const { widthMm, heightMm, scale } = pictureSize(mediaWidthMm, lengthMm);
  page.image('Picture', EDGE_MM, topMm, widthMm, heightMm);
  const text = `1 : ${(1 / scale).toFixed(scale > 0.1 ? 1 : 0)}   ${(lengthMm / 1000).toFixed(3)} m × ${mediaWidthMm.toFixed(0)} mm, leading edge at the left`;
  page.text(EDGE_MM, topMm + heightMm + 4.5, 3.2, text, 0.6);
}

function cellsOf(job: JobSheetInput['jobs'][number]): string[] {
  return [job.name, job.order, job.customer, job.size, job.pieces, job.due];
}
