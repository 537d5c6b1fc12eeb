import {
  PDFArray,
  PDFDict,
  type PDFDocument,
  PDFName,
  PDFNumber,
  type PDFObject,
  type PDFPage,
  PDFRawStream,
  PDFRef,
} from '@cantoo/pdf-lib';
import type { PdfNature } from '../../../core/ticket/finding.ts';
import { formMatrix } from './pdfContents.ts';
import { pageGeometry } from './pdfBoxes.ts';
import { type Layers, LayerDropper, PdfLayers } from './pdfLayers.ts';

const HIDDEN = 2;
const PRINT = 4;
const SLACK_PT = 0.01;
/** What may be forbidden, by the bit of the permissions that allows it. */
const RIGHTS = [
  [4, 'printing'],
  [8, 'changing'],
  [16, 'copying'],
] as const;
const name = (text: string): PDFName => PDFName.of(text);

export interface PrintablePdf {
  /** The document differs from its file now. */
  readonly changed: boolean;
  readonly nature: PdfNature;
}

/**
 * Makes a document into what is printed of it, so that its picture and its print are made from the same thing: layers that are
 * not printed are taken out, annotations and form fields that are printed become part of their pages, the others go.
 * @param document is changed
 */
export function makePrintable(document: PDFDocument): PrintablePdf {
  const forbids = forbiddenIn(document);
  const layers = new PdfLayers(document);
  const dropper = new LayerDropper(document, layers);
  const count = { printed: 0, left: 0, fields: 0, empty: 0 };
  let changed = forbids !== null;
  drawFields(document);
  for (const page of document.getPages()) {
    if (page.node.Contents() === undefined)
      page.node.set(name('Contents'), document.context.register(document.context.flateStream('')));
    if (layers.some) {
      dropper.page(page);
      changed = true;
    }
    if (flatten(document, page, layers, dropper, count)) changed = true;
    if (showPrinted(page)) changed = true;
  }
  if (document.catalog.has(name('OCProperties'))) {
    document.catalog.delete(name('OCProperties'));
    changed ||= layers.some;
  }
  document.catalog.delete(name('AcroForm'));
  return { changed, nature: natureOf(layers.named, count, forbids) };
}

interface Count {
  printed: number;
  left: number;
  fields: number;
  empty: number;
}

function natureOf(layers: Layers, { printed, left, fields, empty }: Count, forbids: string[] | null): PdfNature {
  return {
    ...(layers.printed.length + layers.left.length > 0 ? { layers } : {}),
    ...(printed + left + fields + empty > 0 ? { annotations: { printed, left, fields, empty } } : {}),
    ...(forbids === null ? {} : { forbids }),
  };
}

/** What the owner of a document forbids that is locked and opened without a password; null: it is not locked. */
function forbiddenIn({ context }: PDFDocument): string[] | null {
  // The library has opened it and forgotten where its lock was.
  const lock = context
    .enumerateIndirectObjects()
    .map(([, object]) => object)
    .find(
      (object) => object instanceof PDFDict && object.get(name('Filter')) === name('Standard') && object.has(name('P')),
    );
  if (!(lock instanceof PDFDict)) return null;
  const bits = numberOf(lock, 'P');
  return RIGHTS.filter(([bit]) => (bits & bit) === 0).map(([, what]) => what);
}

/** Fields that have a value and no picture of it get one. */
function drawFields(document: PDFDocument): void {
  if (!document.catalog.has(name('AcroForm'))) return;
  try {
    document.getForm().updateFieldAppearances();
  } catch {
    // A field that can't be drawn is counted as one that is not printed.
  }
}

/** Puts what is printed of a page's annotations into its content, and takes them all off it. */
function flatten(
  document: PDFDocument,
  page: PDFPage,
  layers: PdfLayers,
  dropper: LayerDropper,
  count: Count,
): boolean {
  const annotations = page.node.lookup(name('Annots'));
  if (!(annotations instanceof PDFArray) || annotations.size() === 0) return false;
  const drawn: string[] = [];
  for (let i = 0; i < annotations.size(); i++) {
    const annotation = annotations.lookup(i);
    if (!(annotation instanceof PDFDict)) continue;
    const kind = String(annotation.lookup(name('Subtype')));
    if (kind === '/Link' || kind === '/Popup') continue;
    const isField = kind === '/Widget';
    const flags = numberOf(annotation, 'F');
    if ((flags & HIDDEN) !== 0 || (flags & PRINT) === 0 || !layers.prints(annotation.get(name('OC')))) {
      // A note that somebody left, or a button: not meant for paper.
      if (!isField) count.left += 1;
      continue;
    }
    const look = appearanceOf(document, annotation);
    const matrix = look && placing(annotation, look.stream);
    if (!look || !matrix) {
      count.empty += 1;
      continue;
    }
    if (layers.some) dropper.form(look.ref, page.node.Resources());
    // Annotations that are drawn by hand lack the words that make a stream a form.
    look.stream.dict.set(name('Type'), name('XObject'));
    look.stream.dict.set(name('Subtype'), name('Form'));
    drawn.push(`q ${matrix.map(short).join(' ')} cm ${page.node.newXObject('Annotation', look.ref).toString()} Do Q`);
    count[isField ? 'fields' : 'printed'] += 1;
  }
  page.node.delete(name('Annots'));
  if (drawn.length > 0) wrap(document, page, drawn.join('\n'));
  return true;
}

