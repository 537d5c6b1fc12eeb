import { createHash } from 'node:crypto';
import { type PDFArray, PDFDocument, PDFName, PDFNumber, type PDFRef, PDFString } from '@cantoo/pdf-lib';
import type { Outline } from '../../../core/geometry/polygon.ts';
import { type Mark, moved, startOf } from '../../../core/layout/marks/mark.ts';
import type { SideReach } from '../../../core/layout/usableWidth.ts';
import { isWithin, liesOn, sheetSpans } from '../../../core/layout/sheets/sheetSpans.ts';
import { writeWhole } from '../../files/atomic.ts';
import type { DataPaths } from '../../files/paths.ts';
import type { Limits } from '../../limits.ts';
import { type LaidArt, drawing, placeMatrix } from './artPlace.ts';
import { drawMarks } from './drawMarks.ts';
import { type Embedded, embedAll, embeddedKey } from './embedArt.ts';

export interface LayPdfInput {
  /** Names the file (see DataPaths.laidOut). */
  readonly key: string;
  readonly title: string;
  readonly widthMm: number;
  readonly lengthMm: number;
  /** So far over each edge of the media the page reaches, left out: not at all; its trim box is the media. */
  readonly over?: SideReach;
  /** Length of a sheet; each is a page of its own. Left out or null: a roll, one page. */
  readonly sheetMm?: number | null;
  readonly art: readonly LaidArt[];
  /** Over the artwork, in a layer of their own; x counts from `fromMm`. */
  readonly marks?: { readonly list: readonly Mark[]; readonly fromMm: number };
}

export interface LaidPdf {
  readonly sha256: string;
  readonly bytes: number;
}

/** Reading and embedding the sources is most of the work; the rest is writing the file. */
const EMBEDDED_SHARE = 0.8;

const PT_PER_MM = 72 / 25.4;
/** Longest side that a page may have without a user unit (pt). */
const LONGEST_PT = 14_400;

/**
 * Lays a run out as PDF, a roll as one page, sheets as one page each: x to the right, the leading edge at the top. Pages go in as vectors, each source once.
 * Long runs get a UserUnit, so that MediaBox × UserUnit is exact. The same run gives the same bytes.
 * @param tell told which share of it is done, 0 … 1
 */
export async function layPdf(
  input: LayPdfInput,
  paths: DataPaths,
  limits: Limits,
  tell: (share: number) => void = () => undefined,
): Promise<LaidPdf> {
  const out = await PDFDocument.create({ updateMetadata: false });
  out.setTitle(input.title);
  const sheets = sheetsOf(input);
  const over = input.over ?? { leftMm: 0, rightMm: 0 };
  const pageWidthMm = input.widthMm + over.leftMm + over.rightMm;
  const unit = Math.max(1, Math.ceil((Math.max(pageWidthMm, ...sheets.map(lengthOf)) * PT_PER_MM) / LONGEST_PT));
  const embedded = await embedAll(out, input.art, paths, limits, (share) => {
    tell(EMBEDDED_SHARE * share);
  });
  const layers = new Layers(out);
  for (const sheet of sheets) addSheet(out, sheet, { widthMm: input.widthMm, over, unit, embedded, layers });
  layers.write();
  const bytes = await out.save({ useObjectStreams: true, updateFieldAppearances: false, addDefaultPage: false });
  await writeWhole(paths.laidOut(input.key), bytes);
  return { sha256: createHash('sha256').update(bytes).digest('hex'), bytes: bytes.length };
}

/** What is on one page: a roll has one, sheets one each. All counts from where the page begins. */
interface Sheet {
  readonly lengthMm: number;
  readonly art: readonly LaidArt[];
  readonly marks: readonly Mark[];
  readonly fromMm: number;
}

function lengthOf({ lengthMm }: Sheet): number {
  return lengthMm;
}

function sheetsOf({ sheetMm = null, lengthMm, art: media, marks, over }: LayPdfInput): readonly Sheet[] {
  const { list = [], fromMm: marksFromMm = 0 } = marks ?? {};
  const overMm = over?.leftMm ?? 0;
  const art = overMm === 0 ? media : media.map((each) => artMoved(each, overMm, 0));
  const fromMm = marksFromMm + overMm;
  if (sheetMm === null) return [{ lengthMm, art, marks: list, fromMm }];
  return sheetSpans(lengthMm, sheetMm).map((span) => ({
    lengthMm: sheetMm,
    art: art.filter((each) => liesOn(each, span)).map((each) => artMoved(each, 0, -span.startMm)),
    marks: list.filter((mark) => isWithin(startOf(mark), span)).map((mark) => moved(mark, -span.startMm)),
    fromMm,
  }));
}

function artMoved(art: LaidArt, xMm: number, yMm: number): LaidArt {
  const ring = (points: Outline): Outline => points.map(({ x, y }) => ({ x: x + xMm, y: y + yMm }));
  return {
    ...art,
    xMm: art.xMm + xMm,
    yMm: art.yMm + yMm,
    ...(art.within ? { within: ring(art.within) } : {}),
    ...(art.cut ? { cut: art.cut.map(ring) } : {}),
  };
}

interface SheetContext {
  readonly widthMm: number;
  readonly over: SideReach;
  readonly unit: number;
  readonly embedded: ReadonlyMap<string, Embedded>;
  readonly layers: Layers;
}

