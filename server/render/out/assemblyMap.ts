import { readFile } from 'node:fs/promises';
import { PDFDocument, PDFName } from '@cantoo/pdf-lib';
import sharp from 'sharp';
import type { Panel } from '../../../core/layout/arrange/tiles.ts';
import { EDGE_MM, MM, PAGE, SheetPage } from './sheetPage.ts';

export interface AssemblyInput {
  /** The finished page as a picture. */
  readonly picture: string;
  readonly title: string;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly panels: readonly Panel[];
  /** Of each panel: what is to be said beside its figures (in which run it is). */
  readonly notes: readonly string[];
  /** Of each panel: whether it comes out of the printer upside down. */
  readonly turned: readonly boolean[];
  readonly joinMm: number;
}

const PICTURE = { widthMm: PAGE.widthMm - 2 * EDGE_MM, heightMm: 120 };
const COLUMNS = [
  ['Panel', 18],
  ['From the left, mm', 36],
  ['From the top, mm', 36],
  ['Size, mm', 40],
  ['Where', 52],
] as const;
const ROWS_FIRST = 16;
const ROWS_NEXT = 38;

/** How the panels of one artwork are put together: the whole to scale, each panel with its number, and a list of them. */
export async function assemblyMap(input: AssemblyInput): Promise<Uint8Array> {
  const out = await PDFDocument.create({ updateMetadata: false });
  out.setTitle(`${input.title}: assembly map`);
  const image = await out.embedPng(
    await sharp(await readFile(input.picture))
      .flatten({ background: '#fff' })
      .png()
      .toBuffer(),
  );
  const rows = input.panels.map((panel, i) => [
    String(i + 1),
    panel.xMm.toFixed(1),
    panel.yMm.toFixed(1),
    `${panel.widthMm.toFixed(1)} × ${panel.heightMm.toFixed(1)}`,
    [input.turned[i] === true ? 'turned by half' : '', input.notes[i] ?? ''].filter(Boolean).join('; '),
  ]);
  const first = new SheetPage();
  const bottom = drawWhole(first, input);
  first.table(bottom + 14, COLUMNS, rows.splice(0, ROWS_FIRST));
  const pages = [first];
  while (rows.length > 0) {
    const next = new SheetPage();
    next.text(EDGE_MM, 20, 6, `${input.title}, continued`);
    next.table(30, COLUMNS, rows.splice(0, ROWS_NEXT));
    pages.push(next);
  }
  for (const each of pages) {
    const page = out.addPage([PAGE.widthMm * MM, PAGE.heightMm * MM]);
    const resources = out.context.obj({});
    resources.set(PDFName.of('XObject'), out.context.obj({ Picture: image.ref }));
    page.node.set(PDFName.of('Resources'), resources);
    page.node.set(PDFName.of('Contents'), out.context.register(out.context.flateStream(each.content())));
  }
  return out.save({ updateFieldAppearances: false, addDefaultPage: false });
}

/** @returns where the drawing ends (mm) */
function drawWhole(page: SheetPage, { title, widthMm, heightMm, panels, turned, joinMm }: AssemblyInput): number {
  page.text(EDGE_MM, 22, 8, title, 1, PAGE.widthMm - 2 * EDGE_MM);
  const join =
    joinMm === 0
      ? 'edge to edge'
      : joinMm > 0
        ? `overlapping by ${joinMm.toFixed(1)} mm`
        : `${(-joinMm).toFixed(1)} mm apart`;
  const size = `${widthMm.toFixed(1)} × ${heightMm.toFixed(1)} mm in ${String(panels.length)} panels, ${join}`;
  page.text(EDGE_MM, 30, 4.2, size, 0.8, PAGE.widthMm - 2 * EDGE_MM);
  const scale = Math.min(PICTURE.widthMm / widthMm, PICTURE.heightMm / heightMm);
  const top = 36;
  page.image('Picture', EDGE_MM, top, widthMm * scale, heightMm * scale);
  panels.forEach((panel, i) => {
    const [x, y] = [EDGE_MM + panel.xMm * scale, top + panel.yMm * scale];
    const [w, h] = [panel.widthMm * scale, panel.heightMm * scale];
    const corners = [
      [x, y, x + w, y],
      [x + w, y, x + w, y + h],
      [x + w, y + h, x, y + h],
      [x, y + h, x, y],
    ] as const;
    for (const [x1, y1, x2, y2] of corners) page.line(x1, y1, x2, y2, 1, 2);
    page.number(x + w / 2, y + h / 2, Math.min(7, w * 0.5, h * 0.5), String(i + 1));
    const below = Math.min(2.6, w * 0.16, h * 0.16);
    if (turned[i] === true) page.number(x + w / 2, y + h / 2 + Math.min(7, w * 0.5, h * 0.5) + below, below, 'turned');
  });
  const bottom = top + heightMm * scale;
  const note = turned.includes(true) ? '; turned: printed with its head at the foot' : '';
  const scaleText = `1 : ${(1 / scale).toFixed(scale > 0.1 ? 1 : 0)}, seen from the front${note}`;
  page.text(EDGE_MM, bottom + 4.5, 3.2, scaleText, 0.6);
  return bottom;
}