/** The content of a page may leave its state changed: it is kept to itself, and what follows begins anew. */
function wrap(document: PDFDocument, page: PDFPage, then: string): void {
  const { context } = document;
  const before = page.node.get(name('Contents'));
  const contents = before instanceof PDFRef ? context.lookup(before) : before;
  const streams = contents instanceof PDFArray ? contents.asArray() : before === undefined ? [] : [before];
  const around = (text: string): PDFRef => context.register(context.flateStream(text));
  page.node.set(name('Contents'), context.obj([around('q\n'), ...streams, around(`\nQ\n${then}\n`)]));
}

/** The picture of an annotation: of several the one of its state. */
function appearanceOf(
  document: PDFDocument,
  annotation: PDFDict,
): { readonly ref: PDFRef; readonly stream: PDFRawStream } | undefined {
  const all = annotation.lookup(name('AP'));
  if (!(all instanceof PDFDict)) return undefined;
  let found: PDFObject | undefined = all.get(name('N'));
  const object = found instanceof PDFRef ? document.context.lookup(found) : found;
  if (object instanceof PDFDict) {
    const state = annotation.lookup(name('AS'));
    found = state instanceof PDFName ? object.get(state) : undefined;
  }
  const stream = found instanceof PDFRef ? document.context.lookup(found) : found;
  if (!(stream instanceof PDFRawStream)) return undefined;
  return { stream, ref: found instanceof PDFRef ? found : document.context.register(stream) };
}

/** Lays the box of an appearance, as its matrix turns it, upon the rectangle of its annotation (ISO 32000-1, 12.5.5). */
function placing(annotation: PDFDict, look: PDFRawStream): readonly number[] | undefined {
  const box = corners(look.dict, 'BBox');
  const rectangle = corners(annotation, 'Rect');
  if (!box || !rectangle) return undefined;
  const [a, b, c, d, e, f] = formMatrix(look);
  const xs: number[] = [];
  const ys: number[] = [];
  for (const x of [box.minX, box.maxX]) {
    for (const y of [box.minY, box.maxY]) {
      xs.push(a * x + c * y + e);
      ys.push(b * x + d * y + f);
    }
  }
  const [minX, minY] = [Math.min(...xs), Math.min(...ys)];
  const [width, height] = [Math.max(...xs) - minX, Math.max(...ys) - minY];
  if (!(width > 0 && height > 0)) return undefined;
  const scaleX = (rectangle.maxX - rectangle.minX) / width;
  const scaleY = (rectangle.maxY - rectangle.minY) / height;
  return [scaleX, 0, 0, scaleY, rectangle.minX - minX * scaleX, rectangle.minY - minY * scaleY];
}

interface Corners {
  readonly minX: number;
  readonly minY: number;
  readonly maxX: number;
  readonly maxY: number;
}

function corners(dict: PDFDict, key: string): Corners | undefined {
  const value = dict.lookup(name(key));
  if (!(value instanceof PDFArray) || value.size() < 4) return undefined;
  const n = [0, 1, 2, 3].map((i) => {
    const each = value.lookup(i);
    return each instanceof PDFNumber ? each.asNumber() : 0;
  });
  const [x1 = 0, y1 = 0, x2 = 0, y2 = 0] = n;
  return { minX: Math.min(x1, x2), minY: Math.min(y1, y2), maxX: Math.max(x1, x2), maxY: Math.max(y1, y2) };
}

/** A crop box is for the screen: one that cuts into what is printed would take artwork out of the picture. */
function showPrinted(page: PDFPage): boolean {
  const { crop, printed } = pageGeometry(page);
  const shown =
    crop.x <= printed.x + SLACK_PT &&
    crop.y <= printed.y + SLACK_PT &&
    crop.x + crop.width >= printed.x + printed.width - SLACK_PT &&
    crop.y + crop.height >= printed.y + printed.height - SLACK_PT;
  if (shown) return false;
  // Without a trim box the crop box is the size: it stays so.
  if (!page.node.has(name('TrimBox'))) page.setTrimBox(crop.x, crop.y, crop.width, crop.height);
  const { x, y, width, height } = page.getMediaBox();
  page.setCropBox(x, y, width, height);
  return true;
}

function numberOf(dict: PDFDict, key: string): number {
  const value = dict.lookup(name(key));
  return value instanceof PDFNumber ? value.asNumber() : 0;
}

/** PDF knows no exponents. */
function short(value: number): string {
  return Number(value.toFixed(6)).toString().includes('e') ? '0' : String(Number(value.toFixed(6)));
}
