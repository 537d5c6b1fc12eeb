import { PDFDocument, PDFName } from '@cantoo/pdf-lib';
import { codeShape } from '../../../core/layout/marks/codeShape.ts';
import { fillPlaces } from '../../../core/layout/sheets/gridSheet.ts';
import type { CodeKind } from '../../../core/layout/marks/markSettings.ts';
import { parseNestRequest } from '../../../core/layout/nestInput.ts';
import type { SheetPlaces } from '../../../core/layout/sheets/sheetPlaces.ts';
import { encodeCode } from './encodeCode.ts';
import { EDGE_MM, MM, PAGE, SheetPage } from './sheetPage.ts';

export interface WorksheetInput {
  readonly title: string;
  readonly places: SheetPlaces;
  readonly gapMm: number;
  readonly kind: CodeKind;
  /** One place each, in this order. */
  readonly entries: readonly { readonly code: string; readonly lines: readonly string[] }[];
}

export type WorksheetAnswer =
  | { readonly ok: true; readonly bytes: Uint8Array }
  /** The place that is too small for its code, and what the code needs. */
  | { readonly ok: false; readonly entry: string; readonly needsMm: number; readonly roomMm: number };

const HEAD_MM = 10;
const TEXT_MM = 3.2;
const LINE_MM = 4.4;
const PAD_MM = 2;
const LEAST_CODE_MM = 8;
/** Office printers. */
const DPI = { x: 600, y: 600 };

/** Sheets of codes with what they stand for, in places of one size, filled in order: to be scanned on the floor. */
export async function worksheet(input: WorksheetInput): Promise<WorksheetAnswer> {
  const { places, gapMm, entries } = input;
  const parsed = parseNestRequest({
    widthMm: PAGE.widthMm,
    gapMm,
    marginMm: { leadMm: EDGE_MM + HEAD_MM, trailMm: EDGE_MM, leftMm: EDGE_MM, rightMm: EDGE_MM },
    sheetMm: PAGE.heightMm,
    places,
    pieces: [{ id: 'place', ...placeOn(input), copies: entries.length, quarterTurn: false }],
  });
  if (!parsed.ok) return { ok: false, entry: '', needsMm: LEAST_CODE_MM, roomMm: placeOn(input).heightMm };
  const size = placeOn(input);
  const sheets: SheetPage[] = [];
  const pages = Math.ceil(entries.length / (places.columns * places.rows));
  for (const [i, { xMm, yMm }] of fillPlaces(parsed.value, places).entries()) {
    const at = Math.floor(yMm / PAGE.heightMm);
    const sheet = (sheets[at] ??= begun(input.title, at + 1, pages));
    const entry = entries[i];
    if (!entry) break;
    const top = yMm - at * PAGE.heightMm;
    const codeMm = size.heightMm - 2 * PAD_MM - entry.lines.length * LINE_MM;
    const modules = encodeCode(input.kind, entry.code);
    const shape = modules && codeShape(modules, Math.min(codeMm, input.kind === 'qr' ? 30 : 14), DPI);
    const roomMm = size.widthMm - 2 * PAD_MM;
    if (codeMm < LEAST_CODE_MM || !shape?.ok)
      return { ok: false, entry: entry.code, needsMm: LEAST_CODE_MM, roomMm: codeMm };
    if (shape.value.widthMm > roomMm) return { ok: false, entry: entry.code, needsMm: shape.value.widthMm, roomMm };
    sheet.line(xMm, top, xMm + size.widthMm, top, 0.25);
    sheet.code(xMm + PAD_MM, top + PAD_MM, shape.value.rects);
    entry.lines.forEach((line, n) => {
      const base = top + PAD_MM + shape.value.heightMm + (n + 1) * LINE_MM - 1;
      sheet.text(xMm + PAD_MM, base, TEXT_MM, line, n === 0 ? 1 : 0.65, roomMm);
    });
  }
  const out = await PDFDocument.create({ updateMetadata: false });
  out.setTitle(input.title);
  for (const sheet of sheets) {
    const page = out.addPage([PAGE.widthMm * MM, PAGE.heightMm * MM]);
    page.node.set(PDFName.of('Contents'), out.context.register(out.context.flateStream(sheet.content())));
  }
  return { ok: true, bytes: await out.save({ updateFieldAppearances: false, addDefaultPage: false }) };
}

function begun(title: string, no: number, of: number): SheetPage {
  const sheet = new SheetPage();
  sheet.text(EDGE_MM, EDGE_MM + 3, 5, title);
  if (of > 1) sheet.text(PAGE.widthMm - EDGE_MM - 16, EDGE_MM + 3, 3.4, `${String(no)} / ${String(of)}`, 0.6, 16);
  return sheet;
}

/** A place takes all that the sheet leaves it. */
function placeOn({ places, gapMm }: WorksheetInput): { readonly widthMm: number; readonly heightMm: number } {
  const width = PAGE.widthMm - 2 * EDGE_MM;
  const height = PAGE.heightMm - 2 * EDGE_MM - HEAD_MM;
  return {
    widthMm: Math.max(1, (width - (places.columns - 1) * gapMm) / places.columns),
    heightMm: Math.max(1, (height - (places.rows - 1) * gapMm) / places.rows),
  };
}