function addSheet(out: PDFDocument, sheet: Sheet, { widthMm, over, unit, embedded, layers }: SheetContext): void {
  const k = PT_PER_MM / unit;
  const pageWidth = (over.leftMm + widthMm + over.rightMm) * k;
  const pageHeight = sheet.lengthMm * k;
  const page = out.addPage([pageWidth, pageHeight]);
  if (unit > 1) page.node.set(PDFName.of('UserUnit'), PDFNumber.of(unit));
  page.node.set(PDFName.of('MediaBox'), box(out, 0, pageWidth, pageHeight));
  page.node.set(PDFName.of('TrimBox'), box(out, over.leftMm * k, (over.leftMm + widthMm) * k, pageHeight));
  const names = new Map<Embedded, string>();
  const xObjects = out.context.obj({});
  const lines: string[] = [];
  for (const art of sheet.art) {
    const item = embedded.get(embeddedKey(art));
    if (!item) throw new Error(`source ${art.sha256} was not embedded`);
    let name = names.get(item);
    if (name === undefined) {
      name = `Art${String(names.size + 1)}`;
      names.set(item, name);
      xObjects.set(PDFName.of(name), item.ref);
    }
    const place = placeMatrix(art, k, pageHeight);
    const drawn = drawing(art, item, place, name);
    lines.push(art.within ? `q ${ringPath(art.within, k, pageHeight)} W n ${drawn} Q` : drawn);
  }
  const resources = out.context.obj({});
  resources.set(PDFName.of('XObject'), xObjects);
  page.node.set(PDFName.of('Resources'), resources);
  const properties = out.context.obj({});
  properties.set(PDFName.of('Art'), layers.of('Art'));
  const parts = ['/OC /Art BDC', ...lines, 'EMC'];
  const spaces = out.context.obj({});
  if (sheet.marks.length > 0) {
    properties.set(PDFName.of('Marks'), layers.of('Marks'));
    if (sheet.marks.some((mark) => mark.kind === 'code' && mark.white))
      spaces.set(PDFName.of('White'), spotSpace(out, 'White', [0, 0, 0, 0]));
    parts.push('/OC /Marks BDC', drawMarks(sheet.marks, k, pageHeight, sheet.fromMm), 'EMC');
  }
  const cut = sheet.art.flatMap((art) => art.cut ?? []).map((ring) => ringPath(ring, k, pageHeight));
  if (cut.length > 0) {
    properties.set(PDFName.of('Cut'), layers.of('Cut', 'never printed'));
    spaces.set(PDFName.of('CutInk'), spotSpace(out, CUT_SPOT, [0, 1, 0, 0]));
    const width = Number((CUT_LINE_MM * k).toFixed(6)).toString();
    parts.push(`/OC /Cut BDC q /CutInk CS 1 SCN ${width} w`, ...cut, 'S Q EMC');
  }
  if (spaces.keys().length > 0) resources.set(PDFName.of('ColorSpace'), spaces);
  resources.set(PDFName.of('Properties'), properties);
  page.node.set(PDFName.of('Contents'), out.context.register(out.context.flateStream(parts.join('\n'))));
}

/** The layers of a document: those of one name are one, on whatever page they are used. */
class Layers {
  private readonly refs = new Map<string, PDFRef>();
  private readonly unprinted: PDFRef[] = [];

  constructor(private readonly out: PDFDocument) {}

  of(name: string, use?: 'never printed'): PDFRef {
    const known = this.refs.get(name);
    if (known) return known;
    const ref = layer(this.out, name, use);
    this.refs.set(name, ref);
    if (use) this.unprinted.push(ref);
    return ref;
  }

  write(): void {
    nameLayers(this.out, [...this.refs.values()], this.unprinted);
  }
}

/** An optional content group: readers can show and hide it by its name. What is never printed is seen on screens only. */
function layer(out: PDFDocument, name: string, use?: 'never printed'): PDFRef {
  const usage = use ? { Usage: { Print: { PrintState: 'OFF' }, View: { ViewState: 'ON' } } } : {};
  return out.context.register(out.context.obj({ Type: 'OCG', Name: PDFString.of(name), ...usage }));
}

/** A spot colour, and the CMYK that it is shown as on screens. */
function spotSpace(out: PDFDocument, name: string, cmyk: readonly number[]): PDFArray {
  const tint = out.context.obj({ FunctionType: 2, Domain: [0, 1], C0: [0, 0, 0, 0], C1: [...cmyk], N: 1 });
  const space = out.context.obj(['Separation', name, 'DeviceCMYK']);
  space.push(out.context.register(tint));
  return space;
}

/** Name of the spot colour in which contours are drawn, and how thin. */
const CUT_SPOT = 'Contour';
const CUT_LINE_MM = 0.1;

/** A ring of the run as a path on the page. */
function ringPath(ring: Outline, k: number, pageHeight: number): string {
  return `${ring.map(({ x, y }, i) => `${fine(x * k)} ${fine(pageHeight - y * k)} ${i === 0 ? 'm' : 'l'}`).join(' ')} h`;
}

function fine(value: number): string {
  return Number(value.toFixed(5)).toString();
}

function nameLayers(out: PDFDocument, all: readonly PDFRef[], unprinted: readonly PDFRef[]): void {
  const rule = { Event: 'Print', Category: ['Print'], OCGs: [...unprinted] };
  const config = { Order: [...all], ON: [...all], ...(unprinted.length > 0 ? { AS: [rule] } : {}) };
  const properties = out.context.obj({ OCGs: [...all], D: config });
  out.catalog.set(PDFName.of('OCProperties'), out.context.register(properties));
}

function box(out: PDFDocument, left: number, right: number, height: number): PDFArray {
  return out.context.obj([Number(left.toFixed(6)), 0, Number(right.toFixed(6)), Number(height.toFixed(6))]);
}
