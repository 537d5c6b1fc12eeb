import {
  PDFArray,
  PDFDict,
  type PDFDocument,
  PDFName,
  type PDFObject,
  type PDFPage,
  PDFRawStream,
  PDFRef,
} from '@cantoo/pdf-lib';
import { FormRewriter, decodedContents } from './pdfContents.ts';
import { FILLS, STROKES, nameIn } from './colours/paintState.ts';
import { walkContent } from './pdfTokens.ts';

const MOST_BYTES = 256 * 1024 * 1024;
const DEEPEST = 12;
const TEXT = new Set(['Tj', 'TJ', "'", '"']);
const name = (text: string): PDFName => PDFName.of(text);

/** Which layers of a PDF are printed. */
export interface Layers {
  readonly printed: string[];
  readonly left: string[];
}

/**
 * The layers of a document as its default configuration has them for printing: its base state, what it switches on and off, and
 * what layers say of themselves where the configuration asks them at print (ISO 32000-1, 8.11).
 */
export class PdfLayers {
  private readonly off = new Set<PDFObject>();
  private readonly groups: readonly PDFObject[];

  constructor(private readonly document: PDFDocument) {
    const properties = document.catalog.lookup(name('OCProperties'));
    const root = properties instanceof PDFDict ? properties : undefined;
    this.groups = this.list(root, 'OCGs');
    const config = root?.lookup(name('D'));
    if (!(config instanceof PDFDict)) return;
    if (config.lookup(name('BaseState')) === name('OFF')) this.groups.forEach((group) => this.off.add(group));
    for (const group of this.list(config, 'ON')) this.off.delete(group);
    for (const group of this.list(config, 'OFF')) this.off.add(group);
    for (const usage of this.list(config, 'AS')) this.apply(this.dict(usage));
  }

  /** Every layer by its name. */
  get named(): Layers {
    const names = (groups: readonly PDFObject[]): string[] => groups.map((group) => this.nameOf(group));
    return {
      printed: names(this.groups.filter((group) => !this.off.has(group))),
      left: names(this.groups.filter((group) => this.off.has(group))),
    };
  }

  /** Something may have to be left out: a layer, or what is shown while a layer is not. */
  get some(): boolean {
    return this.off.size > 0 || (this.groups.length > 0 && this.hasConditions());
  }

  private hasConditions(): boolean {
    return this.document.context
      .enumerateIndirectObjects()
      .some(([, object]) => object instanceof PDFDict && object.get(name('Type')) === name('OCMD'));
  }

  /** Belongs to a condition on layers, not to one layer. */
  isCondition(content: PDFObject | undefined): boolean {
    return content !== undefined && this.dict(content)?.lookup(name('Type')) === name('OCMD');
  }

  /** Whether what belongs to a layer, or to a condition on several, is printed. */
  prints(content: PDFObject | undefined): boolean {
    if (content === undefined) return true;
    const dict = this.dict(content);
    if (dict?.lookup(name('Type')) !== name('OCMD')) return !this.off.has(content);
    const said = dict.lookup(name('VE'));
    if (said instanceof PDFArray) return this.expression(said, 0);
    const of = dict.get(name('OCGs'));
    const object = of instanceof PDFRef ? this.document.context.lookup(of) : of;
    const groups = object instanceof PDFArray ? object.asArray() : of === undefined ? [] : [of];
    if (groups.length === 0) return true;
    const on = groups.map((group) => !this.off.has(group));
    switch (String(dict.lookup(name('P')))) {
      case '/AllOn':
        return on.every(Boolean);
      case '/AnyOff':
        return !on.every(Boolean);
      case '/AllOff':
        return !on.some(Boolean);
      default:
        return on.some(Boolean);
    }
  }

  /** And, Or and Not of layers. What can't be understood is printed, as a viewer would. */
  private expression(term: PDFArray, depth: number): boolean {
    if (depth > DEEPEST) return true;
    const values = term
      .asArray()
      .slice(1)
      .map((each) => {
        const object = each instanceof PDFRef ? this.document.context.lookup(each) : each;
        return object instanceof PDFArray ? this.expression(object, depth + 1) : !this.off.has(each);
      });
    switch (String(term.get(0))) {
      case '/And':
        return values.every(Boolean);
      case '/Or':
        return values.some(Boolean);
      case '/Not':
        return !(values[0] ?? false);
      default:
        return true;
    }
  }

  /** What layers say of printing, where the configuration asks them. */
  private apply(usage: PDFDict | undefined): void {
    if (usage?.lookup(name('Event')) !== name('Print')) return;
    for (const group of this.list(usage, 'OCGs')) {
      const said = this.dict(group)?.lookup(name('Usage'));
      const print = said instanceof PDFDict ? said.lookup(name('Print')) : undefined;
      const state = print instanceof PDFDict ? print.lookup(name('PrintState')) : undefined;
      if (state === name('OFF')) this.off.add(group);
      if (state === name('ON')) this.off.delete(group);
    }
  }

