import { PDFDocument, PDFName } from '@cantoo/pdf-lib';
import { EDGE_MM, MM, PAGE, SheetPage } from './sheetPage.ts';

/** A list on paper: plain data, so that any worker can make it. */
export interface ListSheetInput {
  readonly title: string;
  readonly under: string;
  /** Each table with its heading; widths in mm. */
  readonly tables: readonly {
    readonly heading: string;
    readonly columns: readonly (readonly [title: string, widthMm: number])[];
    readonly rows: readonly (readonly string[])[];
  }[];
}

const ROW_MM = 6.2;
const TOP_MM = 38;
const BOTTOM_MM = PAGE.heightMm - 16;
/** Between two tables, and between a heading and its table. */
const GAP_MM = 9;

/** Tables one below another, on as many pages as they need. */
export async function listSheet({ title, under, tables }: ListSheetInput): Promise<Uint8Array> {
  const out = await PDFDocument.create({ updateMetadata: false });
  out.setTitle(title);
  let page = new SheetPage();
  let top = TOP_MM;
  page.text(EDGE_MM, 22, 9, title, 1, PAGE.widthMm - 2 * EDGE_MM);
  page.text(EDGE_MM, 29, 3.6, under, 0.6, PAGE.widthMm - 2 * EDGE_MM);
  const turn = (): void => {
    addPage(out, page);
    page = new SheetPage();
    page.text(EDGE_MM, 20, 5, `${title}, continued`, 1, PAGE.widthMm - 2 * EDGE_MM);
    top = 30;
  };
  for (const { heading, columns, rows } of tables) {
    let left = [...rows];
    do {
      if (top + GAP_MM + 3 * ROW_MM > BOTTOM_MM) turn();
      if (heading !== '') page.text(EDGE_MM, top, 4.4, heading);
      const from = heading === '' ? top : top + GAP_MM - 1.5;
      const room = Math.max(1, Math.floor((BOTTOM_MM - from) / ROW_MM) - 1);
      const shown = left.slice(0, room);
      page.table(from, columns, shown);
      left = left.slice(room);
      top = from + (shown.length + 1) * ROW_MM + GAP_MM;
    } while (left.length > 0);
  }
  addPage(out, page);
  return out.save({ updateFieldAppearances: false, addDefaultPage: false });
}

function addPage(out: PDFDocument, sheet: SheetPage): void {
  const page = out.addPage([PAGE.widthMm * MM, PAGE.heightMm * MM]);
  page.node.set(PDFName.of('Resources'), out.context.obj({}));
  page.node.set(PDFName.of('Contents'), out.context.register(out.context.flateStream(sheet.content())));
}
