import { PDFDocument, PDFName } from '@cantoo/pdf-lib';
import { EDGE_MM, MM, PAGE, SheetPage } from './sheetPage.ts';

/** How a week went, on one page: plain data, so that any worker can make it. */
export interface WeekSheetInput {
  readonly title: string;
  readonly under: string;
  /** At most eight: each beside what it was the week before. */
  readonly figures: readonly { readonly name: string; readonly value: string; readonly before: string }[];
  /** A bar for each day. */
  readonly days: {
    readonly title: string;
    readonly bars: readonly { readonly name: string; readonly value: number; readonly text: string }[];
  };
  readonly table: {
    readonly title: string;
    readonly columns: readonly (readonly [title: string, widthMm: number])[];
    readonly rows: readonly (readonly string[])[];
  };
  /** What is to be noted, in sentences. */
  readonly notes: { readonly title: string; readonly lines: readonly string[] };
}

const WIDTH_MM = PAGE.widthMm - 2 * EDGE_MM;
const IN_A_ROW = 4;
const BARS_MM = 42;
/** What is one page has no more. */
const MOST_ROWS = 12;
const MOST_NOTES = 8;

/** A page that a manager reads: figures, days, printers, and what is to be noted. */
export async function weekSheet({ title, under, figures, days, table, notes }: WeekSheetInput): Promise<Uint8Array> {
  const page = new SheetPage();
  page.text(EDGE_MM, 22, 9, title, 1, WIDTH_MM);
  page.text(EDGE_MM, 29, 3.6, under, 0.6, WIDTH_MM);
  const each = WIDTH_MM / IN_A_ROW;
  figures.slice(0, 2 * IN_A_ROW).forEach(({ name, value, before }, i) => {
    const x = EDGE_MM + (i % IN_A_ROW) * each;
    const y = 40 + Math.floor(i / IN_A_ROW) * 22;
    page.text(x, y, 3.2, name, 0.6, each - 4);
    page.text(x, y + 8, 6.4, value, 1, each - 4);
    page.text(x, y + 13.5, 3.2, `before: ${before}`, 0.6, each - 4);
  });
  const top = 90;
  page.text(EDGE_MM, top, 4.4, days.title);
  const most = Math.max(...days.bars.map(({ value }) => value), 1e-9);
  const base = top + 8 + BARS_MM;
  const bar = WIDTH_MM / Math.max(1, days.bars.length);
  days.bars.forEach(({ name, value, text }, i) => {
    const x = EDGE_MM + i * bar;
    const height = (Math.max(0, value) / most) * (BARS_MM - 6);
    if (height > 0) page.box(x, base - height, bar * 0.7, height, 'f');
    page.text(x, base - height - 1.5, 3.2, text, 1, bar - 2);
    page.text(x, base + 5, 3.2, name, 0.6, bar - 2);
  });
  page.line(EDGE_MM, base, PAGE.widthMm - EDGE_MM, base, 0.6);
  const tableTop = base + 17;
  page.text(EDGE_MM, tableTop, 4.4, table.title);
  const rows = table.rows.slice(0, MOST_ROWS);
  page.table(tableTop + 7.5, table.columns, rows);
  let y = tableTop + 7.5 + (rows.length + 1) * 6.2 + 9;
  page.text(EDGE_MM, y, 4.4, notes.title);
  for (const line of notes.lines.slice(0, MOST_NOTES)) {
    y += 6.2;
    page.text(EDGE_MM, y, 3.6, line, 1, WIDTH_MM);
  }
  const out = await PDFDocument.create({ updateMetadata: false });
  out.setTitle(title);
  const sheet = out.addPage([PAGE.widthMm * MM, PAGE.heightMm * MM]);
  sheet.node.set(PDFName.of('Resources'), out.context.obj({}));
  sheet.node.set(PDFName.of('Contents'), out.context.register(out.context.flateStream(page.content())));
  return out.save({ updateFieldAppearances: false, addDefaultPage: false });
}