  private list(dict: PDFDict | undefined, key: string): readonly PDFObject[] {
    const value = dict?.lookup(name(key));
    return value instanceof PDFArray ? value.asArray() : [];
  }

  private dict(value: PDFObject): PDFDict | undefined {
    const object = value instanceof PDFRef ? this.document.context.lookup(value) : value;
    return object instanceof PDFDict ? object : undefined;
  }

  private nameOf(group: PDFObject): string {
    const written: unknown = this.dict(group)?.lookup(name('Name'));
    const text =
      typeof written === 'object' && written !== null && 'decodeText' in written
        ? (written as { decodeText: () => string }).decodeText()
        : '';
    return text.trim() === '' ? 'unnamed layer' : text;
  }
}

/** Takes what belongs to layers that are not printed out of pages and their forms; everything else stays as it is. */
export class LayerDropper {
  private readonly forms: FormRewriter;

  constructor(
    private readonly document: PDFDocument,
    private readonly layers: PdfLayers,
  ) {
    this.forms = new FormRewriter(document, (bytes, resources, depth) => this.content(bytes, resources, depth));
  }

  /** @param page is changed, and so are its forms */
  page(page: PDFPage): void {
    const content = this.content(decodedContents(page, MOST_BYTES), page.node.Resources(), 0);
    page.node.set(name('Contents'), this.document.context.register(this.document.context.flateStream(content)));
  }

  /** A form that is drawn from elsewhere, for instance by an annotation. */
  form(ref: PDFObject | undefined, outer: PDFDict | undefined): void {
    this.forms.form(ref, outer, 0);
  }

  private content(bytes: Uint8Array, resources: PDFDict | undefined, depth: number): Uint8Array {
    const out: Uint8Array[] = [];
    /** Marked content that is open: whether it is printed by itself. */
    const marked: boolean[] = [];
    let mode = 0;
    const modes: number[] = [];
    let kept = 0;
    const picture = { inline: false };
    const replace = (from: number, to: number, by: string | Uint8Array): void => {
      out.push(bytes.subarray(kept, from), typeof by === 'string' ? Buffer.from(by, 'latin1') : by);
      kept = to;
    };
    walkContent(bytes, (operator, operands, from, to) => {
      // An inline picture ends where the next operator begins.
      if (picture.inline && operator !== 'ID') {
        picture.inline = false;
        kept = from;
      }
      switch (operator) {
        case 'q':
          modes.push(mode);
          break;
        case 'Q':
          mode = modes.pop() ?? mode;
          break;
        case 'Tr':
          mode = typeof operands[0] === 'number' ? operands[0] : mode;
          break;
        case 'BMC':
          marked.push(true);
          break;
        case 'BDC':
          marked.push(
            nameIn(operands, 0) !== 'OC' || this.layers.prints(entry(resources, 'Properties', nameIn(operands, 1))),
          );
          break;
        case 'EMC':
          marked.pop();
          break;
        case 'Do':
          this.forms.form(entry(resources, 'XObject', nameIn(operands, 0)), resources, depth);
          break;
      }
      const hidden = marked.includes(false);
      // What has been decided here must not be decided again, by somebody who no longer knows the layers.
      const condition =
        operator === 'BDC' &&
        nameIn(operands, 0) === 'OC' &&
        this.layers.isCondition(entry(resources, 'Properties', nameIn(operands, 1)));
      if (condition) {
        replace(from, to, '/Decided BMC');
        return;
      }
      if (operator === 'Do' && (hidden || !this.paints(resources, nameIn(operands, 0)))) {
        replace(from, to, '');
        return;
      }
      if (!hidden) return;
      if (operator === 'BI') {
        replace(from, to, '');
        picture.inline = true;
      } else if (operator === 'sh') replace(from, to, '');
      else if (STROKES.has(operator) || FILLS.has(operator)) replace(from, to, 'n');
      // Text that is not seen moves on all the same: what comes behind it keeps its place.
      else if (TEXT.has(operator)) {
        replace(
          from,
          to,
          Buffer.concat([Buffer.from('3 Tr '), bytes.subarray(from, to), Buffer.from(` ${String(mode)} Tr`)]),
        );
      }
    });
    out.push(picture.inline ? new Uint8Array() : bytes.subarray(kept));
    return Buffer.concat(out);
  }

  /** Whether a form or a picture is printed; from here on it says nothing of it any more. */
  private paints(resources: PDFDict | undefined, key: string): boolean {
    const objects = resources?.lookup(name('XObject'));
    const stream = objects instanceof PDFDict ? objects.lookup(name(key)) : undefined;
    if (!(stream instanceof PDFRawStream)) return true;
    const layer = stream.dict.get(name('OC'));
    if (!this.layers.prints(layer)) return false;
    if (this.layers.isCondition(layer)) stream.dict.delete(name('OC'));
    return true;
  }
}

/** A resource as it stands: mostly a reference. */
function entry(resources: PDFDict | undefined, kind: string, key: string): PDFObject | undefined {
  const dict = resources?.lookup(name(kind));
  return dict instanceof PDFDict ? dict.get(name(key)) : undefined;
}
