import { readFile } from 'node:fs/promises';
import { PDFDocument, PDFName, type PDFRef } from '@cantoo/pdf-lib';
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
  /** What is printed over both edges of the media together; the pictures show it, too. */
  readonly overMm: number;
  readonly lengthMm: number;
  /** Label and value, in the order in which they are read. */
  readonly facts: readonly (readonly [label: string, value: string])[];
  readonly jobs: readonly JobSheetRow[];
  /** What lies on each sheet, 1 … n; a roll has none. Each gets a page of its own. */
  readonly sheets: readonly { readonly lengthMm: number; readonly jobs: readonly JobSheetRow[] }[];
}

export interface JobSheetRow {
  readonly name: string;
  readonly order: string;
  readonly customer: string;
  readonly size: string;
  readonly pieces: string;
  readonly due: string;
}

const PICTURE = { widthMm: PAGE.widthMm - 2 * EDGE_MM, heightMm: 96 };
const PICTURE_DPI = 200;
/** Of each of several sheets: their pictures are many. */
const SHEET_DPI = 100;
/** Width of all of them side by side (px). */
const MOST_JOINED_PX = 3000;
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
  const { mediaWidthMm, overMm, lengthMm, title } = input;
  const pictures = await picturesOf(input);
  const whole = await out.embedPng(await joined(pictures));
  const first = new SheetPage();
  const top = header(first, input);
  addPages(out, first, { title, jobs: input.jobs, picture: whole.ref, topMm: top, mediaWidthMm, overMm, lengthMm });
  for (const [i, sheet] of input.sheets.entries()) {
    const picture = pictures[i];
    if (!picture) throw new Error('every sheet has a page');
    const page = new SheetPage();
    const name = `${title}, sheet ${String(i + 1)} of ${String(input.sheets.length)}`;
    page.text(EDGE_MM, 22, 8, name, 1, PAGE.widthMm - 2 * EDGE_MM);
    addPages(out, page, {
      title: name,
      jobs: sheet.jobs,
      picture: (await out.embedPng(picture)).ref,
      topMm: 30,
      mediaWidthMm,
      overMm,
      lengthMm: sheet.lengthMm,
    });
  }
  return out.save({ updateFieldAppearances: false, addDefaultPage: false });
}

interface PicturePage {
  readonly title: string;
  readonly jobs: readonly JobSheetRow[];
  readonly picture: PDFRef;
  readonly topMm: number;
  readonly mediaWidthMm: number;
  readonly overMm: number;
  readonly lengthMm: number;
}

/** A page with a picture to scale and what is in it; the rows that have no room follow on more pages. */
function addPages(out: PDFDocument, first: SheetPage, page: PicturePage): void {
  const { title, jobs, picture, topMm, mediaWidthMm, overMm, lengthMm } = page;
  const rows = jobs.map(cellsOf);
  const { heightMm } = pictureSize(mediaWidthMm + overMm, lengthMm);
  first.table(topMm + heightMm + 16, COLUMNS, rows.splice(0, ROWS_FIRST));
  drawPicture(first, page);
  addPage(out, first, picture);
  while (rows.length > 0) {
    const next = new SheetPage();
    next.text(EDGE_MM, 20, 6, `${title}, continued`);
    next.table(30, COLUMNS, rows.splice(0, ROWS_NEXT));
    addPage(out, next);
  }
}

function addPage(out: PDFDocument, sheet: SheetPage, picture?: PDFRef): void {
  const page = out.addPage([PAGE.widthMm * MM, PAGE.heightMm * MM]);
  const resources = out.context.obj({});
  if (picture) resources.set(PDFName.of('XObject'), out.context.obj({ Picture: picture }));
  page.node.set(PDFName.of('Resources'), resources);
  page.node.set(PDFName.of('Contents'), out.context.register(out.context.flateStream(sheet.content())));
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

/** The pages of the run as they lie on the Bench: the leading edge at the left. */
async function picturesOf({ laidOut, mediaWidthMm, overMm, lengthMm, sheets }: JobSheetInput): Promise<Buffer[]> {
  const [sheet] = sheets;
  const { widthMm } = pictureSize(mediaWidthMm + overMm, sheet?.lengthMm ?? lengthMm);
  const wantedPx = (widthMm / 25.4) * (sheets.length > 1 ? SHEET_DPI : PICTURE_DPI);
  const document = await (await PDFiumLibrary.init()).loadDocument(await readFile(laidOut));
  try {
    const pictures: Buffer[] = [];
    for (let i = 0; i < document.getPageCount(); i++) {
      const page = document.getPage(i);
      const { originalHeight } = page.getOriginalSize();
      const drawn = await page.render({ scale: wantedPx / originalHeight, render: 'bitmap' });
      pictures.push(
        await sharp(drawn.data, { raw: { width: drawn.width, height: drawn.height, channels: 4 } })
          .flatten({ background: '#fff' })
          .rotate(270)
          .png()
          .toBuffer(),
      );
    }
    return pictures;
  } finally {
    document.destroy();
  }
}

/** All sheets side by side in the order in which they are printed, no larger than one picture is, with a line between them. */
async function joined(pictures: readonly Buffer[]): Promise<Buffer> {
  const [first] = pictures;
  if (!first) throw new Error('a run has at least one page');
  if (pictures.length === 1) return first;
  const { width, height } = await sharp(first).metadata();
  const scale = Math.min(1, MOST_JOINED_PX / (width * pictures.length));
  const [w, h] = [Math.max(2, Math.round(width * scale)), Math.max(2, Math.round(height * scale))];
  const parts = await Promise.all(
    pictures.map(async (picture, i) => ({
      input: await sharp(picture)
        .resize(w - 1, h, { fit: 'fill' })
        .extend({ right: 1, background: '#888' })
        .png()
        .toBuffer(),
      left: i * w,
      top: 0,
    })),
  );
  return sharp({ create: { width: w * pictures.length, height: h, channels: 3, background: '#fff' } })
    .composite(parts)
    .png()
    .toBuffer();
}

/** Size of the picture on the sheet (mm): the length runs to the right. */
function pictureSize(mediaWidthMm: number, lengthMm: number): { widthMm: number; heightMm: number; scale: number } {
  const scale = Math.min(PICTURE.widthMm / lengthMm, PICTURE.heightMm / mediaWidthMm);
  return { widthMm: lengthMm * scale, heightMm: mediaWidthMm * scale, scale };
}

function drawPicture(
  page: SheetPage,
  { mediaWidthMm, overMm, lengthMm, topMm }: Pick<PicturePage, 'mediaWidthMm' | 'overMm' | 'lengthMm' | 'topMm'>,
): void {
  const { widthMm, heightMm, scale } = pictureSize(mediaWidthMm + overMm, lengthMm);
  const over = overMm > 0 ? `, printed ${overMm.toFixed(1)} mm over its edges` : '';
  page.image('Picture', EDGE_MM, topMm, widthMm, heightMm);
  const text = `1 : ${(1 / scale).toFixed(scale > 0.1 ? 1 : 0)}   ${(lengthMm / 1000).toFixed(3)} m × ${mediaWidthMm.toFixed(0)} mm${over}, leading edge at the left`;
  page.text(EDGE_MM, topMm + heightMm + 4.5, 3.2, text, 0.6);
}

function cellsOf(job: JobSheetRow): string[] {
  return [job.name, job.order, job.customer, job.size, job.pieces, job.due];
}
